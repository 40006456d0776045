"""The joint file of a screened cable: its make-up in a line, its diameters, and how it is made good."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from tinknot.core.errors import FieldError, InputError
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.makeline import make_up
from tinknot.core.joint.makeup import Joined, MakeUp, insulated, joined
from tinknot.core.joint.measured import Measured
from tinknot.core.joint.members import ScreenedEndIn
from tinknot.core.layers.screened.splice import Method
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Strict, Whole
from tinknot.core.parts.bonding import Service
from tinknot.core.parts.boot import MOST_LEGS
from tinknot.core.tolerance import at_least

Fixing = Literal["solder", "spring", "ring"]
STRAND_MM = 0.15  # of a braid that nobody measured: an estimate
PVC_C = 105.0  # what the least of usual insulations bears for a short time
Line = Annotated[str, Field(min_length=1, max_length=1500)]


class ScreenedFile(JointHead):
    """A cable of cores or units with their screens, cut through. `make_up` is its make-up in one line, or
    `ends` lists the members of both; `make_up_b` that of the other side where it differs; `side_b`: it
    is single wires without a sheath, over which a breakout goes that lives between `cold_c` and `hot_c`
    (`boot`: the one settled on); `marks`: how the
    cores of side B are told apart where their marks are not to be trusted; `screen_od_mm`: over the braid;
    `inside_od_mm`: under it; `strand_mm`: a strand of it; `insulation_least_mm`: of the
    thinnest core, where they differ; `lay_mm`: of a unit; `positions`: places along the
    joint that the units are dealt to, `apart`: how far a unit's own splices stand apart; `splice`: how a core
    is joined, `half_strands`: half of the strands of each left out in a lap; `fixed`: what holds the donor
    braid on its folds; `second`: two layers of it; `forbids`: papers forbid a joint in this cable, and
    `owner` is who consented; `end_pieces`: ends of the outer sleeve
    that a piece over them closes, `pieces_wrap`: of wrap-around pieces, put on later; `sleeve`: the outer
    sleeve settled on."""

    family: Literal["screened"]
    ends: Annotated[dict[Literal["A", "B"], ScreenedEndIn], Field(min_length=2)] | None = None
    make_up: Line
    make_up_b: Line | None = None
    side_b: Literal["wires"] | None = None
    hot_c: Service | None = None
    cold_c: Service | None = None
    boot: Name | None = None
    marks: Literal["walk", "two"] | None = None
    insulation_od_mm: Diameter
    insulation_od_b_mm: Diameter | None = None
    insulation_least_mm: Diameter | None = None
    lay_mm: PositiveLength | None = None
    sheath_od_mm: Diameter
    sheath_od_b_mm: Diameter | None = None
    screen_od_mm: Diameter | None = None
    inside_od_mm: Diameter
    strand_mm: Diameter | None = None
    bears_c: Annotated[float, Field(ge=40, le=600, description="°C")] = PVC_C
    free_a_mm: Length
    free_b_mm: Length
    positions: Annotated[Whole, Field(ge=1, le=12)] | None = None
    apart: Literal["half", "full"] = "half"
    splice: Method | None = None
    half_strands: bool = False
    fixed: Fixing | None = None
    second: bool = False
    cold_only: bool = False
    end_pieces: Literal["A", "B", "both"] | None = None
    pieces_wrap: bool = False
    earthed: Literal["one", "both", "capacitor"] = "one"
    forbids: bool = False
    owner: Annotated[str, Field(max_length=200)] | None = None
    sleeve: Name | None = None

    @model_validator(mode="before")
    @classmethod
    def _of_members(cls, data: Any) -> Any:
        """A file that lists the members of both ends says by them what a make-up line and readings say."""
        if not isinstance(data, dict) or not isinstance(data.get("ends"), dict) or "make_up" in data:
            return data
        try:
            read = _EndsIn.model_validate({"ends": data["ends"]}, strict=False).ends
            found = _figures(read["A"], read["B"])
        except (ValidationError, InputError, KeyError):  # told where the ends themselves are looked at
            found = dict.fromkeys(("insulation_od_mm", "free_a_mm", "free_b_mm"), 1.0)
            found |= {"make_up": "2 × 1", "inside_od_mm": 2.0, "sheath_od_mm": 3.0}
        return found | data

    @property
    def sides(self) -> tuple[MakeUp, MakeUp]:
        """Both cables."""
        if self.ends is not None:
            return self.ends["A"].make_up("/ends/A"), self.ends["B"].make_up("/ends/B")
        a = make_up(self.make_up).settled
        return a, make_up(self.make_up_b, "/make_up_b").settled if self.make_up_b else a

    @property
    def core_mm(self) -> tuple[dict[str, float], dict[str, float]]:
        """Over the insulation of a core of each unit on both sides, mm, by the unit's number."""
        a, b = self.sides
        if self.ends is not None:
            own = self.ends["A"].core_mm, self.ends["B"].core_mm
        else:
            thick, thin = self.insulation_od_mm, self.insulation_least_mm
            own = (
                insulated(a, thick, thin),
                insulated(b, self.insulation_od_b_mm or thick, thin),
            )
        return _numbered(a, own[0]), _numbered(b, own[1])

    def joined(self, colours: tuple[str, ...]) -> Joined:
        """What is joined to what, with the site's `colours` where cores are named by them. Raises
        InputError where there are too few of them."""
        a, b = self.sides
        return joined(a.named(colours), b.named(colours, "/make_up_b" if self.make_up_b else "/make_up"))

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        super().check()
        self.sides  # noqa: B018  # raises where a line cannot be read
        if faults := list(self._faults()):
            raise InputError(*faults)

    def _faults(self) -> Iterator[FieldError]:
        a, b = self.sides
        if {u.cores for u in a.members} != {u.cores for u in b.members}:
            yield FieldError("/make_up_b", "has other units than the first: pairs are joined to pairs")
        if not self.ends and not self.insulation_least_mm and any(x.sections > 1 for x in (a, b)):
            yield FieldError(
                "/insulation_least_mm", "is missing: cores of more than one section are not equally thick"
            )
        if self.insulation_least_mm and not at_least(self.insulation_od_mm, self.insulation_least_mm):
            yield FieldError("/insulation_least_mm", "must not be more than the thickest core's")
        yield from self._screen_wrong("braid" in a.overall)
        if at_least(self.insulation_od_mm, self.inside_od_mm * (1.001 if a.cores > 1 else 1.5)):
            yield FieldError("/insulation_od_mm", "must be less than what all cores together measure")
        most = joined(a, b).a.units
        if self.positions is not None and self.positions > most:
            yield FieldError("/positions", f"must be at most {most}, one for each unit")
        if self.side_b == "wires":
            yield from self._wires_wrong(joined(a, b).a)
        if self.forbids and not (self.owner or "").strip():
            yield FieldError("/owner", "is missing: its papers forbid a joint, so its owner consents by name")

    def _screen_wrong(self, braided: bool) -> Iterator[FieldError]:
        """Why what lies under the sheath cannot be so thick."""
        if not braided:
            if at_least(self.inside_od_mm, self.sheath_od_mm):
                yield FieldError("/inside_od_mm", "must be less than the sheath's diameter; read both again")
        elif self.screen_od_mm is None:
            yield FieldError("/screen_od_mm", "is missing")
        elif at_least(self.screen_od_mm, self.sheath_od_mm):
            yield FieldError("/screen_od_mm", "must be less than the sheath's diameter; read both again")
        elif at_least(self.inside_od_mm, self.screen_od_mm):
            yield FieldError("/inside_od_mm", "must be less than the diameter over the braid")

    def _wires_wrong(self, cable: MakeUp) -> Iterator[FieldError]:
        """Why side B cannot be single wires."""
        if cable.most_cores > 1 or cable.overall or any(u.screens for u in cable.members):
            yield FieldError("/side_b", "must be left out: a screen or pairs do not go on in single wires")
        if not 2 <= cable.cores <= MOST_LEGS:
            yield FieldError("/side_b", f"must be left out: breakouts have 2 to {MOST_LEGS} legs")
        for name in ("hot_c", "cold_c"):
            if getattr(self, name) is None:
                yield FieldError(f"/{name}", "is missing: what makes a breakout tight is chosen by it")

    def measured(self) -> list[Measured]:
        """Sheaths, screen, what lies under it, a core."""
        rows = [
            ("sheath", self.sheath_od_mm),
            ("sheath on B", self.sheath_od_b_mm),
            ("over the braid", self.screen_od_mm),
            ("under the screen", self.inside_od_mm),
            ("core insulation", self.insulation_od_mm),
            ("core insulation on B", self.insulation_od_b_mm),
            ("thinnest core insulation", self.insulation_least_mm),
        ]
        return [Measured(end="", what=w, value_mm=v, across_mm=None) for w, v in rows if v is not None]


def _numbered(cable: MakeUp, each: tuple[float, ...]) -> dict[str, float]:
    return {cable.number(n): mm for n, mm in enumerate(each)}


class _EndsIn(Strict):
    ends: dict[str, ScreenedEndIn]


def _figures(a: ScreenedEndIn, b: ScreenedEndIn) -> dict[str, Any]:
    """What the members of both ends say, as a make-up line and readings say it."""
    one, two = a.make_up("/ends/A"), b.make_up("/ends/B")
    inside = max(a.inside_mm, b.inside_mm)
    found = {
        "make_up": one.written,
        "make_up_b": two.written,
        "insulation_od_mm": max(a.core_mm),
        "insulation_od_b_mm": max(b.core_mm),
        "inside_od_mm": inside,
        "sheath_od_mm": max(a.sheath_od_mm, a.sheath_od_across_mm or 0.0),
        "sheath_od_b_mm": max(b.sheath_od_mm, b.sheath_od_across_mm or 0.0),
        "free_a_mm": a.free_mm,
        "free_b_mm": b.free_mm,
    }
    return found | ({"screen_od_mm": inside + 4 * STRAND_MM} if "braid" in one.overall else {})
