"""Import direction, a core that stands alone, and docstrings on what is public."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

SRC = Path(__file__).parents[2] / "src" / "tinknot"


def test_import_contracts_hold():
    run = subprocess.run(
        [Path(sys.executable).parent / "lint-imports"],
        cwd=SRC.parents[1],
        capture_output=True,
        text=True,
        check=False,
    )
    assert run.returncode == 0, run.stdout


def test_core_loads_no_framework():
    code = (
        "import tinknot.core.planning.solve, tinknot.core.calc, sys; print([m for m in"
        " ('flask','peewee','sqlite3','click') if m in sys.modules])"
    )
    out = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    assert out.strip() == "[]"


@pytest.mark.parametrize("path", sorted(SRC.rglob("*.py")), ids=lambda p: str(p.relative_to(SRC)))
def test_public_things_say_what_they_are(path: Path):
    tree = ast.parse(path.read_text())
    if "migrations" in path.parts:
        return
    assert ast.get_docstring(tree), "module docstring"
    for node in tree.body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            assert ast.get_docstring(node), node.name
        if isinstance(node, ast.ClassDef) and "core" in path.parts and not node.name.startswith("_"):
            for method in node.body:
                plain = isinstance(method, ast.FunctionDef) and not method.name.startswith("_")
                assert not plain or ast.get_docstring(method), f"{node.name}.{method.name}"
