"""What is asked about a screened cable."""

from tinknot.core.families.asks import Ask, When, length, options
from tinknot.core.families.moulded.asks import service

_CABLE, _SIZES, _HOW, _BEFORE = "The cable", "Its diameters", "How it is made", "Before anything is cut"


_WIRES = When(ask="side_b", answers=["wires"])

ASKS = (
    Ask(
        id="forbids",
        label="Its papers forbid a joint in this cable",
        kind="yes",
        group=_BEFORE,
        required=False,
        hint="Trip, alarm and intrinsically safe loops, and cables of some equipment: ask their owner.",
    ),
    Ask(
        id="owner",
        label="Who consented",
        kind="text",
        group=_BEFORE,
        required=False,
        hint="Where its papers forbid it.",
    ),
    Ask(
        id="earthed",
        label="The screen is earthed",
        kind="choice",
        group=_BEFORE,
        hint="A joint never makes a second earth by itself.",
        options=options(
            ("one", "at one end"),
            ("both", "at both ends, by design"),
            ("capacitor", "at one end, through a capacitor at the other"),
        ),
    ),
    Ask(
        id="make_up",
        label="Make-up",
        kind="make-up",
        group=_CABLE,
        hint=(
            "12 × 1 mm², or 8 × 2 × 0.75, each pair foil and drain, braid over all. What differs goes after a"
            " plus: 2 × 2 × 0.5 + 3 × 1. AWG 18 for mm² as well. By colour, if that tells cores apart."
        ),
    ),
    Ask(
        id="make_up_b",
        label="Make-up on side B",
        kind="make-up",
        group=_CABLE,
        required=False,
        hint="Where it differs. What is left over is capped and kept.",
    ),
    Ask(
        id="side_b",
        label="Side B is",
        kind="choice",
        group=_CABLE,
        required=False,
        options=options(
            ("", "a cable"),
            ("wires", "single wires without a sheath, a breakout over them"),
        ),
    ),
    *service(_CABLE, _WIRES),
    Ask(
        id="splice",
        label="A core is joined by",
        kind="choice",
        group=_HOW,
        required=False,
        options=options(
            ("", "a sealed splice"),
            ("barrel", "a crimp barrel, with a sleeve of its own"),
            ("lap", "a soldered lap, with a sleeve of its own"),
            ("hook", "a soldered hook, with a sleeve of its own"),
        ),
    ),
    Ask(
        id="half_strands",
        label="Half of the strands of each are left out in the lap",
        kind="yes",
        group=_HOW,
        required=False,
        hint="For fine signal conductors only, and kept in the record.",
        when=When(ask="splice", answers=["lap"]),
    ),
    Ask(
        id="marks",
        label="The cores of side B are known",
        kind="choice",
        group=_CABLE,
        required=False,
        options=options(
            ("", "by their numbers or colours"),
            ("walk", "not for certain: one person rings them out"),
            ("two", "not for certain: two people ring them out"),
        ),
    ),
    length("insulation_od_mm", "Core insulation, diameter", _SIZES, 0.6, 8),
    length(
        "insulation_least_mm",
        "Thinnest core insulation",
        _SIZES,
        0.6,
        8,
        "Where not all cores are of one section; the first reading is of the thickest then.",
        required=False,
    ),
    length(
        "insulation_od_b_mm", "Core insulation on side B", _SIZES, 0.6, 8, "Where it differs.", required=False
    ),
    length(
        "lay_mm", "Lay of a unit", _SIZES, 10, 300, "Along the cable for one turn of a pair.", required=False
    ),
    length("inside_od_mm", "Under the screen, diameter", _SIZES, 1, 60, "Over all cores together."),
    length(
        "screen_od_mm",
        "Over the braid, diameter",
        _SIZES,
        1,
        62,
        "Where there is braid over all.",
        required=False,
    ),
    length("strand_mm", "A strand of the braid", _SIZES, 0.05, 0.4, required=False),
    length("sheath_od_mm", "Sheath, diameter", _SIZES, 1.5, 70),
    length("sheath_od_b_mm", "Sheath on side B", _SIZES, 1.5, 70, "Where it differs.", required=False),
    Ask(
        id="bears_c",
        label="What lies under the screen bears for a short time",
        kind="number",
        unit="°C",
        group=_SIZES,
        hint="From its sheet. PVC bears about 105, cross-linked polyethylene about 150.",
        least=60,
        most=300,
    ),
    length(
        "free_a_mm", "Straight, clear sheath on side A", _SIZES, 10, 5000, "Room for what is threaded on."
    ),
    length("free_b_mm", "Straight, clear sheath on side B", _SIZES, 10, 5000),
    Ask(
        id="positions",
        label="Places along the joint",
        kind="number",
        group=_HOW,
        required=False,
        hint="Empty: as many as give the least thickness that a sleeve fits.",
        least=1,
        most=12,
    ),
    Ask(
        id="apart",
        label="A unit's own splices stand apart",
        kind="choice",
        group=_HOW,
        required=False,
        options=options(
            ("half", "by half a step: metal never side by side"),
            ("full", "by a full step: nothing side by side"),
        ),
    ),
    Ask(
        id="fixed",
        label="The donor braid is fixed by",
        kind="choice",
        group=_HOW,
        required=False,
        options=options(
            ("", "whatever fits best"),
            ("solder", "solder sleeves"),
            ("spring", "constant-force springs"),
            ("ring", "crimp rings"),
        ),
    ),
    Ask(id="second", label="Two layers of donor braid", kind="yes", group=_HOW, required=False),
    Ask(
        id="end_pieces",
        label="End pieces over the outer sleeve",
        kind="choice",
        group=_HOW,
        required=False,
        hint="Of a higher ratio, over its cooled ends, where it does not close on a thin cable.",
        options=options(("", "none"), ("A", "on A"), ("B", "on B"), ("both", "on both ends")),
    ),
    Ask(
        id="pieces_wrap",
        label="They go round, instead of over the cable before it is joined",
        kind="yes",
        group=_HOW,
        required=False,
        when=When(ask="end_pieces", answers=["A", "B", "both"]),
        hint="Where the joint is closed already and was found open at an end.",
    ),
    Ask(id="cold_only", label="No heat of any kind is allowed there", kind="yes", group=_HOW, required=False),
)
