"""How a draft of round low-voltage cable becomes a joint file, and what is said of it on the way."""

from collections.abc import Iterator, Mapping
from typing import Any

from tinknot.core.families.asks import Reading
from tinknot.core.figures import mm2
from tinknot.core.joint.questions import Question, questions

SHEETS = {
    "straight-lv": "straight joint, low voltage",
    "tap-lv": "tap, low voltage",
}  # recipes of kit sheets for round cable
WORDS = {
    "sheath_od_mm": "the sheath is not measured yet",
    "insulation_od_mm": "this core's insulation is not measured yet",
    "area_mm2": "this core's conductor size is not known yet",
    "thickness_mm": "the armour is not measured yet",
    "bedding_od_mm": "the bedding under the armour is not measured yet",
    "wall_mm": "the wall of the lead is not measured yet",
    "inner_od_mm": "the inner sheath under the lead is not measured yet",
    "free_mm": "the free tail behind the sheath cut is not measured yet",
    "cores": "no core is entered yet",
}
_OWN = ("ends", "connector", "stagger_steps", "bundle_od_mm", "choice", "build")


def body(draft: Mapping[str, Any]) -> dict[str, Any]:
    """What of a draft the file is made of; an empty connector is none."""
    return {k: draft[k] for k in _OWN if k in draft and not (k == "connector" and draft[k] == {})}


def doubts(draft: Mapping[str, Any]) -> list[Question]:
    """Readings of the ends that cannot be."""
    return questions(draft.get("ends", {}))


def readings(draft: Mapping[str, Any]) -> Iterator[Reading]:
    """Sheaths and cores of both ends, those of a stand-in called so."""
    played = set(draft.get("simulated", []))

    def read(end: str, what: str, path: str, values: Mapping[str, Any], name: str) -> Reading:
        said = f"{what} (simulated)" if path in played else what
        value, across = values.get(f"{name}_mm", "–"), values.get(f"{name}_across_mm", "–")
        return Reading(where=end, what=said, value=str(value), across=str(across))

    for name, end in draft.get("ends", {}).items():
        yield read(name, "sheath", f"/ends/{name}/sheath_od", end, name="sheath_od")
        for n, core in enumerate(end.get("cores", [])):
            area = core.get("area_mm2")
            what = (
                f"core {core['name']} {core.get('colour', '')},"
                f" {'?' if area is None else format(mm2(area), 'g')} mm²"
            )
            yield read(name, what, f"/ends/{name}/cores/{n}/insulation_od", core, name="insulation_od")
