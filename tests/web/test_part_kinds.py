"""A kind of part is one module: what the stock page, lists and labels need follows from it."""

import re
from pathlib import Path

import pytest

from tinknot.core.parts.stock import KINDS

ROOT = Path(__file__).parents[2]


def test_every_kind_is_told_with_what_is_filled_in(runa):
    found = {k["name"]: k for k in runa("GET", "/part-kinds")["items"]}
    assert list(found) == list(KINDS)
    assert (found["sleeve"]["unit"], found["sleeve"]["stored"]) == ("m", 1000)
    assert [f["form"] for f in found["kit"]["figures"]] == ["word", "sheet", "number", "words"]


def test_who_is_not_signed_in_is_told_no_kinds(sign_in):
    assert sign_in(None)("GET", "/part-kinds", status=401)["status"] == 401


@pytest.fixture
def grommet(monkeypatch):
    """The kind that CONTRIBUTING makes."""
    blocks = re.findall(r"^```python\n(.*?)^```", (ROOT / "CONTRIBUTING.md").read_text("utf-8"), re.M | re.S)
    names: dict = {}
    exec(compile(next(b for b in blocks if "StockGrommet" in b), "CONTRIBUTING.md", "exec"), names)
    monkeypatch.setitem(KINDS, "grommet", names["StockGrommet"])


def test_a_new_kind_is_filled_in_counted_listed_and_read_back(runa, grommet):
    figures = {"id": "G-12", "hole_mm": 12, "material": "silicone", "properties": ["uv-resistant"]}
    lot = {"name": "=L1", "quantity": 8}
    made = runa("POST", "/stock", {"kind": "grommet", "figures": figures, "lot": lot}, 201)
    assert (made["figures"], made["on_hand"]) == (figures, 8)
    assert runa("GET", "/part-kinds")["items"][-1]["heading"] == "Grommets"
    count = f"/stock/G-12/lots/{made['lots'][0]['id']}/count"
    assert runa("POST", count, {"quantity": 7.5}, 422)["errors"][0]["path"] == "/quantity"
    assert runa("POST", count, {"quantity": 7})["on_hand"] == 7
    listed = runa("GET", "/stock.csv").decode()
    assert {"hole_mm", "material"} <= set(listed.splitlines()[0].split(","))
    again = runa("POST", "/stock-import", {"text": listed})
    assert (again["changes"], again["unchanged"], again["errors"]) == ([], 1, [])
    wrong = runa("POST", "/stock-import", {"text": listed.replace("silicone", "cork")})
    assert [(e["line"], e["column"]) for e in wrong["errors"]] == [(2, "material")]


def test_a_kind_that_is_not_there_is_refused_with_those_that_are(runa):
    told = runa("POST", "/stock", {"kind": "grommet", "figures": {"id": "G"}}, 422)["errors"][0]
    assert (told["path"], "sleeve, connector" in told["message"]) == ("/kind", True)
    assert runa("GET", "/stock?kind=grommet", status=422)["errors"][0]["path"] == "/kind"
