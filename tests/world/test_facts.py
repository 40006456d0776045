"""What a step says must be so before it: without any one fact of it somebody comes to grief."""

import re
from collections.abc import Iterator
from dataclasses import replace
from functools import cache

import pytest

from tests.conftest import FULL, nightly
from tests.world.plans import EXAMPLES, told
from tinknot.core.acts import LayOn, Look, Place, Thing
from tinknot.core.facts import Fact, of, over_all
from tinknot.core.families.choice import Made
from tinknot.core.families.file import file_of
from tinknot.core.families.registry import family_of
from tinknot.core.layers.contract import Layer, Step
from tinknot.core.planning.ordering import ordered
from tinknot.core.planning.playing import found_of, timed
from tinknot.core.planning.waiting import Facts, NobodyMakes, Worked
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found

LEAFLETS = "heat-trace"  # its rows say their order themselves
NAMES = [n for n in EXAMPLES if file_of(EXAMPLES[n].read_bytes()).family != LEAFLETS]
HARMLESS = {
    ("surface.#", "ready"): "one end made ready early harms nothing, and the closing waits by the other one",
    ("surface.#", "covered"): "a moulded part's surfaces are fittings and jackets, which hide nothing",
    ("park.#", "cut"): "a part can be threaded before the end is laid open; the trade does it after",
    ("cut.sheath.#", "noted"): "the stripper is set on scrap: what a knife too deep does is not played",
    ("place.boot", "laid"): "adhesive forgotten at one mouth: a mouth's own seal is not played",
    ("before-closing", "tried"): "a part may be tried as late as it is slid on",
    ("place.boot", "tried"): "the same",
    ("before-closing", "counted"): "the lead is laid after it",
    ("sealed-and-proved", "read"): "bends and sheath tests, which not every joint is asked for",
    ("map.cores", "cold"): "cores ring through hot as well",
    ("test.before.continuity", "looked"): "cores ring through before an earth strap on one is taped over",
    ("lay.earth-lead", "ready"): "what lies under a strap is not played",
    ("test.before.continuity", "named"): "the map is read with the same leads, before or after",
    ("wrap.foil", "ready"): "foil and drain wires lie beside each other",
    ("fit.donor", "ready"): "which metal lies under which is not played",
    ("bond.strap", "ready"): "which metal lies under which is not played",
    ("lay.lead", "made"): "a lead is stripped at the bench",
    ("lay.lead", "covered"): "the holder that closes over it waits itself",
    ("test.before.insulation", "cut"): "a tap's cable is read as well before its cores are cut square",
    ("sealed-and-proved", "made"): "a tap's connectors are looked at, each by its own step",
    ("wipe.#", "covered"): "dry-wiped after roughening counts as clean: this is for hands and dust since",
    ("wipe.#", "ready"): "the same of a shell",
    ("wrap.crutch.#", "ready"): "mastic in the crutch and on the lead's edge lie beside each other",
    ("place.spacers", "ready"): "spacers stand as well before a crutch is filled",
    ("connectors", "cold"): "solder is looked at while it is hot as well",
}  # what no law sees yet, with the reason


class Whole:
    """One joint's steps with what each waits for."""

    def __init__(self, name: str) -> None:
        joint = file_of(EXAMPLES[name].read_bytes())
        recipe = family_of(joint).recipe(joint, RuleBook.of(), None, None)
        solved = recipe.solve()
        found = found_of(recipe, solved)
        assert found is not None
        self.found: Found = found
        self.shown = timed(solved.layers, ordered(solved.layers, Made()))
        self.facts = Facts(solved.layers)
        self.full = {s.id: set(s.after) for s in self.facts.steps()}
        for s in self.shown:  # what comes from the park list
            self.full[s.id] |= set(s.after)
        self.said = told(self.shown, found) | told(self.shown, found, shown=False)

    def without(self, of_step: Worked, need: Fact) -> dict[str, set[str]] | None:
        """All that each step waits for, where one says one fact less; None where others say it too."""
        gone = {m.step.id for m in self.facts.makers(need, of_step)}
        others = [n for n in of_step.needs if n is not need]
        kept = {m.step.id for n in others for m in self.facts.makers(n, of_step)}
        own = (self.full[of_step.step.id] - gone) | kept
        before: dict[str, set[str]] = {}
        for s in self.shown:
            after = own if s.id == of_step.step.id else self.full[s.id]
            before[s.id] = set(after).union(*(before[n] for n in after))
        return before if gone - before[of_step.step.id] else None

    def orders(self, of_step: Worked, need: Fact, before: dict[str, set[str]]) -> Iterator[list[Step]]:
        """What was needed as late as is allowed then, and the step as early."""
        makers = {m.step.id for m in self.facts.makers(need, of_step)} - before[of_step.step.id]
        for m in [s for s in reversed(self.shown) if s.id in makers][:3]:
            after = [s for s in self.shown if m.id in before[s.id]]
            yield [*(s for s in self.shown if s is not m and s not in after), m, *after]
        name = of_step.step.id
        first = [s for s in self.shown if s.id in before[name]]
        rest = [s for s in self.shown if s.id not in before[name]]
        yield [*first, *sorted(rest, key=lambda s: s.id != name)]


@cache
def whole(name: str) -> Whole:
    return Whole(name)


def kind(step: str) -> str:
    """The kind of a step: cores and numbers do not count; surfaces, wipes and threading are one each."""
    plain = re.sub(r"[0-9]+|[A-Z]$", "#", step)
    return re.sub(r"^(surface|park|wipe)\..*", r"\1.#", plain)


@cache
def unseen(name: str) -> set[tuple[str, str]]:
    """The facts that can be left out of a joint's steps and nobody comes to grief."""
    w, missed, tried = whole(name), set(), 0
    known = {b[:3] for b in w.said}
    for of_step in w.facts.worked:
        for need in of_step.step.needs:
            before = w.without(of_step, need) if w.facts.makers(need, of_step) else None
            if before is None:  # so as found, or said by another fact of it too
                continue
            tried += 1
            orders = w.orders(of_step, need, before)
            if all({b[:3] for b in told(o, w.found, shown=False)} <= known for o in orders):
                missed.add((kind(of_step.step.id), need.what))
    assert tried > 10
    return missed


@pytest.mark.parametrize("name", NAMES if FULL else NAMES[::3])
def test_without_any_one_fact_somebody_comes_to_grief(name: str):
    assert unseen(name) <= HARMLESS.keys()


@nightly
def test_what_no_law_sees_is_listed_and_nothing_else():
    """A law that comes to see more takes its line out of the list."""
    assert set().union(*map(unseen, NAMES)) == HARMLESS.keys()


class Made2(Layer):
    """A layer of a test: laid on, then looked at."""

    def work(self) -> tuple[Step, ...]:
        thing = Thing(self.id, self.title)
        return (
            Step(f"wrap.{self.id}", "Lay it on", "wrap", "build", acts=(LayOn(thing=thing),)),
            Step(
                f"inspect.{self.id}",
                "Look at it",
                "inspect",
                "build",
                needs=(of("laid", self.id),),
                acts=(Look(thing=thing),),
            ),
        )


class Needing(Made2):
    """One that needs something nobody makes."""

    def work(self) -> tuple[Step, ...]:
        first, look = super().work()
        return replace(first, needs=(of("joined", "nowhere"),)), look


class Around(Made2):
    around = True

    def work(self) -> tuple[Step, ...]:
        return (Step("proof", "All of it is on", "test", "prove", needs=(Fact("done"),)),)


def after(*layers: Layer) -> dict[str, set[str]]:
    return {s.id: set(s.after) for s in Facts(layers).steps()}


def test_a_fact_that_nobody_makes_is_told_with_its_step_and_place():
    with pytest.raises(NobodyMakes, match=r"“Lay it on” \(wrap.x\) needs joined nowhere"):
        after(Needing("x", "x"))


def test_a_step_waits_for_its_own_layer_and_for_those_inside_of_it():
    class Over(Made2):
        def work(self) -> tuple[Step, ...]:
            first, look = super().work()
            return replace(first, needs=over_all()[1:]), look

    found = after(Around("p", "p"), Made2("a", "a"), Over("b", "b"))
    assert found["wrap.a"] == set()
    assert found["wrap.b"] == {"wrap.a", "inspect.a"}
    assert found["proof"] == {"wrap.a", "inspect.a", "wrap.b", "inspect.b"}


def test_a_clean_stretch_is_met_by_what_was_wiped_there_or_everywhere():
    def sheath(a: float, b: float) -> Place:
        return Place("A", skin="sheath", span_mm=(a, b))

    need = Fact("clean", sheath(0, 10))
    assert Fact("clean", sheath(5, 20)).meets(need)
    assert Fact("clean", Place("A", skin="sheath")).meets(need)
    assert not Fact("clean", sheath(11, 20)).meets(need)
    assert not Fact("clean", Place("B", skin="sheath")).meets(need)
    assert not Fact("clean", sheath(0, 10)).meets(Fact("clean", Place("A", skin="sheath")))
    assert Fact("looked", Place(skin="connector")).meets(Fact("looked", Place(core="3")))
    assert Fact("joined", Place(core="3")).meets(Fact("joined", Place(core="*")))
    assert not Fact("joined", Place("A")).meets(Fact("joined", Place(core="*")))
