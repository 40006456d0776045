"""A moulded breakout over a lead that is held on a screen: its main mouth on the sheath, one on the cable in
front, one on the lead."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.ground.place import Place
from tinknot.core.families.moulded.bedding import Bedded, On, bedded, cure_pick
from tinknot.core.families.moulded.choosing import Choosing, Found
from tinknot.core.families.moulded.job import MouldedJob
from tinknot.core.families.moulded.place import Place as MouldedPlace
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.profile import Profile


@dataclass(frozen=True)
class Booted:
    """What was found for it: its layers, None where nothing fits, with every choice."""

    made: Bedded | None
    choices: tuple[Choice, ...]
    picks: tuple[Pick, ...]


def booted(
    place: Place,
    under: Profile,
    margins: Margins,
    properties: frozenset[str],
    today: date | None,
    after: tuple[str, ...],
    cool: Callable[[float], float],
) -> Booted:
    """A breakout chosen with what makes it tight; `under`: the lead held on the screen, `after`: the steps
    after which that is so."""
    low, high = place.bare
    thick = under.between(low, high).greatest()
    choosing = Choosing(
        MouldedPlace(_as_breakout(place, thick, high - low), place.rules, ("the cable in front", "the lead")),
        place.rules,
        margins,
        properties - {"lined"},
        today,
    )
    found, pick = choosing.chosen()
    if found is None or found.part is None or pick.picked is None:
        return Booted(None, found.choices if found else (), (pick,))
    made = bedded(choosing, found, found.part, _on(found, under, after, high), cool)
    return Booted(made, found.choices, (pick, *cure_pick(choosing, found.tight)))


def _on(found: Found, under: Profile, after: tuple[str, ...], crutch_mm: float) -> On:
    assert found.part is not None
    return On(under, ("inspect.screen",), after, at_mm=crutch_mm - found.part.openings[0].straight_mm)


def _as_breakout(place: Place, thick_mm: float, bare_mm: float) -> MouldedJob:
    """The place as a breakout sees it: a cable that parts into itself and its lead."""
    j, s = place.joint, place.sheath
    head = {k: getattr(j, k) for k in JointHead.model_fields if k not in ("family", "ref")}
    front = s.greatest_mm if place.window else j.inside_od_mm
    return MouldedJob(
        **head,
        family=j.family,
        job="breakout",
        landed="here" if j.landed else "no",
        cable_od_mm=s.greatest_mm,
        cable_od_across_mm=s.least_mm,
        sheath=j.jacket or "pvc",
        clear_mm=j.clear_mm,
        hot_c=j.hot_c if j.hot_c is not None else 40.0,
        cold_c=j.cold_c if j.cold_c is not None else -20.0,
        legs="2",
        leg_1_od_mm=front,
        leg_2_od_mm=place.lead_od_mm,
        crutch_mm=0.0,
        before_od_mm=thick_mm,
        before_mm=bare_mm,
        boot=j.boot,
    )
