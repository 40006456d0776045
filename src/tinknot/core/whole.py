"""The whole joint chosen together: branch and bound over its layers, inside out."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf

from tinknot.core.choose import COMFORT, Ranked
from tinknot.core.tolerance import at_least

Worth = tuple[int, int, int, float, float, float, tuple[str, ...]]


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


def option(r: Ranked, pieces: int = 1) -> Option:
    """A part that fits, as the whole joint weighs it."""
    per_m = r.candidate.price_per_m
    price = inf if per_m is None else (r.cut_length_mm * pieces + r.waste_mm) / 1000 * per_m
    return Option(
        r.candidate.id,
        r.wall_short_mm > 0,
        not at_least(r.fit.comfort, COMFORT),
        r.waste_mm,
        price,
        r.fit.comfort,
    )


def worth(chosen: Sequence[Option], unfit: int = 0) -> Worth:
    """What is best for the whole joint, least first: no layer unfit, fewest layers with too thin a wall,
    fewest under 0.05 comfort, least total waste, least price, greatest least comfort, ids in order."""
    return (
        unfit, sum(o.thin for o in chosen), sum(o.tight for o in chosen), round(sum(o.waste_mm for o in chosen), 6),
        round(sum(o.price for o in chosen), 9), -min((o.comfort for o in chosen), default=inf), tuple(o.id for o in chosen),
    )  # fmt: skip


def least_comfort(chosen: Sequence[Option]) -> float:
    """The least comfort of what is chosen; infinite for nothing."""
    return min((o.comfort for o in chosen), default=inf)


def last_worth(o: Option, inside_comfort: float) -> tuple[int, int, float, float, float, str]:
    """How the options of a last layer are ordered over the same inside: the first is the best whole."""
    return o.thin, o.tight, round(o.waste_mm, 6), round(o.price, 9), -min(o.comfort, inside_comfort), o.id


Following = Callable[[tuple[Option, ...]], Sequence[Option]]


def best(layers: int, following: Following) -> tuple[Option, ...] | None:
    """The best whole choice, or None where no choice fits. `following` gives a layer's options under the
    ones chosen inside it.

    No part of `worth` falls when a layer is added, so what is chosen so far bounds all that can come
    of it: a branch no better than the best found is left. Equal to trying every choice.
    """
    found: tuple[Option, ...] | None = None
    least: Worth | None = None

    def go(chosen: tuple[Option, ...]) -> None:
        nonlocal found, least
        if len(chosen) == layers:
            found, least = chosen, worth(chosen)
            return
        for o in sorted(following(chosen), key=lambda o: worth((o,))):
            longer = (*chosen, o)
            if least is None or worth(longer) < least:
                go(longer)

    go(())
    return found


def greedy(layers: int, following: Following) -> tuple[Option, ...]:
    """The first option of each layer in turn, as far as that goes."""
    chosen: tuple[Option, ...] = ()
    for _ in range(layers):
        options = following(chosen)
        if not options:
            break
        chosen = (*chosen, options[0])
    return chosen
