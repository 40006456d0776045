"""What a default of the rule book is, and where a person looks for it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

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


# the groups in the order of the work, each with the first words of its keys
GROUPS: Mapping[str, tuple[str, ...]] = {
    "Before anything is cut": ("voltage", "gas", "holds", "remake", "between"),
    "Cutting and stripping": ("cut", "stagger", "tolerance", "armour", "lead_sheath", "tap"),
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
    (
        "overlap",
        "stagger",
        "cut",
        "surface",
        "armour",
        "lead_sheath",
        "resin",
        "tape",
        "fire",
        "sleeve",
        "time",
    )
)
