"""A flat cable end laid open: cut square, jackets cut, the braid out of the way."""

from dataclasses import dataclass, field

from tinknot.core.acts import Act, Mark, Note, Place, Remove, Skin, Wipe
from tinknot.core.joint.flatend import CAUTIONS, UNDER
from tinknot.core.joint.leaflet import LeafletCut, LeafletLayer
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Cut, Fault, Layer, Minutes, Reading, Step
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.preparation import distance_gate
from tinknot.core.rulebook import RuleBook

SAID = {
    "outer-jacket": "outer jacket",
    "inner-jacket": "inner jacket",
    "bus-1": "bus wire 1",
    "bus-2": "bus wire 2",
}
STRIPPED = ("matrix", "overlay")  # marked by its cut, taken off by a row of its own
NAMED = {
    "cable-end": "the cable's end",
    "outer-jacket-cut": "the outer jacket's cut",
    "inner-jacket-cut": "the inner jacket's cut",
}
DATUM_SAID = {
    datum: f"from {said}" if datum == "cable-end" else f"from {said}, toward the cable's end"
    for datum, said in NAMED.items()
}


def marked(leaf: LeafletLayer, what: str) -> str:
    """Where the near edge of a part comes, as a sentence: so far behind what it is measured from; empty where
    the leaflet does not say."""
    if leaf.reach is None or not leaf.reach.given:
        return ""
    each = " on both sides" if leaf.at == "joint" else ""
    far = leaf.reach.value_mm
    if not far:
        return f"{what} at {NAMED[leaf.measured_from]}{each}."
    return f"{what} {leaf.reach.said} behind {NAMED[leaf.measured_from]}{each}."


def told(*sentences: str) -> str:
    """Sentences, without those that are empty."""
    return " ".join(s for s in sentences if s)


@dataclass(frozen=True)
class AtEnd(Layer):
    """What all layers of a flat end share: the end's letter, the steps it waits for, the stretch to show (mm
    on the joint's axis)."""

    end: str
    rules: RuleBook
    after: tuple[str, ...] = field(default=("measured",), kw_only=True)
    focus_mm: tuple[float, float] | None = field(default=None, kw_only=True)

    def minutes(self) -> Minutes:
        """Careful knife work, or one part put on."""
        return Minutes(self.rules.number("time.trace_layer_min"))


@dataclass(frozen=True)
class SquareEnd(AtEnd):
    """The cable cut square, the moisture at its end looked for; wiped clean where something goes over all
    of it (`threaded`). `zone`: what is said of where a zone cable is cut."""

    threaded: bool = False
    zone: str = ""

    def work(self) -> tuple[Step, ...]:
        """One cut, on a clean cable."""
        e = self.end
        clean = Step(
            f"clean.{e}",
            f"Wipe the cable clean on {e}",
            "surface",
            "cut",
            after=("measured",),
            end=e,
            text="Dirt, water and grease off the jacket as far back as anything is threaded.",
            caution="What is threaded on slides over it and takes the dirt along under its adhesive.",
            batch=batches.CLEAN,
            acts=(Wipe(at=Place(e, skin="sheath")),),
        )
        return (
            *((clean,) if self.threaded else ()),
            Step(
                f"cut.square.{e}",
                f"Cut end {e} square",
                "cut",
                "cut",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                text=(
                    f"{self.zone} Square across; all cuts are measured from here."
                    if self.zone
                    else "Cut off what is damaged or damp, square across. All cuts are measured from here."
                ),
                look="Dry matrix or overlay, both bus wires bright.",
                acts=(Mark(at=Place(e)),),
                fails=(
                    "Damp or dark: cut further back, feel for the connection point again and plan again."
                    if self.zone
                    else "Damp or dark: cut further back."
                ),
            ),
        )


@dataclass(frozen=True)
class FlatCut(AtEnd):
    """One cut of the leaflet; `removed_mm` is what comes off, from the cable's end."""

    cut: LeafletCut
    removed_mm: float
    zone: bool = False

    @property
    def under(self) -> str:
        """What lies under the layer that is cut; empty where nothing does."""
        found = UNDER[self.cut.layer]
        return "overlay" if self.zone and found == "matrix" else found

    def cuts(self) -> tuple[Cut, ...]:
        """As the leaflet measures it."""
        c = self.cut
        half = (c.length.most_mm - c.length.value_mm) / 2  # any length of a printed range is right
        return (
            Cut(
                self.end,
                SAID.get(c.layer, c.layer),
                c.datum,
                c.length.value_mm + half,
                tolerance_mm=half or c.tolerance_mm or self.rules.number("trace.tolerance_mm"),
                caution=c.caution or CAUTIONS[c.layer],
                removed_mm=self.removed_mm,
            ),
        )

    def work(self) -> tuple[Step, ...]:
        """Marked, scored, taken off, looked at."""
        (cut,), e, layer = self.cuts(), self.end, self.cut.layer
        under = self.under
        accept = "distance" in self.rules.names("tolerance.accept") and not layer.startswith("bus")
        title = (
            f"Cut {'all the braid holds' if layer == 'core' else cut.layer} on {e} shorter"
            if layer == "core" or layer.startswith("bus")
            else f"Mark the {cut.layer} on {e}, score it round"
            if layer in STRIPPED
            else f"Take the {cut.layer} off {e}"
        )
        shown = (
            f"No mark on the {'braid' if layer == 'outer-jacket' else under}."
            if under
            else "Cut square, no strand bent out."
        )
        return (
            Step(
                f"cut.{layer}.{e}",
                title,
                "cut",
                "cut",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                text=f"{self.cut.length.said} {DATUM_SAID[cut.datum]}.",
                caution=cut.caution,
                look=shown,
                fails=(
                    "A cut or a nick in what lies under it: cut the end back and prepare it again."
                    if under
                    else ""
                ),
                reading=Reading((distance_gate(cut, accept, DATUM_SAID[cut.datum].split(",")[0]),)),
                acts=self._taken_off(cut),
            ),
        )

    def _taken_off(self, cut: Cut) -> tuple[Act, ...]:
        """What comes off, as a flat cable's layers are called on a round one; what is stripped after it is
        only marked here."""
        layer = self.cut.layer
        if layer in STRIPPED:
            return (Note(at=Place(self.end)),)
        what: dict[str, Skin] = {
            "outer-jacket": "sheath",
            "inner-jacket": "bedding",
            "core": "core",
            "braid": "screen",
        }
        wire = layer if layer.startswith("bus") else ""
        return (
            Remove(
                at=Place(self.end, wire),
                what="core" if wire else what[layer],
                mm=cut.distance_mm,
                datum="cable-end" if cut.datum == "cable-end" else "sheath-cut",
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Knife and length."""
        under = self.under
        return (
            (
                Fault(
                    "knife-through", f"The knife went into the {under}", ("scored too deep",), (END_AGAIN,)
                ),
                Fault(
                    "cut-long",
                    f"Too much of the {SAID.get(self.cut.layer, self.cut.layer)} came off",
                    ("measured from the wrong mark", "mm and inch mixed up"),
                    (END_AGAIN,),
                ),
            )
            if under
            else (
                Fault(
                    "bus-short",
                    "A bus wire was cut too short",
                    ("wrong wire", "measured from the wrong mark"),
                    (END_AGAIN,),
                ),
            )
        )

    def tools(self) -> tuple[str, ...]:
        """Knife and rule."""
        return ("tape measure", "jacket knife", "side cutters")


_BRAID = {
    "braid-pigtail": (
        "Open the braid and pull the cable through",
        (
            "Part the braid with a blunt point close to the jacket, bend the cable and pull it out through"
            " the hole. Pull the braid tight and twist it into a pigtail."
        ),
        "Never cut the braid; work with the point away from the inner jacket.",
    ),
    "braid-fold": (
        "Lay the braid back",
        "Push the braid back over the outer jacket, smooth it down, no strand standing out.",
        "Not one strand may reach the bus wires.",
    ),
    "braid-trim": (
        "Trim the braid",
        "Trim the braid back all round and push it under the edge of the jacket.",
        "Take every loose strand away.",
    ),
}


@dataclass(frozen=True)
class Braid(AtEnd):
    """The braid of one end: a pigtail, laid back, or trimmed."""

    leaf: LeafletLayer
    part_said: str = ""

    def work(self) -> tuple[Step, ...]:
        """Opened, pulled through, sleeved; or laid back and later covered."""
        title, text, caution = _BRAID[self.leaf.kind]
        then = (
            f" Slide {self.part_said} over it."
            if self.part_said and self.leaf.kind == "braid-pigtail"
            else ""
        )
        then += (
            f" Tape its ends down with {self.part_said}."
            if self.part_said and self.leaf.kind == "braid-fold"
            else ""
        )
        return (
            Step(
                f"braid.{self.end}",
                f"{self.leaf.title or title}, end {self.end}",
                "fit",
                "cut",
                after=self.after,
                action="Done",
                end=self.end,
                focus_mm=self.focus_mm,
                text=self.leaf.text or text + then,
                caution=self.leaf.caution or caution,
                spreads=True,
                acts=(Note(at=Place(self.end)),),
                look="Braid whole, no strand left behind on the inner jacket.",
                fails="Strands cut or left: trim and wipe them off; many cut: prepare the end again.",
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Strands."""
        return (
            Fault(
                "braid-cut",
                "The braid was cut, or many of its strands",
                ("point too sharp", "knife through the jacket"),
                (END_AGAIN,),
            ),
            Fault("jacket-nicked", "The inner jacket is nicked", ("point against the cable",), (END_AGAIN,)),
        )

    def tools(self) -> tuple[str, ...]:
        """A blunt point."""
        return ("blunt point",) if self.leaf.kind == "braid-pigtail" else ()
