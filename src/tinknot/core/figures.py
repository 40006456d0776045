"""Figures as people read them, and figures in sentences as data beside them.

A sentence is written with its figures marked: `f"Cut {mm(x):g} mm"`. The mark is taken out where the sentence
becomes part of an answer (`core/model.py`), which has the plain words and, beside them, what each figure in
them is worth. So nobody has to find lengths in a language again."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

Bound = Literal["least", "most", ""]
LEAST: Bound = "least"
MOST: Bound = "most"
_OPEN, _SPLIT, _SHUT = "\ue000", "\ue001", "\ue002"  # of the private use area: nobody types them
_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_MARKED = re.compile(f"{_OPEN}([^{_SPLIT}]*){_SPLIT}([^{_SPLIT}]*){_SPLIT}([^{_SHUT}]*){_SHUT}")


def plain(value: float, most: int = 6) -> str:
    """A figure with at most `most` telling digits and never as a power of ten.

    >>> plain(26536.0), plain(2653600.0), plain(0.00001234), plain(12.50)
    ('26536', '2653600', '0.00001234', '12.5')
    """
    return format(Decimal(f"{value:.{most}g}"), "f")


@dataclass(frozen=True)
class Marked:
    """A figure to be written into a sentence, by any format that its value takes; `bound`: it is the least or
    the most that is allowed."""

    value: Any
    unit: str
    bound: Bound = ""

    def __format__(self, spec: str) -> str:
        return f"{_OPEN}{self.unit}{_SPLIT}{self.bound}{_SPLIT}{self.value:{spec}}{_SHUT}"

    def __str__(self) -> str:
        return format(self, "")


def mm(value: float | str | None, bound: Bound = "") -> Marked:
    """A length in a sentence; its sign is written behind it: of several it stands once."""
    return Marked(value, "mm", bound)


def mm2(value: float) -> Marked:
    """A cross-section in a sentence."""
    return Marked(value, "mm²")


def said_mm(value: float, bound: Bound = "") -> str:
    """A length in words: no more figures than a tape shows."""
    return format(Marked(f"{value:.1f}".removesuffix(".0"), "mm", bound), "")


@dataclass(frozen=True)
class Figure:
    """A figure of a sentence: where its digits begin, what they are, what they are worth."""

    at: int
    said: str
    value: float
    unit: str
    bound: Bound


def ends_at(past_mm: tuple[float, float], edge: str, past: str = "behind") -> str:
    """Where both ends of something come, on A and on B, mm `past` an edge; below 0 in front of it.

    >>> unmarked(ends_at((40, 12.5), "the sheath cut"))
    'its ends 40 mm behind the sheath cut on A and 12.5 mm behind it on B'
    """
    a, b = (f"{said_mm(abs(x))} mm {past if x >= 0 else 'in front of'}" for x in past_mm)
    return f"its ends {a} {edge} on both sides" if a == b else f"its ends {a} {edge} on A and {b} it on B"


def capital(words: str) -> str:
    """With its first letter large; the rest as it is: the letter of an end stays large.

    >>> capital("earth on B")
    'Earth on B'
    """
    return words[:1].upper() + words[1:]


def apart(text: str) -> tuple[str, list[Figure]]:
    """A sentence without marks, and its figures.

    >>> apart(f"Cut {mm(42.0):g} mm.")
    ('Cut 42 mm.', [Figure(at=4, said='42', value=42.0, unit='mm', bound='')])
    """
    if _OPEN not in text:
        return text, []
    found: list[Figure] = []
    out, end = "", 0
    for m in _MARKED.finditer(text):
        unit, bound, said = m.groups()
        out += text[end : m.start()]
        if _NUMBER.fullmatch(said):  # what is not known is said by a word
            found.append(Figure(len(out), said, float(said), unit, bound=bound))  # type: ignore[arg-type]  # as marked
        out += said
        end = m.end()
    return out + text[end:], found


def unmarked(text: str) -> str:
    """A sentence for where nobody asks for its figures: a printed page, an error on the command line."""
    return apart(text)[0]


def figures_in(values: dict[str, Any]) -> list[tuple[str, Figure]]:
    """Every figure of an answer's own sentences, with the name of the field, or its name and place where it
    holds several; the marks are taken out of `values`."""
    told: list[tuple[str, Figure]] = []
    for name, value in values.items():
        if isinstance(value, str):
            if _OPEN in value:
                values[name], found = apart(value)
                told += [(name, f) for f in found]
        elif isinstance(value, list | tuple) and any(isinstance(v, str) and _OPEN in v for v in value):
            several = [apart(v) if isinstance(v, str) else (v, []) for v in value]
            values[name] = type(value)(words for words, _ in several)
            told += [(f"{name}/{n}", f) for n, (_, found) in enumerate(several) for f in found]
    return told


def lengths_in(sentences: Iterable[str]) -> list[float]:
    """The lengths that sentences mark, mm."""
    return [f.value for words in sentences for f in apart(words)[1] if f.unit == "mm"]


_LENGTHS = re.compile(
    r"(?<![\w.,/])((?:\d+(?:\.\d+)?(?: × | to | and |, | or | ± ))*\d+(?:\.\d+)?) mm(²?)(?!\w)"
)
_LEAST = re.compile(r"(?:least|past|over|more than|longer than|needs?|from|above)\W*$", re.IGNORECASE)
_MOST = re.compile(r"(?:most|under|up to|less than|below|within|no wider than)\W*$", re.IGNORECASE)
_LEAST_BEHIND = re.compile(r"^ (?:is the least|or more|at least|needed)")
_MOST_BEHIND = re.compile(r"^ (?:is the most|or less|at most|on hand|left)")


def found_in(text: str) -> list[Figure]:
    """The lengths and sections of a sentence that was stored before sentences marked them, as pages of that
    time found them.

    >>> [(f.said, f.bound) for f in found_in("cut 42 mm, at least 3 × 2 mm thick")]
    [('42', ''), ('3', 'least'), ('2', 'least')]
    """
    found: list[Figure] = []
    for m in _LENGTHS.finditer(text):
        before, behind = text[max(0, m.start() - 24) : m.start()], text[m.end() :]
        up = bool(_LEAST.search(before) or _LEAST_BEHIND.match(behind))
        down = bool(_MOST.search(before) or _MOST_BEHIND.match(behind))
        bound: Bound = "" if up == down else "least" if up else "most"
        found += [
            Figure(m.start() + n.start(), n[0], float(n[0]), f"mm{m[2]}", bound=bound)
            for n in _NUMBER.finditer(m[1])
        ]
    return found
