"""Why this sleeve and not the next one: the first rule of the ranking that tells the two apart."""

from collections.abc import Iterator

from tinknot.core.choosing.choose import Ranked, Window
from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.figures import mm
from tinknot.core.tolerance import at_least


def decided(a: Ranked, b: Ranked, w: Window) -> str:
    """What speaks for `a` against `b`, both fitting window `w`, in the order of the ranking: wall, comfort of
    0.05, waste, opened reel or earliest date, price, comfort; empty where the id alone decides, or where the
    first rule that tells them apart speaks for `b`."""
    for worth_a, worth_b, words in _rules(a, b, w):
        if worth_a != worth_b:
            return words if worth_a < worth_b else ""
    return ""


def _rules(a: Ranked, b: Ranked, w: Window) -> Iterator[tuple[float, float, str]]:
    """(worth of a, worth of b, what is said where a's is less), rule by rule."""
    wall = f"its wall of {mm(a.wall_mm):.1f} mm is enough, the other's {mm(b.wall_mm):.1f} mm is not"
    yield a.wall_short_mm > 0, b.wall_short_mm > 0, wall
    tight = "it fits with room to spare, the other only just"
    yield not at_least(a.fit.comfort, COMFORT), not at_least(b.fit.comfort, COMFORT), tight
    waste = f"it leaves {mm(a.waste_mm):.0f} mm of waste, the other {b.waste_mm:.0f}"
    yield round(a.waste_mm, 6), round(b.waste_mm, 6), waste
    x, y = a.candidate, b.candidate
    yield not x.opened, not y.opened, "its reel is open already"
    far = 10**7
    dates = [c.use_by.toordinal() if c.use_by else far for c in (x, y)]
    yield dates[0], dates[1], f"its lot runs out first, on {x.use_by:%d %B %Y}" if x.use_by else ""
    prices = [_price(r, w) for r in (a, b)]
    yield prices[0], prices[1], f"it costs {prices[0]:.2f}, the other {prices[1]:.2f}"
    yield -round(a.fit.comfort, 12), -round(b.fit.comfort, 12), "it sits further from the edges of its window"


def _price(r: Ranked, w: Window) -> float:
    each = r.candidate.price_per_m
    cost = float("inf") if each is None else (r.cut_length_mm * w.pieces + r.waste_mm) / 1000 * each
    return round(cost, 9)
