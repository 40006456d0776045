"""How the site writes, and what a change of its rule book would alter."""

from tests.web.test_at_the_joint import planned, stocked
from tinknot.store.models import PlanRevision

__all__ = ["planned", "stocked"]  # fixtures


def test_the_site_says_how_dates_are_written_and_everybody_reads_them_so(sign_in, runa):
    assert runa("GET", "/session")["site"] == {
        "dates": {"order": "day-month-year", "hours": 24},
        "unit": "mm",
    }
    other = {"dates": {"order": "month-day-year", "hours": 12}, "unit": "inch"}
    runa("PUT", "/site/writing", other, 403)
    admin = sign_in("ylva")
    assert admin("PUT", "/site/writing", other) == other
    assert runa("GET", "/site/writing") == other
    assert runa("GET", "/session")["site"] == other
    wrong = {"dates": {"order": "upside-down", "hours": 24}}
    assert admin("PUT", "/site/writing", wrong, 422)["errors"][0]["path"] == "/dates/order"
    assert admin("PUT", "/site/writing", {"dates": {"hours": 13}}, 422)["errors"][0]["path"] == "/dates/hours"
    assert runa("GET", "/site/writing") == other


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
