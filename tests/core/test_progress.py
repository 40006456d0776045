"""Folding events: order kept, second person, undo, revisions, and the chain."""

import random
from datetime import UTC, datetime, timedelta
from uuid import UUID

import pytest

from tests.joints import joint, joint_dict
from tinknot.core.families.choice import Made
from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.events import GENESIS, Event, broken_at, chained
from tinknot.core.work.folding import fold
from tinknot.core.work.made import made


class Log:
    """A chain of events made one by one."""

    def __init__(self, plan: Plan, revision: int = 1) -> None:
        self.plan, self.revision, self.events = plan, revision, list[Event]()
        self.at = datetime(2026, 2, 3, 8, tzinfo=UTC)

    def add(
        self,
        kind: str,
        step: str = "",
        actor: str = "runa",
        values=None,
        text: str = "",
        minutes: float = 24,
        **more,
    ) -> "Log":
        number = len(self.events) + 1
        found = self.plan.step(step)
        self.at += timedelta(minutes=minutes)
        body = {
            "id": str(UUID(int=number)),
            "kind": kind,
            "step": step,
            "revision": self.revision,
            "values": values or {},
            "text": text,
            "device": "t",
            "sequence": number,
            "client_time": "2026-02-03T08:00:00+00:00",
            "server_time": "2026-02-03T08:00:00+00:00",
            "at": self.at.isoformat(),
            "actor": actor,
            "role": "jointer",
            "stamp": found.stamp if found else "",
        } | more
        self.events.append(chained(body, number, self.events[-1].hash if self.events else GENESIS))
        return self

    def through(self, last: str, actor: str = "runa") -> "Log":
        """Every step up to `last` that is not confirmed yet done, with readings that pass."""
        before = {e.step for e in self.events}
        for s in self.plan.steps:
            if s.id in before:
                continue
            values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in s.gates}
            resin = s.kind == "mix" or any(t.id in ("pot-life", "under") for t in s.timers)
            self.add("done", s.id, actor, values, minutes=1 if resin else 24)
            if s.id == last:
                return self
        raise AssertionError(last)


PLAN = plan_joint(joint())


def state(progress, step):
    return next(s for s in progress.steps if s.id == step)


def test_joining_waits_for_every_parked_part_and_names_it():
    log = Log(PLAN).through("park.core-sleeve-4")
    log.events = [e for e in log.events if e.step != "park.core-sleeve-2"]
    log.add("done", "parked").add("done", "join.1")
    found = fold(PLAN, log.events)
    assert state(found, "join.1").state == "locked"
    assert "Thread the sleeve on core 2" in found.flags[0].why
    assert [f.step for f in found.flags] == ["parked", "join.1"]


def test_whole_joint_is_released_by_a_second_person():
    log = Log(PLAN).through("label")
    assert fold(PLAN, log.events).state == "to release"
    refused = fold(PLAN, log.add("done", "released", "runa").events)
    assert refused.state == "to release"
    assert "second person" in refused.flags[-1].why
    assert fold(PLAN, log.add("done", "released", "eskil").events).state == "released"


def test_a_person_stays_the_same_person_under_another_name():
    log = Log(PLAN)
    for s in PLAN.steps:
        if s.id == "released":
            break
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in s.gates}
        log.add("done", s.id, "Runa", values, actor_id=7, format=3)
    refused = fold(PLAN, log.add("done", "released", "Runa Ås", actor_id=7, format=3).events)
    assert refused.state == "to release"
    assert "second person" in refused.flags[-1].why
    assert fold(PLAN, log.add("done", "released", "Eskil", actor_id=8, format=3).events).state == "released"


@pytest.mark.parametrize(("form", "found"), [(1, "released"), (2, "to release")])
def test_a_plan_of_a_site_that_had_dropped_the_second_person(form: int, found: str):
    """What was released by the rules of its day stays released; from format 2 on nobody releases their own
    work."""
    old = PLAN.model_copy(
        update={"steps": [s.model_copy(update={"second_person": False}) for s in PLAN.steps]}
    )
    log = Log(old).through("label")
    assert fold(old, log.add("done", "released", "runa", format=form).events).state == found


def test_no_rule_drops_the_second_person_at_the_release():
    plan = plan_joint(joint(), RuleBook.of({"holds.second_person": ["parked"]}))
    assert next(s for s in plan.steps if s.hold == "released").second_person


def test_states_on_the_way():
    assert fold(PLAN, []).state == "planned"
    assert fold(PLAN, Log(PLAN).through("parked").events).state == "building"
    assert fold(PLAN, Log(PLAN).through("cool.outer-sleeve").events).state == "to prove"
    stopped = Log(PLAN).through("parked").add("fault", "join.1", text="barrel cracked")
    assert fold(PLAN, stopped.events).state == "stopped"
    assert (
        fold(PLAN, stopped.add("remedy", about=stopped.events[-1].id, choice="mended").events).state
        == "building"
    )


def test_a_reading_under_its_limit_does_not_pass():
    log = Log(PLAN).through("test.before.continuity")
    bad = {f"core-{n}": 500.0 for n in "1234"} | {"core-2": 0.4}
    log.add("done", "test.before.insulation", values=bad)
    found = fold(PLAN, log.events)
    assert state(found, "test.before.insulation").state == "open"
    assert "0.4 MΩ is under the least of 1" in found.flags[0].why
    assert state(found, "test.before.insulation").values["core-2"] == 0.4  # kept


def test_undo_reopens_what_depends_on_it_and_a_hold_needs_its_signer():
    log = Log(PLAN).through("join.2")
    assert state(fold(PLAN, log.add("undone", "parked", "eskil").events), "parked").state == "done"
    found = fold(PLAN, log.add("undone", "park.outer-sleeve").events)
    assert state(found, "park.outer-sleeve").state == "open"
    assert state(found, "parked").state == state(found, "join.1").state == "locked"
    assert state(found, "cut.core.A.1").state == "done"


def test_events_carry_over_when_their_step_is_unchanged():
    given = joint_dict()
    given["ends"]["B"]["free_mm"] = 100  # the outer sleeve has to park on A now
    log = Log(PLAN).through("cut.core.B.4")
    cut = Made(done=made(PLAN, fold(PLAN, log.events)).done)
    new = plan_joint(parse(JointFile, given), None, None, cut)
    found = fold(new, log.events)
    assert state(found, "cut.core.A.1").state == "done"
    assert state(found, "park.outer-sleeve").state == "locked"  # that side is not wiped clean yet
    log.plan, log.revision = new, 2
    found = fold(new, log.add("done", "clean.A").events)
    assert state(found, "park.outer-sleeve").state == "again"
    assert "revision 1" in state(found, "park.outer-sleeve").why


def test_what_was_cut_stays_a_fact():
    log = Log(PLAN).through("park.outer-sleeve")
    facts = made(PLAN, fold(PLAN, log.events))
    assert facts.gap_mm == PLAN.gap_mm
    slim = joint_dict()
    slim["connector"] = slim["connector"] | {
        "length_mm": 36,
        "insertion_mm": 17,
    }  # needs less room than was cut
    kept = plan_joint(parse(JointFile, slim), made=facts)
    assert [c.cut_a_mm for c in kept.cores] == [c.cut_a_mm for c in PLAN.cores]
    long = joint_dict()
    long["connector"] = long["connector"] | {"length_mm": 60, "insertion_mm": 29}
    recut = plan_joint(parse(JointFile, long), made=facts)
    assert any("Core 1 on A was cut at 46" in w and "cut the sheath on A back" in w for w in recut.warnings)


def test_chain_finds_any_change():
    log = Log(PLAN).through("parked")
    assert broken_at(log.events) is None
    pick = random.Random(7)
    for _ in range(20):
        n = pick.randrange(len(log.events))
        for change in (
            {"actor": "nobody"},
            {"values": {"x": 1.0}},
            {"client_time": "2026-02-03T08:00:01+00:00"},
        ):
            altered = [*log.events]
            altered[n] = altered[n].model_copy(update=change)
            assert broken_at(altered) == n + 1
    assert broken_at(log.events[1:]) == 1
