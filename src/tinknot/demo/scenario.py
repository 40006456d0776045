"""The Skarn funicular, built through the same calls a user's clicks make."""

import json
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from hashlib import sha256
from pathlib import Path
from random import Random
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from tinknot.core.model import parse
from tinknot.core.plan.steps import GateOut, StepOut
from tinknot.core.work.events import EventIn, person_mark
from tinknot.core.work.toolsdates import tool_kinds
from tinknot.demo.moulded import MOULDED
from tinknot.demo.signals import SIGNALS
from tinknot.demo.sites import COLOURS, JOINTS, Site
from tinknot.devices.camera import made_up_picture
from tinknot.services import (
    accounts,
    building,
    checkpoints,
    instruments,
    joints,
    photos,
    pins,
    planning,
    sheets,
    site,
    stock_csv,
    tools,
)
from tinknot.services.accounts import Person
from tinknot.services.clock import now, telling
from tinknot.services.days import today
from tinknot.store.database import writing

PASSWORD = "skarn-demo-26"
CREW = (
    ("ylva", "Ylva Storm", "admin"),
    ("runa", "Runa Vik", "jointer"),
    ("eskil", "Eskil Moe", "verifier"),
    ("odd", "Odd Lien", "viewer"),
)
LINES = (
    ("Feeder, winch house", 2400),
    ("Pump supply, loop", 2400),
    ("Telemetry, track", 2400),
    ("Lamps, walkway", 2400),
    ("Heat trace, upper station", 2400),
)
ZONES = (
    ("Lower station", 0, 90),
    ("Loop", 1010, 1180),
    ("Tunnel", 1380, 1760),
    ("Upper station", 2150, 2400),
)
TOOLS = (
    ("CT-2", "crimp-tool", 140),
    ("CT-1", "crimp-tool", -12),
    ("HG-3", "heat-gun", 75),
    ("IT-1", "insulation-tester", 210),
    ("LR-1", "low-ohm-meter", 33),
    ("ST-4", "thermometer", 300),
)  # name, kind, days until its calibration runs out
TOOL_OF = {kind: name for name, kind, days in reversed(TOOLS) if days > 0}
PREPARED_MIN = 20  # from the card to the first step
STEP_MIN = 2.0  # of work, in the middle
SATURDAY = 5
PINS = {"eskil": "4071", "ylva": "8352"}


@dataclass
class Then:
    """The moment at which a part of the scenario happens."""

    moment: datetime

    def __call__(self) -> datetime:
        return self.moment


def build() -> None:
    """Fill an empty database with the scenario: all of it, or nothing when it is broken off."""
    with writing():
        _fill()
    checkpoints.begin_all()


def _fill() -> None:
    people = {u: accounts.add_person(u, n, r, PASSWORD) for u, n, r in CREW}
    lines = [site.add_line(n, length) for n, length in LINES]
    for name, kind, days in TOOLS:
        body: dict[str, Any] = {"name": name, "kind": kind, "due": (today() + timedelta(days)).isoformat()}
        if kind == "heat-gun":
            body["calibration"] = [{"dial": d, "temperature_c": 60 + 55 * d} for d in (1, 3, 5, 7, 9)]
        tools.add_tool(parse(tools.ToolIn, body), people["ylva"])
    for kind in instruments.KINDS:
        instruments.install(kind, True)
    for username, pin in PINS.items():
        pins.set_pin(people[username].id, pin)
    for zone in ZONES:
        site.add_zone(*zone)
    for stock in ("stock.csv", "power.csv", "kits.csv", "screens.csv", "boots.csv"):
        report = stock_csv.import_csv((Path(__file__).parent / stock).read_text(), True, people["ylva"].name)
        assert report.applied, report.errors
    for example in sheets.examples().values():
        kept = sheets.save(example.id, example, 0, people["runa"])
        sheets.check(example.id, kept.version, people["eskil"])
    for place in (*JOINTS, *SIGNALS, *MOULDED):
        then = Then(_begun(place))
        with telling(then):
            _joint(place, lines[place.line].id, people, then)


def _begun(place: Site) -> datetime:
    """When the work on a joint began. What is released was begun in the morning of a working day; what is in
    work, so long ago that its clocks stand where they should now."""
    at = now() - timedelta(hours=place.hours_ago, minutes=PREPARED_MIN)
    if place.until != "released":
        return at
    early = Random(place.ref).randint(0, 140)
    morning = at.astimezone().replace(hour=7, minute=10, second=0, microsecond=0) + timedelta(minutes=early)
    while morning > at or morning.weekday() >= SATURDAY:
        morning -= timedelta(days=1)
    return morning.astimezone(UTC)


def _end(place: Site, side: int) -> dict[str, Any]:
    unlike = place.unlike if side else {}
    core = {"insulation_od_mm": place.core_od, "area_mm2": place.area} | place.core | unlike.get("core", {})
    cores = [{"name": str(i + 1), "colour": colour} | core for i, colour in enumerate(COLOURS[place.cores])]
    sheath = unlike.get("sheath", place.sheath)
    end = {
        "label": place.labels[side],
        "sheath_od_mm": sheath[0],
        "sheath_od_across_mm": sheath[1],
        "cores": cores,
        "free_mm": place.free[side],
        "slack_mm": (420, 380)[side],
        "landed": place.landed,
    }
    armour = unlike.get("armour", place.armour)
    return end | ({"armour": {"thickness_mm": armour[0], "bedding_od_mm": armour[1]}} if armour else {})


def _joint(place: Site, line_id: int, people: dict[str, Person], then: Then) -> None:
    who = people["runa"]
    made = joints.create(
        joints.JointNew(ref=place.ref, title=place.title, line_id=line_id, at_m=place.at_m), who
    )
    card = {
        "where": place.where,
        "why": place.why,
        "cable": place.cable,
        "permit": f"P-{place.ref[3:]}",
        "duties": list(place.duties),
        "rated_voltage_v": place.volts,
        "ambient_c": place.ambient_c,
        "cable_length_m": 120,
    }
    ends = {} if place.own else {"A": _end(place, 0), "B": _end(place, 1)}
    if place.until == "":
        del ends["B"]["sheath_od_mm"], ends["B"]["sheath_od_across_mm"], ends["B"]["free_mm"]
    body = {
        "card": card,
        "ends": ends,
        "stagger_steps": place.stagger,
        "family": place.family,
        "build": place.build,
        "sheet": place.sheet,
    }
    if place.own:
        body = {"card": card, "family": place.family, "sheet": place.sheet, **place.own}
    patch = parse(
        joints.JointPatch, json.dumps(body | ({"connector": place.connector} if place.connector else {}))
    )
    edited = joints.edit(place.ref, patch, made.version, who)
    if place.until == "":
        return
    planned = planning.freeze(place.ref, edited.version, who)
    if place.until is None:
        return
    at = then.moment + timedelta(minutes=PREPARED_MIN)
    pace = _pace(place, len(planned.plan.steps))
    for number, step in enumerate(planned.plan.steps, 1):
        waits = max((t.least_min or 0.0 for t in step.timers), default=0.0) + (
            step.cure.full_min if step.cure else 0.0
        )
        hurry = min((t.most_min for t in step.timers if t.most_min is not None), default=60.0)
        at += timedelta(minutes=min(pace[number - 1], 0.8 * hurry) + waits)
        signer = people["eskil"] if step.second_person else who
        then.moment = at
        if step.photo:
            _picture(place, number, step, at, who=who)
        taken = _take(place, _event(place, number, step, at), signer)
        assert taken.counts, taken.why
        if step.id == place.until:
            then.moment = at + timedelta(minutes=2)
            _seen(place, number + 1, step, at, who=who)
            return


def _pace(place: Site, steps: int) -> list[float]:
    """How long each step takes, min: some longer, some shorter, a few of them together always as long."""
    own = Random(f"{place.ref}/pace")
    pairs = [own.uniform(0.5, 1.5) for _ in range(steps // 2 + 1)]
    return [STEP_MIN * share for p in pairs for share in (p, 2 - p)]


def _take(place: Site, given: EventIn, who: Person) -> building.Taken:
    """An event as the tablet of whoever did it sends it."""
    return building.take(place.ref, given.model_copy(update={"by": person_mark(who.id)}), who)


def _seen(place: Site, number: int, step: StepOut, at: datetime, who: Person) -> None:
    """What went wrong there, if anything did."""
    if place.fault:
        body = EventIn(
            id=uuid5(NAMESPACE_URL, f"{place.ref}/fault"),
            kind="fault",
            step=step.id,
            revision=1,
            choice=place.fault,
            device="tablet 2",
            sequence=number,
            client_time=at + timedelta(minutes=2),
        )
        _take(place, body, who)


def _event(place: Site, number: int, step: StepOut, at: datetime) -> EventIn:
    asked = [g for g in step.gates if g.required or g.most is not None or g.least is not None]
    if step.kind == "identify":  # of cores told apart only what rings elsewhere is read
        asked = [g for g in asked if g.required]
    values = {g.id: _reading(place, step, g) for g in asked}
    text = ""
    if place.kept and step.id == "surface.sheath.B":
        values["roughened"], text = (step.gates[0].target or 0) - 9, place.kept
    if place.kept and step.id == "released":
        text = "no pull, no flex"
    return EventIn(
        id=uuid5(NAMESPACE_URL, f"{place.ref}/{number}"),
        kind="done",
        step=step.id,
        revision=1,
        values=values,
        text=text,
        tools={kind: TOOL_OF[kind] for kind in sorted(tool_kinds(step, values))},
        device="tablet 2",
        sequence=number,
        client_time=at,
    )


def _reading(place: Site, step: StepOut, gate: GateOut) -> float:
    """What was read, as such readings fall: lengths a little off their target, resistances each their own,
    and the same circuit much the same before and after."""
    own = Random(f"{place.ref}/{step.id}/{gate.id}")
    if gate.target is not None:
        tolerance = gate.tolerance or 0.0
        off = own.triangular(-0.7, 0.7) * tolerance
        return round(2 * (gate.target + off)) / 2 if tolerance >= 1 else round(gate.target + off, 2)
    if gate.most is not None:
        share = own.uniform(0.08, 0.3) if gate.unit == "Ω" else own.uniform(0.6, 0.9)
        return _shown(gate.most * share)
    least = gate.least or 0.0
    if gate.unit == "°C":
        return round(least + own.uniform(8, 22))
    if gate.unit == "mm":
        return round(2 * least * own.uniform(1.0, 1.3)) / 2
    circuit = Random(f"{place.ref}/{gate.label}")
    return _shown(max(40 * least, 10 ** circuit.uniform(2.5, 3.3)) * own.uniform(0.9, 1.1))


def _shown(value: float) -> float:
    """A figure as a display of three digits has it."""
    return float(f"{value:.3g}")


def _picture(place: Site, number: int, step: StepOut, at: datetime, who: Person) -> None:
    """A made-up photograph, as the camera stand-in takes it."""
    data = made_up_picture(f"{place.ref} {step.title}", f"{place.ref}/{step.id}")
    digest = sha256(data).hexdigest()
    photos.keep(data, digest)
    _take(
        place,
        EventIn(
            id=uuid5(NAMESPACE_URL, f"{place.ref}/{number}/photo"),
            kind="photo",
            step=step.id,
            revision=1,
            photo=digest,
            device="tablet 2",
            sequence=number,
            client_time=at,
        ),
        who,
    )
