"""A moulded breakout over a lead that is held on a screen: its main mouth on the sheath, one on the cable in
front, one on the lead."""

from collections.abc import Callable
from datetime import date

from tinknot.core.acts import Place as ActPlace
from tinknot.core.facts import Fact, over_all, taken_off
from tinknot.core.families.ground.place import Place
from tinknot.core.families.moulded.bedding import On, PutOn, put_on
from tinknot.core.families.moulded.choosing import Choosing
from tinknot.core.families.moulded.job import MouldedJob
from tinknot.core.families.moulded.place import Place as MouldedPlace
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.profile import Profile
from tinknot.core.parts.boot import StockBoot


def booted(
    place: Place,
    under: Profile,
    margins: Margins,
    properties: frozenset[str],
    today: date | None,
    cool: Callable[[float], float],
) -> PutOn:
    """A breakout chosen with what makes it tight; `under`: the lead held on the screen."""
    low, high = place.bare
    job = _as_breakout(place, under.between(low, high).greatest(), high - low)
    beside = (job.leg_ods_mm[0] + job.leg_ods_mm[1]) / 2
    names = ("the cable in front", "the lead")
    at = MouldedPlace(job, place.rules, names, (0.0, beside))
    choosing = Choosing(at, place.rules, margins, properties - {"lined"}, today=today)

    def on(part: StockBoot) -> On:
        looked = Fact("looked", ActPlace("A", skin="screen"))
        at = high - part.openings[0].straight_mm
        return On(under, (looked,), over_all(), at_mm=at, rough_early=(taken_off("A", "sheath"),))

    return put_on(choosing, on, cool)


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
