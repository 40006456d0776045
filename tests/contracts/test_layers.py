"""What every kind of layer and every plan must keep, run over joints of different build."""

import re
from datetime import datetime
from itertools import chain
from pathlib import Path

import pytest

from tests.boot import BOOTS, boot
from tests.core.test_progress import Log
from tests.ground import GROUNDS, ground
from tests.jacket import REPAIRS, repair
from tests.joints import joint
from tests.leaflets import LEAFLETS
from tests.power import BUILDS as POWER
from tests.power import TAPS, file
from tests.screened import SCREENS, screened
from tests.trace import SHEETS, trace
from tinknot.core.families.registry import family_of
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Gate, Layer
from tinknot.core.layers.offered import OFFERED, why_offered
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import DEFAULTS, RuleBook
from tinknot.core.work.folding import building, fold
from tinknot.core.work.mending import used_parts

ROOT = Path(__file__).parents[2]
STRAIGHT = {
    "four in line": joint(),
    "four, two steps": joint(stagger_steps=2),
    "one core, dry": joint(1, duties=[]),
    "five, each its own step": joint(5, stagger_steps=5, ambient_c=3),
    "three, 690 V": joint(3, rated_voltage_v=690),
} | {name: file(given) for name, given in POWER.items()}
TRACES = {name: trace(given) for name, given in (SHEETS | LEAFLETS).items()}
JACKETS = {name: repair(**changes) for name, changes in REPAIRS.items()}
LEADS = {name: ground(**changes) for name, changes in GROUNDS.items()}
SCREENED = {name: screened(**changes) for name, changes in SCREENS.items()}
MOULDED = {name: boot(given) for name, given in BOOTS.items()}
TAPPED = {name: file(given) for name, given in TAPS.items()}
ALL = STRAIGHT | TAPPED | TRACES | JACKETS | LEADS | SCREENED | MOULDED
THREADED = STRAIGHT | {name: given for name, given in TRACES.items() if "end" not in name}


def layers_of(given: JointHead) -> list[Layer]:
    return list(family_of(given).recipe(given, RuleBook.of(), None, None).solve().layers)


class _Plans(dict[str, Plan]):
    """The plan of each joint, worked out once and when it is first asked for."""

    def __missing__(self, name: str) -> Plan:
        found = self[name] = plan_joint(ALL[name])
        assert found.verdict == "planned", found.remedies
        return found

    def values(self):
        return [self[name] for name in ALL]


PLANS = _Plans()


@pytest.fixture(params=STRAIGHT, scope="module")
def straight(request) -> Plan:
    return PLANS[request.param]


@pytest.fixture(params=THREADED, scope="module")
def threaded(request) -> Plan:
    return PLANS[request.param]


@pytest.fixture(params=ALL, scope="module")
def plan(request) -> Plan:
    return PLANS[request.param]


@pytest.fixture(params=ALL.values(), ids=ALL.keys(), scope="module")
def layers(request) -> list[Layer]:
    return layers_of(request.param)


def needed(plan: Plan, step_id: str) -> set[str]:
    """Every step that must be done before `step_id`."""
    found: set[str] = set()
    frontier = set(plan.step(step_id).needs)
    while frontier:
        found |= frontier
        frontier = set(chain.from_iterable(plan.step(s).needs for s in frontier)) - found
    return found


def test_layers_say_who_they_are(layers: list[Layer]):
    ids = [x.id for x in layers]
    assert len(ids) == len(set(ids))
    assert all(x.title for x in layers)


def test_steps_belong_to_their_layer_and_stand_once(layers: list[Layer]):
    steps = [(x, s) for x in layers for s in x.steps()]
    assert len({s.id for _, s in steps}) == len(steps)
    for layer, s in steps:
        assert s.layer == layer.id, s.id


def test_words_are_short_enough_for_a_phone(layers: list[Layer]):
    for s in chain.from_iterable(x.steps() for x in layers):
        sentences = [w for w in re.split(r"(?<=[a-z)])\. ", s.text) if w]
        assert len(sentences) <= 3, s.text  # a part's name in front of two sentences
        assert len(s.title) <= 60
        assert "mm mm" not in s.text + s.title


def test_figures_have_units_and_one_kind_of_limit(layers: list[Layer]):
    for gate in (g for x in layers for s in x.steps() for g in s.gates):
        assert isinstance(gate, Gate)
        assert gate.unit
        assert (gate.target is None) == (gate.tolerance is None)
        assert gate.least is None or gate.most is None
        assert not gate.accept or gate.target is not None


def test_what_is_used_up_and_how_long_it_takes(layers: list[Layer]):
    for x in layers:
        assert all(m.quantity > 0 and m.unit for m in x.consumes())
        assert x.minutes().hands >= 0
        assert x.minutes().waiting >= 0


def test_everything_parked_is_threaded_before_any_joining(threaded: Plan):
    plan = threaded
    parked = {s.id for s in plan.steps if s.kind == "park"}
    joins = [s.id for s in plan.steps if s.kind == "join"]
    assert joins
    assert plan.park
    assert {e.step for _, e in plan.park.parts()} == parked
    for j in joins:
        assert parked <= needed(plan, j)


def test_every_seal_has_its_surface_before_and_its_look_after(plan: Plan):
    for seal in (s for s in plan.steps if s.kind == "seal"):
        on = {t.after for t in seal.timers if t.label == "sealant open"}  # over sealant, which lies on it
        mine = {seal.layer, *(plan.step(n).layer for n in on)}
        before = {plan.step(n).kind for n in needed(plan, seal.id) if plan.step(n).layer in mine}
        assert "surface" in before, seal.id
        looks = [s for s in plan.steps if s.kind == "inspect" and s.layer == seal.layer]
        after = [s for s in looks if seal.id in needed(plan, s.id)]
        assert after, seal.id
        assert all(s.look for s in after)


def test_heat_is_marked_and_waits_for_solvent(plan: Plan):
    for s in plan.steps:
        assert s.hot == ("heat-gun" in s.tools), s.id
        assert not s.hot or s.kind in ("seal", "join", "fit"), s.id  # small tubes on a wire seal nothing
        if s.hot and s.kind == "seal":
            assert any(t.least_min is not None for t in s.timers)
        for t in s.timers:
            assert t.after in needed(plan, s.id)
            assert t.least_min is not None or t.most_min is not None
            assert not t.unless_gate or t.unless_gate in {g.id for g in s.gates}


def test_tests_come_before_closing_and_again_after(straight: Plan):
    plan = straight
    tests = [s.id for s in plan.steps if s.kind == "test" and s.id != "test.mesh"]  # once it is on
    under = plan.step("before-closing") is not None  # of a single wire nothing is closed in but its connector
    assert {t.split(".")[1] for t in tests} - {"bond"} == ({"before", "after"} if under else {"after"})
    for t in tests if under else ():
        assert ("before-closing" in needed(plan, t)) != t.startswith("test.before")
        if t.startswith("test.before"):
            assert t in needed(plan, "before-closing")


def test_release_is_last_and_needs_everything(plan: Plan):
    assert plan.steps[-1].id == "released"
    assert needed(plan, "released") == {s.id for s in plan.steps} - {"released"}


def test_cuts_and_cores_agree(straight: Plan):
    plan = straight
    sums = {round(c.cut_a_mm + c.cut_b_mm, 6) for c in plan.cores}
    assert len(sums) == 1
    by_core = {(c.end, c.core): c.distance_mm for c in plan.cuts if c.layer.startswith("core")}
    for c in plan.cores if by_core else ():
        assert by_core["A", c.core] == pytest.approx(c.cut_a_mm)
        assert by_core["B", c.core] == pytest.approx(c.cut_b_mm)
    for s in plan.steps:
        if s.id.startswith("cut.core"):
            assert s.gates[0].target == pytest.approx(by_core[s.end, s.core])


def test_the_voltage_of_the_test_follows_the_circuit(straight: Plan):
    plan = straight
    volts = {s.title for s in plan.steps if s.id.endswith("insulation")}
    assert len(volts) == 1
    assert any(v in volts.copy().pop() for v in ("500 V", "1000 V"))


def test_every_rule_is_used_and_has_its_reason():
    """Read by its key somewhere that does not state it, whole or as an f-string whose rest it fits."""
    stated = ("rules.py", "rulenames.py", "rulebook.py", "rule.py")
    files = [p for p in (ROOT / "src").rglob("*.py") if p.name not in stated]
    source = "".join(p.read_text() for p in files)
    patterns = [
        re.compile(re.sub(r"\\\{.*?\\\}", ".*", re.escape(found)))
        for found in re.findall(r'f"([a-z]+\.[^"]*\{[^"]*)"', source)
    ]
    assert len(files) > 200, "nothing was searched"
    assert patterns, "no key is put together any more: this can be simpler"
    for key, rule in DEFAULTS.items():
        assert rule.why, key
        assert rule.source, key
        used = f'"{key}"' in source or any(p.fullmatch(key) for p in patterns)
        assert used, f"{key} switches nothing"


def test_every_figure_is_asked_for_or_offered_with_a_reason(plan: Plan):
    """One rule for all families: a figure that may be left out stands in the reviewed list, and no proof is
    made of such figures only."""
    for s in plan.steps:
        for g in s.gates:
            assert g.required or why_offered(g.id), f"{s.id}: {g.id} is neither asked for nor offered"
            assert g.required or not g.excuse, "only what is asked for can be excused"
            assert g.possible, f"{g.unit} has no range that is possible"
        if s.kind == "test" and s.gates:
            assert any(g.required for g in s.gates), f"{s.id} proves nothing"
        if s.kind == "test" and not s.gates:
            assert s.text, f"{s.id} does not say what is to be seen"


def test_every_offered_figure_is_one_of_some_plan():
    ids = {g.id for plan in PLANS.values() for s in plan.steps for g in s.gates if not g.required}
    assert {name for name in OFFERED if not any(i == name or i.startswith(f"{name}-") for i in ids)} == set()


def test_every_part_is_taken_off_the_shelf_by_a_step(plan: Plan):
    """And once its step is done it is told as used."""
    used = {p.part_id for p in used_parts(plan, {s.id for s in plan.steps})}
    assert {p.part_id for p in plan.parts} - used == set()


def test_what_is_drawn_is_built_by_some_step(plan: Plan):
    """Else it would look as if it were still to come when all is done."""
    assert {b.layer for b in plan.section.bodies if b.layer} - building(plan).keys() == set()


def test_every_plan_can_be_built_to_its_release(plan: Plan):
    """Each step confirmed in the plan's order with readings that pass; released by somebody else."""
    log = Log(plan)
    for s in plan.steps:
        asked = [g for g in s.gates if g.required or s.kind != "identify"]
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in asked}
        if s.cure:
            full = fold(plan, log.events).cures[0].full_at
            log.at, values = datetime.fromisoformat(full), {}
        who = "eskil" if s.hold == "released" else "runa"
        hurry = [t.most_min for t in s.timers if t.most_min is not None]
        waits = [t.least_min for t in s.timers if t.least_min is not None and not t.unless_gate]
        log.add("done", s.id, who, values, minutes=max([min([6.0, *hurry]), *waits]))
    found = fold(plan, log.events)
    assert not found.flags, found.flags[0]
    assert not found.faults, found.faults[0]
    assert found.state == "released"


def test_words_follow_the_joint(plan: Plan):
    """What a step or an inspection speaks of is there, and what it takes is in the materials."""
    said = " ".join(f"{s.text} {s.look} {s.caution}" for s in plan.steps).lower()
    things = (
        " ".join(m.what for m in plan.materials).lower() + " " + " ".join(p.name for p in plan.parts).lower()
    )
    for thing in ("spring", "mesh", "spacer"):
        assert (thing in said) <= (thing in things), thing
    taped = not any(s.kind == "seal" and s.core for s in plan.steps)
    assert not (taped and "every core sleeved" in said)
    for end in ("A", "B"):
        lengths = {round(c.distance_mm, 3) for c in plan.cuts if c.end == end and c.kind == "core"}
        if not lengths:
            continue
        told = any(s.end == end and ("long one" in s.text or "short one" in s.text) for s in plan.steps)
        assert told == (len(lengths) > 1 and max(lengths) - min(lengths) >= 0.5)


def test_a_shell_has_a_spacer_beside_every_connector():
    for plan in PLANS.values():
        spacers = next((m.quantity for m in plan.materials if m.what == "spacer"), None)
        if spacers is not None and plan.closure != "sleeve-resin":  # there the cores lie under one sleeve
            assert spacers >= len(plan.cores)
