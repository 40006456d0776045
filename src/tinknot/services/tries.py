"""Tries of passwords and PINs: each is counted before it is looked at, so that many at once are no more
tries than one after the other. They are counted per device or person that tries, and, much wider, per
person tried: who guesses shuts themselves out, and the person tried for a moment at most."""

from dataclasses import dataclass

from tinknot.services.clock import now
from tinknot.store.database import db, writing
from tinknot.store.models import Try


@dataclass(frozen=True)
class Limit:
    """At most `most` tries in `seconds`, counted from the first of them."""

    most: int
    seconds: float


def count(key: str, limit: Limit) -> float:
    """Count a try under `key`; 0 when it may be looked at, else the seconds to wait."""
    moment = now().timestamp()
    with writing():
        tries, until = db.execute_sql(
            'INSERT INTO "try" (key, count, until) VALUES (?, 1, ?) ON CONFLICT (key) DO UPDATE SET'
            " count = CASE WHEN until <= ? THEN 1 ELSE count + 1 END,"
            " until = CASE WHEN until <= ? THEN excluded.until ELSE until END RETURNING count, until",
            (key, moment + limit.seconds, moment, moment),
        ).fetchone()
        if until > moment + limit.seconds:  # counted by a clock that was ahead and has been put right
            until = moment + limit.seconds
            db.execute_sql('UPDATE "try" SET until = ? WHERE key = ?', (until, key))
    return max(0.0, until - moment) if tries > limit.most else 0.0


def forget(*keys: str) -> None:
    """A try was right: what was counted under these keys counts no more; what has run out goes too."""
    with writing():
        Try.delete().where(Try.key.in_(keys) | (Try.until < now().timestamp())).execute()
