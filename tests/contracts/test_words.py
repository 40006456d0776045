"""The words people read: one term for one thing, none of the code's own names. docs/glossary.md holds the
terms, and what is not said."""

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.golden.kept import kept
from tinknot.core.families.registry import FAMILIES
from tinknot.core.parts.stock import KINDS
from tinknot.core.rule import GROUPS
from tinknot.core.rulebook import DEFAULTS
from tinknot.core.rulenames import NAMES

ROOT = Path(__file__).parents[2]
SCREENS = ROOT / "frontend" / "src"
TOLD = {
    *(
        "title",
        "text",
        "look",
        "fails",
        "caution",
        "why",
        "words",
        "reason",
        "advice",
        "seen",
        "causes",
        "need",
    ),
    *("label", "setting", "warnings", "safety", "checked", "decided", "chosen_together", "differences"),
}
# a name of the code: words with underscores, or what a unit of the code looks like without them
RAW = re.compile(r"\b[a-z]+_[a-z_0-9]+\b|\b(?:pct|mm2|od mm|id mm)\b|\bundefined\b")
LITERAL = re.compile(
    r"""(?:label|hint|title|placeholder|aria-label)=(?:"([^"]+)"|'([^']+)')|>\s*([A-Z][^<>{}=;]*[a-z.?!])\s*<"""
)


def not_said() -> dict[str, str]:
    """What is not said, and what is said instead: the glossary's second table."""
    text = (ROOT / "docs" / "glossary.md").read_text().split("## Not said")[1]
    rows = re.findall(r"^\| ([^|]+) \| ([^|]+) \|$", text, re.MULTILINE)[2:]
    return {word.strip(): instead.strip() for words, instead in rows for word in words.split(",")}


def of_plans() -> Iterator[tuple[str, str]]:
    """Every sentence of the kept plans, once."""
    seen: set[str] = set()

    def walk(value: Any, key: str) -> Iterator[str]:
        if isinstance(value, dict):
            for k, v in value.items():
                yield from walk(v, k)
        elif isinstance(value, list):
            for v in value:
                yield from walk(v, key)
        elif isinstance(value, str) and key in TOLD and value not in seen:
            seen.add(value)
            yield value

    for name, case in kept().items():
        yield from ((name, words) for words in walk(case["plan"], ""))


def of_the_rule_book() -> Iterator[tuple[str, str]]:
    """Names, reasons, sources and headings."""
    for rule in DEFAULTS.values():
        for words in (rule.name, rule.why, rule.source, rule.unit):
            yield rule.key, words
    yield from (("groups", group) for group in GROUPS)


def of_parts_and_questions() -> Iterator[tuple[str, str]]:
    """What the figures of parts and the questions of families are called."""
    for kind, model in KINDS.items():
        for figure in model.part.figures:
            yield f"{kind}.{figure.heading}", figure.label
    for name, family in FAMILIES.items():
        yield name, family.title
        for ask in family.asks:
            yield f"{name}.{ask.id}", f"{ask.label}. {ask.hint}"


def of_screens() -> Iterator[tuple[str, str]]:
    """Labels, hints and plain text of the pages."""
    for path in sorted(SCREENS.rglob("*.tsx")):
        if ".test." in path.name or "testing" in path.parts:
            continue
        for found in LITERAL.finditer(path.read_text()):
            words = next(x for x in found.groups() if x is not None)
            if words.startswith("kind,id,"):
                continue  # the columns of a CSV are called what its file calls them
            yield str(path.relative_to(SCREENS)), " ".join(words.split())


SOURCES = {
    "plans": of_plans,
    "rule book": of_the_rule_book,
    "parts and questions": of_parts_and_questions,
    "screens": of_screens,
}


@pytest.mark.parametrize("source", SOURCES)
def test_no_name_of_the_code_is_read_by_people(source: str):
    found = [(where, words) for where, words in SOURCES[source]() if RAW.search(words)]
    assert found == []


@pytest.mark.parametrize("source", SOURCES)
def test_one_thing_has_one_term(source: str):
    terms = not_said()
    assert len(terms) > 10
    strays = re.compile(rf"\b(?:{'|'.join(map(re.escape, terms))})s?\b", re.IGNORECASE)
    found = [(where, words, m[0]) for where, words in SOURCES[source]() if (m := strays.search(words))]
    assert found == []


def test_every_source_of_words_is_looked_at():
    assert {name: len(list(words())) > 50 for name, words in SOURCES.items()} == dict.fromkeys(SOURCES, True)


def test_every_rule_has_a_name_of_its_own_in_plain_words():
    assert NAMES.keys() == DEFAULTS.keys()
    assert len(set(NAMES.values())) == len(NAMES)
    assert all(name[0].isupper() and not name.endswith(".") for name in NAMES.values())


def test_the_glossary_has_each_term_once():
    text = (ROOT / "docs" / "glossary.md").read_text().split("## Not said")[0]
    terms = re.findall(r"^\| ([^|]+) \|", text, re.MULTILINE)[2:]
    assert len(terms) == len(set(terms))
