"""A cable's make-up in one line, as people write it: `12 × 1 mm²`, `8 × 2 × 0.75, each pair foil and drain,
braid over all`; and what is otherwise of single cores: `core 5 is blue, core 12 spare`."""

from dataclasses import dataclass, replace
from functools import cache, lru_cache
from typing import Any

from lark import Lark, Token, Transformer, UnexpectedInput, v_args

from tinknot.core.errors import InputError
from tinknot.core.formulas.conductor import awg_diameter_mm, awg_number, circle_mm2

MOST_SINGLE, MOST_UNITS = 61, 30
MOST_LETTERS = 24  # of a core's name, so that it fits on its marker
MOST_SAID = 4  # names of single cores that are said one by one
UNIT = {1: "core", 2: "pair", 3: "triple", 4: "quad"}
SCREENS = ("foil", "drain", "braid")  # inside out
_GRAMMAR = r"""
    start: counts size ("," clause)*
    counts: INT TIMES (INT TIMES)?
    size: NUMBER SQUARE? -> square
        | AWG SIZE       -> awg
    clause: EACH UNIT? screens            -> each
          | screens OVER                  -> overall
          | UNIT? LABEL IS NAME           -> called
          | UNIT? INT SPARE               -> spare
          | BY COLOUR                     -> coloured
    screens: SCREEN (AND SCREEN)*
    TIMES: /[x×*]/i
    SQUARE: /mm²|mm2|mm\^2|sq\.?\s*mm/i
    AWG: /awg/i
    SIZE: /\d\/0|\d+/
    EACH: /each|every|per/i
    UNIT: /core|pair|triple|quad|unit/i
    SCREEN: /foil|drain\s+wire|drain|braid/i
    AND: /and|with|\+|&/i
    OVER: /over\s*all|overall/i
    LABEL: /\d+[a-d]?/
    IS: /is|=/i
    NAME: /[^\s,]+/
    SPARE: /spare/i
    BY: /by|in/i
    COLOUR: /colou?rs?/i
    NUMBER: /\d+([.,]\d+)?/
    INT: /\d+/
    %ignore /\s+/
"""


@dataclass(frozen=True)
class MakeUp:
    """`units` units of `per_unit` cores (1: single cores) of `area_mm2`; what screens each unit and all of
    them, inside out, of foil, drain and braid; `names`: of the cores, unit by unit, where they have some.
    `called`: cores by their numbers that are called otherwise; `spare`: units, from 1, that are joined to
    none; `coloured`: named by the site's colours in their order; `numbers`: of the units that are left, where
    some are taken out."""

    units: int
    per_unit: int
    area_mm2: float
    each: tuple[str, ...] = ()
    overall: tuple[str, ...] = ()
    names: tuple[tuple[str, ...], ...] = ()
    called: tuple[tuple[str, str], ...] = ()
    spare: tuple[int, ...] = ()
    coloured: bool = False
    numbers: tuple[int, ...] = ()

    @property
    def cores(self) -> int:
        """How many there are."""
        return self.units * self.per_unit

    def unit(self, n: int) -> tuple[str, ...]:
        """The names of the cores of unit `n` (from 0)."""
        if self.names:
            return self.names[n]
        called = dict(self.called)
        return tuple(called.get(x, x) for x in self.labels(n))

    def labels(self, n: int) -> tuple[str, ...]:
        """The numbers of the cores of unit `n` (from 0)."""
        number = self.number(n)
        return (number,) if self.per_unit == 1 else tuple(number + "abcd"[i] for i in range(self.per_unit))

    def number(self, n: int) -> str:
        """The number of unit `n` (from 0)."""
        return str(self.numbers[n] if self.numbers else n + 1)

    def named(self, colours: tuple[str, ...], path: str = "/make_up") -> "MakeUp":
        """With the names that `colours` give in their order, if it is named by them. Raises InputError under
        `path` where there are too few."""
        if not self.coloured:
            return self
        if len(colours) < self.cores:
            raise InputError.at(
                path, f"has {self.cores} cores by colour, the rule book lists {len(colours)} colours"
            )
        called, p = dict(self.called), self.per_unit
        each = [tuple(zip(self.labels(n), colours[n * p :], strict=False)) for n in range(self.units)]
        return replace(self, names=tuple(tuple(called.get(x, c) for x, c in unit) for unit in each))

    def only(self, units: tuple[int, ...]) -> "MakeUp":
        """With these of its units (from 0), which keep their numbers and names."""
        return replace(
            self,
            units=len(units),
            names=tuple(self.unit(n) for n in units),
            numbers=tuple(int(self.number(n)) for n in units),
            called=(),
            spare=(),
            coloured=False,
        )

    def calling(self, label: str, name: str) -> "MakeUp":
        """With the core of that number called `name`; by its number again where the name is empty."""
        rest = tuple((x, y) for x, y in self.called if x != label)
        return replace(self, called=(*rest, (label, name)) if name and name != label else rest)

    def sparing(self, unit: int, spare: bool) -> "MakeUp":
        """With a unit (from 1) spare or not."""
        rest = {n for n in self.spare if n != unit}
        return replace(self, spare=tuple(sorted(rest | ({unit} if spare else set()))))

    @property
    def written(self) -> str:
        """As it is written in one line, so that it can be read again."""
        head = f"{self.units} × " + (f"{self.per_unit} × " if self.per_unit > 1 else "")
        each = f", each {_listed(self.each)}" if self.each else ""
        over = f", {_listed(self.overall)} over all" if self.overall else ""
        return f"{head}{self.area_mm2:g} mm²{each}{over}{''.join(f', {x}' for x in self._otherwise)}"

    @property
    def _otherwise(self) -> list[str]:
        """What is otherwise of single cores and units, in words that can be read again."""
        return [*(["by colour"] if self.coloured else []), *self._called, *self._spare]

    @property
    def _called(self) -> list[str]:
        return [f"core {label} is {name}" for label, name in self.called]

    @property
    def _spare(self) -> list[str]:
        return [f"{UNIT[self.per_unit]} {n} spare" for n in self.spare]

    @property
    def said(self) -> str:
        """In words, as it is read back."""
        one = UNIT[self.per_unit]
        what = f"{self.units} {one}{'s' if self.units != 1 else ''} of {self.area_mm2:g} mm²"
        each = f", each {one} with {_listed(self.each)}" if self.each else ""
        over = f", {_listed(self.overall)} over all" if self.overall else ""
        called = self._called
        if len(called) > MOST_SAID:
            called = [f"{len(called)} of the cores by names of their own"]
        own = [*(["by colour"] if self.coloured else []), *called, *self._spare]
        return what + each + over + "".join(f", {x}" for x in own)


def _listed(names: tuple[str, ...]) -> str:
    return " and ".join(names)


@v_args(inline=True)
class _Read(Transformer):  # type: ignore[type-arg]
    def counts(self, *tokens: Token) -> tuple[int, int]:
        numbers = [int(t) for t in tokens if t.type == "INT"]
        return (numbers[0], numbers[1]) if len(numbers) == 2 else (numbers[0], 1)

    def square(self, number: Token, *_: Token) -> float:
        return float(number.replace(",", "."))

    def awg(self, _: Token, size: Token) -> float:
        return round(circle_mm2(awg_diameter_mm(awg_number(str(size)))), 4)

    def screens(self, *tokens: Token) -> tuple[str, ...]:
        found = {str(t).lower().split()[0] for t in tokens if t.type == "SCREEN"}
        return tuple(s for s in SCREENS if s in found)

    def each(self, *parts: object) -> tuple[str, object]:
        return "each", parts[-1]

    def overall(self, screens: object, _: Token) -> tuple[str, object]:
        return "overall", screens

    def called(self, *tokens: Token) -> tuple[str, object]:
        label, name = (next(str(t) for t in tokens if t.type == kind) for kind in ("LABEL", "NAME"))
        return "called", (label, name)

    def spare(self, *tokens: Token) -> tuple[str, object]:
        return "spare", next(int(t) for t in tokens if t.type == "INT")

    def coloured(self, *_: Token) -> tuple[str, object]:
        return "coloured", True

    def start(self, counts: tuple[int, int], area: float, *clauses: tuple[str, Any]) -> MakeUp:
        found = dict(clauses)
        called = dict(value for kind, value in clauses if kind == "called")
        return MakeUp(
            *counts,
            area,
            found.get("each", ()),
            found.get("overall", ()),
            called=tuple(called.items()),
            spare=tuple(sorted({value for kind, value in clauses if kind == "spare"})),
            coloured="coloured" in found,
        )


@cache
def _parser() -> Lark:
    return Lark(_GRAMMAR, parser="earley")


@lru_cache(maxsize=256)
def make_up(text: str, path: str = "/make_up") -> MakeUp:
    """A line read. Raises InputError under `path` for what cannot be read, for unlikely counts, and for a
    drain wire without the foil it belongs to.

    >>> make_up("8 x 2 x 0,75, each pair foil and drain, braid over all").said
    '8 pairs of 0.75 mm², each pair with foil and drain, braid over all'
    """
    try:
        found: MakeUp = _Read().transform(_parser().parse(text.strip()))
    except UnexpectedInput:
        raise InputError.at(
            path,
            "cannot be read: write it like 12 × 1 mm² or 8 × 2 × 0.75, each pair foil and drain, braid over"
            " all; of single cores: core 5 is blue, core 12 spare",
        ) from None
    if found.per_unit not in UNIT:
        raise InputError.at(path, f"has units of {found.per_unit}: pairs, triples and quads are known")
    most = MOST_SINGLE if found.per_unit == 1 else MOST_UNITS
    if not 1 <= found.units <= most:
        what = "cores" if found.per_unit == 1 else "units"
        raise InputError.at(path, f"has {found.units} {what}: from 1 to {most}")
    if not 0.05 <= found.area_mm2 <= 16:
        raise InputError.at(path, f"has cores of {found.area_mm2:g} mm²: from 0.05 to 16")
    for screens in (found.each, found.overall):
        if "drain" in screens and "foil" not in screens:
            raise InputError.at(path, "has a drain wire without its foil")
    if found.per_unit == 1 and found.units > 1 and found.each == ("foil",):
        raise InputError.at(path, "has foil on every core without a drain wire: nothing joins it")
    if fault := _otherwise_wrong(found):
        raise InputError.at(path, fault)
    return found


def _otherwise_wrong(found: MakeUp) -> str:
    """Why what is said of single cores cannot be; empty where it can."""
    labels = {x for n in range(found.units) for x in found.labels(n)}
    if unknown := next((x for x, _ in found.called if x not in labels), None):
        return f"has no core {unknown}"
    if past := next((n for n in found.spare if not 1 <= n <= found.units), None):
        return f"has no {UNIT[found.per_unit]} {past}"
    if len(found.spare) == found.units:
        return "has nothing left to join: all of it is spare"
    if long := next((x for _, x in found.called if len(x) > MOST_LETTERS), None):
        return f"has a core called {long[:MOST_LETTERS]}…: {MOST_LETTERS} letters at most"
    names = [x for n in range(found.units) for x in found.unit(n)]
    twice = next((x for x in names if names.count(x) > 1), None)
    return f"has two cores called {twice}" if twice else ""


@dataclass(frozen=True)
class Joined:
    """What is joined of two cables, unit by unit in the same order, and what is `spare` on each."""

    a: MakeUp
    b: MakeUp
    spare: tuple[tuple[str, ...], tuple[str, ...]]


def joined(a: MakeUp, b: MakeUp) -> Joined:
    """Units of the same names where one side has all of the other's; else in their order, as many as both
    have."""
    left, right = (tuple(n for n in range(x.units) if n + 1 not in x.spare) for x in (a, b))
    names_a, names_b = ({x.unit(n): n for n in of} for x, of in ((a, left), (b, right)))
    alike = [unit for unit in names_a if unit in names_b]
    if len(alike) == min(len(left), len(right)):
        one, two = tuple(names_a[u] for u in alike), tuple(names_b[u] for u in alike)
    else:
        many = min(len(left), len(right))
        one, two = left[:many], right[:many]
    spare = tuple(
        tuple(name for n in range(x.units) if n not in taken for name in x.unit(n))
        for x, taken in ((a, one), (b, two))
    )
    return Joined(a.only(one), b.only(two), (spare[0], spare[1]))
