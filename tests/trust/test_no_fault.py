"""Requests that used to end in a 500: each is answered, and answered rightly."""

import hashlib
import io
from concurrent.futures import ThreadPoolExecutor
from urllib.parse import quote

import pytest
from pypdf import PdfReader

from tests.web.conftest import PASSWORD
from tests.web.test_joint import CARD, event, filled
from tests.web.test_stock import FIGURES
from tinknot.devices.camera import made_up_picture
from tinknot.store.database import close
from tinknot.store.models import Lot, Part


def words_of(pdf: bytes) -> str:
    return "".join(p.extract_text() for p in PdfReader(io.BytesIO(pdf)).pages)


def test_a_record_of_a_card_without_a_rated_voltage(planned):
    card = {k: v for k, v in CARD.items() if k != "rated_voltage_v"}
    planned("PATCH", "/joints/J-1", {"card": card}, If_Match='"3"')
    assert "Rated ? V" in words_of(planned("GET", "/joints/J-1/record.pdf"))


def test_a_record_of_a_core_without_a_size(planned):
    ends = planned("GET", "/joints/J-1")["draft"]["ends"]
    del ends["A"]["cores"][0]["area_mm2"]
    planned("PATCH", "/joints/J-1", {"ends": ends}, If_Match='"3"')
    assert "? mm²" in words_of(planned("GET", "/joints/J-1/record.pdf"))


LONG = "x" * 300


@pytest.mark.parametrize(
    "path",
    [
        f"/{LONG}",
        f"/assets/{LONG}.js",
        "/" + "a/" * 3000,
        f"/joints/{LONG}",
        "/%00",
        "/..%2f..%2fetc/passwd",
        "/%ff",
    ],
)
def test_addresses_of_any_length(app, path: str):
    with app.test_client().get(path) as answer:
        assert answer.status_code in (200, 404), answer.status_code


@pytest.mark.parametrize("name", [LONG, "é" * 200, "😀", "%2e%2e", "a%00b", " ", "%0a"])
def test_names_in_addresses_of_the_api(runa, name: str):
    for path in (
        f"/joints/{name}",
        f"/joints/{name}/work",
        f"/stock/{name}",
        f"/sheets/{name}",
        f"/photos/{name}",
        f"/joints/{name}/faults/{name}/mends",
        f"/joints/{name}/template/{name}.pdf",
    ):
        assert runa.client.get(f"/api/v1{path}").status_code in (404, 308), path


@pytest.mark.parametrize(
    "header", ["X-CSRF-Token", "If-Match", "Idempotency-Key", "Accept-Encoding", "Cookie"]
)
def test_a_header_that_is_not_ascii(runa, header: str):
    sent = {"X-CSRF-Token": runa.csrf, "If-Match": '"1"', header: "naïve — ü²"}
    runa("POST", "/joints", {"ref": "J-9"}, 201)
    answer = runa.client.patch("/api/v1/joints/J-9", json={"title": "x"}, headers=sent)
    assert answer.status_code in (200, 403, 422)


def test_the_same_photo_eight_times_at_once(runa, app):
    data = made_up_picture("pit", "x")
    name = hashlib.sha256(data).hexdigest()
    cookie = runa.client.get_cookie("tinknot").value

    def put(_: int) -> int:
        client = app.test_client()
        client.set_cookie("tinknot", cookie)
        answer = client.put(
            f"/api/v1/photos/{name}",
            data=data,
            content_type="image/jpeg",
            headers={"X-CSRF-Token": runa.csrf},
        )
        close()
        return answer.status_code

    for _ in range(4):
        with ThreadPoolExecutor(8) as pool:
            assert set(pool.map(put, range(8))) == {204}
        folder = app.config["DATABASE"].parent / "photos"
        (kept,) = folder.iterdir()
        assert kept.name == hashlib.sha256(kept.read_bytes()).hexdigest()
        kept.unlink()


def test_the_same_label_eight_times_at_once(planned, app, sign_in):
    sign_in("ylva")("PUT", "/instruments/printer", {"present": True})
    cookie = planned.client.get_cookie("tinknot").value

    def put(_: int) -> str:
        client = app.test_client()
        client.set_cookie("tinknot", cookie)
        answer = client.post("/api/v1/joints/J-1/label", headers={"X-CSRF-Token": planned.csrf})
        close()
        return answer.json["name"]

    with ThreadPoolExecutor(8) as pool:
        assert len(set(pool.map(put, range(8)))) == 8


@pytest.mark.parametrize("name", ["😀 drum", "עברית", "Ω-7", 'say "seven"', "a;b", "x" * 120])
def test_a_lot_with_any_printable_name_has_a_label(runa, name: str):
    part = runa(
        "POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"name": name, "quantity": 5}}, 201
    )
    assert runa("GET", f"/stock/S-28/lots/{part['lots'][0]['id']}/label.pdf").startswith(b"%PDF")


@pytest.mark.parametrize("name", ["電纜 9", "😀", "⚡ drum", "Ω 28 → 9", "\U0001f1f3\U0001f1f4", "ﷺ"])
def test_a_part_with_signs_outside_the_font_has_a_label_with_a_stand_in(runa, name: str):
    figures = FIGURES | {"name": name, "id": f"S-{name}"}
    lot = {"name": f"L {name}", "quantity": 5}
    part = runa("POST", "/stock", {"kind": "sleeve", "figures": figures, "lot": lot}, 201)
    pdf = runa("GET", f"/stock/{quote(part['part_id'])}/lots/{part['lots'][0]['id']}/label.pdf")
    words = words_of(pdf)
    assert "L " in words
    assert ("¤" in words) is (name != "Ω 28 → 9")


@pytest.mark.parametrize("name", ["a\nb", "a\r\nb", "\x00", "a\u2028b", "\x1b[1m"])
def test_what_cannot_be_printed_on_one_line_is_refused_when_it_is_made(runa, name: str):
    bad = runa(
        "POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"name": name, "quantity": 5}}, 422
    )
    assert bad["errors"][0]["path"] == "/lot/name"
    assert (
        runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES | {"id": f"S{name}"}}, 422)["errors"][0][
            "path"
        ]
        == "/figures/id"
    )


def test_lots_and_parts_of_before_there_were_such_rules_still_work(runa):
    """They were taken once; labels and lists bear with them."""
    part = runa(
        "POST", "/stock", {"kind": "sleeve", "figures": FIGURES, "lot": {"name": "L", "quantity": 5}}, 201
    )
    lot = part["lots"][0]["id"]
    Lot.update(name="two\nlines 😀").execute()
    assert runa("GET", f"/stock/S-28/lots/{lot}/label.pdf").startswith(b"%PDF")
    Part.update(part_id="ünïcode 😀").execute()
    assert runa("GET", f"/stock/ünïcode 😀/lots/{lot}/label.pdf").startswith(b"%PDF")


@pytest.mark.parametrize("part_id", ["a/b", "..", ".", "a\\b", " a", "../../x", "/"])
def test_ids_that_no_address_can_hold_are_refused_when_they_are_made(runa, part_id: str):
    told = runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES | {"id": part_id}}, 422)
    assert told["errors"][0]["path"] == "/figures/id"


@pytest.mark.parametrize("part_id", ["28 → 9", "50% off?", "a#b&c=d", "S-28…", "😀", "x" * 120])
def test_ids_that_are_taken_work_everywhere(stocked, part_id: str):
    sleeve = FIGURES | {"id": part_id, "expanded_id_mm": 28.5}
    part = stocked("POST", "/stock", {"kind": "sleeve", "figures": sleeve, "lot": {"quantity": 5000}}, 201)
    at, lot = f"/stock/{quote(part_id, safe='')}", part["lots"][0]["id"]
    assert stocked("GET", at)["part_id"] == part_id
    assert stocked("PUT", at, {"figures": sleeve | {"name": "n"}}, If_Match='"1"')["version"] == 2
    assert stocked("POST", f"{at}/lots/{lot}/count", {"quantity": 4000})["on_hand"] == 4000
    assert stocked("GET", f"{at}/lots/{lot}/label.pdf").startswith(b"%PDF")
    filled(stocked, choice={"outer_sleeve": part_id})
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    taken = stocked("POST", "/joints/J-1/events", event("isolated"), 201)
    assert taken["counts"]
    assert stocked("GET", "/joints/J-1/record.pdf").startswith(b"%PDF")


def test_a_password_of_any_signs(app):
    answer = app.test_client().post(
        "/api/v1/session", json={"username": "ünï\u2028\x00", "password": PASSWORD + "\x00é"}
    )
    assert answer.status_code == 401
