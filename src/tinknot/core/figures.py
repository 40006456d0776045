"""Figures as people read them."""

from decimal import Decimal


def plain(value: float, most: int = 6) -> str:
    """A figure with at most `most` telling digits and never as a power of ten.

    >>> plain(26536.0), plain(2653600.0), plain(0.00001234), plain(12.50)
    ('26536', '2653600', '0.00001234', '12.5')
    """
    return format(Decimal(f"{value:.{most}g}"), "f")
