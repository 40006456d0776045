"""Kit sheets: their figures win over the rule book, never over a safety gate; cure on the clock of the
work."""

from datetime import datetime, timedelta
from typing import Any

import pytest

from tests.core.test_progress import Log, state
from tests.power import ARMOURED, BUILDS, PLAIN, file, power
from tinknot.core.errors import InputError
from tinknot.core.formulas.curing import LogEntry
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.cureclock import clock_of
from tinknot.core.work.folding import fold
from tinknot.core.work.made import made
from tinknot.core.work.verdict import judge

SHEET: dict[str, Any] = {
    "id": "k-1",
    "name": "Kit 1",
    "revision": 3,
    "state": "checked",
    "recipe": "straight-lv",
    "closure": "resin",
    "figures": {"armour.bedding_mm": 45, "resin.waste_pct": 20},
    "serves": {"sheath_most_mm": 30, "armoured": True},
    "steps": [{"id": "list", "title": "Check the packing list", "after": "isolated", "before": "measured"}],
    "cautions": ["Bare arms covered."],
}


def with_sheet(changes: dict[str, Any] | None = None, **more: Any):
    return plan_joint(file(power(ARMOURED, PLAIN, sheet={**SHEET, **(changes or {})}, **more)))


def test_figures_win_over_the_rule_book_and_the_slots_are_filled():
    plan = with_sheet()
    assert plan.verdict == "planned"
    assert (plan.closure, plan.sheet) == ("resin", "Kit 1, revision 3")
    assert next(c.distance_mm for c in plan.cuts if c.layer == "bedding") == 45
    assert plan.resin.required_ml == pytest.approx(1.2 * plan.resin.net_ml)
    assert plan.safety[-1] == "Bare arms covered."


def test_its_own_steps_stand_where_it_says():
    plan = with_sheet()
    assert plan.step("sheet.list").needs == ["isolated"]
    assert "sheet.list" in plan.step("measured").needs
    with pytest.raises(InputError) as fault:
        with_sheet({"steps": [{"id": "x", "title": "X", "after": "nowhere"}]})
    assert fault.value.errors[0].path == "/sheet/steps/0/after"
    with pytest.raises(
        InputError, match=r"“X” comes after “Release the joint”.*Put it after something"
    ) as fault:
        with_sheet({"steps": [{"id": "x", "title": "X", "after": "released", "before": "isolated"}]})
    assert fault.value.errors[0].path == "/sheet/steps/0/after"


@pytest.mark.parametrize(
    ("key", "words"),
    [
        ("holds.second_person", "safety gate"),
        ("voltage.ceiling_v", "safety gate"),
        ("insulation.limit_mohm", "safety gate"),
        ("gas.limit_lel_pct", "safety gate"),
        ("nothing.at_all", "no rule"),
    ],
)
def test_a_safety_gate_is_not_the_sheets_to_set(key: str, words: str):
    with pytest.raises(InputError) as fault:
        with_sheet({"figures": {key: 1}})
    assert fault.value.errors[0].path == f"/sheet/figures/{key}"
    assert words in fault.value.errors[0].message


def test_a_figure_out_of_range_is_refused_at_its_place():
    with pytest.raises(InputError) as fault:
        with_sheet({"figures": {"armour.bedding_mm": 1}})
    assert fault.value.errors[0].path == "/sheet/figures/armour.bedding_mm"


@pytest.mark.parametrize(
    ("changes", "more", "words"),
    [
        ({"serves": {"sheath_most_mm": 20}}, {}, "takes sheaths up to 20 mm, here is 26"),
        ({"serves": {"armoured": False}}, {}, "does not serve armoured cable"),
        ({"serves": {"cores_least": 4}}, {}, "serves 4 to 5 cores, the cable has 3"),
        ({"serves": {"area_least_mm2": 16}}, {}, "takes conductors from 16 mm², here is 10"),
        ({"serves": {"voltage_most_v": 230}}, {}, "is for up to 230 V"),
        ({"state": "retired"}, {}, "is retired"),
        ({"recipe": "tap-lv"}, {}, "sheet for tap-lv"),
        ({}, {"duties": ["hazardous"]}, "not certified for a hazardous area"),
    ],
)
def test_a_kit_that_does_not_serve_is_caught_with_words(changes, more, words):
    with pytest.raises(InputError) as fault:
        with_sheet(changes, **more)
    assert fault.value.errors[0].path == "/sheet"
    assert words in fault.value.errors[0].message


# -- the cure clock -----------------------------------------------------------------------------------------

CAST = plan_joint(file(BUILDS["armoured to plain, cast, wet"]))
CURE = "cure.shell"


def poured() -> Log:
    """Everything done up to the cure."""
    return Log(CAST).through("inspect.resin")


def pour_time(log: Log) -> datetime:
    return next(e for e in log.events if e.step == "seal.resin").moment


def test_full_cure_follows_the_temperatures_noted():
    """12 °C as planned until the first reading of 6 °C, then 6 °C on: α by the same integral, done by
    hand."""
    log = poured()
    begun = pour_time(log)
    log.add("reading", CURE, values={"temperature": 6.0}, minutes=60)
    found = fold(CAST, log.events)
    (cure,) = found.cures
    assert found.state == "curing"
    at = (log.at - begun).total_seconds() / 60
    law = clock_of(CAST.step(CURE).cure)
    by_hand = law.degree([LogEntry(0, 6), LogEntry(at, 6)])
    assert cure.fraction == pytest.approx(by_hand.fraction, rel=1e-3)
    assert datetime.fromisoformat(cure.full_at) == pytest.approx(
        begun + timedelta(minutes=by_hand.full_at_min), abs=timedelta(seconds=2)
    )
    half = law.degree([LogEntry(0, 6), LogEntry(at, 6)], 0.5)
    assert datetime.fromisoformat(cure.handle_at) == pytest.approx(
        begun + timedelta(minutes=half.full_at_min), abs=timedelta(seconds=2)
    )
    assert cure.share_at(cure.full_at) == pytest.approx(1)
    assert cure.share_at(cure.at) == pytest.approx(cure.fraction)


def test_nothing_is_tested_or_released_before_it_is_cured():
    log = poured()
    begun = pour_time(log)
    log.add("done", CURE, minutes=30)
    found = fold(CAST, log.events)
    assert "Not cured yet: " in found.flags[-1].why
    assert state(found, "test.after.continuity").state == "locked"
    assert judge(CAST, found, RuleBook.of()).verdict == "not-yet"
    full = datetime.fromisoformat(found.cures[0].full_at)
    log.at = full - timedelta(minutes=5)
    log.add("done", CURE, minutes=0)
    assert "Not cured yet: 5 min more at 12 °C" in fold(CAST, log.events).flags[-1].why
    log.add("done", CURE, minutes=6)
    done = fold(CAST, log.events)
    assert state(done, CURE).state == "done"
    assert not done.cures
    assert done.state == "to prove"
    assert full > begun


def test_below_the_least_temperature_the_clock_stands_still():
    log = poured().add("reading", CURE, values={"temperature": -3.0}, minutes=30)
    (cure,) = fold(CAST, log.events).cures
    assert (cure.fraction, cure.full_at) == (0, None)
    assert cure.share_at((log.at + timedelta(days=3)).isoformat()) == 0
    log.add("done", CURE, minutes=6000)
    assert "It does not cure at -3 °C" in fold(CAST, log.events).flags[-1].why
    log.add("reading", CURE, values={"temperature": 20.0}, minutes=30)
    assert fold(CAST, log.events).cures[0].full_at


def test_a_forgotten_outer_sleeve_becomes_a_wrap_around_and_the_joined_cores_stay():
    given = power(PLAIN, PLAIN, duties=["damp"])
    plan = plan_joint(file(given))
    log = Log(plan).through("connectors").add("fault", "park.outer-sleeve", choice="not-threaded")
    seen = log.events[-1].id
    ways = next(f.mends for f in plan.faults if f.id == "not-threaded" and f.layer == "outer-sleeve")
    assert [(m.kind, m.planned) for m in ways] == [("again", False), ("mended", True), ("remake", False)]
    before = fold(plan, log.events)
    early = fold(plan, [*log.events, *log.add("remedy", choice="mended", about=seen).events[-1:]])
    assert "still threads it on" in early.flags[-1].why
    log.events = log.events[:-1]
    wrapped = plan_joint(file({**given, "build": {"closure": "wrap-around"}}), made=made(plan, before))
    log.add("remedy", choice="mended", about=seen)
    after = fold(wrapped, log.events)
    assert not after.faults
    assert {s.id for s in after.steps if s.id.startswith("join") and s.state == "done"} == {
        "join.1",
        "join.2",
        "join.3",
    }
    assert wrapped.step("park.outer-sleeve") is None
    assert any("goes back to stock as a piece" in w for w in wrapped.warnings)


def test_a_late_pour_is_a_fault():
    pour = CAST.step("seal.resin")
    log = Log(CAST).through(pour.needs[0])
    window = next(t.most_min for t in pour.timers if t.id == "pot-life")
    log.add("done", "seal.resin", minutes=window + 2)
    found = fold(CAST, log.events)
    assert found.state == "stopped"
    assert found.faults[0].seen == f"pot life of pack 3: 2 min too late, {window:g} min are allowed"


def test_resin_colder_than_its_least_is_not_mixed():
    log = Log(CAST).through("shell.close").add("done", "mix.resin", values={"resin": 1.0})
    assert "under the least of 2" in fold(CAST, log.events).flags[-1].why


def test_taking_the_pour_back_takes_its_temperatures_with_it():
    log = poured().add("reading", CURE, values={"temperature": 6.0}, minutes=60).add("undone", "seal.resin")
    assert fold(CAST, log.events).cures == []
    log.add("done", "seal.resin", minutes=0).add("done", "inspect.resin", minutes=1)
    assert [c.readings for c in fold(CAST, log.events).cures] == [[]]
