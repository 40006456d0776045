"""The command line: exit statuses, the error form, the examples, what is loaded. In one process but for
three."""

import json
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from tinknot.cli import COMMANDS, main
from tinknot.core.calc import CALCULATORS

ROOT = Path(__file__).parents[2]
EXAMPLES = sorted((ROOT / "examples").glob("*.json"))
STOCK = ROOT / "src/tinknot/demo/stock.csv"


def tinknot(*arguments: object, given: str = "") -> Result:
    """A command in this process."""
    return CliRunner().invoke(main, [str(a) for a in arguments], input=given)


def process(*arguments: object, given: str = "") -> subprocess.CompletedProcess[str]:
    """A command in a process of its own."""
    return subprocess.run(
        [sys.executable, "-m", "tinknot", *(str(a) for a in arguments)],
        input=given,
        capture_output=True,
        text=True,
        check=False,
    )


def test_calc():
    found = process("calc", "flat", given='{"width_mm": 11, "thickness_mm": 5}')
    assert found.returncode == 0
    assert json.loads(found.stdout)["girth_mm"] == pytest.approx(27.708, abs=0.001)


def test_calc_tells_what_there_is():
    assert [line.split()[0] for line in tinknot("calc", "--list").stdout.splitlines()] == list(CALCULATORS)
    for name in CALCULATORS:
        assert set(json.loads(tinknot("calc", name, "--schema").stdout)) == {"input", "output"}


def test_every_command_is_there_and_says_what_it_does():
    listed = tinknot("--help").stdout
    for name in COMMANDS:
        assert name in listed
        assert tinknot(name, "--help").exit_code == 0
    assert tinknot("nothing").exit_code == 2


LOADED = """
import sys
from click.testing import CliRunner
from tinknot.cli import main
done = CliRunner().invoke(main, ["calc", sys.argv[1]], input=sys.argv[2])
assert done.exit_code == 0, done.output
heavy = (
    "numpy", "scipy", "flask", "peewee", "fpdf", "ortools", "tinknot.demo", "tinknot.core.planning.solve",
)
print(*(m for m in heavy if m in sys.modules))
"""
ALONE = {
    "length": {"text": '1 3/8"'},
    "sleeve-fit": {
        "sleeve": {"expanded_id_mm": 9.5, "recovered_id_mm": 4.6, "recovered_wall_mm": 0.9},
        "pass_od_mm": 7.6,
        "seal_od_mm": 5.3,
    },
    "stagger": {"cores": 1, "connector_length_mm": 38, "core_sleeve_length_mm": 90},
    "pot-life": {"points": [{"temperature_c": 20, "minutes": 25}], "temperature_c": 10, "mix_minutes": 3},
}


def test_a_calculator_loads_only_what_it_needs():
    """Each in its turn in one new process: what one of them loads would be seen with the next."""
    code = LOADED.replace("sys.argv[1]", "name").replace("sys.argv[2]", "given")
    looped = "\n    ".join(
        ["import json, sys", f"for name, given in {[(n, json.dumps(g)) for n, g in ALONE.items()]!r}:"]
    )
    body = "\n".join(f"    {line}" for line in code.strip().splitlines())
    found = subprocess.run(
        [
            sys.executable,
            "-c",
            f"{looped.split('for name')[0].strip()}\nfor name{looped.split('for name')[1]}\n{body}",
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    assert found.returncode == 0, found.stderr
    assert found.stdout.split() == []


@pytest.mark.parametrize(
    ("name", "given"), [("flat", "{"), ("flat", '{"width_mm": NaN}'), ("none", "{}"), ("plan", "[]")]
)
def test_calc_refuses_in_the_contracts_form(name: str, given: str):
    found = tinknot("calc", name, given=given)
    assert found.exit_code == 2
    error = json.loads(found.stderr)["error"]
    assert set(error) == {"type", "title", "detail", "errors"}
    assert error["errors"][0].keys() == {"path", "message"}


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda p: p.stem)
def test_plan_of_the_examples(path: Path):
    status = 3 if path.stem.startswith("nothing-fits") else 0
    assert tinknot("plan", path).exit_code == status
    found = tinknot("plan", path, "--json")
    assert found.exit_code == status
    plan = json.loads(found.stdout)
    assert bool(plan["remedies"]) == (status == 3)


def test_plan_is_played_step_by_step_with_the_laws_it_breaks(tmp_path: Path):
    told = tinknot("plan", "--play", ROOT / "examples/sleeved-then-cast.json")
    assert told.exit_code == 0
    assert "waits on the cable: inner-sleeve on B" in told.output
    assert "0 times a law is broken" in told.output
    given = json.loads((ROOT / "examples/heat-trace-splice.json").read_text())
    rows = given["sheet"]["leaflet"]["layers"]
    at = {x["id"]: n for n, x in enumerate(rows)}
    rows.insert(at["inner-tube"], rows.pop(at["braid-over"]))  # the braid joined before the inner tube
    spoilt = tmp_path / "spoilt.json"
    spoilt.write_text(json.dumps(given))
    assert "law 1, bedding: The braid is joined over its place" in tinknot("plan", "--play", spoilt).output
    sound = tinknot("plan", "--play", ROOT / "examples/single-core-bolted.json")
    assert "0 times a law is broken" in sound.output
    nothing = tinknot("plan", "--play", ROOT / "examples/nothing-fits.json")
    assert nothing.exit_code == 3
    assert "cannot be played" in nothing.output


def test_plan_refuses_bad_files(tmp_path: Path):
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "other"}')
    found = tinknot("plan", bad)
    assert found.exit_code == 2
    assert "Traceback" not in found.stderr


def test_stock_is_shown_then_taken_and_comes_out_again(tmp_path: Path):
    data = ["--data", tmp_path / "d"]
    assert "nothing taken" in tinknot("import", STOCK, *data).stdout
    assert tinknot("import", STOCK, "--apply", *data).stdout.endswith("taken\n")
    out = tmp_path / "out.csv"
    out.write_text(tinknot("export", "stock", *data).stdout)
    again = tinknot("import", out, *data)
    assert (again.exit_code, again.stdout, again.stderr) == (0, "nothing taken\n", "")
    assert "no joint" in tinknot("export", "J-404", *data).stderr


def test_verify_answers_in_words(tmp_path: Path):
    junk = tmp_path / "junk.json"
    junk.write_text("[" * 200_000)
    found = tinknot("verify", junk, "--data", tmp_path / "d")
    assert (found.exit_code, found.stdout) == (1, "This is no readable record: is nested too deeply\n")


def test_refuses_to_listen_beyond_this_machine_without_a_secret(tmp_path: Path):
    found = tinknot("serve", "--host", "0.0.0.0", "--data", tmp_path / "d")
    assert "TINKNOT_SECRET_KEY" in found.stderr
    assert found.exit_code != 0


def test_refuses_a_secret_that_can_be_guessed(tmp_path: Path, monkeypatch):
    monkeypatch.setenv("TINKNOT_SECRET_KEY", "short")
    found = tinknot("serve", "--host", "0.0.0.0", "--data", tmp_path / "d")
    assert "under 32 bytes" in found.stderr
    assert found.exit_code == 1
