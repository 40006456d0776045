"""kill −9 of the real server while several writers send events and photographs over HTTP: nothing it
acknowledged is lost, the database opens, every chain and every picture is whole.

`python -m bench.kills 200` kills it 200 times. The parent takes note of every answer, kills the server at
a moment of its own, starts it again and looks."""

import hashlib
import json
import random
import sqlite3
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from contextlib import closing
from datetime import UTC, datetime
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any
from uuid import uuid4

from bench.site import JOINT, PASSWORD, ROOT, prepare
from tinknot.devices.camera import made_up_picture
from tinknot.services.safekeeping import DATABASE

sys.path.insert(0, str(ROOT / "tools"))
from browser import free_port, start

WRITERS = 4
PHOTO_EVERY = 6


class Client:
    """A browser's worth of HTTP: cookie, token, JSON."""

    def __init__(self, port: int, jar: CookieJar | None = None, csrf: str = "") -> None:
        self.port, self.jar, self.csrf = port, jar or CookieJar(), csrf
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, method: str, path: str, data: bytes | None = None, kind: str = "application/json") -> bytes:
        """The body of the answer. Raises OSError or HTTPException where there is none, or no good one."""
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}/api/v1{path}", data, method=method)
        request.add_header("Content-Type", kind)
        request.add_header("X-CSRF-Token", self.csrf)
        with self.opener.open(request, timeout=20) as answer:
            body: bytes = answer.read()
        return body

    def sign_in(self) -> None:
        """Once; the cookie outlives every restart."""
        body = json.dumps({"username": "runa", "password": PASSWORD}).encode()
        self.csrf = json.loads(self.ask("POST", "/session", body))["csrf"]


class Told:
    """What the server has acknowledged."""

    def __init__(self) -> None:
        self.events: set[str] = set()
        self.photos: set[str] = set()

    def write(self, client: Client, number: int, gone: threading.Event) -> None:
        """Send events, every sixth with a picture, until the server is gone."""
        count = 0
        while not gone.is_set():
            count += 1
            event: dict[str, Any] = {
                "id": str(uuid4()),
                "kind": "note",
                "revision": 1,
                "text": "x" * 200,
                "device": f"writer {number}",
                "sequence": count,
                "client_time": datetime.now(UTC).isoformat(),
            }
            try:
                if count % PHOTO_EVERY == 0:
                    picture = made_up_picture(f"{number} {count}", str(uuid4()))
                    digest = hashlib.sha256(picture).hexdigest()
                    client.ask("PUT", f"/photos/{digest}", picture, "image/jpeg")
                    self.photos.add(digest)
                    event |= {"kind": "photo", "step": "isolated", "photo": digest}
                client.ask("POST", f"/joints/{JOINT}/events", json.dumps(event).encode())
                self.events.add(str(event["id"]))
            except (OSError, HTTPException):
                if not gone.is_set():
                    time.sleep(0.002)


def kept_pictures(data: Path) -> dict[str, str]:
    """The name under which each picture is kept, by the one it was sent under."""
    with closing(sqlite3.connect(f"{(data / DATABASE).as_uri()}?mode=ro", uri=True)) as reading:
        return dict(reading.execute("SELECT sent, kept FROM picture"))


def whole(picture: Path) -> bool:
    """Whether a picture is there and is what its name says."""
    return picture.is_file() and hashlib.sha256(picture.read_bytes()).hexdigest() == picture.name


def look(client: Client, data: Path, told: Told) -> dict[str, int]:
    """What of the acknowledged is not there, or not whole."""
    work = json.loads(client.ask("GET", f"/joints/{JOINT}/work"))
    there = {e["id"] for e in work["events"]}
    kept = kept_pictures(data)
    broken = sum(p not in kept or not whole(data / "photos" / kept[p]) for p in told.photos)
    verdict = json.loads(client.ask("GET", f"/joints/{JOINT}/verdict"))
    left = [p.name for p in (data / "photos").glob(".*")] if (data / "photos").is_dir() else []
    return {
        "lost": len(told.events - there),
        "pictures_broken": broken,
        "chains_broken": int(not verdict["intact"]),
        "parts_left": len(left),
    }


def run(times: int, seed: int = 1) -> dict[str, Any]:
    """What `times` kills did."""
    pick, told = random.Random(seed), Told()
    worst = {"lost": 0, "pictures_broken": 0, "chains_broken": 0, "unopened": 0}
    parts = 0
    with tempfile.TemporaryDirectory() as folder:
        data, port = Path(folder) / "data", free_port()
        prepare(data)
        process = start("serve", data, port)
        client = Client(port)
        client.sign_in()
        try:
            for _ in range(times):
                gone = threading.Event()
                writers = [
                    threading.Thread(target=told.write, args=(Client(port, client.jar, client.csrf), n, gone))
                    for n in range(WRITERS)
                ]
                for writer in writers:
                    writer.start()
                time.sleep(pick.uniform(0.02, 0.6))
                process.kill()
                gone.set()
                process.wait(10)
                for writer in writers:
                    writer.join(30)
                try:
                    process = start("serve", data, port)
                except RuntimeError:
                    worst["unopened"] += 1
                    break
                found = look(client, data, told)
                parts = found.pop("parts_left")
                worst = {k: max(v, found.get(k, 0)) for k, v in worst.items()}
        finally:
            process.kill()
            process.wait(10)
    return {
        "kills": times,
        "writers": WRITERS,
        "acknowledged": len(told.events),
        "pictures": len(told.photos),
        **worst,
        "parts_of_pictures_left": parts,
    }


if __name__ == "__main__":
    result = run(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
    print(json.dumps(result, indent=2))
    sys.exit(any(result[k] for k in ("lost", "pictures_broken", "chains_broken", "unopened")))
