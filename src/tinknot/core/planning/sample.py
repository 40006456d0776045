"""A kit sheet of a low-voltage joint tried on a cable in the middle of what it serves, before any is
measured: which steps such a joint has, and whether the sheet's own steps find their places among them."""

from math import pi, sqrt
from typing import Any

from tinknot.core.errors import InputError
from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.file import JointFile
from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.model import Result, parse
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import Doubt

AREAS_MM2 = (0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120, 150, 185, 240, 300)  # IEC 60228
COLOURS = ("brown", "black", "grey", "blue", "green-yellow")
WIRE_MM, BEDDING_MM, SHEATH_MM = 1.25, 1.5, 1.8  # walls of the sample's armour, bedding and sheath


class StepName(Result):
    """A step of a joint, by its stamp and its words."""

    id: str
    title: str


def sheet_steps(sheet: KitSheet, rules: RuleBook) -> tuple[list[StepName], list[Doubt]]:
    """The recipe's own steps on a sample cable, in their order, and what of the sheet does not find its place
    there. Where the sample cannot be planned with this sheet, both say why."""
    plain = sheet.model_copy(update={"steps": [], "parts": {}})
    try:
        found = plan_joint(sample_joint(plain), rules).steps
    except InputError as fault:
        return [], _doubts(fault)
    first = next((s.core for s in found if s.core), "")  # steps of every core are named by the first one's
    steps = [StepName(id=s.id, title=s.title) for s in found if s.core in ("", first)]
    if not sheet.steps:
        return steps, []
    try:
        plan_joint(sample_joint(sheet.model_copy(update={"parts": {}})), rules)
    except InputError as fault:
        return steps, _doubts(fault)
    return steps, []


def _doubts(fault: InputError) -> list[Doubt]:
    found = []
    for e in fault.errors:
        own = e.path.startswith("/sheet/")
        words = e.message if own else f"does not go on a cable in the middle of what it serves: {e.message}"
        found.append(Doubt(path=e.path.removeprefix("/sheet") if own else "/serves", message=words))
    return found


def sample_joint(sheet: KitSheet) -> JointFile:
    """A joint of the sheet's recipe on a cable in the middle of what it serves, with everything in stock."""
    s, tap = sheet.serves, sheet.recipe == "tap-lv"
    count = min(max(3, s.cores_least), s.cores_most)
    area = _size(s.area_least_mm2, s.area_most_mm2)
    cable = _end(count, area, s.armoured is not False and not tap, s.sheath_least_mm, high=s.sheath_most_mm)
    body = {
        "format": "tinknot-joint",
        "version": 1,
        "family": sheet.recipe,
        "rated_voltage_v": min(400.0, s.voltage_most_v or 400.0),
        "ambient_c": 15,
        "ends": {"A": cable, "B": cable},
        "stock": _stock(area, cable["cores"][0]["insulation_od_mm"], cable["sheath_od_mm"]),
    }
    return parse(JointFile, body).model_copy(update={"sheet": sheet.model_copy(update={"state": "checked"})})


def _size(low: float | None, high: float | None) -> float:
    """The standard size nearest the middle of what is served, mm²."""
    least, most = low or 0.5, high or 300.0
    middle = sqrt(least * most) if low or high else 10.0
    served = [a for a in AREAS_MM2 if least <= a <= most] or [least]
    return min(served, key=lambda a: abs(a - middle))


def _end(count: int, area: float, armoured: bool, low: float | None, high: float | None) -> dict[str, Any]:
    """A cable of this many cores as they are commonly made, its sheath within what is served."""
    core = 1.16 * sqrt(4 * area / pi) + 1.6 + 0.02 * sqrt(area)
    laid_up = bundle([core] * count).enclosing_diameter_mm
    bedding = laid_up + 2 * BEDDING_MM
    made = (bedding + 2 * WIRE_MM if armoured else laid_up) + 2 * SHEATH_MM
    sheath = min(max(made, low or 0.0), max(high or made, laid_up + 1.0))
    end: dict[str, Any] = {
        "sheath_od_mm": sheath,
        "free_mm": 3000,
        "slack_mm": 300,
        "cores": [
            {"name": str(n + 1), "colour": COLOURS[-1 if n == count - 1 else n], "insulation_od_mm": core}
            | {"area_mm2": area}
            for n in range(count)
        ],
    }
    return end | {"armour": {"thickness_mm": WIRE_MM, "bedding_od_mm": bedding}} if armoured else end


def _stock(area: float, core: float, sheath: float) -> dict[str, Any]:
    """One of everything, of sizes that go with the sample."""

    def sleeve(part: str, opens: float, **more: Any) -> dict[str, Any]:
        own = {"id": part, "expanded_id_mm": opens, "recovered_id_mm": opens / 4, "recovered_wall_mm": 1.5}
        return own | {"on_hand_mm": 9000} | more

    wide = {"area_least_mm2": 0.5, "area_most_mm2": 300.0, "metals": ["copper", "aluminium"], "on_hand": 20}
    od = core * 1.3
    return {
        "sleeves": [
            sleeve("core", 2.2 * core),
            sleeve("inner", 1.6 * sheath),
            sleeve("outer", 2.4 * sheath, lined=True, stiff=True),
            sleeve("wrap", 2.6 * sheath, form="wrap-around", lined=True, stock_length_mm=2000),
            sleeve("fire", 2.4 * sheath, form="barrier"),
            sleeve("cap", 1.6 * core, form="cap", lined=True, stock_length_mm=60),
        ],
        "connectors": [
            {"id": "crimp", "od_mm": od, "length_mm": 40, "insertion_mm": 18, "growth_mm": 1} | wide,
            {"id": "screw", "kind": "mechanical", "od_mm": od * 1.2, "length_mm": 50, "insertion_mm": 22}
            | {"bolts": 2}
            | wide,
            {"id": "pierce", "kind": "piercing", "od_mm": od * 1.6, "length_mm": 42, "insertion_mm": 30}
            | {"tap_area_least_mm2": 0.5, "tap_area_most_mm2": 300.0}
            | wide,
        ],
        "tapes": [
            {"id": kind, "kind": kind, "width_mm": 19, "thickness_mm": 0.8, "roll_mm": 90000, "on_hand": 9}
            | ({"stretch": 2} if kind == "self-amalgamating" else {})
            for kind in ("self-amalgamating", "mastic", "mica")
        ],
        "shells": [
            {
                "id": "shell",
                "body_length_mm": 900,
                "body_inside_mm": 3 * sheath + 20,
                "on_hand": 2,
                "stages": [
                    {"length_mm": 40, "inside_diameter_mm": sheath * k} for k in (1.05, 1.4, 1.9, 2.5)
                ],
            }
        ],
        "resins": [
            {
                "id": "resin",
                "volume_ml": 20000,
                "pot_life": [{"temperature_c": 5, "minutes": 70}, {"temperature_c": 20, "minutes": 25}],
                "cure": [{"temperature_c": 5, "minutes": 1440}, {"temperature_c": 20, "minutes": 300}],
                "least_temperature_c": 2,
                "mix_minutes": 3,
                "on_hand": 9,
            }
        ],
        "straps": [
            {"id": "strap", "area_mm2": 50, "width_mm": 20, "thickness_mm": 2, "length_mm": 3000}
            | {"on_hand": 9}
        ],
        "clamps": [{"id": "spring", "od_least_mm": 2, "od_most_mm": 200, "thickness_mm": 0.6, "on_hand": 9}],
        "meshes": [{"id": "mesh", "width_mm": 50, "thickness_mm": 0.6, "roll_mm": 90000, "on_hand": 9}],
    }
