"""How a stored document of an earlier version is read: its number says its format, and each upgrade takes
it one format on, in memory. Stored bytes are never rewritten; they are signed."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel

from tinknot.core.errors import InputError, Unreadable
from tinknot.core.model import integral, parse

Body = dict[str, Any]
Upgrade = Callable[[Body], Body]
T = TypeVar("T", bound=BaseModel)


@dataclass(frozen=True)
class Format:
    """A kind of stored document. `upgrades[0]` takes format 1 to 2, and so on; a document without a number
    is of format 1, from before there were numbers."""

    name: str
    upgrades: tuple[Upgrade, ...]

    @property
    def number(self) -> int:
        """The format that is written now."""
        return 1 + len(self.upgrades)

    def upgraded(self, body: Any) -> Body:
        """`body` in the format of now. Raises Unreadable for a newer one, and for what is no such
        document."""
        if not isinstance(body, dict):
            raise Unreadable(f"This {self.name} is no JSON object.")
        at = integral(body.get("format", 1))
        if not isinstance(at, int) or isinstance(at, bool) or at < 1:
            raise Unreadable(f"This {self.name} has no format number that can be read.")
        if at > self.number:
            raise Unreadable(
                f"This {self.name} was written by a newer Tin Knot (format {at}); upgrade the application."
            )
        try:
            for upgrade in self.upgrades[at - 1 :]:
                body = upgrade(body)
        except (KeyError, TypeError, AttributeError, IndexError) as fault:
            raise Unreadable(f"This {self.name} of format {at} is damaged: {fault!r}.") from None
        current: Body = body | {"format": self.number}
        return current

    def read(self, model: type[T], text: str) -> T:
        """A stored document as `model`. Raises Unreadable, naming the first field that cannot be read."""
        try:
            return parse(model, self.upgraded(json.loads(text)))
        except InputError as fault:
            first = fault.errors[0]
            raise Unreadable(
                f"This {self.name} cannot be read: {first.path or 'its content'} {first.message}."
            ) from None
        except (ValueError, RecursionError):
            raise Unreadable(f"This {self.name} is damaged: it is no readable JSON.") from None
