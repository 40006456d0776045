"""What the program grows by, made in a copy of it: a layer, a kind of part, a family and a kind of step, each
with the files it is made of, and those of others that it takes."""

import json
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = "tinknot/core"
LAYER = '''"""A spiral wound over a cable where it rubs."""

from dataclasses import dataclass

from tinknot.core.acts import LayOn, Look, Place, Thing
from tinknot.core.facts import of, over_all
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer, Material, Step
from tinknot.core.parts.spiral import StockSpiral


@dataclass(frozen=True)
class Spiral(Layer):
    """The spiral over `span_mm`."""

    part: StockSpiral
    span_mm: tuple[float, float]

    def apply(self, under: Profile) -> Profile:
        return under.covered(*self.span_mm, lambda od: od + 2 * self.part.wall_mm)

    def closes_mm(self) -> tuple[float, float]:
        return self.span_mm

    def work(self) -> tuple[Step, ...]:
        seat, thing = Place(span_mm=self.span_mm), Thing(self.id, self.title, of=self.part.said)
        return (
            Step(
                f"wind.{self.id}", "Wind the spiral", "spiral", "build",
                needs=over_all(), acts=(LayOn(at=seat, thing=thing),),
            ),
            Step(
                f"inspect.{self.id}", "Look at the spiral", "inspect", "build",
                needs=(of("laid", self.id),), look="No gap.", acts=(Look(at=seat, thing=thing),),
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        return (Material(self.part.said, 1, "piece", part_id=self.part.id),)
'''
PART = '''"""A spiral in stock."""

from typing import ClassVar

from tinknot.core.model import PositiveLength
from tinknot.core.parts.kind import PartKind, length
from tinknot.core.parts.stocked import Counted


class StockSpiral(Counted):
    """A spiral of plastic."""

    part: ClassVar[PartKind] = PartKind(
        name="spiral", heading="Spirals", own=(length("wall_mm", "Wall"),), size="{wall_mm}",
        facts=(), order="wall_mm",
    )

    wall_mm: PositiveLength

    @property
    def said(self) -> str:
        return self.name or self.id

    def check(self, path: str) -> None:
        """Nothing to hold against each other."""
'''
FAMILY = '''"""A guard over a cable that rubs."""

from typing import Literal

from tinknot.core.facts import MEASURED
from tinknot.core.families.asks import Ask
from tinknot.core.families.choice import pick_of
from tinknot.core.families.contract import Solution, asking
from tinknot.core.families.recipe import BaseRecipe
from tinknot.core.families.stack import Stack
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.jacket import jacket_procedure
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.spiral import Spiral
from tinknot.core.model import Diameter, PositiveLength


class GuardFile(JointHead):
    family: Literal["guard"]
    od_mm: Diameter
    rubs_mm: PositiveLength


class GuardRecipe(BaseRecipe[GuardFile, Solution]):
    def solve(self) -> Solution:
        half, spirals = self.joint.rubs_mm / 2, self.joint.stock.spirals
        fault = lambda p: "none on hand in date" if p.free(self.today) == 0 else ""
        pick, part = pick_of(
            "spiral", "spiral", "any", "Order a spiral.",
            parts=spirals, fault=fault, worth=lambda p: p.id, said=lambda p: "serves",
        )
        if part is None:
            return Solution(picks=(pick,))
        s = Stack(Profile.of_stretches([(-2 * half, 2 * half, self.joint.od_mm, self.joint.od_mm)]))
        s = s.on(Spiral("spiral", "spiral", part, (-half, half)))
        gates = jacket_procedure(Proofs(self.rules, self.joint.rated_voltage_v), MEASURED, hazardous=False)
        return Solution(layers=(gates, *s.layers), picks=(pick,), outside=s.outside, seat=(-half, half))


GUARD = asking(
    "guard",
    "guard over a cable that rubs",
    GuardFile,
    lambda joint, rules, today, made: GuardRecipe(joint, rules, today),
    asks=(
        Ask(id="od_mm", label="Cable", kind="length", unit="mm", group="The cable"),
        Ask(id="rubs_mm", label="Length that rubs", kind="length", unit="mm", group="The cable"),
    ),
)
'''
NEW = {
    "layer": {f"{CORE}/layers/spiral.py": LAYER},
    "kind of part": {f"{CORE}/parts/spiral.py": PART},
    "family": {f"{CORE}/families/guard/__init__.py": FAMILY},
    "kind of step": {},
}
EDITED = {
    "layer": {},
    "kind of part": {
        f"{CORE}/parts/stock.py": (
            ("from tinknot.core.parts.splice import", "from tinknot.core.parts.spiral import StockSpiral\n"),
            ("    nozzles: Annotated", "    spirals: Annotated[list[StockSpiral], _Many] = []\n"),
        )
    },
    "family": {
        f"{CORE}/families/registry.py": (
            ("from tinknot.core.families.ground import", "from tinknot.core.families.guard import GUARD\n"),
            ("FAMILIES: dict", ""),
        )
    },
    "kind of step": {
        f"{CORE}/layers/contract.py": (
            ('    "sign",\n]', '    "spiral",\n'),
            ('    "fit": "Closed"', '    "spiral": "Wound",\n'),
        )
    },
}
MOST = {"layer": 0, "kind of part": 1, "family": 1, "kind of step": 1}  # files of others


@pytest.fixture(scope="module")
def grown(tmp_path_factory) -> Path:
    """A copy of the source with all four in it."""
    there = tmp_path_factory.mktemp("grown")
    static = shutil.ignore_patterns("static", "__pycache__")
    shutil.copytree(ROOT / "src" / "tinknot", there / "tinknot", ignore=static)
    for files in NEW.values():
        for name, text in files.items():
            (there / name).parent.mkdir(exist_ok=True)
            (there / name).write_text(text)
    for files in EDITED.values():
        for name, places in files.items():
            text = (there / name).read_text()
            for before, line in places:
                assert text.count(before) == 1, (name, before)
                text = text.replace(before, line + before)
            (there / name).write_text(text.replace("SCREENED, BOOT)}", "SCREENED, BOOT, GUARD)}"))
    return there


def test_a_layer_a_part_a_family_and_a_kind_of_step_are_few_files(grown: Path):
    for what, most in MOST.items():
        assert len(EDITED[what]) <= most, what
    joint = {
        "format": "tinknot-joint",
        "version": 1,
        "family": "guard",
        "rated_voltage_v": 400,
        "od_mm": 20,
        "rubs_mm": 120,
        "stock": {"spirals": [{"id": "SP-20", "wall_mm": 1.5}]},
    }
    script = (
        "import json, sys; from tinknot.core.families.file import file_of;"
        " from tinknot.core.planning.solve import plan_joint;"
        " print(plan_joint(file_of(sys.argv[1])).model_dump_json())"
    )
    told = subprocess.run(
        [sys.executable, "-c", script, json.dumps(joint)],
        cwd=grown,
        env={"PYTHONPATH": str(grown)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert told.returncode == 0, told.stderr[-800:]
    plan = json.loads(told.stdout)
    assert plan["verdict"] == "planned"
    assert plan["greatest_diameter_mm"] == 23.0
    steps = {s["id"]: s for s in plan["steps"]}
    assert (steps["wind.spiral"]["kind"], steps["wind.spiral"]["action"]) == ("spiral", "Wound")
    assert steps["wind.spiral"]["needs"] == ["before-closing"]
    assert steps["test.after.insulation"]["needs"] == ["inspect.spiral"]
    assert [(m["part_id"], m["quantity"]) for m in plan["materials"]] == [("SP-20", 1.0)]
