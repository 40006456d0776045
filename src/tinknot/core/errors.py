"""What the core raises. Every error says in words what is wrong and how to mend it."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from tinknot.core.figures import Figure, apart, unmarked


class TinKnotError(Exception):
    """Base of everything the core raises on purpose."""

    def __str__(self) -> str:
        """Its words; what printed them has no use for the marks of figures."""
        return unmarked(super().__str__())


@dataclass(frozen=True)
class FieldError:
    """One fault of the input: `path` is a JSON Pointer (RFC 6901), `message` says how to mend it; `figures`
    are those that were marked in it."""

    path: str
    message: str
    figures: tuple[Figure, ...] = field(default=(), compare=False)

    def __post_init__(self) -> None:
        words, found = apart(self.message)
        object.__setattr__(self, "message", words)
        object.__setattr__(self, "figures", (*self.figures, *found))


class InputError(TinKnotError):
    """The input is missing, malformed, out of range or contradicts itself."""

    title = "This input cannot be used"

    def __init__(self, *errors: FieldError) -> None:
        self.errors = errors
        super().__init__("; ".join(f"{e.path or 'input'}: {e.message}" for e in errors))

    @classmethod
    def at(cls, path: str, message: str) -> "InputError":
        """One fault at one field."""
        return cls(FieldError(path, message))

    def under(self, prefix: str) -> "InputError":
        """The same faults, seen from one level further out."""
        return InputError(*(FieldError(prefix + e.path, e.message, e.figures) for e in self.errors))


def refuse_twice(names: Sequence[str], path: str, what: str = "ids") -> None:
    """Raises InputError at `path` with `{}` as the place of the first name that stands twice."""
    seen: set[str] = set()
    for i, name in enumerate(names):
        if name in seen:
            raise InputError.at(path.format(i), f"stands twice: {name}; {what} must be unique")
        seen.add(name)


class NotAllowed(TinKnotError):
    """The order of the work, a hold or a role forbids this now; the text says what is missing."""

    title = "Not yet, or not by you"


class Conflict(TinKnotError):
    """Somebody else changed the same thing first; nothing was overwritten."""

    title = "Changed elsewhere in the meantime"


class TooMuchWork(TinKnotError):
    """A question would take more work than one may; nothing was changed."""

    title = "Too much at once"


class NotFound(TinKnotError):
    """There is no such thing."""

    title = "Not found"


class OtherPerson(Conflict):
    """What is sent was done by somebody else than who is signed in."""

    title = "Somebody else's"


class Unreadable(TinKnotError):
    """Something stored was written by a newer version, or is damaged; the text says which and where."""

    title = "This cannot be read"
