"""The site's rule book: every default with its unit, its reason and its source. No default stands in code."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from tinknot.core.errors import FieldError, InputError
from tinknot.core.rulenames import NAMES


@dataclass(frozen=True)
class Rule:
    """One default: `low` and `high` bound what a site may set it to (numbers only)."""

    key: str
    value: Any
    unit: str
    why: str
    source: str
    low: float | None = None
    high: float | None = None

    @property
    def name(self) -> str:
        """What it is called."""
        return NAMES[self.key]

    @property
    def group(self) -> str:
        """Where a person looks for it."""
        return GROUP_OF[self.key.split(".")[0]]

    @property
    def sheet(self) -> bool:
        """Whether a kit sheet may set it: lengths and figures of the job, never a safety gate."""
        return isinstance(self.value, (int, float)) and self.key.split(".")[0] in _SHEET_FAMILIES


_SITE = "usual practice; no standard sets a figure"
# the groups in the order of the work, each with the first words of its keys
GROUPS: Mapping[str, tuple[str, ...]] = {
    "Before anything is cut": ("voltage", "gas", "holds", "remake", "between"),
    "Cutting and stripping": ("cut", "stagger", "tolerance", "armour", "tap"),
    "Threading and parking": ("park",),
    "Connectors": ("crimp", "connector"),
    "Sleeves: what passes and grips": ("slide", "grip", "sleeve", "overlap"),
    "Surfaces": ("surface",),
    "Tape, mastic and fillings": ("tape", "crutch"),
    "Earth, armour and screens": ("earth", "mesh", "sheath", "screen"),
    "Moulded parts and adhesives": ("boot", "adhesive"),
    "Resin": ("resin", "cure"),
    "Heat and cooling": ("heat", "cool"),
    "Fire": ("fire",),
    "Tests and proof": ("insulation", "continuity", "flex", "release"),
    "Heat trace": ("trace",),
    "What a place asks of its parts": ("duty",),
    "Times, for estimates": ("time",),
}
GROUP_OF = {first: group for group, names in GROUPS.items() for first in names}
_SHEET_FAMILIES = frozenset(
    ("overlap", "stagger", "cut", "surface", "armour", "resin", "tape", "fire", "sleeve", "time")
)
_RULES = (
    Rule("slide.pct", 5.0, "%", "room to slide a sleeve over what it must pass", _SITE, 0, 50),
    Rule("slide.min_mm", 0.5, "mm", "least room to slide, on thin things", _SITE, 0, 10),
    Rule("grip.pct", 10.0, "%", "a recovered sleeve must still squeeze what it seals on", _SITE, 0, 50),
    Rule("sleeve.squareness_mm", 2.0, "mm", "a cut is never quite square", _SITE, 0, 20),
    Rule(
        "overlap.core_min_mm", 10.0, "mm", "core sleeve onto insulation, each side, at least", _SITE, 0, 200
    ),
    Rule("overlap.core_per_od", 1.0, "× insulation OD", "a thicker core needs a longer seal", _SITE, 0, 10),
    Rule(
        "overlap.outer_min_mm", 40.0, "mm", "outer seal onto the sheath, each side, at least", _SITE, 0, 500
    ),
    Rule("overlap.outer_per_od", 1.5, "× sheath OD", "a thicker cable needs a longer seal", _SITE, 0, 10),
    Rule(
        "stagger.clear_core_mm",
        15.0,
        "mm",
        "clear core between sheath cut and the nearest core sleeve",
        _SITE,
        0,
        200,
    ),
    Rule(
        "stagger.between_mm", 5.0, "mm", "between the core sleeves of neighbouring positions", _SITE, 0, 100
    ),
    Rule("stagger.butt_gap_mm", 0.0, "mm", "stop inside a barrel that keeps the ends apart", _SITE, 0, 50),
    Rule("park.keep_away_crimp_mm", 10.0, "mm", "a parked part stays clear of the crimp tool", _SITE, 0, 200),
    Rule(
        "park.keep_away_heat_mm", 30.0, "mm", "a parked part stays clear of an iron or a flame", _SITE, 0, 300
    ),
    Rule("park.between_mm", 10.0, "mm", "between parts parked on one tail", _SITE, 0, 100),
    Rule("cut.tolerance_mm", 2.0, "mm", "layers and core lengths", _SITE, 0.1, 20),
    Rule("cut.strip_tolerance_mm", 1.0, "mm", "conductor strip", _SITE, 0.1, 5),
    Rule("cut.strip_extra_mm", 1.0, "mm", "bare conductor that may show outside the barrel", _SITE, 0, 5),
    Rule(
        "cut.spare_mm", 5.0, "mm", "cores left long when the sheath comes off, trimmed after", _SITE, 0, 100
    ),
    Rule("surface.beyond_mm", 10.0, "mm", "sheath roughened this far past the outer sleeve", _SITE, 0, 100),
    Rule("surface.grit", 120, "grit", "abrasive for the seal on the sheath", _SITE, 40, 400),
    Rule(
        "voltage.ceiling_v",
        1000,
        "V",
        "cables that need stress control are beyond this tool",
        "domain of low voltage, IEC 60364",
        50,
        3300,
    ),
    Rule("sheath.test_v", 500, "V DC", "armour to earth, once the joint is closed", _SITE, 100, 5000),
    Rule("sheath.limit_mohm", 1.0, "MΩ", "armour to earth: less lets the ground in", _SITE, 0.01, 1000),
    Rule("insulation.test_v", 500, "V DC", "circuits up to 500 V", "IEC 60364-6, table 6.1", 250, 2500),
    Rule("insulation.test_low_v", 250, "V DC", "circuits up to 50 V", "IEC 60364-6, table 6.1", 50, 500),
    Rule("insulation.test_high_v", 1000, "V DC", "circuits above 500 V", "IEC 60364-6, table 6.1", 250, 2500),
    Rule(
        "insulation.limit_mohm",
        1.0,
        "MΩ",
        "least insulation resistance of a circuit",
        "IEC 60364-6, table 6.1",
        0.1,
        10000,
    ),
    Rule(
        "continuity.limit_ohm", 0.5, "Ω", "end to end of one core, lead resistance nulled", _SITE, 0.001, 100
    ),
    Rule(
        "continuity.length_m",
        100.0,
        "m",
        "of thin cores, whose own resistance counts, where the card does not name the cable's length",
        _SITE,
        1,
        10000,
    ),
    Rule("cool.touch_c", 40.0, "°C", "cool enough to touch, flex and test", _SITE, 20, 60),
    Rule("cool.start_c", 110.0, "°C", "a sleeve just shrunk, right through", _SITE, 60, 300),
    Rule(
        "cool.loss_w_m2k",
        12.0,
        "W/(m²·K)",
        "heat given off in still air, radiation included",
        "physics of free convection",
        2,
        100,
    ),
    Rule(
        "heat.share",
        0.5,
        "of the way",
        "the gun is set between where the sleeve shrinks and where it scorches",
        _SITE,
        0.1,
        0.9,
    ),
    Rule(
        "heat.above_c",
        60.0,
        "°C",
        "above where it shrinks, when nobody knows where it scorches",
        _SITE,
        5,
        200,
    ),
    Rule("surface.flash_min", 1.0, "min", "solvent flashes off before heat comes near it", _SITE, 0, 60),
    Rule(
        "surface.open_min",
        60.0,
        "min",
        "a cleaned and roughened sheath gathers dirt and damp again",
        _SITE,
        1,
        1440,
    ),
    Rule(
        "tolerance.accept",
        ["distance", "roughened"],
        "figures",
        "outside its tolerance it may stay with a reason; a conductor strip may not",
        _SITE,
    ),
    Rule(
        "connector.resistance_factor",
        1.5,
        "× equal length",
        "a sound crimp is no worse than a little more conductor",
        "IEC 61238-1, in spirit",
        1,
        10,
    ),
    Rule(
        "insulation.halving_c",
        10.0,
        "°C",
        "insulation resistance halves for each of these hotter",
        "physics of polymer conduction",
        1,
        100,
    ),
    Rule(
        "insulation.trend_share",
        0.2,
        "of the reading before",
        "a fall below this after sealing is looked at again",
        _SITE,
        0,
        1,
    ),
    Rule(
        "gas.limit_lel_pct",
        1.0,
        "% LEL",
        "more is not gas-free: no heat source of any kind",
        "IEC 60079-14, in spirit",
        0,
        10,
    ),
    Rule("tap.between_mm", 100.0, "mm", "between tap connectors along the main", _SITE, 10, 2000),
    Rule("tap.cap_mm", 30.0, "mm", "end cap onto the tap's insulation", _SITE, 5, 200),
    Rule(
        "tap.sheath_mm",
        300.0,
        "mm",
        "sheath off the tap, so that its cores reach their connectors",
        _SITE,
        20,
        5000,
    ),
    Rule(
        "release.inspect_days", 30, "days", "a joint released with a limit is looked at again", _SITE, 1, 3650
    ),
    Rule(
        "remake.spare_mm",
        10.0,
        "mm",
        "cable lost on each side when a joint is cut out, beside its own length",
        _SITE,
        0,
        500,
    ),
    Rule(
        "armour.bedding_mm",
        60.0,
        "mm",
        "bedding left bare between the armour's fold and the crutch",
        _SITE,
        10,
        500,
    ),
    Rule(
        "armour.fold_mm", 40.0, "mm", "armour bent back over the sheath, for strap and clamp", _SITE, 10, 300
    ),
    Rule("armour.tolerance_mm", 3.0, "mm", "cuts of armour and bedding", _SITE, 0.5, 20),
    Rule(
        "overlap.bedding_min_mm",
        25.0,
        "mm",
        "inner sleeve onto the bedding, each side, at least",
        _SITE,
        0,
        300,
    ),
    Rule(
        "earth.start_c",
        70.0,
        "°C",
        "a strap beside loaded conductors starts as hot as they are",
        "IEC 60364-5-54, table A.54.4",
        10,
        120,
    ),
    Rule(
        "earth.end_c",
        160.0,
        "°C",
        "solder and polymer round the strap are the weakest of the path",
        "IEC 60364-5-54, table A.54.4",
        80,
        500,
    ),
    Rule(
        "earth.least_mm2",
        6.0,
        "mm²",
        "no strap thinner, whatever the fault",
        "IEC 60364-5-54, 543.1.3 in spirit",
        1,
        200,
    ),
    Rule(
        "earth.resistance_factor",
        1.1,
        "× the cable's own",
        "strap against armour over the same length",
        _SITE,
        1,
        10,
    ),
    Rule("earth.limit_ohm", 0.1, "Ω", "earth path over the joint, lead resistance nulled", _SITE, 0.001, 10),
    Rule(
        "tape.insulation_factor",
        1.5,
        "× the core's insulation",
        "wound insulation is thicker than extruded",
        _SITE,
        1,
        5,
    ),
    Rule(
        "tape.insulation_high_factor",
        3.0,
        "× the core's insulation",
        "the same above 1 kV, unscreened",
        _SITE,
        1,
        10,
    ),
    Rule(
        "connector.bore_most",
        1.4,
        "× the conductor",
        "a wider barrel folds instead of pressing",
        _SITE,
        1.05,
        3,
    ),
    Rule("tape.mica_passes", 2, "passes", "mica keeps a circuit alive in fire", _SITE, 1, 10),
    Rule("tape.mastic_over_mm", 20.0, "mm", "mastic over a step of the profile, each side", _SITE, 5, 200),
    Rule(
        "crimp.pull_copper_n_per_mm2",
        60.0,
        "N/mm²",
        "pull that a crimp on copper holds",
        "IEC 61238-1-1, tensile test",
        0,
        200,
    ),
    Rule(
        "crimp.pull_aluminium_n_per_mm2",
        40.0,
        "N/mm²",
        "pull that a crimp on aluminium holds",
        "IEC 61238-1-1, tensile test",
        0,
        200,
    ),
    Rule(
        "crimp.pull_most_n",
        20000.0,
        "N",
        "no more is asked of a thick conductor",
        "IEC 61238-1-1, tensile test",
        0,
        100000,
    ),
    Rule("crutch.depth_mm", 20.0, "mm", "mastic pressed in where the cores part", _SITE, 5, 100),
    Rule(
        "screen.bare_mm", 10.0, "mm", "screen laid bare for a lead: solder and lead lie on it", _SITE, 2, 60
    ),
    Rule("screen.fold_min_mm", 8.0, "mm", "braid folded back over the sheath, at least", _SITE, 2, 60),
    Rule("screen.fold_per_od", 1.0, "× sheath OD", "a thicker cable needs a longer fold", _SITE, 0, 5),
    Rule("screen.coverage_pct", 85.0, "%", "least cover of a donor braid as it lies", _SITE, 10, 100),
    Rule("screen.donor_spare_mm", 30.0, "mm", "donor braid cut longer, trimmed in place", _SITE, 0, 200),
    Rule("screen.foil_beyond_mm", 15.0, "mm", "foil wrapped past both edges", _SITE, 0, 100),
    Rule(
        "screen.lays_left", 2.0, "lays", "of a unit that may stay untwisted beside its splices", _SITE, 0, 20
    ),
    Rule("screen.lap_mm", 8.0, "mm", "conductors side by side in a soldered lap", _SITE, 2, 60),
    Rule("screen.hook_mm", 5.0, "mm", "a closed hook of a soldered splice", _SITE, 2, 60),
    Rule(
        "screen.half_most_mm2",
        0.5,
        "mm²",
        "half of the strands may be left out in laps of fine signal conductors only",
        _SITE,
        0,
        4,
    ),
    Rule("screen.fillet_mm", 4.0, "mm", "solder seen along the lead, at least", _SITE, 0, 50),
    Rule(
        "screen.lead_least_mm2", 0.5, "mm²", "a thinner lead breaks, and is a lighter earth", _SITE, 0.05, 50
    ),
    Rule(
        "screen.resistance_factor",
        1.1,
        "×",
        "what is joined against the same length that is sound",
        _SITE,
        1,
        5,
    ),
    Rule("screen.contact_mohm", 1.0, "mΩ", "a contact on a screen, read with four wires", _SITE, 0.01, 100),
    Rule("boot.band_mm", 12.0, "mm", "adhesive on sound jacket at a mouth, at least", _SITE, 2, 100),
    Rule("boot.screen_mohm", 5.0, "mΩ", "screen to fitting, before a boot hides it", _SITE, 0.1, 100),
    Rule("boot.by_hand_mm", 6.0, "mm", "a thinner cable is bent by hand, not over a mandrel", _SITE, 0, 20),
    Rule("adhesive.thickness_mm", 0.5, "mm", "paste laid on in a band", _SITE, 0.1, 5),
    Rule("adhesive.waste_pct", 20.0, "%", "paste squeezed out, and the first bead", _SITE, 0, 200),
    Rule("adhesive.turns", 1, "turns", "of hot-melt tape at a mouth", _SITE, 1, 10),
    Rule("adhesive.tape_overlap_mm", 5.0, "mm", "hot-melt tape over its own beginning", _SITE, 0, 50),
    Rule("adhesive.shows_pct", 50.0, "%", "of the tape's width left to see at a mouth", _SITE, 0, 100),
    Rule("adhesive.shows_within_pct", 10.0, "%", "more or less of it may show", _SITE, 0, 50),
    Rule(
        "adhesive.wipe_c",
        60.0,
        "°C",
        "hotter, squeezed-out paste burns the cloth's fluid off",
        _SITE,
        20,
        120,
    ),
    Rule("adhesive.bead_first_mm", 50.0, "mm", "the first of a nozzle is not mixed well", _SITE, 0, 500),
    Rule("adhesive.warm_c", 40.0, "°C", "a warm box round the part", _SITE, 20, 80),
    Rule("adhesive.oven_c", 60.0, "°C", "an oven, or a heated jacket", _SITE, 30, 150),
    Rule(
        "adhesive.lined_service_c", 70.0, "°C", "a lining that melts goes soft well below that", _SITE, 0, 200
    ),
    Rule(
        "adhesive.tape_service_c",
        70.0,
        "°C",
        "hot-melt tape goes soft well below where it melts",
        _SITE,
        0,
        200,
    ),
    Rule("adhesive.paste_service_c", 100.0, "°C", "two-part paste where no sheet says", _SITE, 0, 300),
    Rule("adhesive.sealant_service_c", 90.0, "°C", "sealant where no sheet says", _SITE, 0, 300),
    Rule(
        "adhesive.lined_on",
        ["pvc", "rubber", "polyurethane", "polyolefin"],
        "sheaths",
        "what a lining holds on",
        _SITE,
    ),
    Rule("adhesive.tape_on", ["pvc", "rubber", "polyurethane"], "sheaths", "what hot melt holds on", _SITE),
    Rule("adhesive.paste_on", ["pvc", "rubber", "polyurethane"], "sheaths", "what paste holds on", _SITE),
    Rule("adhesive.sealant_on", ["pvc", "rubber", "polyurethane"], "sheaths", "what sealant holds on", _SITE),
    Rule(
        "adhesive.lined_against",
        ["dry", "damp", "buried", "uv", "moving"],
        "duties",
        "what it is good for",
        _SITE,
    ),
    Rule(
        "adhesive.tape_against",
        ["dry", "damp", "buried", "uv", "moving"],
        "duties",
        "what it is good for",
        _SITE,
    ),
    Rule(
        "adhesive.paste_against",
        ["dry", "damp", "buried", "immersed", "oil", "uv", "moving", "hazardous"],
        "duties",
        "what it is good for",
        _SITE,
    ),
    Rule("adhesive.sealant_against", ["dry", "damp", "uv"], "duties", "what it is good for", _SITE),
    Rule("mesh.metal_share", 0.3, "of its volume", "how much of a wound mesh is metal", _SITE, 0, 1),
    Rule("sleeve.shoulder_ratio", 2.0, "to 1", "a steeper step asks for a fill of mastic", _SITE, 1, 10),
    Rule("sleeve.piece_overlap_mm", 25.0, "mm", "a second piece over a first", _SITE, 5, 200),
    Rule("fire.beyond_mm", 50.0, "mm", "fire barrier past the sealed sleeve, each side", _SITE, 0, 500),
    Rule("resin.waste_pct", 8.0, "%", "resin that stays in the pack", _SITE, 0, 99),
    Rule("resin.end_clear_mm", 0.5, "mm", "a shell's end stage just clears the sheath", _SITE, 0, 20),
    Rule("resin.end_most_mm", 8.0, "mm", "wider than this an end cannot be taped tight", _SITE, 1, 50),
    Rule("resin.cover_mm", 10.0, "mm", "resin between a connector and the shell", _SITE, 1, 100),
    Rule("resin.core_gap_mm", 5.0, "mm", "cores held apart so that resin flows between", _SITE, 0, 50),
    Rule("resin.sheath_in_mm", 30.0, "mm", "sheath inside the shell, each side, at least", _SITE, 5, 300),
    Rule("resin.spacer_mm", 80.0, "mm", "a spacer for each of these, two at least", _SITE, 10, 500),
    Rule("resin.spacer_ml", 3.0, "ml", "what one spacer keeps free of resin", _SITE, 0, 100),
    Rule("resin.pour_ml_min", 400.0, "ml/min", "one person pours slowly, or air stays in", _SITE, 10, 10000),
    Rule("cure.handle", 0.5, "degree of cure", "it may be handled and the mould moved", _SITE, 0.1, 1),
    Rule("cure.energise", 1.0, "degree of cure", "tested and energised only when full", _SITE, 0.5, 1),
    Rule("flex.multiple", 6.0, "× cable OD", "mandrel of the bond proof where no sheet says", _SITE, 1, 100),
    Rule(
        "flex.largest_mm", 400.0, "mm", "largest mandrel at hand; they come in steps of ten", _SITE, 20, 5000
    ),
    Rule("between.joints_mm", 300.0, "mm", "free cable between two joints of an insert", _SITE, 0, 5000),
    Rule(
        "duty.hazardous",
        ["hydrocarbon-resistant"],
        "properties",
        "fuel and vapour where it lies",
        "IEC 60079-14, in spirit",
    ),
    Rule(
        "trace.tolerance_mm",
        2.0,
        "mm",
        "cuts of a flat cable where the sheet gives no tolerance",
        _SITE,
        0.1,
        20,
    ),
    Rule("trace.pinch_s", 25.0, "s", "a pinched end is held until it has set", _SITE, 1, 600),
    Rule(
        "trace.pinch_mm",
        10.0,
        "mm",
        "tube past the end, or past the seal inside it, so that it can be pinched",
        _SITE,
        1,
        100,
    ),
    Rule("trace.soft_min", 1.0, "min", "a tube just shrunk stays soft enough to pinch", _SITE, 0.1, 10),
    Rule("trace.tape_mm", 0.4, "mm", "tape half-lapped, one side, where no sheet says", _SITE, 0.05, 10),
    Rule("trace.moulded_mm", 1.5, "mm", "wall of a moulded boot or cap, where no sheet says", _SITE, 0.2, 20),
    Rule(
        "trace.spare_mm", 10.0, "mm", "cable lost to a square cut, beside what the cuts take", _SITE, 0, 200
    ),
    Rule(
        "trace.least_loop_mm",
        150.0,
        "mm",
        "loop that stays at an end for expansion, where no sheet says",
        _SITE,
        0,
        5000,
    ),
    Rule(
        "trace.test_v",
        2500,
        "V DC",
        "heat-trace cable whose data allow it",
        "IEC/IEEE 60079-30-2, site practice",
        500,
        2500,
    ),
    Rule(
        "trace.test_least_v",
        500,
        "V DC",
        "heat-trace cable of whose data nothing is known",
        "IEC/IEEE 60079-30-2, site practice",
        500,
        1000,
    ),
    Rule(
        "trace.limit_mohm",
        20.0,
        "MΩ",
        "least insulation resistance of a heat-trace circuit",
        "IEC/IEEE 60079-30-2, site practice",
        1,
        10000,
    ),
    Rule(
        "holds.second_person",
        ["released"],
        "holds",
        "signed by somebody who did not do the work",
        "design of the record",
    ),
    Rule("duty.buried", ["lined"], "properties", "ground water finds every gap", _SITE),
    Rule("duty.immersed", ["lined"], "properties", "standing water finds every gap", _SITE),
    Rule("duty.damp", ["lined"], "properties", "damp creeps along the strands", _SITE),
    Rule("duty.oil", ["oil-resistant"], "properties", "oil softens some polymers", _SITE),
    Rule("duty.uv", ["uv-resistant"], "properties", "sunlight embrittles some polymers", _SITE),
    Rule(
        "duty.fire",
        ["zero-halogen", "flame-retardant"],
        "properties",
        "smoke and flame where people walk",
        _SITE,
    ),
    Rule("duty.dry", [], "properties", "no water expected", _SITE),
    Rule("duty.moving", [], "properties", "a splice is weak in pull and bend: relieve it", _SITE),
    Rule("time.base_min", 20.0, "min", "set up, isolate, measure, label, sign", _SITE, 0, 600),
    Rule("time.end_min", 4.0, "min", "sheath off and cleaned, each end", _SITE, 0, 120),
    Rule("time.core_min", 5.0, "min", "cut, strip, park, crimp and sleeve, each core", _SITE, 0, 120),
    Rule("time.outer_min", 12.0, "min", "abrade, slide, shrink the outer sleeve", _SITE, 0, 120),
    Rule("time.cover_min", 8.0, "min", "shrink or wrap one more cover", _SITE, 0, 120),
    Rule("time.bond_min", 12.0, "min", "armour folded back, strap clamped", _SITE, 0, 120),
    Rule("time.unit_min", 6.0, "min", "one unit spliced, shrunk and looked at", _SITE, 0, 120),
    Rule("time.boot_min", 15.0, "min", "a moulded part cleaned, put on, shrunk and looked at", _SITE, 0, 240),
    Rule("time.mouth_min", 5.0, "min", "each of its mouths roughened and made tight", _SITE, 0, 120),
    Rule("time.screen_min", 8.0, "min", "a lead laid on a bare screen and fixed", _SITE, 0, 120),
    Rule("time.shell_min", 15.0, "min", "roughen, cut and close a shell", _SITE, 0, 240),
    Rule("time.tape_min_per_m", 1.5, "min/m", "tape wound with care", _SITE, 0, 60),
    Rule("time.tap_min", 6.0, "min", "one insulation-piercing connector and its cap", _SITE, 0, 120),
    Rule("time.trace_layer_min", 3.0, "min", "one layer of a heat-trace end", _SITE, 0, 120),
    Rule("time.position_min", 3.0, "min", "each further stagger position", _SITE, 0, 120),
)

DEFAULTS: Mapping[str, Rule] = {rule.key: rule for rule in _RULES}


@dataclass(frozen=True)
class RuleBook:
    """The defaults with the site's own values laid over them."""

    own: Mapping[str, Any]

    @classmethod
    def of(cls, own: Mapping[str, Any] | None = None) -> "RuleBook":
        """A rule book with `own` values; raises InputError naming each value that cannot be."""
        faults = []
        for key, value in (own or {}).items():
            rule = DEFAULTS.get(key)
            path = "/" + key.replace("~", "~0").replace("/", "~1")
            if rule is None:
                faults.append(FieldError(path, "is no rule of the rule book"))
            elif isinstance(rule.value, list):
                if not (isinstance(value, list) and all(isinstance(v, str) for v in value)):
                    faults.append(FieldError(path, "must be a list of names"))
            elif isinstance(value, bool) or not isinstance(value, (int, float)):
                faults.append(FieldError(path, f"must be a number in {rule.unit}"))
            elif not ((rule.low is None or value >= rule.low) and (rule.high is None or value <= rule.high)):
                faults.append(FieldError(path, f"must be between {rule.low:g} and {rule.high:g} {rule.unit}"))
        if faults:
            raise InputError(*faults)
        return cls(dict(own or {}))

    @cached_property
    def _values(self) -> dict[str, Any]:
        return {key: rule.value for key, rule in DEFAULTS.items()} | dict(self.own)

    def __getitem__(self, key: str) -> Any:
        return self._values[key]

    def number(self, key: str) -> float:
        """The number of rule `key`, in its unit."""
        return float(self[key])

    def names(self, key: str) -> tuple[str, ...]:
        """The names rule `key` lists."""
        return tuple(self[key])
