"""The outer sleeve of a screened cable, and the pieces that close its ends where it does not."""

from collections.abc import Iterator
from dataclasses import replace

from tinknot.core.facts import over_all, taken_off
from tinknot.core.families.choice import Choice
from tinknot.core.families.moulded.bedding import On, PutOn, put_on
from tinknot.core.families.moulded.choosing import Choosing
from tinknot.core.families.moulded.job import MouldedJob
from tinknot.core.families.moulded.place import Place
from tinknot.core.families.screened.job import ScreenedJob
from tinknot.core.families.screened.layout import Layout
from tinknot.core.joint.cable import CableEnd, Round
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.screen import ScreenCover
from tinknot.core.parts.boot import StockBoot

Span = tuple[float, float]


def _end(job: ScreenedJob, side: int) -> CableEnd:
    j, od = job.joint, job.sheath[side]
    return CableEnd("AB"[side], "", Round(od, od), (), free_mm=(j.free_a_mm, j.free_b_mm)[side])


def covers_of(job: ScreenedJob, span: Span, half: float) -> Iterator[CoverSleeve]:
    """Those to be chosen, inside out."""
    ends, r = job.open_ends, job.rules
    outer = ScreenCover(
        "outer-sleeve",
        "outer sleeve",
        span,
        r,
        properties=job.properties,
        ends=(_end(job, 0), _end(job, 1)),
        overlap_mm=(-half - span[0], span[1] - half),
        edges_mm=(-half, half),
        park_order=3,
        seals=ends != "AB",
        closes=True,
        drawn="outer-sleeve",
        open_ends=ends,
    )
    yield outer
    piece, past = r.number("sleeve.piece_overlap_mm"), r.number("overlap.outer_min_mm")
    for end in job.pieces:
        edge, out = (span[0], -1) if end == "A" else (span[1], 1)
        low, high = sorted((edge + out * past, edge - out * piece))
        yield ScreenCover(
            f"end-piece-{end}",
            f"end piece on {end}",
            (low, high),
            r,
            properties=job.properties | {"lined"},
            ends=(_end(job, "AB".index(end)),),
            overlap_mm=(abs(edge) + past - half,),
            park_on="a" if end == "A" else "b",
            park_order=4,
            seals=True,
            over=end,
            drawn="end-piece",
        )


def breakout(job: ScreenedJob, layout: Layout, span: Span, under: Profile) -> PutOn:
    """Over the outer sleeve's end on B and each wire that leaves it; it waits outside of all else."""
    names = tuple(f"wire {n}" for u in range(job.cable.units) for n in job.joined.b.unit(u))
    heights = tuple(y for _, y in layout.places)
    od = under.at(span[1], "left").greatest_mm
    at = Place(_as_breakout(job, od), job.rules, names, heights, trunk="the outer sleeve's end")
    choosing = Choosing(at, job.rules, job.margins, job.properties - {"lined"}, today=job.today)

    def on(part: StockBoot) -> On:
        begins = span[1] - part.openings[0].straight_mm
        split = part.form == "split"
        return On(
            under,
            over_all((begins, begins + part.length_mm)),
            over_all((begins, begins + part.length_mm)),
            "" if split else "over the wires of B",
            at_mm=begins,
            end="B",
            parks_on=(taken_off("B", "sheath"),),
            order=5,
        )

    return put_on(choosing, on, job.cool)


def _as_breakout(job: ScreenedJob, over_mm: float) -> MouldedJob:
    """The outer sleeve's end as a breakout sees it: a cable that parts into wires."""
    j = job.joint
    head = {k: getattr(j, k) for k in JointHead.model_fields if k != "ref"}
    own = {
        "job": "breakout",
        "landed": "no",
        "cable_od_mm": over_mm,
        "sheath": "polyolefin",
        "clear_mm": j.free_b_mm,
        "hot_c": j.hot_c,
        "cold_c": j.cold_c,
        "legs": str(job.cable.cores),
        "crutch_mm": 0.0,
        "boot": j.boot,
    }
    legs = {f"leg_{n + 1}_od_mm": job.core[1] for n in range(job.cable.cores)}
    return MouldedJob.model_validate(head | own | legs)


def chosen(job: ScreenedJob, cover: CoverSleeve, under: Profile) -> tuple[Choice, CoverSleeve | None]:
    """A cover with the part that fits best; None where none does."""
    j, span = job.joint, cover.span_mm
    window = cover.requires(under, under.between(*span))
    assert window is not None
    form = "wrap-around" if cover.over and j.pieces_wrap else "tube"
    wanted, slot = (None, "") if cover.over else (j.sleeve, "/asked/sleeve")
    choice = job.sleeve_choice(cover.id, cover.title, window, form, wanted=wanted, slot=slot)
    if choice.picked is None:
        return choice, None
    part = job.sleeves[choice.picked.candidate.id]
    lot, cut = part.first_lot(job.today), choice.picked.cut_length_mm
    made = replace(cover, part=part, lot=lot, cut_length_mm=cut)
    if made.hot:
        thick = made.apply(under).between(*span).greatest()
        made = replace(made, cool_min=job.cool(thick))
    return choice, made
