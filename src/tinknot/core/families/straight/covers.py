"""The covers of a straight joint as data, from the inside out: which a joint has, where each lies, what it
must be.

Sheath, folded armour, bedding, lead and the bundle of cores lie under them (`base.inner_profile`)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight import base
from tinknot.core.families.straight.cores import Cores
from tinknot.core.joint.cable import CableEnd
from tinknot.core.layers.preparation import bared
from tinknot.core.parts.sleeve import SleeveForm

Span = tuple[float, float]
OUTER = "outer-sleeve"
INNER = "inner-sleeve"
SHELL = "shell"


@dataclass(frozen=True)
class Cover:
    """A sleeve to be chosen. `slot`: the choice of the file that may settle it; `lies`: from edge to edge,
    mm on the joint's axis. `closes`: it closes the joint, so that shoulders are filled and the thin side
    built up for it, and it takes over the sheath's wall; `over`: the one end it lies on and seals;
    `slides`: it comes over everything between its seat and the sheath it waits on; `bears`: it must bear
    the rated voltage; `only`: of what the joint will live in, all that it must stand (None for
    everything)."""

    id: str
    title: str
    form: SleeveForm
    lies: Callable[[Job, Cores], Span]
    slot: str = ""
    closes: bool = False
    over: str = ""
    slides: bool = True
    bears: bool = True
    only: frozenset[str] | None = None

    @property
    def seals(self) -> bool:
        """Whether it keeps water out."""
        return self.closes or bool(self.over)

    @property
    def drawn(self) -> str:
        """The kind of body it is drawn as."""
        return "end-piece" if self.over else self.id

    def ends(self, job: Job) -> tuple[CableEnd, ...]:
        """The ends on whose sheath it seals: of one that closes all but the one with a piece under it."""
        piece = thin(job.ends).name if job.build.thin_side == "end-piece" else ""
        return (
            tuple(e for e in job.ends if e.name != piece) if self.closes else base.ends_of(job, [self.over])
        )

    def overlaps_mm(self, job: Job, cores: Cores) -> tuple[float, ...]:
        """How far it reaches onto each sheath it seals on, mm from the sheath cut."""
        half, span = cores.layout.gap_mm / 2, self.lies(job, cores)
        if self.over:
            return (-half - span[0] if self.over == "A" else span[1] - half,)
        mine = {e.name for e in self.ends(job)}
        both = zip("AB", base.over_sheath_mm(job), strict=True)
        return tuple(over for end, over in both if end in mine) if self.closes else ()

    def properties(self, job: Job) -> frozenset[str]:
        """What it must be."""
        if self.only is not None:
            return job.properties & self.only
        return job.properties | {"lined"} if self.over else job.properties


# what is put on between the sleeves: the crutches filled, a strap led out, the earth bond, a shell cast
Other = Literal["crutch", "strap", "bond", "cast"]


def inside_out(job: Job) -> list[Cover | Other]:
    """What a joint gets over its cores, in the order in which it goes on."""
    build, closure = job.build, job.build.closure or "sleeve"
    sleeved, casts = closure != "resin", job.casts
    found: list[Cover | Other] = ["crutch"]
    if sleeved and any(e.metal for e in job.ends):
        found.append("strap")
        found.append(Cover(INNER, "inner sleeve", "tube", _over_bedding, slot="inner_sleeve"))
    found.append("bond")
    if sleeved:
        if build.thin_side == "end-piece":
            found.append(_end_piece(thin(job.ends).name))
        form: SleeveForm = "wrap-around" if closure == "wrap-around" else "tube"
        found.append(Cover(OUTER, "outer sleeve", form, sealed_mm, slot="outer_sleeve", closes=True))
        found += [_end_wrap(end) for end in sorted(set(build.end_wraps))]
    if casts:
        found.append("cast")
    if build.fire == "barrier":
        found.append(BARRIER)
    return found


def thin(ends: Sequence[CableEnd]) -> CableEnd:
    """The end with the thinner sheath."""
    return min(ends, key=lambda e: (e.sheath.least_mm, e.name))


def sealed_mm(job: Job, cores: Cores) -> Span:
    """From seal to seal: what the outer cover lies on."""
    half, over = cores.layout.gap_mm / 2, base.over_sheath_mm(job)
    return -half - over[0], half + over[1]


def _over_bedding(job: Job, cores: Cores) -> Span:
    """From crutch to crutch and onto what the cores come out of, bedding, inner sheath or the sheath itself;
    the outer seal lies beyond it."""
    least = job.rules.number("overlap.bedding_min_mm")
    inmost = [next(reversed(bared(e, job.rules)), None) for e in job.ends]
    bed = [x.to_mm - x.from_mm if x else 0.0 for x in inmost]
    reach = [min(max(least, 0.5 * b), b) if b else least for b in bed]
    return cores.crutch_mm[0] - reach[0], cores.crutch_mm[1] + reach[1]


def _end_piece(end: str) -> Cover:
    """Under the outer sleeve, on the thinner sheath, from the sheath cut to a little beyond the seal."""

    def lies(job: Job, cores: Cores) -> Span:
        half, (low, high) = cores.layout.gap_mm / 2, sealed_mm(job, cores)
        piece = job.rules.number("sleeve.piece_overlap_mm")
        return (low - piece, -half) if end == "A" else (half, high + piece)

    return Cover(f"end-piece-{end}", "end piece", "tube", lies, over=end, slides=False)


def _end_wrap(end: str) -> Cover:
    """Over one end of the outer sleeve and onto the sheath."""

    def lies(job: Job, cores: Cores) -> Span:
        low, high = sealed_mm(job, cores)
        piece, past = job.rules.number("sleeve.piece_overlap_mm"), job.rules.number("overlap.outer_min_mm")
        return (low - past, low + piece) if end == "A" else (high - piece, high + past)

    return Cover(f"end-wrap-{end}", f"piece over end {end}", "wrap-around", lies, over=end, slides=False)


def _beyond_seals(job: Job, cores: Cores) -> Span:
    """Past both seals, so that fire finds no edge."""
    beyond, (low, high) = job.rules.number("fire.beyond_mm"), sealed_mm(job, cores)
    return low - beyond, high + beyond


BARRIER = Cover(
    "barrier",
    "fire barrier",
    "barrier",
    _beyond_seals,
    slot="barrier",
    slides=False,
    bears=False,
    only=frozenset({"zero-halogen", "uv-resistant"}),
)
