"""Heat-trace connections and kit sheets over HTTP: written, checked by a second person, built with,
compared."""

import json
from typing import Any
from uuid import uuid4

import pytest

from tests.clock import CLOCK
from tests.trace import HEAT, SHEETS, ZONE
from tinknot.services import records
from tinknot.store.models import KitSheetRow

CARD = {"where": "Upper station", "why": "leaked", "duties": ["damp"], "rated_voltage_v": 230, "ambient_c": 6}


def new(sheet: str = "trace-end-p1", sid: str = "my-seal", **more: Any) -> dict[str, Any]:
    """A sheet of one's own: a shipped leaflet under another name."""
    return (
        {k: v for k, v in SHEETS[sheet].items() if k not in ("state", "revision", "checked_by", "author")}
        | {"id": sid, "name": "My seal"}
        | more
    )


def joint(
    api, ref: str = "T-1", sheet: str | None = "trace-end-p1", line: int | None = None, **trace: Any
) -> dict:
    """A heat-trace joint filled in."""
    api("POST", "/joints", {"ref": ref, "title": "Water main", "line_id": line}, 201)
    body = {
        "family": "heat-trace",
        "card": CARD,
        "sheet": sheet,
        "trace": {"cable": HEAT, "ends": {"A": {"label": "box", "loop_mm": 400}}} | trace,
    }
    return api("PATCH", f"/joints/{ref}", body, If_Match='"1"')


def build(api, ref: str, last: str, mohm: float = 900.0) -> None:
    """Every step up to `last`, in the plan's order, waits waited for."""
    for step in api("GET", f"/joints/{ref}/work")["plan"]["steps"]:
        values = {g["id"]: mohm if g["unit"] == "MΩ" else g["most"] or g["target"] for g in step["gates"]}
        waits = [t["least_min"] for t in step["timers"] if t["least_min"] is not None]
        hurry = [t["most_min"] for t in step["timers"] if t["most_min"] is not None]
        at = CLOCK.on(minutes=max([min([2.0, *(0.9 * h for h in hurry)]), *waits]))
        event = {
            "id": str(uuid4()),
            "kind": "done",
            "step": step["id"],
            "revision": 1,
            "client_time": at.isoformat(),
            "values": {k: v for k, v in values.items() if v is not None},
        }
        taken = api("POST", f"/joints/{ref}/events", event, 201)
        assert taken["counts"], (step["id"], taken["why"])
        if step["id"] == last:
            return


# --- sheets -------------------------------------------------------------------------------------------------


def test_a_sheet_is_written_checked_by_a_second_person_revised_and_retired(runa, sign_in):
    eskil = sign_in("eskil")
    made = runa("PUT", "/sheets/my-seal", new(), If_Match='"0"')
    assert (made["sheet"]["state"], made["sheet"]["revision"], made["sheet"]["author"], made["version"]) == (
        "draft",
        1,
        "Runa",
        1,
    )
    assert made["doubts"] == []
    assert made["prepared"][0]["end"] == "A"
    runa("PUT", "/sheets/my-seal", new(), 409, If_Match='"0"')  # somebody was faster
    kept = runa("PUT", "/sheets/my-seal", new(approval="leaflet 7"), If_Match='"1"')
    assert (kept["version"], kept["sheet"]["approval"], kept["sheet"]["revision"]) == (2, "leaflet 7", 1)
    eskil("POST", "/sheets/my-seal/check", None, 409, If_Match='"1"')
    checked = eskil("POST", "/sheets/my-seal/check", None, If_Match='"2"')
    assert (checked["sheet"]["state"], checked["sheet"]["checked_by"]) == ("checked", "Eskil")
    eskil("POST", "/sheets/my-seal/check", None, 403, If_Match='"3"')  # no draft any more
    again = runa("PUT", "/sheets/my-seal", new(approval="leaflet 8"), If_Match='"3"')
    assert (again["sheet"]["revision"], again["sheet"]["state"], again["revisions"]) == (2, "draft", [2, 1])
    assert runa("GET", "/sheets/my-seal/revisions/1")["sheet"]["approval"] == "leaflet 7"
    runa("GET", "/sheets/my-seal/revisions/9", None, 404)
    gone = eskil("POST", "/sheets/my-seal/retire", None, If_Match='"1"')
    assert gone["sheet"]["state"] == "retired"
    assert runa("GET", "/sheets")["items"][-1]["id"] == "my-seal"


def test_nobody_checks_a_sheet_of_their_own_or_one_that_does_not_add_up(runa, sign_in):
    eskil = sign_in("eskil")
    eskil("PUT", "/sheets/my-seal", new(), If_Match='"0"')
    told = eskil("POST", "/sheets/my-seal/check", None, 403, If_Match='"1"')
    assert "second person" in told["detail"]
    runa("POST", "/sheets/my-seal/check", None, 403, If_Match='"1"')  # a jointer checks nothing
    bad = new()
    bad["leaflet"] = json.loads(json.dumps(bad["leaflet"]))
    bad["leaflet"]["layers"][2]["length"] = {"mm": 80, "inch": '1"'}
    kept = runa("PUT", "/sheets/other", bad | {"id": "other"}, If_Match='"0"')
    assert "/leaflet/layers/2/length" in {d["path"] for d in kept["doubts"]}
    told = eskil("POST", "/sheets/other/check", None, 422, If_Match='"1"')
    assert (
        len(told["errors"]) == len(kept["doubts"]) > 1
    )  # mm against inch, past the jacket, no room to pinch


def test_a_checked_sheet_stays_in_use_until_its_next_revision_is_checked(runa, sign_in):
    kept = runa("GET", "/sheets/trace-end-p1")
    assert (kept["example"], kept["version"]) == (False, 2)
    body = kept["sheet"] | {"approval": "ours"}
    draft = runa("PUT", "/sheets/trace-end-p1", body, If_Match='"2"')
    assert (draft["sheet"]["revision"], draft["sheet"]["state"]) == (2, "draft")
    joint(runa)
    assert "revision 1" in runa("POST", "/joints/T-1/look", {})["plan"]["sheet"]
    sign_in("eskil")("POST", "/sheets/trace-end-p1/check", None, If_Match='"1"')
    assert "revision 2" in runa("POST", "/joints/T-1/look", {})["plan"]["sheet"]


def test_on_an_empty_site_nothing_is_checked_and_examples_are_there_to_begin_from(runa, sign_in):
    KitSheetRow.delete().execute()
    found = runa("GET", "/sheets")
    assert found["items"] == []
    assert {"trace-end-p1", "cast-armoured-r22"} <= {s["id"] for s in found["examples"]}
    assert {(s["state"], s["checked_by"], s["author"]) for s in found["examples"]} == {("draft", "", "")}
    joint(runa)
    refused = runa("POST", "/joints/T-1/plans", None, 403, If_Match='"2"')
    assert "A second person checks the sheet" in refused["detail"]
    shown = runa("GET", "/sheets/trace-end-p1")
    assert (shown["example"], shown["version"]) == (True, 0)
    own = runa("PUT", "/sheets/trace-end-p1", shown["sheet"], If_Match='"0"')
    assert (own["example"], own["sheet"]["revision"], own["sheet"]["author"]) == (False, 1, "Runa")
    sign_in("eskil")("POST", "/sheets/trace-end-p1/check", None, If_Match='"1"')
    assert runa("GET", "/sheets")["items"][0]["checked_by"] == "Eskil"


def test_a_retired_sheet_says_so_where_it_was_chosen(runa, sign_in):
    joint(runa)
    sign_in("eskil")("POST", "/sheets/trace-end-p1/retire", None, If_Match='"2"')
    told = runa("POST", "/joints/T-1/look", {}, 422)
    assert "is retired" in told["errors"][0]["message"]


def test_out_as_a_file_and_in_again_as_a_draft(runa, sign_in):
    text = runa("GET", "/sheets/trace-tee-t6/file")
    sheet = json.loads(text)
    assert sheet["leaflet"]["parts"]
    taken = runa("POST", "/sheets", sheet | {"id": "tee-from-elsewhere"}, 201)
    assert (taken["sheet"]["state"], taken["sheet"]["checked_by"]) == ("draft", "")
    runa("POST", "/sheets", sheet | {"id": "tee-from-elsewhere"}, 409)
    second = runa("POST", "/sheets", sheet, 201)  # the one that ships: a new revision
    assert second["sheet"]["revision"] == 2
    sign_in("vera")("POST", "/sheets", sheet, 403)


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"recipe": "trace-sextuple"}, "/recipe"),
        ({"leaflet": {"layers": [{"id": "x", "kind": "cut", "layer": "skin"}]}}, "/leaflet/layers/0/layer"),
        ({"colour": 1}, "/colour"),
        ({"leaflet": {"parts": [{"id": "A", "opens": {"mm": -1}}]}}, "/leaflet/parts/0/opens/mm"),
        ({"id": "another"}, "/id"),
    ],
)
def test_what_is_no_sheet_is_named(runa, change: dict[str, Any], path: str):
    told = runa("PUT", "/sheets/my-seal", new() | change, 422, If_Match='"0"')
    assert told["errors"][0]["path"] == path
    runa("GET", "/sheets/my-seal", None, 404)  # nothing half-written


def test_looking_at_a_sheet_keeps_nothing(sign_in):
    vera = sign_in("vera")
    soon = {"id": "x", "kind": "cut", "layer": "outer-jacket", "length": {"inch": "soon"}}
    found = vera("POST", "/sheets/look", new(leaflet={"layers": [soon]}))
    assert found["prepared"] == []
    assert found["doubts"][0]["path"] == "/leaflet/layers/0/length/inch"
    vera("GET", "/sheets/my-seal", None, 404)
    vera("PUT", "/sheets/my-seal", new(), 403, If_Match='"0"')


# --- joints -------------------------------------------------------------------------------------------------


def test_kits_are_offered_with_the_reason_why_not(runa):
    joint(runa, sheet=None)
    items = {k["id"]: k for k in runa("GET", "/joints/T-1/kits")["items"]}
    assert set(items) == set(SHEETS)
    assert items["trace-end-p1"]["serves"]
    assert items["trace-end-p1"]["on_hand"] is None
    assert "it serves zone cable" in items["trace-zone-z8"]["reason"]
    runa("PATCH", "/joints/T-1", {"trace": {"cable": {"construction": "zone"}}}, If_Match='"2"')
    told = runa("GET", "/joints/T-1/kits", None, 422)
    assert "/trace/cable/outer_jacket/width_mm" in {e["path"] for e in told["errors"]}


def test_what_is_missing_and_doubtful_is_said_at_the_layer(runa):
    found = joint(
        runa,
        cable={
            "construction": "zone",
            "inner_jacket": {"width_mm": 74, "thickness_mm": 4},
            "outer_jacket": {"width_mm": 9.4, "thickness_mm": 11},
        },
        circuit={"spiral_extra": 1.1},
    )
    doubts = {q["path"]: q for q in found["questions"]}
    assert doubts["/trace/cable/inner_jacket/width_mm"]["suggestion_mm"] == 7.4
    assert "other way round" in doubts["/trace/cable/outer_jacket/thickness_mm"]["message"]
    assert doubts["/trace/circuit/spiral_extra"]["suggestion_mm"] == 0.1
    assert {"/trace/cable/core/width_mm", "/trace/cable/bus_od_mm"} <= {m["path"] for m in found["missing"]}


def test_changing_the_family_back_and_forth_loses_nothing(runa):
    joint(runa)
    runa("PATCH", "/joints/T-1", {"family": "straight-lv"}, If_Match='"2"')
    back = runa("PATCH", "/joints/T-1", {"family": "heat-trace"}, If_Match='"3"')
    assert back["draft"]["trace"]["cable"]["outer_jacket"] == HEAT["outer_jacket"]
    assert back["missing"] == []


def test_nothing_is_built_by_a_draft(runa, sign_in):
    runa("PUT", "/sheets/my-seal", new(), If_Match='"0"')
    joint(runa, sheet="my-seal")
    assert "nobody has checked it" in " ".join(runa("POST", "/joints/T-1/look", {})["plan"]["warnings"])
    told = runa("POST", "/joints/T-1/plans", None, 403, If_Match='"2"')
    assert "second person checks the sheet" in told["detail"]
    sign_in("eskil")("POST", "/sheets/my-seal/check", None, If_Match='"1"')
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')


def test_a_connection_from_the_kit_to_its_release_compared_at_the_next_visit(runa, sign_in):
    line = sign_in("ylva")("POST", "/lines", {"name": "Trace", "length_m": 100}, 201)["id"]
    kit = {
        "kind": "kit",
        "figures": {"id": "p1", "name": "P1 box", "sheet": "trace-end-p1", "price_each": 22},
        "lot": {"name": "L1", "quantity": 2},
    }
    runa("POST", "/stock", kit, 201)
    joint(runa, line=line)
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')

    def stock() -> tuple[float, float]:
        found = next(p for p in runa("GET", "/stock")["items"] if p["part_id"] == "p1")
        return found["on_hand"], found["reserved"]

    assert stock() == (2, 1)
    build(runa, "T-1", "label", mohm=640)
    assert stock() == (1, 0)  # used up when it was received
    board = runa("GET", "/board")
    assert [(x["ref"], x["end"], x["remakes_left"]) for x in board["loops"]] == [("T-1", "A", 3)]
    joint(runa, "T-2", line=line)
    before = runa("GET", "/joints/T-2/earlier")["items"]
    assert {(e["ref"], e["label"], e["value"]) for e in before} == {
        ("T-1", "bus wires to braid", 640),
        ("T-1", "braid to pipe", 640),
    }
    assert runa("GET", "/joints/T-1/earlier")["items"] == []
    runa("GET", "/joints/none/earlier", None, 404)


def test_an_end_prepared_again_takes_from_the_loop_on_the_board(runa):
    joint(runa, ends={"A": {"loop_mm": 345}})
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')
    build(runa, "T-1", "strip.A")
    at = CLOCK.on(minutes=1).isoformat()
    fault = {
        "id": str(uuid4()),
        "kind": "fault",
        "step": "strip.A",
        "revision": 1,
        "choice": "bus-nicked",
        "client_time": at,
    }
    assert runa("GET", "/board")["loops"][0]["remakes_left"] == 3  # (345 - 150) / 65
    runa("POST", "/joints/T-1/events", fault, 201)
    opened = runa("GET", "/joints/T-1/work")["progress"]["faults"][0]["id"]
    ways = runa("GET", f"/joints/T-1/faults/{opened}/mends")["items"]
    assert ways[0]["lost_mm"] == {"A": 50}
    mend = {
        "id": str(uuid4()),
        "kind": "remedy",
        "step": "strip.A",
        "revision": 1,
        "about": opened,
        "choice": "end-again",
        "client_time": at,
    }
    runa("POST", "/joints/T-1/events", mend, 201)
    assert runa("GET", "/board")["loops"][0]["remakes_left"] == 2  # (345 - 50 - 150) / 65


def test_templates_lie_flat_at_full_size(runa):
    joint(runa, sheet="trace-splice-s5", ends={"A": {"free_mm": 900}, "B": {}})
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')
    svg = runa("GET", "/joints/T-1/template/B.svg").decode()
    assert f'height="{HEAT["outer_jacket"]["width_mm"]:.2f}"' in svg
    for words in ("outer jacket 80", "inner jacket 45", "matrix 30", "bus 1 18", "square end", "100 mm"):
        assert words in svg
    assert runa("GET", "/joints/T-1/template/A.pdf").startswith(b"%PDF")


@pytest.mark.parametrize("name", SHEETS)
def test_every_sheet_that_ships_is_planned_exported_and_printed(runa, name: str):
    zone = name.startswith("trace-zone")
    ends = {e: {"free_mm": 1200, "loop_mm": 500} for e in "ABC"}
    joint(runa, sheet=name, cable=ZONE if zone else HEAT, ends=ends, circuit={"felt_mm": 200} if zone else {})
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')
    file = json.loads(runa("GET", "/joints/T-1/file"))
    assert (file["family"], file["sheet"]["id"]) == ("heat-trace", name)
    assert runa("GET", "/joints/T-1/card.pdf").startswith(b"%PDF")
    again = runa("POST", "/calc/plan", file)
    assert again["verdict"] == "planned"
    assert [s["id"] for s in again["steps"]] == [
        s["id"] for s in runa("GET", "/joints/T-1/work")["plan"]["steps"]
    ]


@pytest.mark.parametrize("name", ["trace-box-f3", "trace-splice-s5", "trace-zone-z8"])
def test_every_figure_of_a_connection_is_read_by_one_touch_and_passes(runa, name: str, instrumented):
    """Torque, lengths, insulation, continuity: each from its stand-in, as the cable has them; hot parts
    but later."""
    zone = name.startswith("trace-zone")
    ends = {e: {"free_mm": 1200, "loop_mm": 500} for e in "AB"}
    joint(runa, sheet=name, cable=ZONE if zone else HEAT, ends=ends)
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')
    seen = set()
    for step in runa("GET", "/joints/T-1/work")["plan"]["steps"]:
        for gate in step["gates"]:
            found = runa("POST", "/joints/T-1/reading", {"step": step["id"], "gate": gate["id"]})
            seen.add(found["instrument"])
            if gate["least"] is not None:
                assert found["value"] >= gate["least"]
            if gate["most"] is not None and not step["id"].startswith("cool."):
                assert found["value"] <= gate["most"]
            if gate["target"] is not None:
                assert abs(found["value"] - gate["target"]) <= gate["tolerance"] + 0.5
    wanted = {"tape", "insulation-tester", "thermometer"} | (
        {"low-ohm-meter"} if "splice" in name else {"torque-driver"}
    )
    assert wanted <= seen


def test_a_hazardous_place_takes_the_certified_kit_only_and_its_gas_test_comes_first(runa):
    joint(runa, sheet=None)
    runa("PATCH", "/joints/T-1", {"card": CARD | {"duties": ["hazardous"]}}, If_Match='"2"')
    items = {k["id"]: k for k in runa("GET", "/joints/T-1/kits")["items"]}
    assert [k for k, v in items.items() if v["serves"]] == ["trace-set-e4"]
    assert "not certified" in items["trace-end-p1"]["reason"]
    runa("PATCH", "/joints/T-1", {"sheet": "trace-set-e4"}, If_Match='"3"')
    plan = runa("POST", "/joints/T-1/look", {})["plan"]
    steps = {s["id"]: s for s in plan["steps"]}
    assert steps["gas-test"]["gates"][0]["most"] == 1
    assert all("gas-test" in s["needs"] for s in steps.values() if s["hot"])
    assert any("heat source" in w for w in plan["safety"])


def test_the_record_of_a_released_connection_holds_its_readings_and_verifies(runa, sign_in):
    joint(runa)
    runa("POST", "/joints/T-1/plans", None, 201, If_Match='"2"')
    build(runa, "T-1", "label", mohm=512)
    event = {
        "id": str(uuid4()),
        "kind": "done",
        "step": "released",
        "revision": 1,
        "client_time": CLOCK.on(minutes=1).isoformat(),
    }
    runa("POST", "/joints/T-1/events", event, 403)  # not by whoever did the work
    taken = sign_in("eskil")("POST", "/joints/T-1/events", event | {"id": str(uuid4())}, 201)
    assert (taken["counts"], taken["progress"]["state"]) == (True, "released")
    data = runa("GET", "/joints/T-1/record.json")
    assert records.verify(data).intact
    assert not records.verify(data.replace(b"512", b"912")).intact
    kept = json.loads(data)
    assert any(e["values"].get("bus-braid") == 512 for e in kept["events"])
    assert runa("GET", "/joints/T-1/record.pdf").startswith(b"%PDF")


def test_a_low_voltage_sheet_is_looked_at_on_a_sample_and_checked(runa, sign_in):
    body: dict[str, Any] = {
        "id": "cast-9",
        "name": "Cast 9",
        "recipe": "straight-lv",
        "serves": {},
        "closure": "resin",
        "steps": [{"id": "ring", "title": "Fit the ring", "after": "nowhere"}],
    }
    made = runa("PUT", "/sheets/cast-9", body, If_Match='"0"')
    assert {d["path"] for d in made["doubts"]} == {"/serves/area_most_mm2", "/serves/sheath_most_mm"}
    body["serves"] = {"area_least_mm2": 4, "area_most_mm2": 25, "sheath_least_mm": 14, "sheath_most_mm": 30}
    look = runa("POST", "/sheets/look", body)
    assert [d["path"] for d in look["doubts"]] == ["/steps/0/after"]
    assert {
        "id": "shell.close",
        "title": next(s["title"] for s in look["steps"] if s["id"] == "shell.close"),
    } in (look["steps"])
    body["steps"][0]["after"] = "shell.close"
    runa("PUT", "/sheets/cast-9", body, If_Match='"1"')
    checked = sign_in("eskil")("POST", "/sheets/cast-9/check", None, If_Match='"2"')
    assert checked["sheet"]["state"] == "checked"
    assert checked["doubts"] == []
