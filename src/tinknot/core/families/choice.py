"""Choices of parts, and the work that is done and stays a fact."""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any, TypeVar

from tinknot.core.choosing.choose import Catalogue, Ranked, Rejected, Window
from tinknot.core.choosing.fitting import ALONE, ANYTHING, Fitting, Option, Others
from tinknot.core.choosing.whole import last_worth, option
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.parts.solder_sleeve import Ring
from tinknot.core.parts.stocked import Counted
from tinknot.core.parts.whole import UsedWhole


@dataclass(frozen=True)
class Choice:
    """One layer's choice of sleeve: its window, what fits best first, what does not, and what was picked."""

    layer: str
    title: str
    window: Window
    ranked: Sequence[Ranked]
    catalogue: Catalogue
    picked: Ranked | None
    wanted: str | None = None
    cores: tuple[str, ...] = ()
    each: int = 1  # pieces that each of its layers takes
    barred: str = ""  # why nothing may be taken although it would fit
    slot: str = ""  # where in the draft a part settled on is kept, a JSON Pointer; empty where nobody may
    bare_mm: tuple[float, float] | None = None  # where a ring of solder must lie
    rings: Mapping[str, Sequence[Ring]] = field(default_factory=dict)  # what lies inside a part, by its id
    of: str = ""  # the part whose mouth it is, in words, where a part has several that are judged together
    as_it_comes: bool = False  # a part of a kit: nothing is cut off it and it is no part to fetch
    again: bool = False  # another mouth of a part that is told with its first
    called: str = ""  # what to look for where nothing serves, in words, where that is not a plain sleeve
    besides: tuple[str, ...] = ()  # what else it must be, in words

    @property
    def layers(self) -> tuple[str, ...]:
        """The layers that get the part picked: one a core where cores of one size share a choice."""
        alike = self.layer.rsplit("-", 1)[0]  # the first core's layer names the choice
        return tuple(f"{alike}-{core}" for core in self.cores) or (self.layer,)

    def rejected(self) -> list[Rejected]:
        """What does not serve, with its reason; worked out when it is asked for."""
        barred = (
            [Rejected(r.candidate, r.fit, self.barred) for r in self.catalogue.ranked(self.window)]
            if self.barred
            else []
        )
        return [*barred, *self.catalogue.rejected(self.window)]

    def with_part(self, part_id: str | None) -> "Choice":
        """The same with the part picked, None for none."""
        return replace(self, picked=self.fitting(part_id) if part_id else None)

    def fitting(self, part_id: str) -> Ranked | None:
        """The part of this id, where it fits."""
        if isinstance(self.ranked, Fitting):
            return self.catalogue.found(self.window, part_id)
        return next((r for r in self.ranked if r.candidate.id == part_id), None)

    @property
    def at_best(self) -> Option:
        """What none of them is better than, here nor over anything thicker with seals no thicker."""
        return self.ranked.at_best if isinstance(self.ranked, Fitting) else ANYTHING

    def options(self, others: Others = ALONE) -> Iterator[Option]:
        """What fits, as the whole joint weighs it, best first."""
        if isinstance(self.ranked, Fitting):
            return self.ranked.options(others)
        found = [option(r, self.window.pieces) for r in self.ranked]
        return iter(sorted(found, key=lambda o: last_worth(o, others)))


W = TypeVar("W", bound=UsedWhole)


def choice_of_whole(
    layer: str,
    title: str,
    window: Window,
    parts: Sequence[W],
    margins: Margins,
    against: Callable[[W], str],
    today: date | None,
    properties: frozenset[str],
    wanted: str | None = None,
    **more: Any,
) -> tuple[Choice, W | None]:
    """Parts with a sleeve of their own on one window, and the best of them, or the one that is wanted;
    `against`: what besides its window speaks against one, `more`: fields of the choice."""

    def why(part: W) -> str:
        if part.free(today) == 0:
            return "none on hand in date"
        if lacks := sorted(properties - {*part.properties, "lined"}):
            return f"is not {', '.join(lacks)}"
        return against(part)

    bars = {p.id: said for p in parts if (said := why(p))}
    stock = Catalogue([p.candidate() for p in parts], margins, bars)
    ranked = stock.ranked(window)
    picked = next((r for r in ranked if wanted in (None, r.candidate.id)), None)
    choice = Choice(
        layer, title, window, ranked, catalogue=stock, picked=picked, wanted=wanted, as_it_comes=True, **more
    )
    return choice, next((p for p in parts if picked and p.id == picked.candidate.id), None)


@dataclass(frozen=True)
class Offer:
    """A part other than a sleeve, or a way to cure: whether it serves, and why or why not. `handle_min`,
    `full_min`: when what it cures may be handled, and is full, min from its beginning."""

    id: str
    name: str
    serves: bool
    reason: str
    handle_min: float | None = None
    full_min: float | None = None


@dataclass(frozen=True)
class Pick:
    """One layer's choice of a part that has no window: what is needed in words, and every offer. `advice`:
    what helps where nothing serves, which `buys` a part unless it says otherwise."""

    layer: str
    title: str
    need: str
    offers: tuple[Offer, ...]
    picked: str | None
    advice: str = ""
    buys: bool = True


C = TypeVar("C", bound=Counted)


def pick_of(
    layer: str,
    title: str,
    need: str,
    advice: str,
    parts: Iterable[C],
    fault: Callable[[C], str],
    worth: Callable[[C], Any],
    said: Callable[[C], str],
) -> tuple[Pick, C | None]:
    """The part of least `worth` of those without a fault, and every one with its reason: what is `said` of it
    where it serves."""
    judged = [(p, fault(p)) for p in parts]
    best = min((p for p, why in judged if not why), key=worth, default=None)
    offers = tuple(Offer(p.id, p.said, not why, why or said(p)) for p, why in judged)
    return Pick(layer, title, need, offers, picked=best.id if best else None, advice=advice), best


@dataclass(frozen=True)
class Made:
    """Work that is done and stays a fact: the gap and centres cut to, parts already cut and the tails they
    wait on, sheath cuts moved back (mm by end). `attempt` counts the joints cut out before this one;
    `at_once`: all packs of resin were mixed in one step, as plans of before had it. `done`: the
    steps that are done; `asked`: those that a plan by earlier rules of order had, with their needs, when the
    work began by them."""

    gap_mm: float | None = None
    centres_mm: tuple[float, ...] = ()
    parts: Mapping[str, str] | None = None
    sides: Mapping[str, str] | None = None
    setback_mm: Mapping[str, float] | None = None
    attempt: int = 0
    at_once: bool = False
    asked: Mapping[str, Sequence[str]] | None = None
    done: tuple[str, ...] = ()

    @property
    def began_before(self) -> bool:
        """Whether the work began by earlier rules: what was read by them stays read."""
        return self.asked is not None

    def began_without(self, step: str) -> bool:
        """Whether the work began by earlier rules, which did not ask for a step: what it puts on is left out,
        for parts are cut already that would have to go over it."""
        return self.asked is not None and step not in self.asked
