"""Documents name things that exist."""

import re
from pathlib import Path

import pytest

from tinknot.cli import COMMANDS
from tinknot.core.calc import CALCULATORS
from tinknot.core.families.registry import FAMILIES

ROOT = Path(__file__).parents[2]
DOCS = sorted([*(ROOT / "docs").glob("*.md"), ROOT / "README.md", ROOT / "CONTRIBUTING.md"])


def test_every_test_of_the_table_of_trust_exists():
    named = set(
        re.findall(r"`(tests/\S+?\.py)::(\w+)`", (ROOT / "docs/trust.md").read_text(encoding="utf-8"))
    )
    assert len(named) > 40
    for file, name in named:
        assert f"def {name}(" in (ROOT / file).read_text(encoding="utf-8"), f"{file}::{name}"


@pytest.mark.parametrize("path", DOCS, ids=lambda p: p.name)
def test_files_and_links_that_are_named_exist(path: Path):
    text = path.read_text(encoding="utf-8")
    for target in re.findall(r"\]\((?!https?:|#)([^)#]+)", text):
        assert (path.parent / target).exists(), target
    for file in re.findall(r"`((?:src|tests|frontend|docs|examples|bench|tools)/[\w./-]+\.\w+)", text):
        assert (ROOT / file).exists(), file


def test_commands_that_are_named_exist():
    for path in DOCS:
        for command, first in re.findall(
            r"^ {4}tinknot (\w+)(?: ([a-z-]+))?", path.read_text(encoding="utf-8"), re.M
        ):
            assert command in COMMANDS, f"{path.name}: tinknot {command}"
            assert command != "calc" or not first or first in CALCULATORS or first.startswith("-"), first
        for target in re.findall(r"`make (\w+)", path.read_text(encoding="utf-8")):
            assert re.search(rf"^{target}:", (ROOT / "Makefile").read_text(), re.M), (
                f"{path.name}: make {target}"
            )


def test_every_command_is_in_the_readme():
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    for command in set(COMMANDS) - {"demo", "openapi"}:
        assert re.search(rf"\b{command}\b", text), command


def test_every_example_of_contributing_runs():
    """In order, as somebody new would type them; what they register is gone afterwards."""
    before = dict(FAMILIES)
    blocks = re.findall(r"^```python\n(.*?)^```", (ROOT / "CONTRIBUTING.md").read_text("utf-8"), re.M | re.S)
    assert len(blocks) >= 3
    names: dict[str, object] = {"__name__": "contributing"}
    try:
        for block in blocks:
            exec(compile(block, "CONTRIBUTING.md", "exec"), names)
    finally:
        FAMILIES.clear()
        FAMILIES.update(before)
    assert "guard" not in FAMILIES
