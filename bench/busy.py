"""One viewer sends the worst files eight times at once: how long everybody else's board and events take
meanwhile, against a quiet server. `python -m bench.busy`."""

import copy
import json
import tempfile
import threading
import time
import urllib.error
from datetime import UTC, datetime
from http.client import HTTPException
from pathlib import Path
from statistics import median
from typing import Any
from uuid import uuid4

from bench.kills import Client, free_port, start
from bench.site import JOINT, ROOT, prepare

AT_ONCE = 8
TIMES = 60
MULTIPLIED = 60


def worst() -> bytes:
    """An example whose stock is multiplied, every part a little other."""
    body = json.loads((ROOT / "examples" / "armoured-cast-wet.json").read_text())
    for kind, parts in body["stock"].items():
        body["stock"][kind] = [
            copy.deepcopy(p) | {"id": f"{p['id']}-{n}"} for n in range(MULTIPLIED) for p in parts
        ]
    return json.dumps(body).encode()


def taken(client: Client) -> dict[str, float]:
    """The board and an event, one after the other: median and 95th percentile, ms."""
    board, events = [], []
    for _ in range(TIMES):
        begun = time.perf_counter()
        client.ask("GET", "/board")
        board.append(time.perf_counter() - begun)
        note = {
            "id": str(uuid4()),
            "kind": "note",
            "revision": 1,
            "by": client.mark,
            "client_time": datetime.now(UTC).isoformat(),
        }
        begun = time.perf_counter()
        client.ask("POST", f"/joints/{JOINT}/events", json.dumps(note).encode())
        events.append(time.perf_counter() - begun)

    def p95(times: list[float]) -> float:
        return round(sorted(times)[int(len(times) * 0.95) - 1] * 1e3, 1)

    return {
        "board_median_ms": round(median(board) * 1e3, 1),
        "board_p95_ms": p95(board),
        "event_median_ms": round(median(events) * 1e3, 1),
        "event_p95_ms": p95(events),
    }


def run() -> dict[str, Any]:
    """Quiet, and while the files are worked out."""
    body, answers = worst(), []
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        prepare(data)
        port = free_port()
        server = start("serve", data, port)
        try:
            worker = Client(port)
            worker.sign_in()
            worker.mark = json.loads(worker.ask("GET", "/session"))["mark"]
            taken(worker)
            quiet = taken(worker)

            def ask(turn: int) -> None:
                begun = time.perf_counter()
                try:
                    worker_of_files.ask("POST", "/calc/plan", body)
                    answers.append((200, time.perf_counter() - begun))
                except urllib.error.HTTPError as fault:
                    answers.append((fault.code, time.perf_counter() - begun))
                except (OSError, HTTPException):
                    answers.append((0, time.perf_counter() - begun))

            worker_of_files = Client(port)
            worker_of_files.sign_in()
            threads = [threading.Thread(target=ask, args=(n,)) for n in range(AT_ONCE)]
            for t in threads:
                t.start()
            time.sleep(0.5)
            busy = taken(worker)
            for t in threads:
                t.join(120)
        finally:
            server.kill()
            server.wait(10)
    return {
        "quiet": quiet,
        "busy": busy,
        "answers": {
            str(code): sum(1 for c, _ in answers if c == code) for code in sorted({c for c, _ in answers})
        },
        "longest_answer_s": round(max(s for _, s in answers), 1),
    }


if __name__ == "__main__":
    print(json.dumps(run(), indent=2))
