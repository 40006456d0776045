"""A cable's make-up in one line, as people write it: `12 × 1 mm²`, `8 × 2 × 0.75, each pair foil and drain,
braid over all`, `2 × 2 × 0.34 each foil and drain + 3 × 1, braid over all`; and what is otherwise of single
cores: `core 5 is blue, core 12 spare`."""

from collections.abc import Iterator
from dataclasses import replace
from functools import cache, lru_cache
from typing import Any

from lark import Lark, Token, Transformer, UnexpectedInput, v_args

from tinknot.core.errors import InputError
from tinknot.core.figures import mm2
from tinknot.core.formulas.conductor import awg_diameter_mm, awg_number, circle_mm2
from tinknot.core.joint.makeup import SCREENS, UNIT, MakeUp, Unit

MOST_SINGLE, MOST_UNITS, MOST_CORES = 61, 30, 120
MOST_LETTERS = 24  # of a core's name, so that it fits on its marker
_GRAMMAR = r"""
    start: group (PLUS group)* ("," clause)*
    group: counts size (EACH UNIT? screens)?
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
    PLUS: /\+|and|plus/i
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

    def group(self, counts: tuple[int, int], area: float, *own: Any) -> tuple[str, object]:
        return "group", (counts[0], Unit(counts[1], area, own[-1] if own else ()))

    def each(self, *parts: Any) -> tuple[str, object]:
        kind = next((str(p).lower() for p in parts if isinstance(p, Token) and p.type == "UNIT"), "unit")
        return "each", (kind, parts[-1])

    def overall(self, screens: object, _: Token) -> tuple[str, object]:
        return "overall", screens

    def called(self, *tokens: Token) -> tuple[str, object]:
        label, name = (next(str(t) for t in tokens if t.type == kind) for kind in ("LABEL", "NAME"))
        return "called", (label, name)

    def spare(self, *tokens: Token) -> tuple[str, object]:
        return "spare", next(int(t) for t in tokens if t.type == "INT")

    def coloured(self, *_: Token) -> tuple[str, object]:
        return "coloured", True

    def start(self, *parts: Any) -> list[tuple[str, Any]]:
        return [p for p in parts if not isinstance(p, Token)]


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
        parts: list[tuple[str, Any]] = _Read().transform(_parser().parse(text.strip()))
    except UnexpectedInput:
        raise InputError.at(
            path,
            "cannot be read: write it like 12 × 1 mm² or 8 × 2 × 0.75, each pair foil and drain, braid over"
            " all; of units that differ: 2 × 2 × 0.5 + 3 × 1; of single cores: core 5 is blue, core 12 spare",
        ) from None

    def said(kind: str) -> list[Any]:
        return [value for k, value in parts if k == kind]

    groups = said("group")
    if fault := next(_counts_wrong(groups), ""):
        raise InputError.at(path, fault)
    members = [u for n, u in groups for _ in range(n)]
    for kind, screens in said("each"):
        of = {u.cores for u in members if kind in ("unit", u.kind)}
        if not of:
            raise InputError.at(path, f"has no {kind} that could have {' and '.join(screens)} of its own")
        if kind == "unit" and max(of) > 1:
            of -= {1}  # a single core is no unit where there are pairs beside it
        members = [replace(u, screens=screens) if u.cores in of else u for u in members]
    found = MakeUp(
        tuple(members),
        next(iter(said("overall")[-1:]), ()),
        called=tuple(dict(said("called")).items()),
        spare=tuple(sorted(set(said("spare")))),
        coloured=bool(said("coloured")),
    )
    if fault := next(_wrong(found), ""):
        raise InputError.at(path, fault)
    return found


def _counts_wrong(groups: list[tuple[int, Unit]]) -> Iterator[str]:
    """What cannot be of how many there are, and of their section."""
    for n, u in groups:
        if u.cores not in UNIT:
            yield f"has units of {u.cores}: pairs, triples and quads are known"
            return
        if not 0.05 <= u.area_mm2 <= 16:
            yield f"has cores of {mm2(u.area_mm2):g} mm²: from 0.05 to 16"
        if n < 1:
            yield f"has 0 {'cores' if u.cores == 1 else 'units'}: from 1 to {_most(u.cores)}"
    for single, what in ((True, "cores"), (False, "units")):
        many = sum(n for n, u in groups if (u.cores == 1) is single)
        if many > _most(1 if single else 2):
            yield f"has {many} {what}: from 1 to {_most(1 if single else 2)}"
    if (cores := sum(n * u.cores for n, u in groups)) > MOST_CORES:
        yield f"has {cores} cores in all its units: {MOST_CORES} at most"


def _most(cores: int) -> int:
    return MOST_SINGLE if cores == 1 else MOST_UNITS


def _wrong(found: MakeUp) -> Iterator[str]:
    """What cannot be of screens and of single cores."""
    for screens in (found.overall, *(u.screens for u in found.members)):
        if "drain" in screens and "foil" not in screens:
            yield "has a drain wire without its foil"
    if found.units > 1 and Unit(1, 0.0, ("foil",)) in {replace(u, area_mm2=0.0) for u in found.members}:
        yield "has foil on every core without a drain wire: nothing joins it"
    labels = {x for n in range(found.units) for x in found.labels(n)}
    for label, name in found.called:
        if label not in labels:
            yield f"has no core {label}"
        if len(name) > MOST_LETTERS:
            yield f"has a core called {name[:MOST_LETTERS]}…: {MOST_LETTERS} letters at most"
    for n in found.spare:
        if not 1 <= n <= found.units:
            yield f"has no {found.members[0].kind if len(found.groups) == 1 else 'unit'} {n}"
            return
    if len(found.spare) == found.units:
        yield "has nothing left to join: all of it is spare"
    names = [x for n in range(found.units) for x in found.unit(n)]
    if twice := next((x for x in names if names.count(x) > 1), None):
        yield f"has two cores called {twice}"
