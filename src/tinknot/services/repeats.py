"""A write that is sent twice is done once: its answer is kept under the key the client made for it, in the
same transaction as what it wrote."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256

from tinknot.core.errors import Conflict
from tinknot.services.clock import now
from tinknot.store.database import writing
from tinknot.store.models import Repeat

KEPT_FOR = timedelta(hours=48)  # an outbox that was away for longer has its events' own ids


@dataclass(frozen=True)
class Asked:
    """A request with a key: who asked for what where, and what it said."""

    person: int
    operation: str
    key: str
    body: bytes

    @property
    def place(self) -> str:
        """Under what its answer is kept."""
        return sha256(f"{self.person}\0{self.operation}\0{self.key}".encode()).hexdigest()

    @property
    def digest(self) -> str:
        """What it said, summed up."""
        return sha256(self.body).hexdigest()


@dataclass(frozen=True)
class Answered:
    """Status and body of an answer."""

    status: int
    body: str


def once(asked: Asked, make: Callable[[], Answered]) -> Answered:
    """The answer to the same request if there was one, else that of `make`. What it writes is written
    together with the answer, or not at all; of ten at once, nine wait and get the answer of the first.

    Raises Conflict when the key was used for another request."""
    with writing():
        if (kept := _kept(asked)) is not None:
            return kept
        return _keep(asked, make())


def once_unlocked(asked: Asked, make: Callable[[], Answered]) -> Answered:
    """The same for what is guarded by a version, or changes nothing when it is done twice: `make` may take
    its time and keeps nobody else from writing."""
    with writing():
        if (kept := _kept(asked)) is not None:
            return kept
    try:
        made = make()
    except Conflict:
        with writing():
            if (
                kept := _kept(asked)
            ) is not None:  # the same request was answered while this one was on its way
                return kept
        raise
    with writing():
        return _kept(asked) or _keep(asked, made)


def _kept(asked: Asked) -> Answered | None:
    row = Repeat.get_or_none(Repeat.key == asked.place)
    if row is not None and row.digest != asked.digest:
        raise Conflict(
            "This Idempotency-Key was used for another request; send this one under a key of its own."
        )
    return Answered(row.status, row.body) if row is not None else None


def _keep(asked: Asked, answer: Answered) -> Answered:
    Repeat.delete().where(Repeat.created < (now() - KEPT_FOR).isoformat()).execute()
    if answer.status < 300:
        Repeat.create(
            key=asked.place,
            digest=asked.digest,
            created=now().isoformat(),
            status=answer.status,
            body=answer.body,
        )
    return answer
