"""A solved stack written out as a plan: parts, park list, steps, materials, warnings. One path for every
family."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict
from typing import Any

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import LONGEST_MIN, Recipe, Solution
from tinknot.core.families.materials import materials_of
from tinknot.core.families.offers import choice_out
from tinknot.core.layers.contract import Fault, Layer, Mend, Step
from tinknot.core.layers.mends import CUT_OUT, not_threaded
from tinknot.core.plan.parts import MinutesOut, OfferOut, ParkedOut, ParkPlan, PickOut, SettingOut, TailOut
from tinknot.core.plan.plan import ORDER, Plan, stamp
from tinknot.core.plan.steps import CureLaw, CutOut, GateOut, StepOut, TimerOut
from tinknot.core.plan.ways import BreakOut, FaultOut, MendOut
from tinknot.core.planning.lasting import once, shut_by, since_made
from tinknot.core.planning.ordering import ordered
from tinknot.core.planning.partlist import parts_of
from tinknot.core.planning.playing import broken
from tinknot.core.planning.waiting import seen_at, threading
from tinknot.core.planning.waiting_at import said_where
from tinknot.core.world.laws import EDITION

ALIKE = (
    "id",
    "title",
    "kind",
    "station",
    "text",
    "caution",
    "look",
    "fails",
    "end",
    "core",
    "focus_mm",
    "part_id",
    "photo",
    "pictured",
    "basis",
)  # of a step, as the plan has them too


def compile_plan(recipe: Recipe[Any], s: Solution, made: Made | None = None, brief: bool = False) -> Plan:
    """A solution as a plan, from what is `made` already; `brief` leaves out the drawing and what was not
    taken, as another way is told.

    Raises InputError for a kit sheet whose steps run in a circle or name a step that this joint does not
    have."""
    joint, layers, finished = recipe.joint, s.layers, s.finished
    order = said_where(recipe, s, ordered(layers, made or Made()))
    steps = _written(order, brief, s.rows)
    hands, waiting = s.minutes(recipe.rules).hands, _waiting_min(layers, order)
    return Plan(
        verdict="planned" if s.fits else "nothing-fits",
        family=joint.family,
        sheet=f"{joint.sheet.name}, revision {joint.sheet.revision}" if joint.sheet else "",
        stagger_steps=s.steps,
        joint_length_mm=s.length_mm,
        greatest_diameter_mm=finished.greatest() if finished else None,
        profile=[(round(x, 6), od) for x, od in finished.points()] if finished else [],
        cuts=[CutOut(**vars(c)) for x in layers for c in x.cuts()],
        cores=recipe.cores(s),
        choices=[] if brief else [choice_out(c, recipe.margins, recipe.sleeves) for c in s.choices],
        picks=[
            PickOut(
                layer=p.layer,
                title=p.title,
                need=p.need,
                offers=[OfferOut(**asdict(o)) for o in p.offers],
                picked=p.picked,
                advice=p.advice,
            )
            for p in s.picks
        ],
        parts=parts_of(recipe, s, brief),
        park=_park(recipe, s, threading(order)),
        steps=steps,
        materials=materials_of([m for x in layers for m in x.consumes()]),
        tools=list(dict.fromkeys([*recipe.tools(), *(t for x in layers for t in x.tools())])),
        settings=[SettingOut(**vars(y)) for y in dict.fromkeys(y for x in layers for y in x.settings())],
        minutes=MinutesOut(hands=hands, waiting=min(waiting, LONGEST_MIN)),
        remedies=[],
        faults=list(_faults(layers, order, recipe.at_last)),
        warnings=[*s.stops, *recipe.warnings(s)],
        safety=recipe.safety(steps),
        chosen_together=s.greedy,
        section=recipe.draw(s) if layers and not brief else None,
        slack_mm=recipe.slack_mm(s),
        remake_spare_mm=recipe.remake_spare_mm,
        cable_length_m=joint.cable_length_m,
        ambient_c=joint.ambient_c,
        order=ORDER,
        breaks=[] if brief else [BreakOut(**vars(b)) for b in broken(recipe, s, order)],
        laws=0 if brief else EDITION,
        cost=recipe.cost(s),
        **recipe.extras(s),
    )


def _waiting_min(layers: Sequence[Layer], order: Sequence[Step]) -> float:
    """Waits of the layers, min: those one after the other added up, those side by side counted once."""
    waits = {x.id: m for x in layers if (m := x.minutes().waiting)}
    last = {s.layer: s.id for s in order if s.kind == "wait" and s.layer in waits}
    over: dict[str, float] = {}
    for s in order:  # each stands behind all it waits for
        own = waits[s.layer] if s.layer and last.get(s.layer) == s.id else 0.0
        over[s.id] = own + max((over[n] for n in s.after), default=0.0)
    return sum(m for x, m in waits.items() if x not in last) + max(over.values(), default=0.0)


def _park(recipe: Recipe[Any], s: Solution, step_of: Mapping[str, str]) -> ParkPlan | None:
    """Both tails in threading order: what goes over the whole cable first, the outermost before the rest."""
    if s.parking is None or not s.layers:
        return None
    threads = [t for x in s.layers for t in x.threads()]
    free = recipe.free_mm()
    waits: dict[str, list[ParkedOut]] = {end: [] for end in ("A", "B", *free)}
    for t in sorted(threads, key=lambda t: (t.track != "sheath", -t.order)):
        waits[t.end].append(
            ParkedOut(
                layer=t.layer,
                part_id=t.part_id,
                track=t.track,
                length_mm=t.length_mm,
                step=step_of[t.layer],
                title=t.title,
            )
        )
    used = s.parking.used_mm()
    return ParkPlan(
        a=waits["A"],
        b=waits["B"],
        used_a_mm=used["A"],
        used_b_mm=used["B"],
        free_a_mm=free["A"],
        free_b_mm=free.get("B", 0.0),
        skin=recipe.skin,
        by_end=[
            TailOut(end=end, parts=waits[end], used_mm=used[end], free_mm=mm) for end, mm in free.items()
        ],
    )


def _faults(layers: Sequence[Layer], steps: Sequence[Step], last: Mend | None) -> Iterator[FaultOut]:
    """What can be seen to go wrong, with the steps it is seen at; what is seen where this joint has no step
    is none of it. `last`: what is always left to do."""
    for layer, f in ((x.id, f) for x in layers for f in _own_faults(x)):
        at = (
            seen_at(f.at, layer, steps)
            if f.at
            else []
            if f.forgotten or f.early
            else since_made(layer, steps)
        )
        if at or not f.at:
            yield FaultOut(
                layer=layer,
                id=f.id,
                seen=f.seen,
                causes=list(f.causes),
                mends=[MendOut(**vars(m)) for m in _mends(f, last)],
                forgotten=f.forgotten,
                steps=at,
            )


def _mends(f: Fault, last: Mend | None) -> Iterator[Mend]:
    """What may be done about a fault, and what is left to do when its own ways are shut off."""
    for m in f.mends:
        yield last if last and m is CUT_OUT else m
    if last and not any(m.kind == last.kind for m in f.mends):
        yield last


def _own_faults(x: Layer) -> Iterator[Fault]:
    """What can be seen to go wrong with a layer; of one that is threaded on, also that it was not."""
    found = x.faults()
    yield from found
    if x.threads() and not any(f.forgotten for f in found):
        yield not_threaded(x.title)


def _written(steps: Sequence[Step], brief: bool, rows: Mapping[str, int] | None) -> list[StepOut]:
    """Steps as the plan carries them: flat, as pages and phones of every version read them; nobody works by
    one that is `brief`."""
    shut = {} if brief else shut_by(steps)
    return [
        StepOut(
            **{name: getattr(s, name) for name in ALIKE},
            layer=s.layer or "",
            batch=s.batch.id if s.batch else "",
            batch_title=s.batch.title if s.batch else "",
            batch_text=s.batch.text if s.batch else "",
            action=s.done_words,
            needs=list(s.after),
            gates=[GateOut(**vars(g)) for g in s.gates],
            taken=s.reading.taken,
            pairs=list(s.reading.pairs),
            recut=s.reading.recut,
            hold=s.held.name if s.held else None,
            second_person=s.held is not None and s.held.second_person,
            hot=s.heat is not None,
            heat_c=s.heat.gun_c if s.heat else None,
            routes=[list(r) for r in s.heat.routes] if s.heat else [],
            stamp=stamp(s),
            timers=[TimerOut(**vars(t)) for t in s.timers],
            tools=list(s.tools),
            cure=CureLaw(**(vars(s.cure) | {"points": list(s.cure.points)})) if s.cure else None,
            once=once(s),
            shut_by=shut.get(s.id, []),
            row=None if rows is None else rows.get(s.id, 0),
        )
        for s in steps
    ]
