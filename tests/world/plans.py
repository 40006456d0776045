"""Plans of the examples that fit, as the world plays them, and what was found before the work."""

from collections.abc import Sequence
from functools import cache
from pathlib import Path

from tinknot.core.families.file import file_of
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Step
from tinknot.core.planning.playing import staged
from tinknot.core.world.found import Found
from tinknot.core.world.play import play

Told = set[tuple[int, str, str, str]]
Plan = tuple[list[Step], Found]
EXAMPLES = {p.stem: p for p in sorted(Path("examples").glob("*.json")) if "nothing-fits" not in p.stem}


@cache
def planned(name: str) -> Plan:
    """The plan of an example."""
    found = of_file(file_of(EXAMPLES[name].read_bytes()))
    assert found is not None
    return found


def of_file(joint: JointHead) -> Plan | None:
    """The plan of a joint; None where nothing fits. Raises InputError."""
    ready = staged(joint)
    return None if ready is None else (ready.steps, ready.found)


def told(steps: Sequence[Step], found: Found, shown: bool = True) -> Told:
    """What is broken: law, step, place, words."""
    return {(b.law, b.step, b.place, b.words) for b in play(steps, found, shown)}
