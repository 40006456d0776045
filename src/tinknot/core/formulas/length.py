"""Lengths as people write them: mm, inch with fractions, feet and inches."""

from dataclasses import dataclass
from fractions import Fraction
from math import floor

from lark import Lark, Transformer, UnexpectedInput, v_args
from lark.exceptions import VisitError

from tinknot.core.errors import InputError

MM_PER_INCH = Fraction(254, 10)  # exact, international yard and pound agreement of 1959
LONGEST_MM = 1_000_000

_UNITS = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "in": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
}
_GRAMMAR = r"""
    start: term+
    term: number unit
    number: DECIMAL               -> decimal
          | INT "/" INT           -> fraction
          | INT ("-")? INT "/" INT  -> mixed
    unit: MM | CM | M | IN | FT
    MM: /mm|millimet(er|re)s?/i
    CM: /cm|centimet(er|re)s?/i
    M: /m|met(er|re)s?/i
    IN: /inches|inch|in|"|″|''/i
    FT: /feet|foot|ft|'|′/i
    DECIMAL: /(?<![\d.,])(\d+([.,]\d+)?|[.,]\d+)(?![\d.,])/
    INT: /(?<![\d.,])\d+(?![\d.,])/
    %ignore /\s+/
"""  # an Earley grammar: 1 3/8" can only be read one way, because every term ends in a unit


@v_args(inline=True)
class _Millimetres(Transformer):  # type: ignore[type-arg]
    def decimal(self, text: str) -> Fraction:
        return Fraction(text.replace(",", "."))

    def fraction(self, over: str, under: str) -> Fraction:
        return Fraction(int(over), int(under))

    def mixed(self, whole: str, over: str, under: str) -> Fraction:
        return int(whole) + Fraction(int(over), int(under))

    def unit(self, token: object) -> Fraction:
        return _UNITS[str(getattr(token, "type", "mm")).lower()]

    def term(self, number: Fraction, unit: Fraction) -> Fraction:
        return number * unit

    def start(self, *terms: Fraction) -> Fraction:
        return sum(terms, Fraction(0))


_parser = Lark(_GRAMMAR, parser="earley", lexer="dynamic")
_millimetres = _Millimetres()


@dataclass(frozen=True)
class Length:
    """A length: `mm` exact, `inch_text` the nearest fraction, `inch_error_mm` = shown − true."""

    mm: Fraction
    inch_text: str
    inch_error_mm: float


def parse_length(text: str) -> Fraction:
    """Millimetres (exact) of a length written with its unit.

    Takes mm, cm, m, in, ft and their signs; decimal comma or point; fractions. Raises InputError
    at `/text` when there is no unit, the text is no length, or it is over 1 km.

    >>> float(parse_length('1 3/8"')), float(parse_length("2ft 4in")), float(parse_length("5,3 mm"))
    (34.925, 711.2, 5.3)
    """
    try:
        tree = _parser.parse(text.strip())
    except UnexpectedInput:
        bare = text.strip().replace(",", ".").replace("/", "").replace(".", "").replace(" ", "")
        say = (
            'say the unit, such as 35 mm or 1 3/8"'
            if bare.isdigit()
            else ('is not a length; write it like 35 mm, 5.3 mm, 1 3/8", 7/16 in or 2ft 4in')
        )
        raise InputError.at("/text", say) from None
    try:
        mm = _millimetres.transform(tree)
    except VisitError as fault:  # lark wraps what its callbacks raise, here x/0
        raise InputError.at("/text", "has a fraction with nothing under the line") from fault
    if mm > LONGEST_MM:
        raise InputError.at("/text", "is longer than 1 km; check the unit")
    return Fraction(mm)


def to_inches(mm: Fraction, denominator: int = 16) -> Length:
    """The nearest fraction of an inch, halves up, carried and reduced.

    `mm` ≥ 0, `denominator` ≥ 1 (the finest division of the rule).

    >>> to_inches(Fraction("25.3")).inch_text, to_inches(Fraction("34.925")).inch_text
    ('1"', '1 3/8"')
    """
    shown = Fraction(floor(mm / MM_PER_INCH * denominator + Fraction(1, 2)), denominator)
    whole, part = divmod(shown, 1)
    words = [str(whole)] if whole or not part else []
    if part:
        words.append(f"{part.numerator}/{part.denominator}")
    return Length(mm, " ".join(words) + '"', float(shown * MM_PER_INCH - mm))
