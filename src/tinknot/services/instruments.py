"""Reading an instrument at a place in the work."""

from datetime import UTC, datetime
from pathlib import Path

from tinknot.core.errors import InputError, NotFound
from tinknot.core.model import Result
from tinknot.devices.calliper import SimulatedCalliper
from tinknot.devices.instruments import FAULTS, SimulatedInstrument, truth_of
from tinknot.devices.printer import TrayPrinter
from tinknot.services import joints, planning, settings
from tinknot.services.clock import now
from tinknot.store.database import db

KINDS = ("calliper", "tape", "insulation-tester", "low-ohm-meter", "thermometer", "torque-driver", "printer")


class ReadingOut(Result):
    """A reading in the gate's unit, and the instrument it came from."""

    value: float
    unit: str
    instrument: str


def misbehave(kind: str, fault: str | None) -> None:
    """Tell a stand-in to misbehave, or to read again (None). Raises InputError for what it cannot do."""
    if kind not in KINDS:
        raise InputError.at("/kind", f"must be one of {', '.join(KINDS)}")
    if fault is not None and fault not in FAULTS:
        raise InputError.at("/fault", f"must be one of {', '.join(FAULTS)}, or null")
    settings.put("instrument-faults", _faults() | {kind: fault})


def _faults() -> dict[str, str | None]:
    return settings.get("instrument-faults") or {}


def printer() -> TrayPrinter:
    """The label printer's stand-in; its tray lies beside the database."""
    return TrayPrinter(Path(db.database).parent / "tray", _faults().get("printer"))


def across(about_mm: float, seed: str) -> tuple[float, float]:
    """Two readings at 90° from the calliper, mm."""
    return SimulatedCalliper(about_mm, seed, _faults().get("calliper")).read_across()


def read(ref: str, step_id: str, gate_id: str, turn: int) -> ReadingOut:
    """What the instrument of this gate reads; `turn` counts the touches, each reads a little differently."""
    row = joints.row_of(ref)
    plan, progress = planning.plan_of(row), planning.progress_of(row)
    step = plan.step(step_id) if plan else None
    gate = next((g for g in step.gates if g.id == gate_id), None) if step else None
    if plan is None or progress is None or step is None or gate is None or not gate.instrument:
        raise NotFound(f"{ref} has nothing to be read by an instrument at {step_id}, {gate_id}.")
    moment = now()
    since = {
        s.id: (moment - datetime.fromisoformat(s.at).astimezone(UTC)).total_seconds() / 60
        for s in progress.steps
        if s.state == "done" and s.at
    }
    fault = _faults().get(gate.instrument)
    seed = f"{ref}:{step_id}:{gate_id}:{turn}"
    value = SimulatedInstrument(gate.instrument, truth_of(plan, step, gate, since), seed, fault).read()
    return ReadingOut(value=value, unit=gate.unit, instrument=gate.instrument)
