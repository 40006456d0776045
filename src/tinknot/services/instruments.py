"""The site's instruments: none until an admin adds one, and reading them at a place in the work. All that
can be added so far are stand-ins; they are called simulated wherever they are seen."""

from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path

from tinknot.core.errors import InputError, NotFound
from tinknot.core.model import Result
from tinknot.devices.calliper import SimulatedCalliper
from tinknot.devices.instruments import FAULTS, SimulatedInstrument, truth_of
from tinknot.devices.printer import TrayPrinter
from tinknot.services import joints, planning, settings
from tinknot.services.clock import now
from tinknot.store.database import db, writing

NAMES = {
    "calliper": "calliper",
    "tape": "measuring tape",
    "insulation-tester": "insulation tester",
    "low-ohm-meter": "low-resistance meter",
    "thermometer": "thermometer",
    "torque-driver": "torque driver",
    "printer": "label printer",
}
KINDS = tuple(NAMES)


class InstrumentOut(Result):
    """An instrument that is connected here; `simulated`: a stand-in, whose readings prove nothing."""

    kind: str
    name: str
    simulated: bool


class ReadingOut(Result):
    """A reading in the gate's unit, and the instrument it came from."""

    value: float
    unit: str
    instrument: str
    simulated: bool


def installed() -> list[InstrumentOut]:
    """The instruments of this site."""
    there = settings.get("instruments") or []
    return [InstrumentOut(kind=k, name=f"simulated {NAMES[k]}", simulated=True) for k in KINDS if k in there]


def install(kind: str, present: bool) -> list[InstrumentOut]:
    """Add an instrument's stand-in, or take it away. Raises InputError for a kind nobody knows."""
    if kind not in KINDS:
        raise InputError.at("/kind", f"must be one of {', '.join(KINDS)}")
    with writing():
        there = set(settings.get("instruments") or []) - {kind}
        settings.put("instruments", sorted(there | ({kind} if present else set())))
    return installed()


def simulated(read_by: Mapping[str, str]) -> str:
    """Of readings by gate, those that a stand-in gave. Raises InputError for an instrument that is not
    here."""
    there = {i.kind: i.simulated for i in installed()}
    for gate, kind in read_by.items():
        if kind not in there:
            raise InputError.at(f"/read_by/{gate}", f"{NAMES.get(kind, kind)} is no instrument of this site")
    return " ".join(sorted(gate for gate, kind in read_by.items() if there[kind]))


def _connected(kind: str) -> InstrumentOut | None:
    return next((i for i in installed() if i.kind == kind), None)


def _need(kind: str) -> InstrumentOut:
    found = _connected(kind)
    if found is None:
        raise NotFound(
            f"No {NAMES[kind]} is connected here. Type the reading, or have an admin add the instrument under"
            " Tools."
        )
    return found


def misbehave(kind: str, fault: str | None) -> None:
    """Tell a stand-in to misbehave, or to read again (None). Raises InputError for what it cannot do."""
    if kind not in KINDS:
        raise InputError.at("/kind", f"must be one of {', '.join(KINDS)}")
    if fault is not None and fault not in FAULTS:
        raise InputError.at("/fault", f"must be one of {', '.join(FAULTS)}, or null")
    with writing():
        settings.put("instrument-faults", _faults() | {kind: fault})


def _faults() -> dict[str, str | None]:
    return settings.get("instrument-faults") or {}


def printer() -> TrayPrinter:
    """The label printer's stand-in; its tray lies beside the database. Raises NotFound where there is
    none."""
    if _connected("printer") is None:
        raise NotFound("No label printer is connected here. Open the label and print it from there.")
    return TrayPrinter(Path(db.database).parent / "tray", _faults().get("printer"))


def across(about_mm: float, seed: str) -> tuple[float, float, bool]:
    """Two readings at 90° from the calliper, mm, and whether a stand-in made them up. Raises NotFound
    where there is none."""
    calliper = _need("calliper")
    first, second = SimulatedCalliper(about_mm, seed, _faults().get("calliper")).read_across()
    return first, second, calliper.simulated


def read(ref: str, step_id: str, gate_id: str, turn: int) -> ReadingOut:
    """What the instrument of this gate reads; `turn` counts the touches, each reads a little differently."""
    row = joints.row_of(ref)
    plan, progress = planning.plan_of(row), planning.progress_of(row)
    step = plan.step(step_id) if plan else None
    gate = next((g for g in step.gates if g.id == gate_id), None) if step else None
    if plan is None or progress is None or step is None or gate is None or not gate.instrument:
        raise NotFound(f"{ref} has nothing to be read by an instrument at {step_id}, {gate_id}.")
    instrument = _need(gate.instrument)
    moment = now()
    since = {
        s.id: (moment - datetime.fromisoformat(s.at).astimezone(UTC)).total_seconds() / 60
        for s in progress.steps
        if s.state == "done" and s.at
    }
    fault = _faults().get(gate.instrument)
    seed = f"{ref}:{step_id}:{gate_id}:{turn}"
    value = SimulatedInstrument(gate.instrument, truth_of(plan, step, gate, since), seed, fault).read()
    return ReadingOut(value=value, unit=gate.unit, instrument=gate.instrument, simulated=instrument.simulated)
