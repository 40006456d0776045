"""The whole joint chosen together: branch and bound over its layers, inside out."""

from collections.abc import Callable, Iterable, Sequence
from math import inf

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.fitting import COMFORT, Option
from tinknot.core.tolerance import at_least

Worth = tuple[int, int, int, float, float, float, tuple[str, ...]]


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
        unfit,
        sum(o.thin for o in chosen),
        sum(o.tight for o in chosen),
        round(sum(o.waste_mm for o in chosen), 6),
        round(sum(o.price for o in chosen), 9),
        -min((o.comfort for o in chosen), default=inf),
        tuple(o.id for o in chosen),
    )


def least_comfort(chosen: Sequence[Option]) -> float:
    """The least comfort of what is chosen; infinite for nothing."""
    return min((o.comfort for o in chosen), default=inf)


def last_worth(o: Option, inside_comfort: float) -> tuple[int, int, float, float, float, str]:
    """How the options of a last layer are ordered over the same inside: the first is the best whole."""
    return o.thin, o.tight, round(o.waste_mm, 6), round(o.price, 9), -min(o.comfort, inside_comfort), o.id


Following = Callable[[tuple[Option, ...]], Iterable[Option]]


def best(layers: int, following: Following) -> tuple[Option, ...] | None:
    """The best whole choice, or None where no choice fits. `following` gives a layer's options under the ones
    chosen inside it, in the order of `worth` of each alone.

    No part of `worth` falls when a layer is added, so what is chosen so far bounds all that can come of
    it: a branch no better than the best found is left. In that order nothing but the ids of what comes
    after an option can be better than it, so a layer is left at the first that is worse. Equal to trying
    every choice."""
    found: tuple[Option, ...] | None = None
    least: Worth | None = None

    def go(chosen: tuple[Option, ...]) -> None:
        nonlocal found, least
        if len(chosen) == layers:
            found, least = chosen, worth(chosen)
            return
        for o in following(chosen):
            longer = (*chosen, o)
            now = worth(longer)
            if least is not None and now[:-1] > least[:-1]:
                return
            if least is None or now < least:
                go(longer)

    go(())
    return found


def fewest(
    chosen: tuple[Option, ...],
    others: Iterable[tuple[Option, ...]],
    count: Callable[[tuple[Option, ...]], float],
) -> tuple[Option, ...]:
    """Of a whole choice and others the one with the smallest `count` (infinite: it cannot be built), where
    that gives no layer a thinner wall or a fit that is only just one; else what is `chosen`."""
    if count(chosen) <= 1:
        return chosen
    counted = {o: count(o) for o in (chosen, *others)}
    return min(counted, key=lambda o: (counted[o] == inf, worth(o)[1:3], counted[o], o != chosen, worth(o)))


def greedy(
    layers: int,
    first: Callable[[tuple[Option, ...]], Option | None],
    chosen: tuple[Option, ...] = (),
) -> tuple[Option, ...]:
    """What is ranked first in each layer in turn, as far as that goes, after what is `chosen` already."""
    for _ in range(layers - len(chosen)):
        option = first(chosen)
        if option is None:
            break
        chosen = (*chosen, option)
    return chosen
