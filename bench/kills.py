"""kill −9 while events are written: nothing acknowledged is lost, the database opens, the chain verifies.

`python -m bench.kills 200` kills a writing process 200 times. The writer tells each event's id after the
service has accepted it; the parent kills it at a moment of its own and then looks.
"""

import json
import os
import random
import signal
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from peewee import DatabaseError
from tests.joints import joint_dict

from tinknot.core.events import EventIn, broken_at
from tinknot.core.model import parse
from tinknot.services import accounts, building, events, joints, planning, stock_csv
from tinknot.store.database import db, open_database

ROOT = Path(__file__).parents[1]


def prepare(path: Path) -> None:
    """A database with one planned joint."""
    open_database(path)
    accounts.add_person("runa", "Runa", "jointer", "a-long-password")
    stock_csv.import_csv((ROOT / "src/tinknot/demo/stock.csv").read_text(), True, "bench")
    joints.create(joints.JointNew(ref="J-1"), "bench")
    patch = {"card": {"where": "x", "rated_voltage_v": 400}, "ends": joint_dict()["ends"]}
    joints.edit("J-1", parse(joints.JointPatch, json.dumps(patch)), 1)
    planning.freeze("J-1", 2, "bench")
    db.close()


def write(path: Path, told: int) -> None:
    """Accept events for ever; say each one's id once it is accepted."""
    open_database(path)
    who = accounts.everybody()[0]
    while True:
        given = EventIn(id=uuid4(), kind="note", revision=1, text="x" * 200, client_time=datetime.now(UTC))
        os.write(told, f"{building.take('J-1', given, who).event.id}\n".encode())


def killed(path: Path, after_s: float) -> list[str]:
    """The ids a writer had told before it was killed, `after_s` after its first."""
    told, own = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            write(path, own)
        finally:
            os._exit(1)
    os.close(own)
    with os.fdopen(told) as lines:
        first = lines.readline()
        time.sleep(after_s)
        os.kill(child, signal.SIGKILL)
        rest = lines.read()
    os.waitpid(child, 0)
    return [line for line in (first + rest).splitlines(keepends=True) if line.endswith("\n")]


def run(times: int, seed: int = 1) -> dict[str, Any]:
    """What `times` kills did."""
    pick = random.Random(seed)
    acknowledged: set[str] = set()
    lost = broken = unopened = 0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "k.db"
        prepare(path)
        for _ in range(times):
            acknowledged |= {line.strip() for line in killed(path, pick.uniform(0, 0.06))}
            try:
                open_database(path)
            except DatabaseError:
                unopened += 1
                continue
            found = events.events_of(joints.row_of("J-1"))
            lost += len(acknowledged - {e.id for e in found})
            broken += broken_at(found) is not None
            db.close()
    return {
        "kills": times,
        "acknowledged": len(acknowledged),
        "lost": lost,
        "chains_broken": broken,
        "unopened": unopened,
    }


if __name__ == "__main__":
    result = run(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
    print(json.dumps(result, indent=2))
    sys.exit(1 if result["lost"] or result["chains_broken"] or result["unopened"] else 0)
