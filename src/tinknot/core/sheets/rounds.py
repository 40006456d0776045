"""What does not add up in the sheet of a low-voltage kit."""

from collections import Counter
from collections.abc import Iterator

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.sheets.doubt import Doubt


def ranges_agree(sheet: KitSheet) -> Iterator[Doubt]:
    """What the kit serves: conductors and sheaths are said, and no range runs backward."""
    s = sheet.serves
    for key, low, high, said in (
        ("cores", s.cores_least, s.cores_most, ""),
        ("area", s.area_least_mm2, s.area_most_mm2, "conductors, mm²"),
        ("sheath", s.sheath_least_mm, s.sheath_most_mm, "sheaths, mm"),
    ):
        unit = {"cores": "", "area": "_mm2", "sheath": "_mm"}[key]
        path = f"/serves/{key}_most{unit}"
        if low is not None and high is not None and low > high:
            yield Doubt(path=path, message="must not be under the least")
        if said and low is None and high is None:
            yield Doubt(path=path, message=f"is missing: say which {said}, the kit serves")


def steps_named_once(sheet: KitSheet) -> Iterator[Doubt]:
    """Two steps of one stamp would be one step in the record."""
    counted = Counter(s.id for s in sheet.steps)
    for i, step in enumerate(sheet.steps):
        if counted[step.id] > 1:
            yield Doubt(path=f"/steps/{i}/id", message=f"{step.id} stands twice; give one another stamp")
