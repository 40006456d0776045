"""Casting: the shell weighed with what lies in it, cast over an outer sleeve, poured as it will be then."""

import json
from pathlib import Path
from typing import Any

import pytest

from tinknot.core.choosing.fitting import Option
from tinknot.core.choosing.whole import fewest
from tinknot.core.families.file import file_of
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook

PROPERTIES = ["hydrocarbon-resistant", "zero-halogen", "flame-retardant"]
CAST: dict[str, Any] = json.loads(Path("examples/armoured-cast-wet.json").read_text(encoding="utf-8"))


def sleeve(name: str, wall: float, price: float) -> dict[str, Any]:
    own = {"id": name, "expanded_id_mm": 16, "recovered_id_mm": 4.5, "recovered_wall_mm": wall}
    return own | {"on_hand_mm": 9000, "price_per_m": price, "properties": PROPERTIES}


def cast(
    sleeves: list[dict[str, Any]] | None = None,
    shell: dict[str, Any] | None = None,
    resin: dict[str, Any] | None = None,
    **more: Any,
) -> Plan:
    body = json.loads(json.dumps(CAST | more))
    body["stock"]["shells"][0] |= shell or {}
    body["stock"]["resins"][0] |= {"on_hand": 30} | (resin or {})
    if sleeves is not None:
        body["stock"]["sleeves"] = sleeves
    return plan_joint(file_of(json.dumps(body)))


# --- weighed together ---------------------------------------------------------------------------------------


def test_a_sleeve_is_taken_that_lets_the_shell_close():
    both = [sleeve("thick", 4, 1), sleeve("slim", 2.4, 3)]
    narrow = {"body_inside_mm": 55}
    assert cast(both[:1], narrow).verdict == "nothing-fits"
    plan = cast(both, narrow)
    assert plan.verdict == "planned"
    assert plan.choices[0].picked == "slim"
    assert "lets a shell close round it" in plan.chosen_together
    assert cast(both).choices[0].picked == "thick"  # cheaper, where there is room


def test_a_sleeve_is_taken_that_saves_a_pack():
    both = [sleeve("slim", 2.4, 1), sleeve("thick", 4, 3)]
    slim, thick = (cast([x]).resin.required_ml for x in both)
    assert thick < slim
    for volume, saves in (((slim + thick) / 6, True), (slim / 3 + 5, False), (slim + 5, False)):
        plan = cast(both, resin={"volume_ml": volume})
        assert (plan.choices[0].picked == "thick") == saves
        assert ("takes 3 packs instead of 4" in plan.chosen_together) == saves


def test_no_layer_gets_worse_for_a_pack():
    def one(name: str, thin: bool) -> tuple[Option, ...]:
        return (Option(name, thin, False, 0.0, price=1.0, comfort=0.2),)

    sound, thin = one("sound", False), one("thin", True)
    assert fewest(sound, [thin], {sound: 3.0, thin: 2.0}.__getitem__) == sound
    assert fewest(sound, [thin], {sound: float("inf"), thin: 2.0}.__getitem__) == thin
    assert fewest(thin, [sound], {sound: 3.0, thin: 3.0}.__getitem__) == sound


# --- as it will be then -------------------------------------------------------------------------------------


def test_the_pour_and_the_cure_are_by_the_temperature_expected_then():
    def at(*forecast: tuple[float, float], **build: Any) -> Plan:
        told = [{"at_h": h, "temperature_c": t} for h, t in forecast]
        return cast(build=CAST["build"] | {"forecast": told} | build)

    now = cast()
    assert now.resin.resin_c == CAST["ambient_c"] == 12
    # by the rule book's times 70 min of work come before the pour: 20 + 2 × 4 + 3 × 5 + 12 + 15 = 70
    warm, later = at((0, 12), (1, 20)), at((0, 12), (24, 12), (48, 20))
    assert at((0, 12), (140 / 60, 20)).resin.resin_c == pytest.approx(16)  # half way
    assert warm.resin.resin_c == 20
    assert warm.resin.pot_life_min == pytest.approx(25)  # the resin's own point at 20 °C
    assert warm.resin.full_min == pytest.approx(300, rel=1e-3)
    assert later.resin.resin_c == 12
    assert later.resin.full_min == pytest.approx(now.resin.full_min)  # cured before it gets warm
    assert at((0, 12), (1, 20), resin_c=15).resin.resin_c == 15  # what is told counts
    soon = at((0, 12), (4, 20))
    assert warm.resin.full_min < soon.resin.full_min < now.resin.full_min
    cold = at((1, 0))
    assert cold.verdict == "nothing-fits"
    assert "under its least" in " ".join(o.reason for p in cold.picks for o in p.offers)


# --- sleeved, then cast -------------------------------------------------------------------------------------

SLEEVES = [s | {"properties": PROPERTIES} for s in CAST["stock"]["sleeves"]]
BOTH = {"build": CAST["build"] | {"closure": "sleeve-resin"}}


def test_cast_over_its_outer_sleeve():
    plan = cast(SLEEVES, {"body_length_mm": 520}, **BOTH)
    assert plan.verdict == "planned"
    order = [s.id for s in plan.steps]
    wanted = [
        "wrap.crutch.A",
        "inspect.bond",
        "seal.outer-sleeve",
        "inspect.outer-sleeve",
        "cool.outer-sleeve",
    ]
    wanted += ["surface.shell.A", "shell.close", "seal.resin", "cure.shell", "test.after.insulation"]
    assert [x for x in order if x in wanted] == wanted
    assert "sleeve" in plan.step("surface.shell.A").title
    assert "Sleeve off the wall" in plan.step("shell.close").look
    by_layer = {p.layer: p for p in plan.parts}
    sealed = by_layer["outer-sleeve"]
    shell = next(b for b in plan.section.bodies if b.id == "shell")
    ends = [p[0] for p in shell.top]
    outer = next(b for b in plan.section.bodies if b.layer == "outer-sleeve")
    seals = [p[0] for p in outer.top]
    least = RuleBook.of().number("resin.sheath_in_mm")
    assert min(ends) <= min(seals) - least + 1e-6  # onto both bare sheaths
    assert max(ends) >= max(seals) + least - 1e-6
    cover = RuleBook.of().number("resin.cover_mm")
    assert CAST["stock"]["shells"][0]["body_inside_mm"] >= sealed.od_after_mm + 2 * cover
    assert plan.resin.displaced_ml > cast(SLEEVES, {"body_length_mm": 520}).resin.displaced_ml


def test_a_shell_too_short_or_too_narrow_for_the_sleeved_joint_says_by_how_much():
    short = cast(SLEEVES, **BOTH)
    assert short.verdict == "nothing-fits"
    reasons = {o.name: o.reason for p in short.picks if p.layer == "shell" for o in p.offers}
    assert "mm too short on" in reasons["shell-m"]
    narrow = cast(SLEEVES, {"body_length_mm": 520, "body_inside_mm": 40}, **BOTH)
    reasons = {o.name: o.reason for p in narrow.picks if p.layer == "shell" for o in p.offers}
    assert "the sleeved joint is too thick for it" in reasons["shell-m"]


def test_it_is_offered_where_it_is_wet_and_the_shell_is_there():
    body = json.loads(json.dumps(CAST))
    body["stock"]["shells"][0]["body_length_mm"] = 520
    body["stock"]["resins"][0]["on_hand"] = 30
    body["stock"]["sleeves"] = SLEEVES
    ways = {w.id: w for w in look_at(file_of(json.dumps(body)), RuleBook.of()).ways}
    assert ways["closure-sleeve-resin"].change["build"]["closure"] == "sleeve-resin"
    body["duties"], body["build"]["closure"] = ["dry"], "sleeve"
    ways = {w.id: w for w in look_at(file_of(json.dumps(body)), RuleBook.of()).ways}
    assert "closure-resin" in ways
    assert "closure-sleeve-resin" not in ways


@pytest.mark.parametrize("form", ["split", "tube"])
def test_as_a_tube_mould_it_is_threaded_before_the_sleeve(form: str):
    plan = cast(SLEEVES, {"body_length_mm": 520, "form": form}, **BOTH)
    parked = [e.layer for _, e in plan.park.parts()]
    assert ("shell" in parked) == (form == "tube")
    side = plan.park.a if "shell" in [e.layer for e in plan.park.a] else plan.park.b
    if form == "tube":
        assert side[0].layer == "shell"  # furthest from the joint
