"""What a plan chooses, uses up and threads on."""

from typing import Any, Literal

from pydantic import model_validator

from tinknot.core.model import Result, Told


class CoreOut(Result):
    """A core's lengths in mm, by end; those on A and B, whose sum is the same for all, also by themselves."""

    core: str
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float
    area_mm2: float = 0.0
    by_end: dict[str, float] = {}

    @model_validator(mode="before")
    @classmethod
    def _of_two_ends(cls, data: Any) -> Any:
        """A joint of two ends says both by A and B."""
        if isinstance(data, dict) and not data.get("by_end") and {"cut_a_mm", "cut_b_mm"} <= data.keys():
            return data | {"by_end": {"A": data["cut_a_mm"], "B": data["cut_b_mm"]}}
        return data


class RingOut(Result):
    """A ring inside a part: what it is and where it lies, mm from the middle of the place."""

    what: Literal["solder", "seal"]
    from_mm: float
    to_mm: float


class CandidateOut(Told):
    """A sleeve on the fit ruler: its bar, its verdict and, if it does not serve, the reason. `rings`: what
    lies inside it."""

    part_id: str
    name: str
    expanded_id_mm: float
    recovered_id_mm: float
    lined: bool
    stiff: bool
    verdict: str
    reason: str
    comfort: float
    pass_short_by_mm: float
    grip_short_by_mm: float
    cut_length_mm: int | None = None
    waste_mm: float | None = None
    on_hand_mm: float | None = None
    rings: list[RingOut] = []


class ChoiceOut(Told):
    """One choice: what must be passed and gripped, the limits, and every candidate, best first. `slot`: where
    in the draft a part settled on is kept (a JSON Pointer), empty where nobody may settle it; `layers`: those
    that get the part picked; `cores`: those it lies on; `decided`: why the one picked and not the next;
    `bare_mm`: where what a ring of solder goes on lies bare, mm from the middle of the place; `of`: the part
    whose mouth it is, in words, where a part has several that are judged together."""

    layer: str
    title: str
    pass_od_mm: float
    seal_od_mm: float
    needed_expanded_mm: float
    allowed_recovered_mm: float
    ratio_needed: float
    covered_mm: float
    least_wall_mm: float
    picked: str | None
    advice: str
    candidates: list[CandidateOut]
    slot: str = ""
    layers: list[str] = []
    cores: list[str] = []
    decided: str = ""
    bare_mm: tuple[float, float] | None = None
    of: str = ""


class OfferOut(Told):
    """A part other than a sleeve, or a way to cure: whether it serves, and why or why not. `handle_min`,
    `full_min`: when what it cures may be handled, and is full, min from its beginning."""

    id: str
    name: str
    serves: bool
    reason: str
    handle_min: float | None = None
    full_min: float | None = None


class PickOut(Told):
    """A choice of a part that has no window: what is needed, every offer, what was picked."""

    layer: str
    title: str
    need: str
    offers: list[OfferOut]
    picked: str | None
    advice: str


class PackUse(Result):
    """Packs of one part."""

    part_id: str
    count: int


class PackTime(Result):
    """When one pack is mixed and poured, and when it gels: min from the first being opened."""

    pack: int
    mix_from_min: float
    mix_to_min: float
    pour_from_min: float
    pour_to_min: float
    gels_at_min: float


class ResinOut(Result):
    """The pour: volumes in ml, packs, times in min, each pack's own in `timeline`, and the cure as
    expected."""

    resin_c: float
    shell_ml: float
    displaced_ml: float
    net_ml: float
    required_ml: float
    left_over_ml: float
    packs: list[PackUse]
    pot_life_min: float
    mix_min: float
    pour_window_min: float
    pour_min: float
    handle_min: float
    full_min: float
    shell: list[tuple[float, float]]
    timeline: list[PackTime] = []


class Refusal(Told):
    """A part that was not taken, and why."""

    part_id: str
    reason: str


class PartOut(Told):
    """A part of the joint with its figures in mm."""

    layer: str
    title: str
    part_id: str
    name: str
    lot: str
    cut_length_mm: float | None
    pass_od_mm: float | None
    seal_od_mm: float | None
    od_after_mm: float
    reason: str
    rejected: list[Refusal]
    expanded_id_mm: float | None = None
    recovered_id_mm: float | None = None
    wall_mm: float | None = None
    quantity: float = 1

    @property
    def taken(self) -> float:
        """What of it comes off the shelf: mm of what is cut, all its pieces together; pieces of the rest."""
        return self.quantity * (1.0 if self.cut_length_mm is None else self.cut_length_mm)


class ParkedOut(Result):
    """A part threaded on a track, in threading order."""

    layer: str
    part_id: str
    track: str
    length_mm: float
    step: str
    title: str = ""


class TailOut(Result):
    """What waits on an end's tail, in threading order; used and free count the sheath track, mm."""

    end: str
    parts: list[ParkedOut]
    used_mm: float
    free_mm: float


class ParkPlan(Result):
    """The tails, `by_end`; A and B once more as `a` and `b`. Used and free count the sheath track, mm.
    `skin`: what the cable's outside is called."""

    a: list[ParkedOut]
    b: list[ParkedOut]
    used_a_mm: float
    used_b_mm: float
    free_a_mm: float
    free_b_mm: float
    skin: str = "sheath"
    by_end: list[TailOut] = []

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before a tee's third leg had a tail of its own."""
        if not isinstance(data, dict) or data.get("by_end"):
            return data
        tails = [
            {
                "end": side.upper(),
                "parts": data[side],
                "used_mm": data[f"used_{side}_mm"],
                "free_mm": data[f"free_{side}_mm"],
            }
            for side in ("a", "b")
            if {side, f"used_{side}_mm", f"free_{side}_mm"} <= data.keys()
        ]
        return data | {"by_end": [t for t in tails if t["parts"] or t["free_mm"]]}

    def parts(self) -> list[tuple[str, ParkedOut]]:
        """Every part that waits, with the end on whose tail it does."""
        return [(tail.end, part) for tail in self.by_end for part in tail.parts]


class MaterialOut(Result):
    """Something used up."""

    what: str
    quantity: float
    unit: str
    in_stock: float | None
    part_id: str
    lot: str


class SettingOut(Told):
    """A tool's setting."""

    tool: str
    setting: str
    why: str


class MinutesOut(Result):
    """Time of hands and of waiting, min."""

    hands: float
    waiting: float
