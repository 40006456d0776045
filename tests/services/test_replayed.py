"""A plan that was stored before the laws were what they are is played anew, or it is said why not."""

import json
from datetime import date
from pathlib import Path

import pytest

from tests.fixtures.databases import lay_out
from tinknot.core.families.file import file_of
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.playing import replayed
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.laws import EDITION
from tinknot.services import building, planning
from tinknot.services.opening import open_site
from tinknot.store.models import Joint, PlanRevision

EXAMPLE = Path("examples/sleeved-then-cast.json")


@pytest.fixture(scope="module")
def before(tmp_path_factory) -> Plan:
    """A plan as a build stored it that knew no laws."""
    plan = plan_joint(file_of(EXAMPLE.read_text())).model_dump(mode="json")
    return Plan.model_validate(plan | {"breaks": [], "laws": 0})


def test_it_says_what_the_same_plan_says_today():
    joint = file_of(Path("examples/heat-trace-splice.json").read_text())
    plan = plan_joint(joint).model_dump(mode="json")
    found = replayed(Plan.model_validate(plan | {"breaks": [], "laws": 0}), joint, RuleBook.of())
    assert found.why_not == ""
    assert found.breaks == ()
    backward = [*plan["steps"][:-3], *reversed(plan["steps"][-3:])]
    found = replayed(Plan.model_validate(plan | {"steps": backward}), joint, RuleBook.of())
    assert any(b.law == 0 for b in found.breaks)


def test_steps_that_would_be_others_now_are_named(before: Plan):
    joint = file_of(EXAMPLE.read_text())
    stamps = [s.model_copy(update={"stamp": "of before"}) for s in before.steps]
    found = replayed(before.model_copy(update={"steps": stamps}), joint, RuleBook.of())
    assert found.breaks == ()
    assert before.steps[0].title in found.why_not


def test_what_only_later_rules_ask_for_is_missed_in_it(before: Plan):
    joint = file_of(EXAMPLE.read_text())
    unwiped = [s for s in before.steps if not s.id.startswith("clean.")]
    found = replayed(before.model_copy(update={"steps": unwiped}), joint, RuleBook.of())
    assert found.why_not == ""
    assert any("takes the dirt along" in b.words for b in found.breaks)


def test_every_open_joint_of_an_earlier_build_is_played_or_says_why_not(tmp_path):
    open_site(lay_out("ee97242", tmp_path))
    told = {}
    for row in Joint.select().where(Joint.revision > 0, Joint.signed_hash.is_null()):
        work = building.work(row.ref)
        assert work.plan.laws < EDITION
        told[row.ref] = (bool(work.plan.breaks), work.unplayed)
        stored = PlanRevision.get(joint=row, number=work.number)
        assert json.loads(stored.plan).get("breaks", []) == []  # what is stored stays as it was
    assert any(breaks for breaks, _ in told.values())
    assert all(not (breaks and why) for breaks, why in told.values())
    assert {why.split("“")[0] for _, why in told.values()} == {"", "By the rules of today "}


def test_what_was_planned_by_this_build_is_not_planned_again(tmp_path, monkeypatch):
    open_site(lay_out("ee97242", tmp_path))
    monkeypatch.setattr(planning, "_replayed", lambda *_: pytest.fail("played again"))
    plan = plan_joint(file_of(EXAMPLE.read_text()), today=date(2026, 11, 26))
    row = PlanRevision(plan=plan.model_dump_json(), file="{}", made="null", created="2026-11-26T08:00:00Z")
    assert planning.played(row)[0].breaks == plan.breaks
