"""What a kind of part says of itself: from it follow its form, its columns in lists and how it is counted."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal

from tinknot.core.model import Result

FigureForm = Literal["length", "number", "word", "choice", "flag", "words", "pairs", "sheet"]


class PartFigure(Result):
    """A figure of a part, by its `key` in the part's data.

    `form` says how it is typed and written: a length in mm; a number in `unit`; a word; a choice of
    `options`; a flag; several words; rows of two numbers or more, named in `names`; the id of a kit sheet.
    `row` is how one of them is shown, with its numbers in braces, where not all of them are. `column` is its
    column in lists where that is not the key; `absent` what is said where a flag is not set.
    """

    key: str
    label: str
    form: FigureForm = "number"
    unit: str = ""
    hint: str = ""
    options: tuple[str, ...] = ()
    names: tuple[str, ...] | None = None
    row: str = ""
    column: str = ""
    absent: str = ""

    @property
    def heading(self) -> str:
        """Its column in lists."""
        return self.column or self.key


def length(key: str, label: str, hint: str = "") -> PartFigure:
    """A length or diameter in mm."""
    return PartFigure(key=key, label=label, form="length", unit="mm", hint=hint)


def number(key: str, label: str, unit: str, hint: str = "") -> PartFigure:
    """A number in `unit`."""
    return PartFigure(key=key, label=label, unit=unit, hint=hint)


def choice(key: str, label: str, options: tuple[str, ...], column: str = "") -> PartFigure:
    """One of `options`; the first where nothing is said."""
    return PartFigure(key=key, label=label, form="choice", options=options, column=column)


NAME = PartFigure(key="name", label="Name", form="word")
PROPERTIES = PartFigure(
    key="properties",
    label="Properties",
    form="words",
    hint="oil-resistant, uv-resistant, zero-halogen, flame-retardant, hydrocarbon-resistant, cold-applied",
)


@dataclass(frozen=True)
class Count:
    """How a kind is counted: in `unit`, of which one is `stored` as it is kept in stock.

    `lists` are the units a list may be in, each with what one is as it is kept; the first is that of a list
    without units. `whole`: only whole ones are counted. `on_hand` names the figure of the joint file.
    """

    unit: str
    stored: float = 1.0
    lists: Mapping[str, float] = field(default_factory=dict)
    whole: bool = False
    on_hand: str = "on_hand"

    def said(self, quantity: float) -> str:
        """A quantity as it is kept, in the unit people count in."""
        return f"{quantity / self.stored:g} {self.unit}"


METRES = Count("m", 1000.0, MappingProxyType({"mm": 1.0, "m": 1000.0}), on_hand="on_hand_mm")
ROLLS = Count("rolls", lists=MappingProxyType({"rolls": 1.0}))
PIECES = Count("pieces", lists=MappingProxyType({"pieces": 1.0}), whole=True)


@dataclass(frozen=True)
class PartKind:
    """A kind of part: its `name`, the `heading` of its list, its own `figures` in the order of its form.

    `size` and `facts` say what a line of the list shows: text with figures in braces; a fact with a figure
    that is not there is left out. `order` is the figure its list is ordered by.
    """

    name: str
    heading: str
    own: tuple[PartFigure, ...]
    size: str
    facts: tuple[str, ...] = ()
    count: Count = PIECES
    order: str = ""

    @property
    def figures(self) -> tuple[PartFigure, ...]:
        """Its own figures between those that every part has."""
        return (NAME, *self.own, PROPERTIES)
