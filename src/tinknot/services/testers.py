"""Readings that come as a file from a tester, laid beside what a step asks for."""

from tinknot.core.errors import NotFound
from tinknot.core.model import Result
from tinknot.exchange.tester_csv import readings_in
from tinknot.services import joints, planning


class FileReadingOut(Result):
    """A line of the file with the gate it is taken for. `values`: its figure in the unit of each gate it
    could be of; `guessed`: matched only by its place in the order; `why`: why it is not taken."""

    line: int
    label: str
    shown: str
    values: dict[str, float]
    gate: str
    guessed: bool
    over: bool
    why: str


def readings_of(ref: str, step_id: str, text: str) -> list[FileReadingOut]:
    """What of a tester's file would go where; nothing is stored. Raises NotFound for a step without readings,
    InputError for a file that holds none."""
    plan = planning.plan_of(joints.row_of(ref))
    step = plan.step(step_id) if plan else None
    if step is None or not step.gates:
        raise NotFound(f"{ref} has no readings to take at {step_id}.")
    return [FileReadingOut(**vars(r)) for r in readings_in(text, step.gates)]
