"""Power joints over HTTP: every kind of part, a cast joint from card to cure, sheets, templates."""

import json
from datetime import date, datetime, timedelta
from typing import Any
from xml.etree import ElementTree

import pytest

from tests import screened
from tests.boot import PLUG
from tests.clock import CLOCK
from tests.power import ARMOURED, PLAIN, TAPS
from tests.power import STOCK as POWER
from tests.web.test_joint import CARD, confirmed, event
from tinknot.core.parts.stock import LIST_OF

STOCK: dict[str, list[dict[str, Any]]] = {
    **POWER,
    **{
        kind: screened.EXAMPLE["stock"][kind]
        for kind in ("solder_sleeves", "rings", "splices", "donors", "foils", "markers")
    },
    **PLUG["stock"],
}


@pytest.fixture
def full(stages, runa):
    """Parts of every kind, each with one lot."""
    stages.bring("full", lambda: _fill(runa))
    return runa


def _fill(runa) -> None:
    for kind, key in LIST_OF.items():
        for given in STOCK[key]:
            figures = {k: v for k, v in given.items() if k not in ("on_hand", "on_hand_mm")}
            quantity = given.get("on_hand_mm", given.get("on_hand", 1))
            runa(
                "POST",
                "/stock",
                {"kind": kind, "figures": figures, "lot": {"name": f"L-{given['id']}", "quantity": quantity}},
                201,
            )


def cast(api, ref: str = "J-1", **change: Any) -> dict:
    """A joint to be cast, its card and both ends filled in."""
    api("POST", "/joints", {"ref": ref, "title": "Duct"}, 201)
    body = {
        "card": CARD | {"duties": ["immersed"], "ambient_c": 12},
        "ends": {"A": ARMOURED, "B": PLAIN},
        "build": {"closure": "resin", "earth": {"fault_current_a": 1500, "clearing_time_s": 0.4}},
    } | change
    return api("PATCH", f"/joints/{ref}", body, If_Match='"1"')


def on_hand(api, part: str) -> tuple[float, float]:
    found = next(p for p in api("GET", "/stock")["items"] if p["part_id"] == part)
    return found["on_hand"], found["reserved"]


def test_stock_of_every_kind_goes_out_as_csv_and_comes_back_unchanged(full, sign_in):
    text = full("GET", "/stock.csv").decode()
    report = full("POST", "/stock-import", {"text": text, "apply": False})
    assert report["errors"] == []
    assert report["changes"] == []
    assert report["unchanged"] == sum(len(STOCK[key]) for key in LIST_OF.values())
    bad = text.replace("20=25|", "20=soon|").replace("20=25", "20=soon")
    told = full("POST", "/stock-import", {"text": bad, "apply": True})
    assert not told["applied"]
    assert told["errors"][0]["column"] == "pot_life"
    assert "must be pairs like 20=30|10=45" in told["errors"][0]["message"]


@pytest.mark.parametrize(
    ("kind", "figures", "path"),
    [
        (
            "resin",
            {"cure": [{"temperature_c": 5, "minutes": 60}, {"temperature_c": 20, "minutes": 90}]},
            "/figures/cure/1/minutes",
        ),
        ("resin", {"pot_life": []}, "/figures/pot_life"),
        (
            "shell",
            {"stages": [{"length_mm": 20, "inside_diameter_mm": 90}]},
            "/figures/stages/0/inside_diameter_mm",
        ),
        ("clamp", {"od_most_mm": 3}, "/figures/od_most_mm"),
        ("tape", {"kind": "string"}, "/figures/kind"),
        ("strap", {"area_mm2": 0}, "/figures/area_mm2"),
        ("mesh", {"stretch": 0.5}, "/figures/stretch"),
        ("connector", {"tap_area_least_mm2": 20, "tap_area_most_mm2": 4}, "/figures/tap_area_most_mm2"),
        ("connector", {"torque_least_nm": 20, "torque_most_nm": 4}, "/figures/torque_most_nm"),
        ("sleeve", {"form": "bag"}, "/figures/form"),
    ],
)
def test_figures_that_cannot_be_are_refused_at_their_field(runa, kind, figures, path):
    sound = {k: v for k, v in STOCK[LIST_OF[kind]][0].items() if k not in ("on_hand", "on_hand_mm")}
    told = runa("POST", "/stock", {"kind": kind, "figures": sound | figures, "lot": None}, 422)
    assert told["errors"][0]["path"] == path


def test_lots_are_whole_pieces_where_pieces_are_counted(full):
    full("POST", "/stock/cast/lots", {"name": "half", "quantity": 1.5}, 422)
    full("POST", "/stock/sat/lots", {"name": "begun", "quantity": 0.4}, 201)


def test_a_cast_joint_from_card_to_cure(full):
    cast(full)
    look = full("POST", "/joints/J-1/look", {})
    assert look["plan"]["verdict"] == "planned"
    assert look["plan"]["resin"]["packs"] == [{"part_id": "cast", "count": 3}]
    assert len(look["staggers"]) == 3
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    assert on_hand(full, "cast") == (6, 3)
    assert on_hand(full, "spring")[1] == 1
    steps = full("GET", "/joints/J-1/work")["plan"]["steps"]
    for step in steps:
        if step["cure"]:
            break
        taken = full("POST", "/joints/J-1/events", confirmed(step), 201)
        assert taken["counts"], taken["why"]
    assert on_hand(full, "cast") == (3, 0)
    assert on_hand(full, "shell-m") == (1, 0)
    work = full("GET", "/joints/J-1/work")
    assert work["progress"]["state"] == "curing"
    cure = step["id"]
    noted = full("POST", "/joints/J-1/events", event(cure, "reading", values={"temperature": 8.0}), 201)
    assert noted["counts"]
    (clock,) = noted["progress"]["cures"]
    assert clock["temperature_c"] == 8
    early = full("POST", "/joints/J-1/events", event(cure), 201)
    assert "Not cured yet" in early["why"]
    (today,) = (t for t in full("GET", "/board")["today"] if t["ref"] == "J-1")
    assert today["cured"] is not None
    assert today["state"] == "curing"
    CLOCK.moment = datetime.fromisoformat(clock["full_at"])
    assert full("POST", "/joints/J-1/events", event(cure, minutes=1), 201)["counts"]
    assert full("GET", "/joints/J-1/work")["progress"]["state"] == "to prove"


def test_taking_the_mix_back_brings_the_packs_back(full):
    cast(full)
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    for step in full("GET", "/joints/J-1/work")["plan"]["steps"]:
        full("POST", "/joints/J-1/events", confirmed(step), 201)
        if step["id"] == "mix.resin":
            break
    assert on_hand(full, "cast") == (3, 0)
    full("POST", "/joints/J-1/events", event("mix.resin", "undone"), 201)
    assert on_hand(full, "cast") == (6, 3)


def test_instruments_read_a_cast_joint(full, instrumented):
    cast(
        full,
        build={"closure": "resin", "resin_c": 21, "earth": {"fault_current_a": 1500, "clearing_time_s": 0.4}},
    )
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    pack = full("POST", "/joints/J-1/reading", {"step": "mix.resin", "gate": "resin", "turn": 1})
    assert pack["value"] == pytest.approx(21, abs=2)
    earth = full("POST", "/joints/J-1/reading", {"step": "test.bond.earth", "gate": "earth", "turn": 1})
    assert 0 < earth["value"] < 0.1


def test_a_guns_dial_follows_its_own_calibration(full, sign_in):
    eskil = sign_in("eskil")
    points = [
        {"dial": 1, "temperature_c": 100},
        {"dial": 5, "temperature_c": 300},
        {"dial": 9, "temperature_c": 400},
    ]
    made = eskil("POST", "/tools", {"name": "HG-1", "kind": "heat-gun", "calibration": points}, 201)
    assert made["calibration"] == points
    falling = [{"dial": 1, "temperature_c": 300}, {"dial": 5, "temperature_c": 100}]
    told = eskil("PATCH", f"/tools/{made['id']}", {"calibration": falling}, 422, If_Match='"1"')
    assert told["errors"][0]["path"] == "/calibration/1/temperature_c"
    assert (
        eskil("POST", "/tools", {"name": "CT", "kind": "crimp-tool", "calibration": points}, 422)["errors"][
            0
        ]["path"]
        == "/calibration"
    )
    heated = [{**s, "shrink_c": 120, "scorch_c": 230} for s in STOCK["sleeves"]]
    for s in heated:
        found = full("GET", f"/stock/{s['id']}")
        figures = found["figures"] | {"shrink_c": 120, "scorch_c": 230}
        full("PUT", f"/stock/{s['id']}", {"figures": figures}, If_Match=f'"{found["version"]}"')
    cast(full, build={"closure": "sleeve"})
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work = full("GET", "/joints/J-1/work")
    assert {s["heat_c"] for s in work["plan"]["steps"] if s["hot"]} == {
        250,
        350,
    }  # 130 K over 120 °C, 230 K where thick
    assert [(d["heat_c"], d["dial"], d["reason"]) for d in work["dials"]] == [(250, 4, ""), (350, 7, "")]
    higher = [{"dial": 5, "temperature_c": 300}, {"dial": 9, "temperature_c": 500}]
    eskil("PATCH", f"/tools/{made['id']}", {"calibration": higher}, If_Match='"1"')
    low, high = full("GET", "/joints/J-1/work")["dials"]
    assert (low["dial"], high["dial"]) == (None, 6)
    assert "below the lowest calibration point" in low["reason"]


def test_sheets_ship_and_a_joint_takes_its_figures_from_one(full):
    items = full("GET", "/sheets")["items"]
    assert {s["closure"] for s in items if s["recipe"] == "straight-lv"} == {"resin", "sleeve"}
    assert all(s["state"] == "checked" and s["checked_by"] == "Eskil" for s in items)
    sheet = next(s["id"] for s in items if s["closure"] == "resin")
    cast(full, sheet=sheet, build={})
    plan = full("POST", "/joints/J-1/look", {})["plan"]
    assert plan["closure"] == "resin"
    assert plan["sheet"].startswith("Cast joint R22")
    full("PATCH", "/joints/J-1", {"sheet": "no-such-sheet"}, If_Match='"2"')
    told = full("POST", "/joints/J-1/look", {}, 422)
    assert told["errors"][0]["path"] == "/sheet"
    full("PATCH", "/joints/J-1", {"sheet": None}, If_Match='"3"')
    assert full("POST", "/joints/J-1/look", {})["plan"]["sheet"] == ""


def test_a_way_is_one_touch_from_being_the_plan(full):
    cast(full, build={"closure": "sleeve"})
    look = full("POST", "/joints/J-1/look", {})
    other = next(w for w in look["ways"] if w["id"] == "closure-resin")
    assert other["parts"]
    assert other["cost"]
    full("PATCH", "/joints/J-1", other["change"], If_Match='"2"')
    assert full("POST", "/joints/J-1/look", {})["plan"]["joint_length_mm"] == other["joint_length_mm"]


def test_templates_are_full_size_with_a_bar_to_check(full):
    cast(full)
    full("GET", "/joints/J-1/template/A.pdf", status=404)
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    plan = full("GET", "/joints/J-1/work")["plan"]
    svg = full("GET", "/joints/J-1/template/A.svg").decode()
    width = float(svg.split('width="')[1].split("mm")[0])
    assert f'viewBox="0 0 {width:.1f} ' in svg  # a unit is a millimetre
    bar = svg.rsplit("<path", 3)[1]  # the last three lines: the bar and its two ends
    x1, x2 = float(bar.split('d="M')[1].split(" ")[0]), float(bar.split("L")[1].split(" ")[0])
    assert x2 - x1 == pytest.approx(100)
    longest = max(c["cut_a_mm"] for c in plan["cores"])
    assert f">{longest:.1f}<" in svg
    assert full("GET", "/joints/J-1/template/B.pdf").startswith(b"%PDF")
    full("GET", "/joints/J-1/template/C.pdf", status=404)
    full("GET", "/joints/J-9/template/A.svg", status=404)


def test_an_opened_cartridge_lasts_as_long_as_its_sheet_says(full):
    """90 days from the day it was opened; never longer than it would have closed, nor anew when counted."""
    lot = full("GET", "/stock/EP-50")["lots"][0]
    body = {"quantity": 1, "opened": True}
    opened = full("POST", f"/stock/EP-50/lots/{lot['id']}/count", body)["lots"][0]
    assert opened["use_by"] == (CLOCK().date() + timedelta(days=90)).isoformat()
    assert full("POST", f"/stock/EP-50/lots/{lot['id']}/count", body)["lots"][0]["use_by"] == opened["use_by"]
    soon = (CLOCK().date() + timedelta(days=9)).isoformat()
    full("POST", "/stock/EP-50/lots", {"name": "old", "quantity": 1, "use_by": soon}, 201)
    old = next(x for x in full("GET", "/stock/EP-50")["lots"] if x["name"] == "old")
    done = full("POST", f"/stock/EP-50/lots/{old['id']}/count", body)["lots"]
    assert next(x for x in done if x["name"] == "old")["use_by"] == soon


def test_one_of_several_that_is_opened_is_kept_apart(full):
    """The closed ones keep their date; kept at 5 °C it lasts 2^1.5 times as long as at 20 °C."""
    lot = full("GET", "/stock/EP-50")["lots"][0]
    body = {"quantity": 3, "opened": True, "stored_c": 5}
    lots = full("POST", f"/stock/EP-50/lots/{lot['id']}/count", body)["lots"]
    closed = next(x for x in lots if x["id"] == lot["id"])
    opened = next(x for x in lots if x["opened"])
    assert (closed["quantity"], closed["opened"], closed["use_by"]) == (2, False, lot["use_by"])
    assert (opened["name"], opened["quantity"]) == (f"{lot['name']}-o1", 1)
    assert date.fromisoformat(opened["use_by"]) == CLOCK().date() + timedelta(days=int(90 * 2**1.5))
    again = full("POST", f"/stock/EP-50/lots/{lot['id']}/count", body | {"quantity": 2})["lots"]
    assert {x["name"]: x["quantity"] for x in again if x["opened"]} == {
        f"{lot['name']}-o1": 1,
        f"{lot['name']}-o2": 1,
    }
    wrong = body | {"stored_c": 90}
    assert (
        full("POST", f"/stock/EP-50/lots/{lot['id']}/count", wrong, 422)["errors"][0]["path"] == "/stored_c"
    )


def test_of_an_opened_cartridge_what_is_left_is_counted(full):
    """2.4: two closed and four tenths of one; of closed ones only whole ones are."""
    lot = full("GET", "/stock/EP-50")["lots"][0]
    count = f"/stock/EP-50/lots/{lot['id']}/count"
    assert full("POST", count, {"quantity": 2.4}, 422)["errors"][0]["path"] == "/quantity"
    lots = full("POST", count, {"quantity": 2.4, "opened": True})["lots"]
    opened = next(x for x in lots if x["opened"])
    assert next(x for x in lots if x["id"] == lot["id"])["quantity"] == 2
    assert opened["quantity"] == pytest.approx(0.4)
    again = full("POST", f"/stock/EP-50/lots/{opened['id']}/count", {"quantity": 0.25})["lots"]
    assert next(x for x in again if x["opened"])["quantity"] == 0.25
    listed = full("GET", "/stock.csv").decode()
    assert full("POST", "/stock-import", {"text": listed})["errors"] == []


def test_the_drawing_of_the_whole_is_full_size_too(full):
    cast(full)
    full("GET", "/joints/J-1/template/whole.svg", status=404)
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    section = full("GET", "/joints/J-1/work")["plan"]["section"]
    svg = ElementTree.fromstring(full("GET", "/joints/J-1/template/whole.svg").decode())
    assert svg.get("width") == f"{svg.get('viewBox').split()[2]}mm"  # a unit is a millimetre
    drawn = [
        [tuple(map(float, p.split(","))) for p in x.get("points").split()]
        for x in svg
        if x.tag.endswith("polygon")
    ]
    sheath = next(b for b in section["bodies"] if b["kind"] == "sheath")
    thick = sheath["top"][0][1] - sheath["bottom"][0][1]
    assert any(max(y for _, y in p) - min(y for _, y in p) == pytest.approx(thick, abs=0.01) for p in drawn)
    assert full("GET", "/joints/J-1/template/whole.pdf").startswith(b"%PDF")


def test_a_tap_is_planned_built_and_proved(full, sign_in):
    tap = TAPS["overhead tap"]
    full("POST", "/joints", {"ref": "J-1", "title": "Tap"}, 201)
    card = CARD | {"duties": ["uv"]}
    full("PATCH", "/joints/J-1", {"card": card, "ends": tap["ends"], "family": "tap-lv"}, If_Match='"1"')
    full("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work = full("GET", "/joints/J-1/work")
    for step in work["plan"]["steps"]:
        if step["kind"] == "sign":
            break
        taken = full("POST", "/joints/J-1/events", confirmed(step), 201)
        assert taken["counts"], (step["id"], taken["why"])
    assert on_hand(full, "ipc") == (5, 0)
    assert on_hand(full, "cap8")[0] == 400 - 3 * 40
    assert sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)["counts"]
    assert full("GET", "/joints/J-1/card.pdf").startswith(b"%PDF")
    assert json.loads(full("GET", "/joints/J-1/record.json"))["ref"] == "J-1"
