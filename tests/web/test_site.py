"""How the site writes, and what a change of its rule book would alter."""

import re

from tests.web.test_at_the_joint import planned, stocked
from tests.web.test_joint import filled
from tinknot.store.models import PlanRevision

__all__ = ["planned", "stocked"]  # fixtures


def test_the_site_says_how_dates_are_written_and_everybody_reads_them_so(sign_in, runa):
    assert runa("GET", "/session")["site"] == {
        "dates": {"order": "day-month-year", "hours": 24},
        "unit": "mm",
        "zone": "UTC",
        "version": 0,
    }
    other = {"dates": {"order": "month-day-year", "hours": 12}, "unit": "inch", "zone": "Europe/Oslo"}
    runa("PUT", "/site/writing", other, 403)
    admin = sign_in("ylva")
    admin("PUT", "/site/writing", other, 422)  # without the version that was looked at
    changed = other | {"version": 1}
    assert admin("PUT", "/site/writing", other, If_Match='"0"') == changed
    assert admin("PUT", "/site/writing", other, 409, If_Match='"0"')
    assert runa("GET", "/site/writing") == changed
    assert runa("GET", "/session")["site"] == changed
    wrong = {"dates": {"order": "upside-down", "hours": 24}}
    assert admin("PUT", "/site/writing", wrong, 422, If_Match='"1"')["errors"][0]["path"] == "/dates/order"
    assert (
        admin("PUT", "/site/writing", {"dates": {"hours": 13}}, 422, If_Match='"1"')["errors"][0]["path"]
        == "/dates/hours"
    )
    assert (
        admin("PUT", "/site/writing", {"zone": "Middle/Earth"}, 422, If_Match='"1"')["errors"][0]["path"]
        == "/zone"
    )
    assert runa("GET", "/site/writing") == changed


def test_a_rule_says_beforehand_which_open_joints_it_would_alter(planned):
    nothing = planned("POST", "/rules/trace.pinch_s/effect", {"value": 40})  # none is of heat trace
    assert (nothing["open"], nothing["looked_at"], nothing["changes"]) == (1, 1, [])
    before = PlanRevision.select().count()
    (change,) = planned("POST", "/rules/stagger.clear_core_mm/effect", {"value": 30})["changes"]
    assert change["ref"] == "J-1"
    assert any("→" in words for words in change["words"])
    assert PlanRevision.select().count() == before
    same = planned("POST", "/rules/stagger.clear_core_mm/effect", {"value": None})
    assert same["changes"] == []  # the default is what holds


def test_a_rule_that_would_leave_nothing_that_fits_says_so(planned):
    (change,) = planned("POST", "/rules/grip.pct/effect", {"value": 42})["changes"]
    assert "Nothing in stock would fit any more" in change["words"]


def test_a_value_that_cannot_be_is_refused_before_anything_is_looked_at(planned):
    for key, value, path in (
        ("stagger.clear_core_mm", -4, "/value"),
        ("stagger.clear_core_mm", ["x"], "/value"),
        ("no.such_rule", 1, "/value"),
    ):
        assert planned("POST", f"/rules/{key}/effect", {"value": value}, 422)["errors"][0]["path"] == path


def test_the_starter_stock_is_taken_whole_by_the_import(runa):
    text = runa("GET", "/stock-starter")["text"]
    looked = runa("POST", "/stock-import", {"text": text, "apply": False})
    assert looked["errors"] == []
    told = " ".join(d for c in looked["changes"] for d in c["details"])
    assert "Inside as supplied, at least 3 mm" in told
    assert not re.search(r"[a-z]_[a-z]", told)
    assert not runa("GET", "/stock")["items"]
    runa("POST", "/stock-import", {"text": text, "apply": True})
    kinds = {p["kind"] for p in runa("GET", "/stock")["items"]}
    assert kinds == {"sleeve", "connector", "tape"}
    filled(runa)
    assert runa("POST", "/joints/J-1/look", {})["plan"]["verdict"] == "planned"


def test_a_testers_file_is_laid_beside_what_the_step_asks_and_nothing_is_stored(planned):
    plan = planned("GET", "/joints/J-1/work")["plan"]
    step = next(s for s in plan["steps"] if sum(g["unit"] == "MΩ" for g in s["gates"]) > 1)
    gates = [g for g in step["gates"] if g["unit"] == "MΩ"]
    text = "name,value,unit\n" + "".join(f"{g['label']},1.{n},GΩ\n" for n, g in enumerate(gates))
    body = {"step": step["id"], "text": text}
    rows = planned("POST", "/joints/J-1/tester-file", body)["items"]
    assert [(r["gate"], r["values"][r["gate"]]) for r in rows] == [
        (g["id"], 1000 + 100 * n) for n, g in enumerate(gates)
    ]
    again = planned("GET", "/joints/J-1/work")
    assert again["events"] == []
    empty = planned("POST", "/joints/J-1/tester-file", body | {"text": "a,b\n"}, 422)
    assert empty["errors"][0]["path"] == "/text"
    planned("POST", "/joints/J-1/tester-file", body | {"step": "isolated"}, 404)
    planned("POST", "/joints/J-9/tester-file", body, 404)


def test_a_viewer_takes_no_testers_file(planned, sign_in):
    body = {"step": "x", "text": "a,1"}
    sign_in("vera")("POST", "/joints/J-1/tester-file", body, 403)
