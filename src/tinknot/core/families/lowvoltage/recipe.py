"""What straight joints and taps of round low-voltage cable share: how a solved stack is told in a plan."""

from abc import abstractmethod
from dataclasses import dataclass
from typing import Any

from tinknot.core.acts import Skin
from tinknot.core.choosing.place import Stagger
from tinknot.core.families.contract import Solution
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.metal import mohm_per_m
from tinknot.core.families.recipe import BaseRecipe
from tinknot.core.figures import mm, mm2, said_mm
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.file import JointFile
from tinknot.core.joint.profile import Profile
from tinknot.core.parts.connector import StockConnector
from tinknot.core.plan.parts import CoreOut, PartOut
from tinknot.core.world.found import Found, FoundEnd


@dataclass(frozen=True, kw_only=True)
class CableSolution(Solution):
    """The stack between two cut ends. `crutch_mm`: where the cores part, on the joint's axis; `tracks`:
    each core's profile with its sleeve on; `inner`: what the covers go over; `kept`: the cuts made stay as
    they are; `skin`: what the cable's outside is called."""

    ends: tuple[CableEnd, CableEnd]
    connectors: tuple[StockConnector, ...]
    layout: Stagger | None = None
    tracks: tuple[Profile, ...] = ()
    inner: Profile | None = None
    kept: bool = False
    crutch_mm: tuple[float, float] = (0.0, 0.0)
    skin: str = "sheath"


class CableRecipe(BaseRecipe[JointFile, CableSolution]):
    """A recipe over a `Job`: what the stack is made of is told by the family, the rest is alike."""

    def __init__(self, job: Job) -> None:
        super().__init__(job.joint, job.rules, job.today)
        self.job, self.properties = job, job.properties

    @abstractmethod
    def connector_layer(self, s: CableSolution, core: str) -> str:
        """The id of the layer that is a core's connector."""

    def cores(self, s: CableSolution) -> list[CoreOut]:
        """Each core's two lengths; none where the main is not cut."""
        cut = s.layout.cores if s.layout else ()
        return [
            CoreOut(
                core=core.name,
                centre_mm=c.centre_mm,
                cut_a_mm=c.cut_a_mm,
                cut_b_mm=c.cut_b_mm,
                area_mm2=core.area_mm2,
            )
            for core, c in zip(self.job.a.cores, cut, strict=bool(s.layout))
        ]

    def first_parts(self, s: CableSolution) -> list[PartOut]:
        """The connectors, under A's names; a tap may have fewer cores."""
        job, found = self.job, []
        for core, connector in zip(job.b.cores, s.connectors, strict=bool(s.connectors)):
            main = job.a.core(core.name)
            found.append(
                PartOut(
                    layer=self.connector_layer(s, core.name) if s.layers else f"{connector.kind}-{core.name}",
                    title=f"connector on core {core.name}",
                    part_id=connector.id,
                    name=connector.said,
                    lot=connector.first_lot(job.today),
                    cut_length_mm=None,
                    pass_od_mm=None,
                    seal_od_mm=None,
                    od_after_mm=connector.od_mm,
                    reason=f"Takes {mm2(main.area_mm2):g} to {mm2(core.area_mm2):g} mm².",
                    rejected=[],
                )
            )
        return found

    def free_mm(self) -> dict[str, float]:
        """By end, the straight tail behind its sheath cut, mm."""
        return {"A": self.joint.ends.A.free_mm, "B": self.joint.ends.B.free_mm}

    def as_found(self, s: CableSolution) -> Found:
        """Both ends as measured, with their sheath cuts where the cores want them."""
        half = (s.layout.gap_mm if s.layout else 0.0) / 2
        return Found(tuple(_found_end(e, half) for e in s.ends))

    def slack_mm(self, s: CableSolution) -> dict[str, float | None]:
        """What both ends can lose, mm."""
        return {"A": self.joint.ends.A.slack_mm, "B": self.joint.ends.B.slack_mm}

    def extras(self, s: CableSolution) -> dict[str, Any]:
        """How it is closed, and what lies between the sheath cuts."""
        return {
            "closure": self.job.build.closure or "sleeve",
            "gap_mm": s.layout.gap_mm if s.layout else None,
        }

    def warnings(self, s: CableSolution) -> list[str]:
        """Estimates, parking, what was cut for another plan, what is short on the shelf, fire and cold."""
        words = list(s.warnings)
        for end in s.ends:
            for core in end.cores:
                if core.conductor_source == "estimate":
                    words.append(
                        f"Conductor of core {core.name} on {end.name} is an estimate,"
                        f" {mm(core.conductor.greatest_mm):.1f} mm; measure it."
                    )
        parking = s.parking
        if parking and not parking.fits:
            side, over = next(iter(parking.short().items()))
            words.append(f"No room to park the covers: they overrun the tail on {side} by {mm(over):.0f} mm.")
        if self.job.made.gap_mm is not None and s.layout and not s.kept:
            words += _recuts(self.job, s)
        had = self.job.made.parts or {}
        for choice in s.choices:
            part = had.get(choice.layer)
            if part and choice.picked and choice.picked.candidate.id != part:
                words.append(
                    f"{part} is already cut for the {choice.title} and no longer fits; it goes back to stock"
                    " as a piece."
                )
        words += self.short(s)
        if "fire" in self.job.joint.duties and self.job.build.fire is None and s.layers:
            words.append(
                "Fire duty: the parts are free of halogen. Where the circuit must live on in a fire, choose a"
                " barrier or mica."
            )
        return words + self.cold(s)

    def cold(self, s: CableSolution) -> list[str]:
        """What to warm."""
        build = self.job.build
        if self.joint.ambient_c < 5 and s.layers and build.closure != "resin" and not build.cold_only:
            return ["Cold: warm the sheath before the sleeve goes on, or the adhesive will not wet it."]
        return []


def _found_end(end: CableEnd, half_mm: float) -> FoundEnd:
    skins: dict[Skin, float] = {} if end.is_wire or end.unsheathed else {"sheath": end.sheath.greatest_mm}
    if end.armour:
        skins |= {"armour": end.sheath.greatest_mm, "bedding": end.armour.bedding.greatest_mm}
    if end.lead:
        skins |= {"lead-sheath": end.lead.outside.greatest_mm, "inner-sheath": end.lead.inner.greatest_mm}
    away = -1 if end.name == "A" else 1
    return FoundEnd(
        end.name,
        skins,
        {c.name: c.insulation.greatest_mm for c in end.cores},
        away * half_mm,
        away=away,
        protective=next((c.name for c in end.cores if c.protective), ""),
        armour_mm=end.armour.thickness_mm if end.armour else 0.0,
        mohm_per_m=mohm_per_m(end),
    )


def _recuts(job: Job, s: CableSolution) -> list[str]:
    """What cuts already made mean under a plan that wants others."""
    assert s.layout is not None
    words = []
    for core, centre, now in zip(job.a.cores, job.made.centres_mm, s.layout.cores, strict=False):
        was = (centre, (job.made.gap_mm or 0) - centre)
        for end, before, wanted in (("A", was[0], now.cut_a_mm), ("B", was[1], now.cut_b_mm)):
            if before - wanted > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}: trim {said_mm(before - wanted)}"
                    " more."
                )
            elif wanted - before > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}, {said_mm(wanted - before)} too"
                    f" short: cut the sheath on {end} back by as much."
                )
    return words
