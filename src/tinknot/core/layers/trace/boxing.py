"""Work on the box and its entry: closed kinds, each with its words, its look or its reading."""

from dataclasses import dataclass

from tinknot.core.acts import Act, Close, Drill, Look, Note, Place, Thing
from tinknot.core.figures import mm
from tinknot.core.joint.leaflet import LayerKind, LeafletLayer
from tinknot.core.layers.contract import Gate, Kind, Reading, Station, Step
from tinknot.core.layers.trace.opening import AtEnd, told


@dataclass(frozen=True)
class Work:
    """A kind of work: what it is called, done by, and looked at; `{part}` is its part, `{end}` its end.
    `chips`: it makes dust or chips."""

    title: str
    text: str
    look: str
    fails: str = ""
    caution: str = ""
    kind: Kind = "fit"
    action: str = "Done"
    tools: tuple[str, ...] = ()
    chips: bool = False


AGAIN = "Do it again before going on."
WORKS: dict[LayerKind, Work] = {
    "drill": Work(
        "Drill the entry at {end}",
        "Drill where the leaflet has it, smooth the edge, blow the chips out of the box.",
        "The edge is smooth all round, no chip lies in the box.",
        AGAIN,
        caution="Before any wire is bare: chips are conductors. Goggles.",
        tools=("drill", "deburrer"),
        chips=True,
        action="Drilled and clean",
    ),
    "knock-out": Work(
        "Knock the entry out at {end}",
        "From outside, at its edge; break it off and smooth the rim.",
        "The opening is whole and smooth, the box is not cracked beside it.",
        "A crack lets water in: another box.",
        tools=("screwdriver", "hammer"),
        chips=True,
        action="Open and smooth",
    ),
    "base": Work(
        "Set the base on the pipe at {end}",
        "Foot flat on the pipe, the heating cable free beside it, its way in where the leaflet has it.",
        "It stands flat and does not rock; nothing is pinched under it.",
        AGAIN,
        action="It stands",
    ),
    "strap": Work(
        "Strap it to the pipe at {end}",
        "Round the pipe and through both slots of the foot, drawn tight; cut the tail off.",
        "It neither turns nor slides by hand; no band lies over the heating cable.",
        "Draw it tighter, or take another strap.",
        caution="Never over the heating cable: it would be crushed there.",
        action="Tight",
    ),
    "turn": Work(
        "Turn the box at {end} so that it drains",
        "",
        "Water runs off, none runs in along the cable.",
        "Turn it again before the lid goes on.",
        kind="inspect",
    ),
    "pierce": Work(
        "Pierce the {part} at {end}",
        "One hole for each cable, with the point made for it; never cut it with a knife.",
        "The lip of the hole is whole, not torn.",
        "A torn lip does not seal: another one.",
        action="Pierced",
    ),
    "push-back": Work(
        "Push the cable back at {end}",
        "Back through the {part}, so that its lip turns outward and lies on the jacket.",
        "The lip lies on the jacket all round.",
        AGAIN,
        action="Pushed back",
    ),
    "tighten": Work(
        "Tighten the {part} at {end}",
        "By hand first, then with the key.",
        "The cable does not slide through it by hand.",
        "It slides: tighten it again; if it still does, it is the wrong one for this cable.",
        action="Tight",
    ),
    "loop": Work(
        "Lay the loop at {end} and tape it down",
        "Along the pipe in a wave or a turn, both sides taped down with {part}.",
        "No kink, no crossing of itself, nothing bent tighter than the cable allows.",
        "Lay it wider before it is taped.",
        action="It lies",
    ),
    "spare-holes": Work(
        "Close the spare holes at {end}",
        "A {part} in every hole that no cable uses, with its seal, tight.",
        "No hole is open, every seal sits flat.",
        AGAIN,
        action="Closed",
    ),
    "gasket": Work(
        "Look at the gasket at {end}",
        "Wipe it and its groove dry.",
        "It is whole and soft, and lies in its groove all round.",
        "Torn or hard: another one.",
        kind="inspect",
    ),
}
DRAINS = {
    "underside": "Entry underneath: drip hole open.",
    "top": "Entry on top: turn the box or seal the entry twice; water must not stand on it.",
    "side": "Entry at the side: loop hangs lower than the entry.",
}


def screwed(leaf: LeafletLayer, gate_id: str, label: str) -> tuple[Gate, ...]:
    """What its screws are tightened to: a torque, or turns; nothing where none is printed."""
    if leaf.turns is not None:
        return (Gate(gate_id.replace("torque", "turned"), label, "turns", leaf.turns, tolerance=0.25),)
    if leaf.torque_least_nm is None or leaf.torque_most_nm is None:
        return ()
    least, most = leaf.torque_least_nm, leaf.torque_most_nm
    half = max((most - least) / 2, 1e-6)
    return (Gate(gate_id, label, "N·m", (least + most) / 2, tolerance=half, instrument="torque-driver"),)


def tightened(leaf: LeafletLayer) -> str:
    """How tight, in a sentence; empty where nothing is printed."""
    if leaf.turns is not None:
        return f"Tighten by {leaf.turns:g} turns."
    if leaf.torque_most_nm is None:
        return ""
    return f"Tighten to {leaf.torque_least_nm or 0.0:g} to {leaf.torque_most_nm:g} N·m."


def _titled(title: str, both: bool) -> str:
    """A title with its end, but for what is round both sides."""
    return title.replace(" at {end}", "") if both else title


@dataclass(frozen=True)
class BoxWork(AtEnd):
    """One piece of it. `bend_mm`: what the cable may be bent to today; `prepares`: it comes before the end is
    cut square."""

    leaf: LeafletLayer
    part_said: str = ""
    entry: str = "side"
    bend_mm: float | None = None
    prepares: bool = False
    both: bool = False  # it is round both sides of a splice

    def work(self) -> tuple[Step, ...]:
        """As the leaflet has it, or in its kind's own words."""
        w, x, e = WORKS[self.leaf.kind], self.leaf, self.end
        named = {"part": self.part_said or _PLAIN.get(x.kind, "part"), "end": e}
        return (
            Step(
                f"do.{self.id}",
                (x.title or _titled(w.title, self.both).format(**named))[:60],
                w.kind,
                self._station,
                after=self.after,
                end=e,
                action=w.action if w.kind != "inspect" else "",
                text=told(x.text or w.text.format(**named), self._figure(), tightened(x)),
                caution=x.caution or w.caution,
                look=f"{DRAINS[self.entry]} {w.look}" if x.kind == "turn" else w.look,
                fails=w.fails,
                focus_mm=self.focus_mm,
                reading=Reading((*self._measured(), *screwed(x, "torque", "screws"))),
                acts=self._acts(w),
            ),
        )

    @property
    def _station(self) -> Station:
        return "park" if self.prepares else "build"

    def _acts(self, w: Work) -> tuple[Act, ...]:
        at = Place(self.end)
        if w.chips:
            return (Drill(at=at),)
        return (Look(at=at),) if w.kind == "inspect" else (Note(at=at),)

    def _figure(self) -> str:
        """What of it is said in mm."""
        far = self.leaf.length_mm
        if self.leaf.kind == "loop" and self.bend_mm:
            return f"No tighter than {mm(self.bend_mm):g} mm radius today."
        if not far:
            return ""
        return {
            "drill": f"Hole of {mm(far):g} mm.",
            "push-back": f"By {mm(far):g} mm.",
        }.get(self.leaf.kind, f"{mm(far):g} mm.")

    def _measured(self) -> tuple[Gate, ...]:
        far = self.leaf.length_mm
        if self.leaf.kind != "push-back" or not far:
            return ()
        most = self.leaf.tolerance_mm or self.rules.number("trace.tolerance_mm")
        return (Gate("back", "pushed back by", "mm", far, tolerance=most, required=False, instrument="tape"),)

    def tools(self) -> tuple[str, ...]:
        """Those of its kind, and what it is tightened with."""
        key = ("torque driver",) if self.leaf.torque_most_nm is not None else ()
        return (*WORKS[self.leaf.kind].tools, *key)


_PLAIN = {
    "pierce": "grommet",
    "push-back": "grommet",
    "tighten": "gland",
    "loop": "its tape",
    "spare-holes": "plug",
}  # what a kind of work takes, where the row names no part


@dataclass(frozen=True)
class Box(AtEnd):
    """The box closed: turned so that it drains where no row says so, gasket seen, lid tightened."""

    leaf: LeafletLayer
    entry: str = "side"
    turned: bool = False
    both: bool = False

    def work(self) -> tuple[Step, ...]:
        """Turned, closed."""
        turn: tuple[Step, ...] = (
            Step(
                f"turn.{self.id}",
                _titled("Turn the box at {end} so that it drains", self.both).format(end=self.end),
                "inspect",
                "build",
                after=self.after,
                end=self.end,
                look=f"{DRAINS[self.entry]} Water runs off, none runs in along the cable.",
                fails="Turn it again before the lid goes on.",
                acts=(Look(at=Place(self.end)),),
            ),
        )
        turn = () if self.turned else turn
        return (
            *turn,
            Step(
                f"lid.{self.id}",
                self.leaf.title or _titled("Close the lid at {end}", self.both).format(end=self.end),
                "fit",
                "build",
                after=tuple(s.id for s in turn) or self.after,
                end=self.end,
                text=self.leaf.text
                or "Gasket clean and in its groove, cable not pinched, "
                + ("screws crosswise." if self.screwed else "latched all round."),
                caution=self.leaf.caution,
                look="Gasket even all round.",
                acts=(Close(at=Place("" if self.both else self.end), thing=Thing(self.id, "lid")),),
                reading=Reading(screwed(self.leaf, "torque", "lid screws")),
            ),
        )

    @property
    def screwed(self) -> bool:
        """Whether screws close it; else a hand, a latch or a quarter turn."""
        return self.leaf.torque_most_nm is not None

    def tools(self) -> tuple[str, ...]:
        """Torque, where it is screwed."""
        return ("torque driver",) if self.screwed else ()
