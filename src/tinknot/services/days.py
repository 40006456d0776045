"""The site's days: a lot, a calibration and a permit run out by the site's own clock, summer time and all,
not by UTC's."""

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from tinknot.services import clock, settings


def zone() -> ZoneInfo:
    """The site's time zone; UTC until an admin says where it lies."""
    kept = settings.get("writing") or {}
    return ZoneInfo(kept.get("zone") or "UTC")


def day_of(moment: datetime) -> date:
    """The site's day on which a moment lies."""
    return moment.astimezone(zone()).date()


def today() -> date:
    """The site's day now."""
    return day_of(clock.now())


def here(moment: datetime) -> datetime:
    """A moment as somebody at the site writes it: one without a zone is by the site's clock. Of an hour that
    comes twice, when summer time ends, the first is meant: what runs out does so in time."""
    known = moment if moment.tzinfo else moment.replace(tzinfo=zone(), fold=0)
    return known.astimezone(UTC)
