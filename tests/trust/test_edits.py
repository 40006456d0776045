"""Two people edit one thing at once: every route that changes something compares the version it was looked at
in the transaction that writes, so that one of them is told and nothing of either is lost unseen."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import pytest

from tests.joints import CORE_SLEEVE
from tests.trust.test_who import ROLES
from tests.web.conftest import Api
from tests.web.test_joint import event, filled, stocked
from tinknot.store import database
from tinknot.store.models import Lot, Move, Part
from tinknot.web.http import ENDPOINTS

__all__ = ["stocked"]
FIGURES = {k: v for k, v in CORE_SLEEVE.items() if k != "on_hand_mm"}
SHEET = "trace-end-p1"
KEPT_APART = {
    "POST /session": "one's own sign-in",
    "DELETE /session": "one's own sign-in",
    "POST /setup": "the first admin is made once, tried in test_who",
    "POST /session/password": "one's own; asks for the present one",
    "PUT /session/pin": "one's own; the last one holds",
    "POST /people": "makes; a name or sign-in name that stands already is refused inside the transaction",
    "POST /lines": "makes; repeat-safe by its key",
    "POST /zones": "makes; the same name is the same zone",
    "POST /joints": "makes; repeat-safe by its key",
    "POST /sheets": "makes; a draft that is open is refused inside the transaction",
    "POST /stock": "makes; an id that stands already is refused inside the transaction",
    "POST /stock/<part_id>/lots": "makes; a lot that stands already is refused inside the transaction",
    "POST /stock-import": "worked out anew when the stock was changed meanwhile",
    "POST /tools": "makes; a name that stands already is refused inside the transaction",
    "POST /joints/<ref>/events": "appends; repeat-safe by the event's own id",
    "POST /joints/<ref>/label": "prints",
    "PUT /photos/<digest>": "the same bytes are the same picture",
    "PUT /instruments/<kind>": "there or not there: read and written in one transaction",
    "PUT /instruments/misbehaviour": "of a stand-in: read and written in one transaction",
    "POST /instruments/calliper": "reads",
    "POST /joints/<ref>/reading": "reads",
    "POST /joints/<ref>/look": "looks",
    "POST /joints/<ref>/tester-file": "looks",
    "POST /sheets/look": "looks",
    "POST /rules/<key>/effect": "looks",
    "POST /make-up": "looks",
    "POST /fit": "looks",
}  # what is not guarded by a version, and why it need not be


@contextmanager
def together() -> Iterator[None]:
    """Two writers that both have looked before either writes: each waits for the other before its first
    writing transaction begins."""
    barrier, real, met = threading.Barrier(2), database._transaction, threading.local()

    @contextmanager
    def waits(lock: str) -> Iterator[None]:
        if (
            lock == "IMMEDIATE"
            and threading.current_thread().name.startswith("edit")
            and not hasattr(met, "there")
        ):
            met.there = True
            barrier.wait(10)
        with real(lock):
            yield

    database._transaction = waits
    try:
        yield
    finally:
        database._transaction = real


def both(first: Api, second: Api, method: str, path: str, bodies: tuple, version: int) -> list[int]:
    """What two answer who send the same version at once."""
    answers: dict[str, int] = {}

    def send(api: Api, body: object, name: str) -> None:
        headers = {"X-CSRF-Token": api.csrf, "If-Match": f'"{version}"'}
        answer = api.client.open(f"/api/v1{path}", method=method, json=body, headers=headers)
        answers[name] = answer.status_code

    with together():
        threads = [
            threading.Thread(target=send, args=(api, body, f"{n}"), name=f"edit-{n}")
            for n, (api, body) in enumerate(zip((first, second), bodies, strict=True))
        ]
        for t in threads:
            t.start()
        for t in threads:
            t.join(20)
    return sorted(answers.values())


def _vera(admin: Api) -> dict:
    return next(p for p in admin("GET", "/people")["items"] if p["username"] == "vera")


def _checked(api: Api, _: Api) -> tuple[str, tuple, int]:
    sheet = api("GET", f"/sheets/{SHEET}")
    draft = api("PUT", f"/sheets/{SHEET}", sheet["sheet"], If_Match=f'"{sheet["version"]}"')
    return f"/sheets/{SHEET}/check", (None, None), draft["version"]


def _sheet(api: Api, _: Api) -> tuple[str, tuple, int]:
    sheet = api("GET", f"/sheets/{SHEET}")
    return f"/sheets/{SHEET}", tuple(sheet["sheet"] | {"name": f"Kit {n}"} for n in (1, 2)), sheet["version"]


def _person(_: Api, admin: Api) -> tuple[str, tuple, int]:
    vera = _vera(admin)
    return f"/people/{vera['id']}", ({"name": "Vera Lind"}, {"role": "jointer"}), vera["version"]


def _password(_: Api, admin: Api) -> tuple[str, tuple, int]:
    vera = _vera(admin)
    return f"/people/{vera['id']}/password", (None, None), vera["version"]


def _rule(_: Api, admin: Api) -> tuple[str, tuple, int]:
    bodies = tuple({"value": v, "reason": "for the test"} for v in (11, 12))
    return "/rules/grip.pct", bodies, admin("GET", "/rules")["version"]


def _lot(api: Api, _: Api) -> tuple[str, tuple, int]:
    part = api("GET", "/stock/core-9.5")
    at = f"/stock/core-9.5/lots/{part['lots'][0]['id']}/count"
    return at, ({"quantity": 100}, {"quantity": 200}), part["version"]


def _tool(_: Api, admin: Api) -> tuple[str, tuple, int]:
    tool = admin("POST", "/tools", {"name": "CT-1", "kind": "crimp-tool"}, 201)
    return f"/tools/{tool['id']}", ({"due": "2027-01-01"}, {"due": "2028-01-01"}), tool["version"]


def _same(at: str, looked: str, *bodies) -> Callable[[Api, Api], tuple[str, tuple, int]]:
    return lambda api, admin: (at, bodies, api("GET", looked)["version"])


CASES: dict[str, Callable[[Api, Api], tuple[str, tuple, int]]] = {
    "PATCH /joints/<ref>": _same("/joints/J-1", "/joints/J-1", {"title": "One"}, {"title": "Two"}),
    "POST /joints/<ref>/plans": _same("/joints/J-1/plans", "/joints/J-1", None, None),
    "PATCH /people/<int:user_id>": _person,
    "POST /people/<int:user_id>/password": _password,
    "PUT /rules/<key>": _rule,
    "PUT /sheets/<sheet_id>": _sheet,
    "POST /sheets/<sheet_id>/check": _checked,
    "POST /sheets/<sheet_id>/retire": _same(f"/sheets/{SHEET}/retire", f"/sheets/{SHEET}", None, None),
    "PUT /site/writing": lambda api, admin: ("/site/writing", ({"unit": "inch"}, {"zone": "Europe/Oslo"}), 0),
    "PUT /stock/<part_id>": _same(
        "/stock/core-9.5", "/stock/core-9.5", *({"figures": FIGURES | {"price_per_m": p}} for p in (3, 4))
    ),
    "POST /stock/<part_id>/retired": _same(
        "/stock/core-9.5/retired", "/stock/core-9.5", {"retired": True}, {"retired": True}
    ),
    "POST /stock/<part_id>/lots/<int:lot_id>/count": _lot,
    "PATCH /tools/<int:tool_id>": _tool,
}


def case(route: str, api: Api, admin: Api) -> tuple[str, tuple, int]:
    """Address, two bodies that differ, and the version both have looked at."""
    if route in CASES:
        return CASES[route](api, admin)
    raise AssertionError(f"{route} changes something and has no case here: write one")


CHANGING = [e for e in ENDPOINTS if e.method != "GET" and not e.rule.startswith("/calc/")]
GUARDED = [e for e in CHANGING if e.guarded]


def test_every_route_that_changes_something_is_guarded_or_says_why_it_need_not_be():
    assert GUARDED
    bare = {f"{e.method} {e.rule}" for e in CHANGING if not e.guarded}
    assert bare == KEPT_APART.keys()


@pytest.mark.parametrize("spec", GUARDED, ids=lambda e: f"{e.method} {e.rule}")
def test_of_two_edits_of_one_version_one_is_told(stocked, sign_in, spec):
    filled(stocked)
    admin, second = sign_in("ylva"), sign_in("ylva")
    path, bodies, version = case(f"{spec.method} {spec.rule}", stocked, admin)
    found = both(admin, second, spec.method, path, bodies=bodies, version=version)
    assert found == [spec.status, 409], path
    assert spec.role in ROLES


def test_an_edit_is_not_lost_to_a_simultaneous_retired(stocked, sign_in):
    """Different routes of one thing look at one version too."""
    version = stocked("GET", "/stock/core-9.5")["version"]
    retire = {"If-Match": f'"{version}"'}
    edited = stocked(
        "PUT", "/stock/core-9.5", {"figures": FIGURES | {"price_per_m": 9}}, If_Match=f'"{version}"'
    )
    admin = sign_in("ylva")
    answer = admin.client.post(
        "/api/v1/stock/core-9.5/retired",
        json={"retired": True},
        headers=retire | {"X-CSRF-Token": admin.csrf},
    )
    assert answer.status_code == 409
    assert (
        stocked("GET", "/stock/core-9.5")["figures"]["price_per_m"] == edited["figures"]["price_per_m"] == 9
    )


def test_ten_counts_at_once_book_what_they_leave(stocked, app):
    """Each counts on top of what it looked at; the moves add up to what is on the shelf."""
    part = stocked("GET", "/stock/core-9.5")
    lot = part["lots"][0]["id"]

    def count(n: int) -> None:
        api = Api(app.test_client(), "runa")
        for _ in range(8):
            at = f'"{api("GET", "/stock/core-9.5")["version"]}"'
            answer = api.client.post(
                f"/api/v1/stock/core-9.5/lots/{lot}/count",
                json={"quantity": 100 + n},
                headers={"X-CSRF-Token": api.csrf, "If-Match": at},
            )
            if answer.status_code == 200:
                return

    threads = [threading.Thread(target=count, args=(n,)) for n in range(10)]
    for t in threads:
        t.start()
    for t in threads:
        t.join(30)
    booked = sum(m.quantity for m in Move.select().where(Move.lot == lot))
    assert booked == Lot.get_by_id(lot).quantity
    assert Part.get(Part.part_id == "core-9.5").version > part["version"]


def test_an_event_is_appended_whatever_else_is_edited(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    assert stocked("POST", "/joints/J-1/events", event("isolated"), 201)["counts"]
