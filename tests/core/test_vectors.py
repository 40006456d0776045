"""The step graph: these vectors run through the core's fold and through the browser's overlay alike."""

import json
from pathlib import Path

import pytest

from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.work.events import GENESIS, chained
from tinknot.core.work.folding import fold

VECTORS = json.loads((Path(__file__).parents[1] / "vectors" / "progress.json").read_text())
EMPTY = dict.fromkeys(
    (
        "title",
        "kind",
        "station",
        "text",
        "caution",
        "look",
        "fails",
        "batch",
        "layer",
        "end",
        "core",
        "part_id",
        "stamp",
    ),
    "",
)
STEPS = [
    StepOut(**EMPTY, id=s["id"], needs=s["needs"], hold=None, second_person=False, gates=[], focus_mm=None)
    for s in VECTORS["steps"]
]
PLAN = Plan.model_construct(steps=STEPS, parts=[], park=None, faults=[])


@pytest.mark.parametrize("case", VECTORS["cases"], ids=lambda c: c["what"])
def test_vector(case):
    events, previous = [], GENESIS
    for n, (kind, step) in enumerate(case["events"], 1):
        body = {
            "id": str(n),
            "kind": kind,
            "step": step,
            "revision": 1,
            "values": {},
            "text": "",
            "device": "",
            "sequence": n,
            "client_time": "",
            "server_time": "",
            "at": "2026-02-03T08:00:00+00:00",
            "actor": "runa",
            "role": "jointer",
            "stamp": "",
        }
        events.append(chained(body, n, previous))
        previous = events[-1].hash
    assert [s.state for s in fold(PLAN, events).steps] == case["states"]
