"""Choosing a sleeve from stock: what fits, best first, and why the rest does not."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np
import numpy.typing as npt

from tinknot.core.choosing.fitting import SCRAP_MM, Columns, Fitting
from tinknot.core.effort import spend
from tinknot.core.figures import LEAST, MOST, mm
from tinknot.core.formulas.sleeve import Fit, Margins, Points, Tube, cut_length_mm, fit
from tinknot.core.tolerance import at_least, short_by


@dataclass(frozen=True)
class Candidate:
    """A sleeve in stock. `stock_length_mm` None: a reel; `on_hand_mm` None: as much as wanted."""

    id: str
    tube: Tube
    lined: bool = False
    stock_length_mm: float | None = None
    price_per_m: float | None = None
    opened: bool = False
    use_by: date | None = None
    on_hand_mm: float | None = None
    voltage_v: float | None = None
    properties: frozenset[str] = field(default_factory=frozenset)


@dataclass(frozen=True)
class Window:
    """What a sleeve must do: pass, grip, cover `profile` (x, od in mm), have the properties named,
    carry the voltage, be as thick as `least_wall_mm` on `wall_od_mm`, `pieces` times over."""

    pass_od_mm: float
    seal_od_mm: float
    profile: Points
    need_lined: bool = False
    properties: frozenset[str] = frozenset()
    voltage_v: float | None = None
    least_wall_mm: float = 0.0
    wall_od_mm: float | None = None
    pieces: int = 1
    squareness_mm: float = 2.0


@dataclass(frozen=True)
class Ranked:
    """A candidate that fits: its fit, cut length (whole mm), waste, and wall at the wall place."""

    candidate: Candidate
    fit: Fit
    cut_length_mm: int
    waste_mm: float
    wall_mm: float
    wall_short_mm: float


@dataclass(frozen=True)
class Rejected:
    """A candidate that does not: the first reason in words, and the fit that shows it. `short`: it would do,
    there is only too little of it."""

    candidate: Candidate
    fit: Fit
    reason: str
    short: bool = False


def edge_words(f: Fit) -> str:
    """Which edge of the window failed, and by how much."""
    words = []
    if f.pass_short_by_mm:
        words.append(f"{mm(_up(f.pass_short_by_mm))} mm short to pass")
    if f.grip_short_by_mm:
        words.append(f"{mm(_up(f.grip_short_by_mm))} mm too wide to grip")
    return " and ".join(words)


def _up(mm: float) -> str:
    """A shortfall in words, never rounded to nothing: two figures after the point, more below 0.01."""
    return f"{mm:.2f}" if mm >= 0.005 else f"{mm:.1g}"


def _judge(c: Candidate, w: Window, margins: Margins, known_cut_mm: int | None = None) -> Ranked | Rejected:
    f = fit(c.tube, w.pass_od_mm, w.seal_od_mm, margins)
    if f.verdict != "fits":
        return Rejected(c, f, edge_words(f))
    if w.need_lined and not c.lined:
        return Rejected(c, f, "has no adhesive lining")
    if missing := sorted(w.properties - c.properties):
        return Rejected(c, f, f"is not {', not '.join(missing)}")
    if w.voltage_v is not None and c.voltage_v is not None and c.voltage_v < w.voltage_v:
        return Rejected(c, f, f"is rated {c.voltage_v:g} V, the joint {w.voltage_v:g} V")
    if max(d for _, d in w.profile) > c.tube.expanded_id_mm:
        return Rejected(c, f, "is narrower than what it must cover")
    cut = cut_length_mm(c.tube, w.profile, w.squareness_mm) if known_cut_mm is None else known_cut_mm
    if c.stock_length_mm is not None and not at_least(c.stock_length_mm, cut):
        return Rejected(
            c, f, f"pieces of {mm(c.stock_length_mm):g} mm are shorter than the cut of {mm(cut)} mm"
        )
    each = c.stock_length_mm
    per_piece = 1 if each is None else max(1, int(each * (1 + 1e-9) // cut))
    taken = cut * w.pieces if each is None else each * -(-w.pieces // per_piece)
    if c.on_hand_mm is not None and not at_least(c.on_hand_mm, taken):
        words = f"{mm(c.on_hand_mm, MOST):g} mm on hand, {mm(taken, LEAST):g} mm needed"
        return Rejected(c, f, words, short=True)
    waste = 0.0
    if each is not None:
        full, rest = divmod(w.pieces, per_piece)
        offcuts = [each - per_piece * cut] * full + ([each - rest * cut] if rest else [])
        waste = sum(o for o in offcuts if not at_least(o, SCRAP_MM))
    wall = c.tube.wall_mm(w.wall_od_mm if w.wall_od_mm is not None else w.seal_od_mm)
    return Ranked(c, f, cut, waste, wall_mm=wall, wall_short_mm=short_by(wall, w.least_wall_mm))


class Catalogue:
    """Candidates that many windows are put to. All of them are judged at once; why one fails is worked out
    when it is asked for. `barred`: what speaks against a candidate that fits, by its id."""

    def __init__(
        self, candidates: Sequence[Candidate], margins: Margins, barred: Mapping[str, str] | None = None
    ) -> None:
        self.candidates, self.margins, self._barred = tuple(candidates), margins, barred or {}
        self._columns = Columns(self.candidates)
        self._places = {c.id: i for i, c in enumerate(self.candidates)}
        self._having: dict[frozenset[str], npt.NDArray[np.bool_]] = {}
        self._known: dict[Window, Fitting] = {}
        self._unfit: dict[Window, tuple[Rejected, ...]] = {}

    def ranked(self, w: Window) -> Fitting:
        """Those that fit, best first: wall, comfort, waste, opened or earliest lot, price, most comfort,
        id."""
        if w not in self._known:
            if w.properties not in self._having:
                has = (w.properties <= c.properties and c.id not in self._barred for c in self.candidates)
                self._having[w.properties] = np.fromiter(has, dtype=bool, count=len(self.candidates))

            spend(60 + len(self.candidates) // 20)

            def judge(c: Candidate, cut_mm: int) -> Ranked:
                found = _judge(c, w, self.margins, cut_mm)
                assert isinstance(found, Ranked), found.reason
                return found

            self._known[w] = Fitting(
                self.candidates,
                self._columns,
                self._having[w.properties],
                w,
                margins=self.margins,
                judge=judge,
            )
        return self._known[w]

    def forget(self) -> None:
        """Drop what was found for windows so far."""
        self._known.clear()
        self._unfit.clear()

    def found(self, w: Window, part_id: str) -> Ranked | None:
        """The candidate of this id, where it fits."""
        place = self._places.get(part_id)
        return None if place is None else self.ranked(w).at_place(place)

    def rejected(self, w: Window) -> tuple[Rejected, ...]:
        """Those that do not, in catalogue order, with the first reason of each."""
        if w not in self._unfit:
            judged = (self._with_bar(_judge(c, w, self.margins)) for c in self.candidates)
            self._unfit[w] = tuple(r for r in judged if isinstance(r, Rejected))
        return self._unfit[w]

    def _with_bar(self, r: Ranked | Rejected) -> Ranked | Rejected:
        why = self._barred.get(r.candidate.id)
        return Rejected(r.candidate, r.fit, why) if why and isinstance(r, Ranked) else r


def choose(
    window: Window, catalogue: Sequence[Candidate], margins: Margins
) -> tuple[Fitting, tuple[Rejected, ...]]:
    """All candidates judged: those that fit, best first, and the rejected in catalogue order."""
    found = Catalogue(catalogue, margins)
    return found.ranked(window), found.rejected(window)
