"""One loop draws every joint: what is seen from the side is what a cut shows, to scale."""

from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tinknot.core.drawing.loop import Put, covers, draw, outermost, widest
from tinknot.core.drawing.model import Body, Circle, Section
from tinknot.core.drawing.outline import bridged, height
from tinknot.core.drawing.stage import Axis, Stage, level
from tinknot.core.families.file import file_of
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.tapes import TapeWrap
from tinknot.core.parts.tape import StockTape
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

EXAMPLES = sorted((Path(__file__).parents[2] / "examples").glob("*.json"))
TAPE = StockTape(id="t", width_mm=20, thickness_mm=0.5, roll_mm=9000, kind="self-amalgamating")
spans = st.tuples(st.floats(-90, -5), st.floats(5, 90))


def wrapped(name: str, span: tuple[float, float], passes: int) -> TapeWrap:
    return TapeWrap(name, name, TAPE, "", span_mm=span, passes=passes, substrate_mm=20.0, rules=RuleBook.of())


def drawn(layers: list[TapeWrap], inner: Profile) -> Section:
    over = covers(layers, inner, 1.0)
    return draw([], over, (-100.0, 100.0), [], outside=outermost(over, inner))


@cases(60)
@given(st.lists(st.tuples(spans, st.integers(1, 6)), min_size=1, max_size=4))
def test_cuts_follow_each_other_and_show_the_layers_there_are(given_layers):
    layers = [wrapped(f"w{n}", span, passes) for n, (span, passes) in enumerate(given_layers)]
    found = drawn(layers, Profile.of_stretches([(-200.0, 200.0, 20.0, 19.0)]))
    assert found.crossings[0].from_mm == -100.0
    assert found.crossings[-1].to_mm == 100.0
    for before, after in pairwise(found.crossings):
        assert after.from_mm - before.to_mm < 1e-6
    for cut in found.crossings:
        x = (cut.from_mm + cut.to_mm) / 2
        here = [w.id for w in reversed(layers) if w.span_mm[0] <= x <= w.span_mm[1]]
        assert [c.layer for c in cut.circles] == here  # outermost first
        assert cut.outside_mm == (cut.circles[0].od_mm if here else 20.0)
        for outer, inner in pairwise(cut.circles):
            assert outer.inside_mm == inner.od_mm


def test_what_is_put_on_later_is_nearer_to_the_eye():
    found = drawn(
        [wrapped("a", (-50.0, 50.0), 2), wrapped("b", (-20.0, 20.0), 2)],
        Profile.of_stretches([(-200.0, 200.0, 20.0, 20.0)]),
    )
    a, b = found.bodies
    assert a.depth_mm < b.depth_mm
    assert b.bottom[0][1] == a.top[0][1]


class Nothing:
    """A layer that is not drawn."""

    def bodies(self, stage: Stage) -> tuple[Body, ...]:
        return ()

    def rings(self, stage: Stage, x: float) -> tuple[Circle, ...]:
        return ()


def test_a_cut_through_nothing_is_as_wide_as_it_is_told_to_be():
    bare = Profile.of_stretches([(-10.0, 10.0, 5.0, 5.0)])
    found = draw(
        [Put(Nothing(), Stage(bare, bare, (-5.0, 5.0), 0.0))], [], (-8.0, 8.0), [], outside=widest(7.0)
    )
    assert [(c.from_mm, c.outside_mm) for c in found.crossings] == [(-8.0, 7.0), (-5.0, 7.0), (5.0, 7.0)]


def test_a_core_is_where_its_axis_is():
    axis = Axis(((0.0, 1.0, 0.0), (10.0, 3.0, 0.0)), ((0.0, 10.0, (2.0, 3.0)),))
    assert [height(axis.path, x) for x in (-5.0, 5.0, 20.0)] == [1.0, 2.0, 3.0]
    assert axis.at(4.0) == {"x_mm": 2.0, "y_mm": 3.0}
    assert axis.at(11.0) is None  # it does not go there
    assert Axis().at(4.0) == {}  # the joint's own: the middle
    assert Axis.level(-6.0).at(1e6) == {"x_mm": 0.0, "y_mm": -6.0}


@given(st.lists(st.tuples(st.floats(1, 30), st.floats(2, 40)), min_size=1, max_size=8))
def test_a_step_leans_only_to_its_lower_side(stretches):
    x, points = 0.0, []
    for radius, length in stretches:
        points += [(x, radius), (x + length, radius)]
        x += length
    leaning = bridged(points)
    assert [y for _, y in leaning] == [y for _, y in points]
    assert all(p[0] <= q[0] + 1e-9 for p, q in pairwise(leaning))
    assert (leaning[0], leaning[-1]) == (points[0], points[-1])


def test_a_stretch_of_one_diameter_is_level():
    body = level("sheath", (-3.0, 4.0), 10.0, id="s", end="A")
    assert (body.top, body.bottom) == ([(-3.0, 5.0), (4.0, 5.0)], [(-3.0, -5.0), (4.0, -5.0)])


def height_at(points: list[tuple[float, float]], x: float) -> float:
    return height([(a, b, 0.0) for a, b in points], x)


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.stem)
def test_from_the_side_and_in_a_cut_it_is_the_same_joint(path: Path):
    """Whatever closes the whole joint has, away from its steps, the outside that the cut shows."""
    found = plan_joint(file_of(path.read_text("utf-8")), RuleBook.of())
    if found.section is None:
        pytest.skip("nothing fits, so there is nothing to draw")
    bodies = [b for b in found.section.bodies if b.layer and not b.core]
    looked = 0
    for cut in found.section.crossings:
        x = (cut.from_mm + cut.to_mm) / 2
        for c in cut.circles:
            mine = [b for b in bodies if b.layer == c.layer]
            kinds = {b.kind for b in mine[-1:]}  # what lies outermost of it
            mine = [b for b in mine if b.kind == c.kind and b.top[0][0] < x]
            if (
                c.core
                or not mine
                or kinds != {c.kind}
                or c.width_mm is not None
                or (c.y_mm and len(mine) > 1)
            ):
                continue
            if cut.to_mm - cut.from_mm > 4 * abs(c.od_mm - (c.inside_mm or 0)):
                looked += 1
                seen = [2 * height_at(b.top, x) for b in mine]
                assert pytest.approx(c.od_mm, abs=0.01) in seen, (c.layer, x)
    assert looked or not bodies
