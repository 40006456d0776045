"""A cable's make-up in one line, as people write it: `12 × 1 mm²`, `8 × 2 × 0.75, each pair foil and drain,
braid over all`."""

from dataclasses import dataclass
from functools import cache, lru_cache

from lark import Lark, Token, Transformer, UnexpectedInput, v_args

from tinknot.core.errors import InputError
from tinknot.core.formulas.conductor import awg_diameter_mm, awg_number, circle_mm2

MOST_SINGLE, MOST_UNITS = 61, 30
UNIT = {1: "core", 2: "pair", 3: "triple", 4: "quad"}
SCREENS = ("foil", "drain", "braid")  # inside out
_GRAMMAR = r"""
    start: counts size ("," clause)*
    counts: INT TIMES (INT TIMES)?
    size: NUMBER SQUARE? -> square
        | AWG SIZE       -> awg
    clause: EACH UNIT? screens            -> each
          | screens OVER                  -> overall
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
    NUMBER: /\d+([.,]\d+)?/
    INT: /\d+/
    %ignore /\s+/
"""


@dataclass(frozen=True)
class MakeUp:
    """`units` units of `per_unit` cores (1: single cores) of `area_mm2`; what screens each unit and all of
    them, inside out, of foil, drain and braid; `names`: of the cores, unit by unit, where they have some."""

    units: int
    per_unit: int
    area_mm2: float
    each: tuple[str, ...] = ()
    overall: tuple[str, ...] = ()
    names: tuple[tuple[str, ...], ...] = ()

    @property
    def cores(self) -> int:
        """How many there are."""
        return self.units * self.per_unit

    def unit(self, n: int) -> tuple[str, ...]:
        """The names of the cores of unit `n` (from 0)."""
        if self.names:
            return self.names[n]
        if self.per_unit == 1:
            return (str(n + 1),)
        return tuple(f"{n + 1}{'abcd'[i]}" for i in range(self.per_unit))

    @property
    def written(self) -> str:
        """As it is written in one line, so that it can be read again."""
        head = f"{self.units} × " + (f"{self.per_unit} × " if self.per_unit > 1 else "")
        each = f", each {_listed(self.each)}" if self.each else ""
        over = f", {_listed(self.overall)} over all" if self.overall else ""
        return f"{head}{self.area_mm2:g} mm²{each}{over}"

    @property
    def said(self) -> str:
        """In words, as it is read back."""
        one = UNIT[self.per_unit]
        what = f"{self.units} {one}{'s' if self.units != 1 else ''} of {self.area_mm2:g} mm²"
        each = f", each {one} with {_listed(self.each)}" if self.each else ""
        return what + each + (f", {_listed(self.overall)} over all" if self.overall else "")


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

    def start(self, counts: tuple[int, int], area: float, *clauses: tuple[str, tuple[str, ...]]) -> MakeUp:
        found = dict(clauses)
        return MakeUp(*counts, area, found.get("each", ()), found.get("overall", ()))


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
            " all",
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
    return found
