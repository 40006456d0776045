"""The command line: exit statuses, the error form, the examples, backup and restore."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tinknot.core.calc import CALCULATORS

ROOT = Path(__file__).parents[2]


def tinknot(*arguments: str, given: str = "") -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "tinknot", *arguments],
        input=given,
        capture_output=True,
        text=True,
        check=False,
    )


def test_calc():
    found = tinknot("calc", "flat", given='{"width_mm": 11, "thickness_mm": 5}')
    assert found.returncode == 0
    assert json.loads(found.stdout)["girth_mm"] == pytest.approx(27.708, abs=0.001)
    assert set(json.loads(tinknot("calc", "flat", "--schema").stdout)) == {"input", "output"}
    assert [line.split()[0] for line in tinknot("calc", "--list").stdout.splitlines()] == list(CALCULATORS)


@pytest.mark.parametrize(
    ("name", "given"), [("flat", "{"), ("flat", '{"width_mm": NaN}'), ("none", "{}"), ("plan", "[]")]
)
def test_calc_refuses_in_the_contracts_form(name: str, given: str):
    found = tinknot("calc", name, given=given)
    assert found.returncode == 2
    error = json.loads(found.stderr)["error"]
    assert set(error) == {"type", "title", "detail", "errors"}
    assert error["errors"][0].keys() == {"path", "message"}


@pytest.mark.parametrize("file", sorted(p.stem for p in (ROOT / "examples").glob("*.json")))
def test_plan_of_the_examples(file: str):
    path, status = str(ROOT / "examples" / f"{file}.json"), 3 if file == "nothing-fits" else 0
    assert tinknot("plan", path).returncode == status
    found = tinknot("plan", path, "--json")
    assert found.returncode == status
    plan = json.loads(found.stdout)
    assert bool(plan["remedies"]) == (status == 3)


def test_plan_refuses_bad_files(tmp_path: Path):
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "other"}')
    found = tinknot("plan", str(bad))
    assert found.returncode == 2
    assert "Traceback" not in found.stderr


def test_backup_restore_and_a_newer_database(tmp_path: Path):
    data = ["--data", str(tmp_path / "d")]
    stock = str(ROOT / "src/tinknot/demo/stock.csv")
    assert "nothing taken" in tinknot("import", stock, *data).stdout
    assert tinknot("import", stock, "--apply", *data).stdout.endswith("taken\n")
    saved = tmp_path / "snapshot.db"
    assert tinknot("backup", str(saved), *data).returncode == 0
    assert tinknot("backup", str(saved), *data).returncode != 0
    before = tinknot("export", "stock", *data).stdout
    other = ["--data", str(tmp_path / "e")]
    assert tinknot("restore", str(saved), *other).returncode == 0
    assert tinknot("export", "stock", *other).stdout == before
    (tmp_path / "junk").write_text("no database")
    assert "Nothing was changed" in tinknot("restore", str(tmp_path / "junk"), *other).stderr
    import sqlite3

    with sqlite3.connect(tmp_path / "e" / "tinknot.db") as db:
        db.execute("INSERT INTO schema_migration(name, applied) VALUES ('9999_future', '2030-01-01')")
    assert "newer Tin Knot" in tinknot("export", "stock", *other).stderr


def test_refuses_to_listen_beyond_this_machine_without_a_secret(tmp_path: Path):
    found = tinknot("serve", "--host", "0.0.0.0", "--data", str(tmp_path / "d"))
    assert "TINKNOT_SECRET_KEY" in found.stderr
    assert found.returncode != 0
