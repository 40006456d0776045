"""What fits a window out of a whole catalogue, judged for all its lines at once; one line is written out
when asked for."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import inf, pi
from typing import TYPE_CHECKING, Any, overload

import numpy as np
import numpy.typing as npt

from tinknot.core.formulas.sleeve import Margins
from tinknot.core.formulas.sleeve_columns import Floats, cut_lengths_mm
from tinknot.core.tolerance import REL

if TYPE_CHECKING:
    from tinknot.core.choosing.choose import Candidate, Ranked, Window

Places = npt.NDArray[np.int64]
SCRAP_MM = 150.0  # an offcut shorter than this is waste
COMFORT = 0.05


@dataclass(frozen=True)
class Option:
    """One part for one layer: whether its wall is too thin or its comfort under 0.05, what it wastes
    (mm), what it costs, and its comfort."""

    id: str
    thin: bool
    tight: bool
    waste_mm: float
    price: float
    comfort: float


@dataclass(frozen=True)
class Others:
    """What the other layers of a whole joint come to: their price (infinite where one is not known) and their
    least comfort."""

    price: float = 0.0
    comfort: float = inf


ALONE = Others()


ANYTHING = Option("", thin=False, tight=False, waste_mm=0.0, price=0.0, comfort=inf)
"""What a layer is at best that nothing is known of."""


def reaches(value: Floats | float, limit: Floats | float) -> npt.NDArray[np.bool_]:
    """`at_least` of many: true where `value` reaches `limit`, allowing a relative 1e-9."""
    return np.asarray(value >= limit - REL * np.maximum(np.abs(value), np.abs(limit)))


class Columns:
    """The figures of a catalogue, one column each; what is unlimited or unknown is infinite."""

    def __init__(self, candidates: "Sequence[Candidate]") -> None:
        def column(value: "Callable[[Candidate], float | None]", otherwise: float) -> Floats:
            found = (value(c) for c in candidates)
            return np.array([otherwise if v is None else v for v in found], dtype=np.float64)

        self.expanded = column(lambda c: c.tube.expanded_id_mm, 0.0)
        self.recovered = column(lambda c: c.tube.recovered_id_mm, 0.0)
        self.wall = column(lambda c: c.tube.recovered_wall_mm, 0.0)
        self.change = column(lambda c: c.tube.longitudinal_change_pct, 0.0)
        self.piece = column(lambda c: c.stock_length_mm, np.nan)
        self.on_hand = column(lambda c: c.on_hand_mm, np.inf)
        self.voltage = column(lambda c: c.voltage_v, np.inf)
        self.price = column(lambda c: c.price_per_m, np.inf)
        self.use_by = column(lambda c: c.use_by.toordinal() if c.use_by else None, np.inf)
        self.lined = np.array([c.lined for c in candidates], dtype=bool)
        self.opened = np.array([c.opened for c in candidates], dtype=bool)
        by_name = sorted(range(len(candidates)), key=lambda i: candidates[i].id)
        self.name = np.empty(len(candidates), dtype=np.int64)
        self.name[by_name] = np.arange(len(candidates))


class Fitting(Sequence["Ranked"]):
    """The lines that fit a window, best first. `judge` writes one of them out, with its cut length (whole
    mm)."""

    def __init__(
        self,
        candidates: "Sequence[Candidate]",
        columns: Columns,
        suits: npt.NDArray[np.bool_],
        w: "Window",
        margins: Margins,
        judge: "Callable[[Candidate, int], Ranked]",
    ) -> None:
        self._candidates, self._judge = candidates, judge
        self._written: dict[int, Ranked] = {}
        c = columns
        need, allow = margins.needed_expanded_mm(w.pass_od_mm), margins.allowed_recovered_mm(w.seal_od_mm)
        widest = max((d for _, d in w.profile), default=0.0)
        near = (
            suits & (c.expanded >= max(need * (1 - 2 * REL), widest)) & (c.recovered <= allow * (1 + 2 * REL))
        )
        if w.need_lined:
            near &= c.lined
        if w.voltage_v is not None:
            near &= c.voltage >= w.voltage_v
        at = np.flatnonzero(near)
        at = at[reaches(c.expanded[at], need) & reaches(allow, c.recovered[at])]
        cuts = cut_lengths_mm(
            c.expanded[at], c.recovered[at], c.change[at], w.profile, squareness_mm=w.squareness_mm
        )
        x, r = c.expanded[at], c.recovered[at]
        wall = _wall(
            x, r, c.wall[at], c.change[at], od_mm=w.wall_od_mm if w.wall_od_mm is not None else w.seal_od_mm
        )
        comfort, thin = np.minimum((x - need) / x, (allow - r) / allow), ~reaches(wall, w.least_wall_mm)
        tight = ~reaches(comfort, COMFORT)
        self.at_best = ANYTHING
        """What no line is better than, as the whole joint weighs it: here, and over anything thicker with
        seals no thicker, whatever length it takes and is left."""
        if len(at):
            n = int(np.argmax(comfort - 4 * thin - 2 * tight))  # a comfort is under 1
            self.at_best = replace(
                ANYTHING, thin=bool(thin[n]), tight=bool(tight[n]), comfort=float(comfort[n])
            )
        waste, taken = _waste(c.piece[at], cuts, w.pieces)
        kept = reaches(c.on_hand[at], taken) & (np.isnan(c.piece[at]) | reaches(c.piece[at], cuts))
        at, cuts, waste = at[kept], cuts[kept], waste[kept]
        self._at, self._cuts, self._waste = at, cuts, waste
        self._comfort, self._thin, self._tight = comfort[kept], thin[kept], tight[kept]
        self._price = (cuts * w.pieces + waste) / 1000 * c.price[at]
        self._name, self._opened, self._use_by = c.name[at], c.opened[at], c.use_by[at]

    @cached_property
    def _order(self) -> Places:
        lots = (self._use_by, ~self._opened)
        return _sorted(
            self._name,
            -self._comfort,
            np.round(self._price, 9),
            *lots,
            np.round(self._waste, 6),
            self._tight,
            self._thin,
        )

    def __len__(self) -> int:
        return len(self._at)

    @overload
    def __getitem__(self, index: int) -> "Ranked": ...
    @overload
    def __getitem__(self, index: slice) -> "list[Ranked]": ...
    def __getitem__(self, index: int | slice) -> "Ranked | list[Ranked]":
        if isinstance(index, slice):
            return [self._out(int(n)) for n in self._order[index]]
        return self._out(int(self._order[index]))

    def _out(self, n: int) -> "Ranked":
        if n not in self._written:
            self._written[n] = self._judge(self._candidates[int(self._at[n])], int(self._cuts[n]))
        return self._written[n]

    def at_place(self, place: int) -> "Ranked | None":
        """The line at a place of the catalogue, None where it does not fit."""
        n = int(np.searchsorted(self._at, place))
        return self._out(n) if n < len(self._at) and self._at[n] == place else None

    def options(self, others: Others = ALONE) -> Iterator[Option]:
        """The lines as the whole joint weighs them, best first, with the other layers."""
        comfort, price = np.minimum(self._comfort, others.comfort), np.round(self._price + others.price, 9)
        order = _sorted(self._name, -comfort, price, np.round(self._waste, 6), self._tight, self._thin)
        for n in order:
            yield Option(
                self._candidates[int(self._at[n])].id,
                bool(self._thin[n]),
                bool(self._tight[n]),
                float(self._waste[n]),
                price=float(self._price[n]),
                comfort=float(self._comfort[n]),
            )


def _sorted(*keys: npt.NDArray[Any]) -> Places:
    """Places in order, the last key first; a key that is the same for all decides nothing."""
    telling = [k for k in keys if len(k) and (k != k[0]).any()]
    return np.lexsort(telling) if telling else np.arange(len(keys[0]))


def _waste(piece: Floats, cuts: Floats, pieces: int) -> tuple[Floats, Floats]:
    """What is thrown away of each (mm), and what is taken off the shelf; a reel (no piece) wastes nothing."""
    reel = np.isnan(piece)
    if reel.all():
        return np.zeros_like(cuts), cuts * pieces
    each = np.where(reel, 1.0, piece)
    per_piece = np.maximum(1.0, each * (1 + 1e-9) // cuts)
    full, rest = np.floor_divide(pieces, per_piece), np.mod(pieces, per_piece)

    def scrap(offcut: Floats) -> Floats:
        return np.where(reaches(offcut, SCRAP_MM), 0.0, offcut)

    wasted = full * scrap(each - per_piece * cuts) + np.where(rest > 0, scrap(each - rest * cuts), 0.0)
    taken = np.where(reel, cuts * pieces, each * -(-pieces // per_piece))
    return np.where(reel, 0.0, wasted), taken


def _wall(x: Floats, r: Floats, wall: Floats, change: Floats, od_mm: float) -> Floats:
    """`Tube.wall_mm` of many on one diameter."""
    d = np.maximum(od_mm, r)
    factor = 1 + change * np.minimum(1.0, (x - d) / (x - r)) / 100
    area = pi * wall * (r + wall) * (1 + change / 100) / factor
    return np.asarray((-d + np.sqrt(d * d + 4 * area / pi)) / 2)
