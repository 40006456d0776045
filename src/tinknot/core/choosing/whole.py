"""The whole joint chosen together: branch and bound over its layers, inside out."""

from collections.abc import Callable, Iterable, Sequence
from math import inf

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.fitting import COMFORT, Option, Others
from tinknot.core.effort import spend
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
        price=price,
        comfort=r.fit.comfort,
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


def last_worth(o: Option, others: Others) -> tuple[int, int, float, float, float, str]:
    """How the options of a layer are ordered with the same others: the first is the best whole."""
    price = round(o.price + others.price, 9)
    return o.thin, o.tight, round(o.waste_mm, 6), price, -min(o.comfort, others.comfort), o.id


Following = Callable[[tuple[Option, ...]], Iterable[Option]]


def best(at_best: Sequence[Option], following: Following) -> tuple[Option, ...] | None:
    """The best whole choice, or None where no choice fits. `at_best` has, layer by layer, what no option of
    it is better than (in the order of `worth`), whatever lies inside; `following` gives a layer's options
    under the ones chosen inside it, best first over `around`.

    What is chosen so far with the rest at its best bounds all that can come of it: in that order a layer is
    left at the first option with which nothing better than the best found can come. Equal to trying every
    choice."""
    layers = len(at_best)
    found: tuple[Option, ...] | None = None
    least: Worth | None = None

    def go(chosen: tuple[Option, ...]) -> None:
        nonlocal found, least
        if len(chosen) == layers:
            found, least = chosen, worth(chosen)
            return
        rest = at_best[len(chosen) + 1 :]
        for o in following(chosen):
            spend()
            if least is not None and worth((*chosen, o, *rest)) >= least:
                return
            go((*chosen, o))

    go(())
    return found


def around(chosen: Sequence[Option], at_best: Sequence[Option]) -> Others:
    """What is chosen and what is to come at its best: where a layer's own comfort is greater, or a price not
    known, it decides nothing, and the options of the layer are in the order of what the whole joint comes
    to."""
    others = (*chosen, *at_best[len(chosen) + 1 :])
    return Others(sum(o.price for o in others), min((o.comfort for o in others), default=inf))


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
