"""A kind of joint is one folder and a line in a registry: one that only a test knows goes from its card to
its signed record, one that is gone leaves the others whole, and the shipped jacket repair does what it
asks."""

import io
import json
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Literal

import pytest
from pypdf import PdfReader

from tests.conftest import FULL
from tests.web import test_joint
from tests.web.test_joint import event, work_to
from tinknot.core.errors import InputError
from tinknot.core.facts import MEASURED, over_all
from tinknot.core.families.asks import Ask, Option, When
from tinknot.core.families.contract import Solution, asking
from tinknot.core.families.file import file_of
from tinknot.core.families.recipe import BaseRecipe
from tinknot.core.families.registry import FAMILIES
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Gate, Layer, Reading, Step
from tinknot.core.layers.jacket import jacket_procedure
from tinknot.core.layers.proofs import Proofs
from tinknot.core.model import Diameter
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

stocked = test_joint.stocked
EXAMPLES = sorted((Path(__file__).parents[2] / "examples").glob("*.json"))


class TagFile(JointHead):
    family: Literal["tag"]
    od_mm: Diameter
    colour: Literal["red", "white"]


@dataclass(frozen=True)
class Tag(Layer):
    """A tag tied round a cable."""

    girth_mm: float

    def work(self) -> tuple[Step, ...]:
        return (
            Step(
                "tie",
                "Tie the tag",
                "fit",
                "build",
                needs=over_all(),
                reading=Reading((Gate("girth", "strap", "mm", self.girth_mm, tolerance=5.0, accept=True),)),
            ),
        )


class TagRecipe(BaseRecipe[TagFile, Solution]):
    def solve(self) -> Solution:
        tag = Tag("tag", f"{self.joint.colour} tag", 3.0 * self.joint.od_mm)
        return Solution(layers=(jacket_procedure(Proofs(self.rules, 400.0), MEASURED, hazardous=False), tag))


TAG = asking(
    "tag",
    "a tag on a cable",
    TagFile,
    lambda joint, rules, today, made: TagRecipe(joint, rules, today),
    asks=(
        Ask(id="od_mm", label="Cable", kind="length", unit="mm", group="The cable", most=80),
        Ask(
            id="colour",
            label="Colour",
            kind="choice",
            group="The cable",
            options=[Option(value="red", words="red, do not touch"), Option(value="white", words="white")],
            when=When(ask="od_mm", answers=["24.0"]),
        ),
    ),
)


@pytest.fixture
def tagged(monkeypatch):
    monkeypatch.setitem(FAMILIES, TAG.name, TAG)


def test_a_family_of_a_test_goes_from_card_to_record(tagged, stocked, sign_in):
    assert [f["title"] for f in stocked("GET", "/families")["items"]][-1] == "a tag on a cable"
    made = stocked("POST", "/joints", {"ref": "T-1", "title": "Tag"}, 201)
    card = {"where": "Pit 4", "rated_voltage_v": 400}
    found = stocked("PATCH", "/joints/T-1", {"family": "tag", "card": card}, If_Match=f'"{made["version"]}"')
    assert [m["path"] for m in found["missing"]] == ["/asked/od_mm", "/asked/colour"]
    found = stocked("PATCH", "/joints/T-1", {"asked": {"od_mm": 240.0}}, If_Match='"2"')
    assert [q["path"] for q in found["questions"]] == ["/asked/od_mm"]
    asked = {"od_mm": 24.0, "colour": "red"}
    found = stocked("PATCH", "/joints/T-1", {"asked": asked}, If_Match='"3"')
    assert (found["missing"], found["questions"]) == ([], [])
    look = stocked("POST", "/joints/T-1/look", {})
    assert look["plan"]["verdict"] == "planned"
    stocked("POST", "/joints/T-1/plans", status=201, If_Match='"4"')
    work_to(stocked, "label", "T-1")
    done = sign_in("eskil")("POST", "/joints/T-1/events", event("released"), 201)
    assert done["progress"]["state"] == "released"
    record = json.loads(stocked("GET", "/joints/T-1/record.json"))
    assert record["draft"]["asked"] == asked
    assert next(e for e in record["events"] if e["step"] == "tie")["values"] == {"girth": 72.0}
    pdf = PdfReader(io.BytesIO(stocked("GET", "/joints/T-1/record.pdf")))
    text = " ".join(page.extract_text() for page in pdf.pages)
    assert "red, do not touch" in text
    assert json.loads(stocked("GET", "/joints/T-1/file"))["od_mm"] == 24.0


def test_a_family_there_is_not_is_refused_where_it_is_named(stocked):
    stocked("POST", "/joints", {"ref": "T-1"}, 201)
    refused = stocked("PATCH", "/joints/T-1", {"family": "tag"}, 422, If_Match='"1"')
    assert refused["errors"][0]["path"] == "/family"
    assert "jacket" in refused["errors"][0]["message"]


@cache
def as_before() -> dict[str, Plan]:
    """The plan of every example, with every family there."""
    return {p.name: plan_joint(file_of(p.read_bytes()), RuleBook.of()) for p in EXAMPLES}


@pytest.mark.parametrize("gone", list(FAMILIES))
def test_without_one_family_the_others_plan_as_before(gone: str, monkeypatch):
    before = as_before()
    assert {plan.family for plan in before.values()} == set(FAMILIES)
    monkeypatch.delitem(FAMILIES, gone)
    first = {before[p.name].family: p for p in reversed(EXAMPLES)}
    for path in EXAMPLES if FULL else first.values():
        if before[path.name].family == gone:
            with pytest.raises(InputError, match="must be one of"):
                file_of(path.read_bytes())
        else:
            assert plan_joint(file_of(path.read_bytes()), RuleBook.of()) == before[path.name]


OWN = FAMILIES["jacket"].file.model_fields.keys() - JointHead.model_fields.keys()


def test_a_jacket_is_repaired_to_its_release(stocked, sign_in):
    given = json.loads((EXAMPLES[0].parent / "jacket-repair.json").read_text())
    shelf = [("sleeve", given["stock"]["sleeves"][0], 1500), ("tape", given["stock"]["tapes"][1], 4)]
    for kind, part, quantity in shelf:
        figures = {k: v for k, v in part.items() if k != "on_hand_mm"}
        body = {"kind": kind, "figures": figures, "lot": {"name": f"lot-{kind}", "quantity": quantity}}
        stocked("POST", "/stock", body, 201)
    made = stocked("POST", "/joints", {"ref": "R-1", "title": "Repair"}, 201)
    card = {"where": "Duct", "rated_voltage_v": 400, "duties": ["damp"]}
    asked = {k: v for k, v in given.items() if k in OWN}
    body = {"family": "jacket", "card": card, "asked": asked}
    stocked("PATCH", "/joints/R-1", body, If_Match=f'"{made["version"]}"')
    refused = stocked("POST", "/joints/R-1/look", {"asked": asked | {"grade": "core"}})["plan"]
    assert refused["verdict"] == "nothing-fits"
    assert refused["remedies"][0]["change"] == {"family": "straight-lv"}
    frozen = stocked("POST", "/joints/R-1/plans", status=201, If_Match='"2"')
    assert [p["part_id"] for p in frozen["plan"]["parts"]] == ["W-60", "TM-38"]
    work_to(stocked, "label", "R-1")
    done = sign_in("eskil")("POST", "/joints/R-1/events", event("released"), 201)
    assert done["progress"]["state"] == "released"
    shelf = {p["part_id"]: p for p in stocked("GET", "/stock?kind=sleeve")["items"]}
    assert shelf["W-60"]["on_hand"] == 1500 - frozen["plan"]["parts"][0]["cut_length_mm"]
    assert stocked("GET", "/joints/R-1/verdict")["intact"]


def test_a_lead_is_soldered_on_a_screen_to_its_release(stocked, sign_in):
    given = json.loads((EXAMPLES[0].parent / "ground-lead.json").read_text())
    own = FAMILIES["screen-ground"].file.model_fields.keys() - JointHead.model_fields.keys()
    for kind, part in (("solder-sleeve", p) for p in given["stock"]["solder_sleeves"]):
        figures = {k: v for k, v in part.items() if k != "on_hand"}
        body = {"kind": kind, "figures": figures, "lot": {"name": f"lot-{part['id']}", "quantity": 3}}
        stocked("POST", "/stock", body, 201)
    made = stocked("POST", "/joints", {"ref": "G-1", "title": "Sensor"}, 201)
    asked = {k: v for k, v in given.items() if k in own and k != "family"}
    card = {"where": "Niche", "rated_voltage_v": 24, "duties": ["damp"]}
    body = {"family": "screen-ground", "card": card, "asked": asked | {"earthed": "far"}}
    stocked("PATCH", "/joints/G-1", body, If_Match=f'"{made["version"]}"')
    refused = stocked("POST", "/joints/G-1/look", {})["plan"]
    assert "second earth" in refused["warnings"][0]
    stocked("PATCH", "/joints/G-1", {"asked": asked}, If_Match='"2"')
    frozen = stocked("POST", "/joints/G-1/plans", status=201, If_Match='"3"')["plan"]
    assert [(p["part_id"], p["lot"]) for p in frozen["parts"]] == [("SS-9", "lot-SS-9")]
    assert frozen["choices"][0]["candidates"][0]["rings"][1] == {"what": "solder", "from_mm": -2, "to_mm": 2}
    work_to(stocked, "label", "G-1")
    done = sign_in("eskil")("POST", "/joints/G-1/events", event("released"), 201)
    assert done["progress"]["state"] == "released"
    shelf = {p["part_id"]: p["on_hand"] for p in stocked("GET", "/stock?kind=solder-sleeve")["items"]}
    assert (shelf["SS-9"], shelf["SS-6"]) == (2, 3)
    record = json.loads(stocked("GET", "/joints/G-1/record.json"))
    assert record["draft"]["asked"]["earthed"] == "here"
    assert stocked("GET", "/joints/G-1/verdict")["intact"]


def test_a_make_up_line_is_read_back_and_changed(runa):
    """The core keeps its place; what is changed of it stands in the line."""
    read = runa("POST", "/make-up", {"line": "8x2x0,75, each pair foil and drain, braid over all"})
    assert read["said"] == "8 pairs of 0.75 mm², each pair with foil and drain, braid over all"
    assert (len(read["units"]), read["units"][2]["cores"][1]["number"], read["estimated"]) == (8, "3b", True)
    change = {"core": "3b", "called": "pale blue"}
    named = runa("POST", "/make-up", {"line": read["line"], "change": change, "insulation_mm": 1.9})
    assert named["line"].endswith("core 3b is pale-blue")
    assert (named["units"][0]["core_mm"], named["estimated"], named["differ"]) == (1.9, False, False)
    spare = runa("POST", "/make-up", {"line": named["line"], "change": {"unit": 8, "spare": True}})
    assert spare["line"].endswith("pair 8 spare")
    assert spare["units"][7]["spare"]
    bare = runa("POST", "/make-up", {"line": "4 × 2 × 0.5", "change": {"unit": 2, "screen": "foil-drain"}})
    assert bare["line"] == "1 × 2 × 0.5 mm² + 1 × 2 × 0.5 mm² each foil and drain + 2 × 2 × 0.5 mm²"
    assert [u["screens"] for u in bare["units"]] == [[], ["foil", "drain"], [], []]
    two = {"line": "1 × 2 × 0.5 + 1 × 2", "insulation_mm": 3.1, "thinnest_mm": 1.8}
    unlike = runa("POST", "/make-up", two)
    assert [u["core_mm"] for u in unlike["units"]] == [1.8, 3.1]
    assert unlike["differ"]


@pytest.mark.parametrize(
    ("body", "path"),
    [
        ({"line": "twelve"}, "/line"),
        ({"line": "4 × 1", "change": {"core": "9", "called": "red"}}, "/line"),
        ({"line": "12 × 1, by colour"}, "/line"),
        ({"line": "4 × 1", "insulation_mm": -1}, "/insulation_mm"),
        ({"line": "4 × 1", "thinnest_mm": 0}, "/thinnest_mm"),
        ({"line": "2 × 1 + 2 × 2 × 1", "change": {"unit": 9, "spare": True}}, "/line"),
    ],
)
def test_a_line_that_cannot_be_is_refused(runa, body: dict, path: str):
    assert runa("POST", "/make-up", body, 422)["errors"][0]["path"] == path


def test_who_is_not_signed_in_reads_no_line(sign_in):
    assert sign_in(None)("POST", "/make-up", {"line": "4 × 1"}, 401)["status"] == 401
