"""Comparisons and roundings: an exact fit is a fit (relative 1e-9, contract)."""

import math

REL = 1e-9


def at_least(value: float, limit: float) -> bool:
    """True when `value` reaches `limit`, allowing a relative 1e-9.

    >>> at_least(0.1 + 0.2, 0.3) and at_least(2.97, 0.9 * 3.3)
    True
    """
    return value >= limit - REL * max(abs(value), abs(limit))


def at_most(value: float, limit: float) -> bool:
    """True when `value` does not exceed `limit`, allowing a relative 1e-9."""
    return at_least(limit, value)


def short_by(value: float, limit: float) -> float:
    """How much `value` lacks to reach `limit`; 0 when it reaches it."""
    return 0.0 if at_least(value, limit) else limit - value


def whole_up(value: float) -> int:
    """Rounded up to a whole number, allowing a relative 1e-9.

    >>> whole_up(32.7 / 0.3), whole_up(62.0000001), whole_up(61.99)
    (109, 63, 62)
    """
    return math.ceil(value - REL * abs(value))


def whole_down(value: float) -> int:
    """Rounded down to a whole number, allowing a relative 1e-9.

    >>> whole_down(0.3 / 0.1), whole_down(2.9)
    (3, 2)
    """
    return math.floor(value + REL * abs(value))
