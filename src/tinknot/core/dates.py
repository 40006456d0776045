"""Dates and times as a site writes them. What is stored and exchanged stays ISO 8601 in UTC."""

from datetime import date, datetime
from typing import Literal

from tinknot.core.model import Strict


class Dates(Strict):
    """The order of day, month and year, and whether the day has 24 hours or twice 12."""

    order: Literal["day-month-year", "month-day-year", "year-month-day"] = "day-month-year"
    hours: Literal[24, 12] = 24


def day(at: date | str, dates: Dates) -> str:
    """A date (or the date of an ISO 8601 moment) as the site writes it; the month in letters unless the
    year comes first.

    >>> day("2026-11-05", Dates())
    '5 Nov 2026'
    >>> day("2026-11-05", Dates(order="month-day-year"))
    'Nov 5, 2026'
    >>> day("2026-11-05", Dates(order="year-month-day"))
    '2026-11-05'
    """
    on = date.fromisoformat(at[:10]) if isinstance(at, str) else at
    match dates.order:
        case "day-month-year":
            return f"{on.day} {on:%b %Y}"
        case "month-day-year":
            return f"{on:%b} {on.day}, {on.year}"
    return on.isoformat()


def moment(at: str, dates: Dates) -> str:
    """A moment in ISO 8601 as the site writes it, in the zone it is told in. Empty stays empty.

    >>> moment("2026-11-05T15:04:00+00:00", Dates())
    '5 Nov 2026, 15:04'
    >>> moment("2026-11-05T15:04:00+00:00", Dates(hours=12))
    '5 Nov 2026, 3:04 PM'
    """
    if not at:
        return ""
    then = datetime.fromisoformat(at)
    clock = f"{then:%H:%M}" if dates.hours == 24 else f"{then.hour % 12 or 12}:{then:%M %p}"
    return f"{day(then.date(), dates)}, {clock}"
