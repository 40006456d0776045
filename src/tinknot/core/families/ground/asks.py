"""What is asked about a screen and the lead on it."""

from tinknot.core.families.asks import Ask, When, length, options
from tinknot.core.families.moulded.asks import service, sheath

_SCREEN, _CABLE, _LEAD, _EARTH = "The screen", "The cable there", "The lead", "The earth"


_BOOTED = When(ask="cover", answers=["boot"])
_WIRE, _FLAT = When(ask="lead", answers=["wire"]), When(ask="lead", answers=["braid"])

ASKS = (
    Ask(
        id="strip",
        label="Where the screen is laid bare",
        kind="choice",
        group=_SCREEN,
        options=options(
            ("end", "at the cable's end, the screen cut off there"),
            ("window", "in a window, the sheath taken off in a ring"),
        ),
    ),
    Ask(
        id="screen",
        label="Screen made of",
        kind="choice",
        group=_SCREEN,
        options=options(("braid", "braid"), ("foil", "foil with a drain wire")),
    ),
    Ask(
        id="fold",
        label="Fold the braid back over the sheath",
        kind="yes",
        group=_SCREEN,
        required=False,
        hint="At the cable's end. The solder then lies over the sheath, further from the cores.",
        when=When(ask="strip", answers=["end"]),
    ),
    Ask(
        id="plating",
        label="Its strands are",
        kind="choice",
        group=_SCREEN,
        required=False,
        when=When(ask="screen", answers=["braid"]),
        hint="Silver-grey and hard to solder is nickel.",
        options=options(
            ("tin", "tinned"), ("silver", "silvered"), ("nickel", "nickelled"), ("bare", "bare copper")
        ),
    ),
    Ask(
        id="method",
        label="The lead is fixed by",
        kind="choice",
        group=_SCREEN,
        required=False,
        options=options(
            ("", "whatever fits best"),
            ("solder", "a solder sleeve"),
            ("spring", "a constant-force spring"),
            ("ring", "a crimp ring"),
        ),
    ),
    Ask(
        id="cover",
        label="Over a lead that is held without solder goes",
        kind="choice",
        group=_SCREEN,
        required=False,
        options=options(
            ("", "a sleeve, or tape where none fits"),
            ("boot", "a moulded breakout: cable and lead each by a mouth of its own"),
        ),
    ),
    sheath("jacket", _SCREEN, _BOOTED),
    *service(_SCREEN, _BOOTED),
    Ask(
        id="cold_only",
        label="No heat of any kind is allowed there",
        kind="yes",
        group=_SCREEN,
        required=False,
    ),
    length("sheath_od_mm", "Sheath, diameter", _CABLE, 1.5, most=60),
    length(
        "sheath_od_across_mm",
        "Sheath, diameter at 90°",
        _CABLE,
        1.5,
        most=60,
        hint="Where it is not round.",
        required=False,
    ),
    length("screen_od_mm", "Over the bare screen, diameter", _CABLE, 1, most=58),
    length(
        "inside_od_mm",
        "Under the screen, diameter",
        _CABLE,
        0.8,
        most=56,
        hint="On the scrap you tried the stripper on.",
    ),
    Ask(
        id="bears_c",
        label="What lies under the screen bears for a short time",
        kind="number",
        unit="°C",
        group=_CABLE,
        hint="From its sheet. PVC bears about 105, cross-linked polyethylene about 150.",
        least=60,
        most=300,
    ),
    length(
        "ahead_mm",
        "From the cable's end to the bare screen",
        _CABLE,
        5,
        most=3000,
        hint="At the cable's end: how long the cores stand in front of the screen.",
    ),
    length(
        "clear_mm",
        "Straight, clear sheath behind it",
        _CABLE,
        10,
        most=5000,
        hint="Room to slide a part back.",
    ),
    Ask(
        id="landed",
        label="The cable's end sits in a gland or a connector already",
        kind="yes",
        group=_CABLE,
        required=False,
    ),
    Ask(
        id="lead",
        label="The lead is",
        kind="choice",
        group=_LEAD,
        options=options(
            ("wire", "an insulated wire of your own"),
            ("braid", "a flat braid of your own"),
            ("in-sleeve", "already in the solder sleeve"),
        ),
    ),
    length("lead_od_mm", "Lead, over its insulation", _LEAD, 0.8, most=12, when=_WIRE),
    length("lead_width_mm", "Flat braid, width", _LEAD, 2, most=40, when=_FLAT),
    length("lead_thickness_mm", "Flat braid, thickness", _LEAD, 0.3, most=5, when=_FLAT),
    Ask(
        id="lead_area_mm2",
        label="Lead, section",
        kind="number",
        unit="mm²",
        group=_LEAD,
        least=0.2,
        most=16,
    ),
    length("lead_length_mm", "Lead, length", _LEAD, 20, most=3000),
    Ask(
        id="exit",
        label="The lead leaves",
        kind="choice",
        group=_LEAD,
        options=options(("front", "toward the cable's end"), ("rear", "back along the sheath")),
    ),
    Ask(
        id="earthed",
        label="The screen is earthed",
        kind="choice",
        group=_EARTH,
        hint="Ask whoever owns the circuit. A second earth lets current run through the screen.",
        options=options(
            ("here", "only here, by this lead"),
            ("far", "at its far end already"),
            ("both", "at both ends, by design"),
            ("capacitor", "here through a capacitor, by design"),
        ),
    ),
    Ask(
        id="owner",
        label="Who decided that",
        kind="text",
        group=_EARTH,
        when=When(ask="earthed", answers=["both", "capacitor"]),
    ),
)
