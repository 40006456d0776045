"""Earth continuity over the joint: donor mesh, strap and clamps over armour that is folded back."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from math import pi, sqrt

from tinknot.core.acts import Act, Join, LayOn, Look, Place, Read, Skin, Thing
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.outline import rounded
from tinknot.core.drawing.stage import Lies, Stage, level
from tinknot.core.facts import Fact, of, over_all
from tinknot.core.figures import mm2, said_mm
from tinknot.core.formulas.tape import wrap
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import (
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Reading,
    Step,
    pieces_of,
)
from tinknot.core.layers.lead import CONNECTOR, EarthLead
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.mesh import StockMesh
from tinknot.core.parts.strap import StockStrap
from tinknot.core.rulebook import RuleBook

SAID = {"armour": "armour", "lead-sheath": "lead", "screen": "sheath"}  # what something is clamped on


def mesh_grows_mm(mesh: StockMesh) -> float:
    """What the mesh adds to the diameter, mm."""
    return 2 * mesh.thickness_mm / sqrt(mesh.stretch) / (1 - mesh.overlap_pct / 100)


@dataclass(frozen=True)
class Hold:
    """Where something is clamped at an end: armour folded back, lead left bare, or the end of a mesh on the
    sheath (`screen`), from where to where, mm on the joint's axis."""

    end: str
    skin: Skin
    span_mm: tuple[float, float]

    @property
    def key(self) -> str:
        """What tells it from others: its end, and the lead."""
        return f"{self.end}-lead" if self.skin == "lead-sheath" else self.end

    @property
    def said(self) -> str:
        """In words."""
        return f"the lead of {self.end}" if self.skin == "lead-sheath" else self.end

    @property
    def place(self) -> Place:
        """What is clamped there."""
        return Place(self.end, skin=self.skin, span_mm=self.span_mm if self.skin == "lead-sheath" else None)


@dataclass(frozen=True)
class EarthBond(Layer):
    """From metal to metal, or from armour, lead or mesh to the protective conductor, which its `lead` is on.
    `holds`: what is clamped, of each end from outside in; `clamps` and their lots by the key of the hold."""

    holds: tuple[Hold, ...]
    strap: StockStrap
    strap_lot: str
    clamps: dict[str, tuple[StockClamp, str]]
    span_mm: tuple[float, float]
    rules: RuleBook
    mesh: StockMesh | None = None
    mesh_lot: str = ""
    around_mm: float = 0.0  # what the mesh is wound round
    lead: EarthLead | None = None  # the strap's other end, where there is no second armour
    lead_mm: float = 0.0  # where the strap comes out from under what closes over its lead
    limit_mohm: float = field(kw_only=True)  # up to what its path passes

    def apply(self, under: Profile) -> Profile:
        """The strap lies on one side, the mesh and the clamps all round."""
        over = under.covered(*self.strap_mm, lambda od: od + self.strap.thickness_mm)
        if mesh := self.mesh:
            over = over.covered(*self.span_mm, lambda od: od + mesh_grows_mm(mesh))
        for h in self.holds:
            clamp = self.clamps[h.key][0]
            over = over.covered(*self._clamp_mm(h, clamp), lambda od, c=clamp: od + 2 * c.thickness_mm)  # type: ignore[misc]
        return over

    def lies(self) -> Lies | None:
        """From armour to armour."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """The mesh all round, the strap along one side, a clamp over each fold."""
        at = {"layer": self.id, "depth_mm": stage.depth_mm}
        wall = stage.wall()
        if self.mesh:
            yield Body.model_validate({"id": self.id, "kind": "mesh"} | at | wall)
        under, thick = wall["bottom"], self.strap.thickness_mm
        over = {"top": rounded([(x, r + thick) for x, r in under]), "bottom": under}
        yield Body.model_validate({"id": f"{self.id}-strap", "kind": "strap"} | at | over)
        for h in self.holds:
            clamp = self.clamps[h.key][0]
            middle, half = sum(h.span_mm) / 2, clamp.width_mm / 2
            yield level(
                "clamp",
                (middle - half, middle + half),
                stage.over.at(middle).greatest_mm,
                id=f"{self.id}-clamp-{h.key}",
                layer=self.id,
                end=h.end,
                depth_mm=stage.depth_mm + 0.1,
            )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """The mesh, and the strap over a part of the way round."""
        if self.mesh:
            yield stage.ring("mesh", self.id, x)
        yield stage.ring("strap", self.id, x).model_copy(update={"width_mm": self.strap.width_mm})

    def solids(self) -> tuple[tuple[tuple[float, float], float], ...]:
        """The strap's copper, and the metal of the mesh."""
        share = self.rules.number("mesh.metal_share")
        around = pi * self.around_mm * mesh_grows_mm(self.mesh) / 2 * share if self.mesh else 0.0
        return (self.strap_mm, self.strap.area_mm2), (self.span_mm, around)

    def _clamp_mm(self, h: Hold, clamp: StockClamp) -> tuple[float, float]:
        a, b = h.span_mm
        middle, half = (a + b) / 2, min(clamp.width_mm, b - a) / 2
        return middle - half, middle + half

    @property
    def strap_mm(self) -> tuple[float, float]:
        """Where the strap lies outside, mm on the joint's axis: from clamp to clamp, or from its lead on;
        what closed over its lead lies over that part of it."""
        if self.lead is None:
            return self.span_mm
        a, b = self.span_mm
        return (a, self.lead_mm) if self.lead.end == "B" else (self.lead_mm, b)

    @property
    def _clamped(self) -> tuple[Place, ...]:
        """What is clamped: armour and lead of an end, or the mesh where it has neither."""
        return tuple(h.place for h in self.holds)

    @property
    def _between(self) -> tuple[Place, ...]:
        """What the path lies between: metal to metal, else to the protective conductor."""
        if self.lead is None:  # two of metal, but for work that began by earlier rules
            first, *more = self._clamped or (Place("A", skin="armour"), Place("B", skin="armour"))
            other = next((p for p in more if p.end != first.end), None)
            far = Place("A" if first.end == "B" else "B", "protective", "conductor")
            return first, other or far
        here = next((p for p in self._clamped if p.end != self.lead.end), self._clamped[0])
        return here, Place(self.lead.end, "protective", "conductor")

    @property
    def _inner(self) -> tuple[Place, ...]:
        """The lead under armour on both sides, a path of its own; empty elsewhere."""
        lead = tuple(p for p in self._clamped if p.skin == "lead-sheath")
        return lead if len(lead) == 2 and self._between[0].skin == "armour" else ()

    @property
    def _paths(self) -> list[tuple[str, str, tuple[Place, ...]]]:
        """Each path that is read: its gate, what it is called, what it lies between."""
        inner = [("lead", "lead to lead", self._inner)] if self._inner else []
        return [("earth", "earth path", self._between), *inner]

    @property
    def _on_sheath(self) -> list[str]:
        """The ends where a mesh ends on the sheath."""
        return [p.end for p in self._clamped if p.skin == "screen"]

    @property
    def _from_to(self) -> str:
        """Where the mesh begins and ends, in words."""
        outer = {p.end: p for p in reversed(self._clamped)}
        lies = [SAID.get(outer[e].skin, "") for e in "AB" if e in outer]
        if len(lies) < 2:  # work that began by earlier rules
            return "from the armour to the sheath"
        a, b = lies
        return f"from {a} to {b}" if a == b else f"from the {a} on A to the {b} on B"

    def _meshed(self) -> Act:
        assert self.mesh is not None
        thing = Thing(
            f"{self.id}-mesh", "mesh", adds_mm=mesh_grows_mm(self.mesh), metal=True, of=self.mesh.said
        )
        return LayOn(at=Place(span_mm=self.span_mm), thing=thing)

    def work(self) -> tuple[Step, ...]:
        """Mesh and strap, after the cores are closed, over armour that is folded back already."""
        folded = (Fact("folded", p) for p in self._clamped if p.skin == "armour")
        bright = (Fact("clean", p) for p in self._clamped if p.skin == "lead-sheath")
        needs = (*over_all(), *folded, *bright)
        mesh: tuple[Step, ...] = ()
        if self.mesh:
            mesh = (
                Step(
                    "wrap.mesh",
                    "Wind the mesh over the whole joint",
                    "wrap",
                    "build",
                    needs=needs,
                    text=(
                        f"{self.mesh.said}, {self.mesh.overlap_pct:g} % lapped, {self._from_to}."
                        + self._mesh_ends()
                    ),
                    caution="It shortens when pushed on: leave length.",
                    part_id=self.mesh.id,
                    focus_mm=self.span_mm,
                    acts=(self._meshed(),),
                ),
            )
            needs = (of("laid", f"{self.id}-mesh"),)
        far = (
            self._across
            if self.lead is None
            else f"from the protective conductor, which it is on already, to the {self._to}"
        )
        return (
            *mesh,
            Step(
                "bond.strap",
                "Clamp the mesh and the earth strap" if self._on_sheath else "Clamp the earth strap",
                "bond",
                "build",
                needs=needs,
                text=(
                    f"{self.strap.said}, {mm2(self.strap.area_mm2):g} mm², {far};"
                    f" {', '.join(sorted({c.said for c, _ in self.clamps.values()}))} all round."
                ),
                caution=(
                    "Wind tape over a spring in the spring's own turn; tuck its tail and every point under"
                    " tape."
                    if self._springs
                    else "Tuck every point under; no wire stands out."
                ),
                part_id=self.strap.id,
                focus_mm=self.span_mm,
                acts=(
                    Join(
                        at=Place(span_mm=self.strap_mm),
                        thing=Thing(
                            self.id,
                            "earth strap",
                            adds_mm=self.strap.thickness_mm,
                            metal=True,
                            of=self.strap.said,
                        ),
                        ends=self._clamped or self._between,
                        how="clamped",
                    ),
                ),
            ),
            Step(
                "inspect.bond",
                "Look at the earth path",
                "inspect",
                "build",
                needs=(of("joined", self.id),),
                look=(
                    f"{self._seen} and strap clamped all round on bright metal, no wire or tail standing out."
                ),
                fails="A loose clamp or a wire standing out: open it and do it again.",
                focus_mm=self.span_mm,
                photo=True,
                acts=tuple(Look(at=place) for place in self._looked),
            ),
            Step(
                "test.bond.earth",
                "Continuity of the earth path",
                "test",
                "build",
                needs=tuple(Fact("looked", place) for place in self._looked),
                text=(
                    f"{self._read_words}. Null the leads first."
                    if self.lead is None
                    else f"From the {self._to} to the strap where it comes out; its other end was read before"
                    " it was insulated. Null the leads first."
                ),
                acts=tuple(
                    Read(what="resistance", between=path, leads=path[:1], most_mohm=self.limit_mohm)
                    for _, _, path in self._paths
                ),
                tools=("low-ohm-meter",),
                reading=Reading(
                    tuple(
                        Gate(gate, said, "Ω", most=self.limit_mohm / 1000, instrument="low-ohm-meter")
                        for gate, said, _ in self._paths
                    )
                ),
            ),
        )

    @property
    def _across(self) -> str:
        """Along what the strap runs where it goes from metal to metal, in words."""
        skins = [SAID.get(p.skin, p.skin) for p in self._clamped]
        if set(skins) == {"armour"}:
            return "from " + " to ".join(f"the armour on {p.end}" for p in self._clamped)
        if set(skins) == {"lead"}:
            return "from lead to lead, on bright metal"
        return "over " + ", ".join(f"{said} on {p.end}" for said, p in zip(skins, self._clamped, strict=True))

    @property
    def _read_words(self) -> str:
        """Between what the path is read, in words."""
        a, b = (SAID.get(p.skin, p.skin) for p in self._between[:2])
        return f"From {a} to {b}" + (", then from lead to lead" if self._inner else "")

    @property
    def _looked(self) -> tuple[Place, ...]:
        """Where metal is looked at."""
        return self._clamped or tuple(p for p in self._between if p.skin == "armour")

    @property
    def _to(self) -> str:
        """What the strap of a lead is clamped to, in words."""
        here = self._between[0]
        return f"{'mesh' if here.skin == 'screen' else SAID[here.skin]} on {here.end}"

    @property
    def _seen(self) -> str:
        """What a look finds clamped, in words."""
        skins = dict.fromkeys(SAID[p.skin] for p in self._clamped if p.skin != "screen")
        return ", ".join([*skins, *(["mesh"] if self.mesh else [])]).capitalize()

    def _mesh_ends(self) -> str:
        """How its ends lie on a sheath, in words."""
        if not self._on_sheath:
            return ""
        wide = max(h.span_mm[1] - h.span_mm[0] for h in self.holds if h.skin == "screen")
        return (
            f" Its end lies {said_mm(wide)} mm on the sheath on {' and '.join(self._on_sheath)},"
            " over a support ring where the sheath is soft."
        )

    @property
    def _springs(self) -> int:
        """How many of the clamps are springs."""
        return sum(c.kind == "spring" for c, _ in self.clamps.values())

    def consumes(self) -> tuple[Material, ...]:
        """Strap, clamps and the tape over springs, mesh; the strap's own connector where there is no second
        armour."""
        found = [
            Material(
                self.strap.said, 1, "piece", self.strap.on_hand, part_id=self.strap.id, lot=self.strap_lot
            )
        ]
        found += [
            Material(c.said, 1, "piece", c.on_hand, part_id=c.id, lot=lot) for c, lot in self.clamps.values()
        ]
        if self._springs:
            found.append(Material("tape over a spring", self._springs, "piece"))
        metal = {h.end for h in self.holds if h.skin != "screen"}
        if self.lead is None and len(metal) == 1:  # work that began by earlier rules
            found.append(Material(CONNECTOR, 1, "piece"))
        if self.mesh:
            m = self.mesh
            used = wrap(
                self.around_mm,
                self.span_mm[1] - self.span_mm[0],
                m.width_mm,
                m.thickness_mm,
                overlap_pct=m.overlap_pct,
                stretch=m.stretch,
            )
            found.append(
                Material(
                    m.said,
                    round(used.tape_length_mm),
                    "mm",
                    None if m.on_hand is None else m.on_hand * m.roll_mm,
                    part_id=m.id,
                    lot=self.mesh_lot,
                )
            )
        return tuple(found)

    def counted(self) -> tuple[Piece, ...]:
        """Strap, clamps, and a share of the mesh's roll."""
        return pieces_of(self.consumes(), 0.0, self.mesh.roll_mm if self.mesh else 1.0)

    def minutes(self) -> Minutes:
        """Fold, clamp, measure."""
        return Minutes(self.rules.number("time.bond_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Contact."""
        return (
            Fault(
                "clamp-loose",
                "A clamp turns or the strap slips",
                ("paint or dirt under it", "spring wound the wrong way"),
                (Mend("Open it, clean to bright metal, clamp again", "again"), CUT_OUT),
            ),
            Fault(
                "wire-out",
                "An armour wire stands out",
                ("not tucked in",),
                (Mend("Tuck it in or trim it, tape it over", "mended"), CUT_OUT),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Metal work."""
        return ("pliers", "wire brush")


def strap_words(strap: StockStrap, least_mm2: float) -> str:
    """Why a strap serves."""
    return (
        f"{mm2(strap.area_mm2):g} mm² carries the fault, {mm2(least_mm2):.1f} mm² are needed;"
        f" {said_mm(strap.length_mm)} mm long."
    )
