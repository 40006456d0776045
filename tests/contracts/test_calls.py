"""Calls can be read: from the fifth argument on, arguments have names."""

import ast
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2]
PLACES = ("src", "tests", "bench", "tools")
MANY = {
    "options",
    "tinknot",
    "given",
    "example",
    "one_of",
    "builds",
    "datetime",
    "_sorted",
}  # one after another


def unnamed(source: str) -> Iterator[tuple[int, str]]:
    """Every call with more than four arguments by place only: its line, and what is called."""
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Call) and len(node.args) > 4:
            starred = any(isinstance(a, ast.Starred) for a in node.args)
            name = ast.unparse(node.func).rsplit(".", 1)[-1]
            if not starred and name not in MANY:
                yield node.lineno, name


def test_from_the_fifth_argument_on_arguments_have_names():
    files = [p for place in PLACES for p in (ROOT / place).rglob("*.py")]
    assert len(files) > 400, "nothing was searched"
    found = [f"{p.relative_to(ROOT)}:{line} {name}" for p in files for line, name in unnamed(p.read_text())]
    assert found == []
    assert list(unnamed("f(1, 2, 3, 4, 5)")) == [(1, "f")]
    assert list(unnamed("f(1, 2, 3, 4, e=5)")) == []
