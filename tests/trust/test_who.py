"""Who may, and whose work it is."""

import hashlib
import re
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from io import BytesIO
from itertools import product
from typing import Any

import pytest
from PIL import Image

from tests.clock import CLOCK
from tests.web.conftest import PASSWORD, Api
from tests.web.test_joint import event, filled, work_to
from tinknot.services import accounts, tries
from tinknot.services.tries import Limit
from tinknot.store.database import close
from tinknot.store.models import SignIn, Try, User
from tinknot.web.app import create_app
from tinknot.web.http import ENDPOINTS, RANK, Endpoint

ROLES = {"viewer": "vera", "jointer": "runa", "verifier": "eskil", "admin": "ylva"}


def rename(sign_in, username: str, name: str) -> None:
    admin = sign_in("ylva")
    (row,) = (p for p in admin("GET", "/people")["items"] if p["username"] == username)
    admin("PATCH", f"/people/{row['id']}", {"name": name}, If_Match=f'"{row["version"]}"')


def named_before(username: str, name: str) -> None:
    """A name that an earlier version took, which did not look whether it stood twice."""
    User.update(name=name).where(User.username == username).execute()


def promote(sign_in, username: str, role: str) -> None:
    admin = sign_in("ylva")
    (row,) = (p for p in admin("GET", "/people")["items"] if p["username"] == username)
    admin("PATCH", f"/people/{row['id']}", {"role": role}, If_Match=f'"{row["version"]}"')


def release(api: Api) -> Any:
    return api("POST", "/joints/J-1/events", event("released"), 201)


# --- own work -----------------------------------------------------------------------------------------------


def test_own_work_stays_own_under_a_name_with_one_more_space(ready, sign_in):
    promote(sign_in, "runa", "verifier")
    rename(sign_in, "runa", "Runa ")
    taken = release(sign_in("runa"))
    assert not taken["counts"]
    assert "second person" in taken["why"]


def test_two_people_of_one_name_are_two(ready, sign_in):
    named_before("eskil", "Runa")
    assert release(sign_in("eskil"))["counts"]


@pytest.mark.parametrize("what", ["measured", "planned", "reading", "not-counted", "picture"])
def test_whoever_did_anything_of_it_does_not_release_it(stocked, sign_in, what: str):
    filled(stocked)
    eskil = sign_in("eskil")
    version = 2
    if what == "measured":
        ends = eskil("GET", "/joints/J-1")["draft"]["ends"]
        eskil("PATCH", "/joints/J-1", {"ends": ends}, If_Match='"2"')
        version = 3
    (eskil if what == "planned" else stocked)(
        "POST", "/joints/J-1/plans", status=201, If_Match=f'"{version}"'
    )
    if what == "not-counted":
        assert not eskil("POST", "/joints/J-1/events", event("join.1"), 201)["counts"]
    work_to(stocked, "label")
    if what == "reading":
        eskil(
            "POST",
            "/joints/J-1/events",
            event("test.after.insulation", "reading", values={"core-1": 90.0}),
            201,
        )
    if what == "picture":
        data = picture()
        digest = hashlib.sha256(data).hexdigest()
        put(eskil, digest, data)
        eskil("POST", "/joints/J-1/events", event("connectors", "photo", photo=digest), 201)
    work = eskil("GET", "/joints/J-1/work")
    assert eskil("GET", "/session")["mark"] in work["workers"]
    taken = release(eskil)
    assert not taken["counts"], what
    assert "second person" in taken["why"]
    assert release(sign_in("ylva"))["counts"]


def test_looking_is_no_work(ready, sign_in):
    eskil = sign_in("eskil")
    eskil("PATCH", "/joints/J-1", {"card": eskil("GET", "/joints/J-1")["draft"]["card"]}, If_Match='"3"')
    eskil("POST", "/joints/J-1/events", event("connectors", "note", text="looked at it"), 201)
    seen = event("label", "fault", text="crooked")
    eskil("POST", "/joints/J-1/events", seen, 201)
    eskil("POST", "/joints/J-1/events", event("label", "undone", about=seen["id"]), 201)
    taken = release(eskil)
    assert taken["counts"], taken["why"]


def test_a_hold_is_taken_back_by_its_signer_only_whatever_the_names(planned, sign_in):
    work_to(planned, "parked")
    named_before("eskil", "Runa")
    taken = sign_in("eskil")("POST", "/joints/J-1/events", event("parked", "undone"), 201)
    assert "may take it back" in taken["why"]
    rename(sign_in, "runa", "Runa Vik")
    assert planned("POST", "/joints/J-1/events", event("parked", "undone"), 201)["counts"]


def test_whoever_wrote_a_sheet_does_not_check_it_under_another_name(sign_in):
    eskil = sign_in("eskil")
    kept = eskil("GET", "/sheets/trace-end-p1")
    made = eskil("PUT", "/sheets/trace-end-p1", kept["sheet"], If_Match=f'"{kept["version"]}"')
    rename(sign_in, "eskil", "Somebody else")
    at = f'"{made["version"]}"'
    assert "second person" in eskil("POST", "/sheets/trace-end-p1/check", status=403, If_Match=at)["detail"]
    assert sign_in("ylva")("POST", "/sheets/trace-end-p1/check", If_Match=at)["sheet"]["checked_by"] == "Ylva"


# --- sign-in ------------------------------------------------------------------------------------------------


def test_a_copy_of_the_cookie_is_worth_nothing_after_signing_out(app, sign_in):
    runa = sign_in("runa")
    copy = app.test_client()
    copy.set_cookie("tinknot", runa.client.get_cookie("tinknot").value)
    assert copy.get("/api/v1/session").json["signed_in"]
    runa("DELETE", "/session", status=204)
    assert not copy.get("/api/v1/session").json["signed_in"]
    assert copy.get("/api/v1/board").status_code == 401


def test_a_new_password_and_a_lock_end_every_sign_in(app, sign_in):
    first, second = sign_in("runa"), sign_in("runa")
    first("POST", "/session/password", {"old": PASSWORD, "new": "another-password"})
    assert not second("GET", "/session")["signed_in"]
    vera, admin = sign_in("vera"), sign_in("ylva")
    (row,) = (p for p in admin("GET", "/people")["items"] if p["username"] == "vera")
    admin("PATCH", f"/people/{row['id']}", {"active": False}, If_Match=f'"{row["version"]}"')
    assert not vera("GET", "/session")["signed_in"]


def test_a_sign_in_ends_by_itself(sign_in):
    runa = sign_in("runa")
    CLOCK.moment += accounts.SIGNED_IN_FOR + timedelta(minutes=1)
    assert not runa("GET", "/session")["signed_in"]
    sign_in("eskil")
    assert SignIn.select().count() == 1, "what has ended is not kept"


def test_the_database_holds_no_cookie(app, sign_in):
    runa = sign_in("runa")
    cookie = runa.client.get_cookie("tinknot").value
    raw = app.config["DATABASE"].read_bytes() + app.config["DATABASE"].with_name("t.db-wal").read_bytes()
    (row,) = SignIn.select()
    assert row.token.encode() in raw
    assert cookie.encode() not in raw


def test_many_wrong_passwords_at_once_are_no_more_tries_than_one_after_the_other(app):
    app.config["RATE_LIMIT"] = True

    def attempt(n: int) -> int:
        body = {"username": "runa", "password": f"wrong-{n}"}
        answer = app.test_client().post("/api/v1/session", json=body)
        close()
        return answer.status_code

    with ThreadPoolExecutor(8) as pool:
        said = list(pool.map(attempt, range(24)))
    assert sorted(said) == [401] * 10 + [429] * 14
    other = app.test_client().post(
        "/api/v1/session",
        json={"username": "runa", "password": PASSWORD},
        environ_base={"REMOTE_ADDR": "10.0.0.9"},
    )
    assert other.status_code == 200, "who guesses from one place locks nobody out of another"


def test_tries_count_anew_when_their_time_is_over(app):
    two = Limit(2, 60)
    assert [tries.count("k", two) for _ in range(3)] == [0, 0, 60]
    CLOCK.moment += timedelta(seconds=61)
    assert tries.count("k", two) == 0
    tries.forget("k")
    assert Try.select().count() == 0


def test_beyond_this_machine_the_first_admin_must_know_the_word(tmp_path):
    app = create_app(
        {"DATABASE": tmp_path / "t.db", "SECRET_KEY": "test", "RATE_LIMIT": False, "SETUP_CODE": "ab12-cd34"}
    )
    api = Api(app.test_client(), None)
    assert api("GET", "/session")["needs_code"]
    body = {"username": "ylva", "name": "Ylva", "password": PASSWORD}
    assert api("POST", "/setup", body, 422)["errors"][0]["path"] == "/code"
    assert api("POST", "/setup", body | {"code": "guessed"}, 422)["errors"][0]["path"] == "/code"
    assert api("POST", "/setup", body | {"code": " ab12-cd34 "}, 201)["signed_in"]
    assert not Api(app.test_client(), None)("GET", "/session")["needs_code"]


@pytest.mark.parametrize(
    ("host", "status"),
    [("localhost:5117", 200), ("127.0.0.1", 200), ("evil.example", 400), ("10.1.2.3", 400)],
)
def test_only_its_own_names_are_answered_to(app, host: str, status: int):
    for path in ("/api/v1/session", "/", "/healthz"):
        with app.test_client().get(path, headers={"Host": host}) as answer:
            assert answer.status_code == status, (host, path)
            assert status == 200 or "--name" in answer.json["detail"]


def test_who_is_not_signed_in_calculates_one_after_the_other(app, monkeypatch):
    from tinknot.web.api import calc

    calc._for_anybody.acquire()
    try:
        body = {"width_mm": 11, "thickness_mm": 5}
        refused = app.test_client().post("/api/v1/calc/flat", json=body)
        assert refused.status_code == 429
        assert "Sign in" in refused.json["detail"]
        assert Api(app.test_client(), "vera")("POST", "/calc/flat", body)["girth_mm"] > 27
    finally:
        calc._for_anybody.release()
    assert app.test_client().post("/api/v1/calc/flat", json=body).status_code == 200
    assert app.test_client().post("/api/v1/calc/bundle", json={"diameters_mm": []}).status_code == 422
    assert app.test_client().post("/api/v1/calc/flat", json=body).status_code == 200


# --- every operation, every role ----------------------------------------------------------------------------

PLACES = {
    "ref": "J-1",
    "part_id": "core-9.5",
    "lot_id": "1",
    "tool_id": "1",
    "user_id": "999",
    "sheet_id": "trace-end-p1",
    "key": "grip.pct",
    "digest": "0" * 64,
    "fault": "x",
    "end": "A",
    "number": "1",
    "kind": "calliper",
}
OPEN = {e.name for e in ENDPOINTS if e.role is None}


def path_of(e: Endpoint) -> str:
    return re.sub(r"<(?:\w+:)?(\w+)>", lambda m: PLACES[m.group(1)], e.rule)


def ask(api: Api, e: Endpoint, csrf: str | None) -> tuple[int, str, str]:
    """Status, kind and title of what an operation answers."""
    headers = {"If-Match": '"1"'} | ({} if csrf is None else {"X-CSRF-Token": csrf})
    body = b"" if e.raw else b"{}"
    kind = e.raw or "application/json"
    answer = api.client.open(
        "/api/v1" + path_of(e), method=e.method, data=body, content_type=kind, headers=headers
    )
    told = answer.json if "json" in (answer.mimetype or "") else None
    told = told if isinstance(told, dict) else {}
    return answer.status_code, told.get("type", ""), str(told.get("title", ""))


def test_every_operation_for_every_role(planned, sign_in):
    """Generated from the operations' own table: below the role refused, from the role on never for the
    role's sake; without the token of the page nothing is changed."""
    assert len(ENDPOINTS) > 60
    ends_it = {"account_sign_out", "account_first_admin"}
    people = {role: sign_in(name) for role, name in ROLES.items()}
    for e, (role, api) in product(ENDPOINTS, people.items()):
        if e.name in ends_it:
            continue
        may = e.role is None or RANK[role] >= RANK[e.role]
        got = ask(api, e, None if e.method == "GET" else "forged")
        if e.method != "GET":
            assert got[:2] == (403, "tinknot:csrf"), (e.name, role)
            got = ask(api, e, api.csrf)
        assert got[0] < 500, (e.name, role, got)
        if not may:
            assert got == (403, "tinknot:not-allowed", "Not by this role"), (e.name, role, got)
        elif e.role is not None:
            assert got[0] != 401, (e.name, role)
            assert got[2] != "Not by this role", (e.name, role)


@pytest.mark.parametrize("e", ENDPOINTS, ids=lambda e: e.name)
def test_nobody_gets_in_without_signing_in(app, e: Endpoint):
    status, kind, _ = ask(Api(app.test_client(), None), e, None)
    if e.name in OPEN:
        assert status < 500, (e.name, status)
    else:
        assert (status, kind) == (401, "tinknot:sign-in"), (e.name, status, kind)


def test_what_is_open_to_everybody():
    """Nothing is opened by accident."""
    account = {"account_show", "account_sign_in", "account_sign_out", "account_first_admin", "account_change"}
    assert {n for n in OPEN if not n.startswith("calc_")} == account


# --- pictures -----------------------------------------------------------------------------------------------


def picture(kind: str = "JPEG", size: tuple[int, int] = (60, 40), **more: Any) -> bytes:
    out = BytesIO()
    Image.new("RGB", size, (180, 60, 20)).save(out, kind, **more)
    return out.getvalue()


def put(api: Api, digest: str, data: bytes) -> int:
    return api.client.put(
        f"/api/v1/photos/{digest}", data=data, content_type="image/jpeg", headers={"X-CSRF-Token": api.csrf}
    ).status_code


def tagged() -> bytes:
    """A picture that says where it was taken, lying on its side."""
    tags = Image.Exif()
    tags[0x0112] = 6  # turned by 90°
    tags[0x010F] = "Somebody's phone"
    tags.get_ifd(0x8825)[2] = (61.0, 12.0, 3.0)  # a latitude
    return picture(exif=tags.tobytes(), comment=b"secret words")


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_of_a_picture_only_the_picture_is_kept(runa, app, kind: str):
    data = tagged() if kind == "JPEG" else picture(kind)
    digest = hashlib.sha256(data).hexdigest()
    assert put(runa, digest, data) == 204
    (kept,) = (app.config["DATABASE"].parent / "photos").iterdir()
    plain = kept.read_bytes()
    with Image.open(BytesIO(plain)) as found:
        assert found.format == "JPEG"
        assert dict(found.getexif()) == {}
        assert found.size == ((40, 60) if kind == "JPEG" else (60, 40)), "upright without the tag"
    for secret in (b"Somebody", b"secret words", b"Exif"):
        assert secret not in plain
    assert runa.client.get(f"/api/v1/photos/{digest}").data == plain


@pytest.mark.parametrize(
    "data",
    [
        b"\xff\xd8\xff but no picture",
        picture()[:200],
        b"GIF89a" + bytes(40),
        b"<svg xmlns='http://www.w3.org/2000/svg'/>",
    ],
)
def test_what_only_looks_like_a_picture_is_refused(runa, app, data: bytes):
    assert put(runa, hashlib.sha256(data).hexdigest(), data) == 422
    assert not (app.config["DATABASE"].parent / "photos").exists()


def test_a_picture_of_more_points_than_anybody_can_look_at_is_refused(runa):
    data = picture("PNG", (12_000, 9_000))
    assert len(data) < 4_000_000
    assert put(runa, hashlib.sha256(data).hexdigest(), data) == 422
