"""The browser and the demo server, for screenshots and browser tests alike."""

import os
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

CHROMIUM = "/usr/bin/chromium"
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
LAUNCH = {"executable_path": CHROMIUM, "chromium_sandbox": False, "args": ARGS}


def free_port() -> int:
    """A port nobody listens on."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def start(command: str, data: Path, port: int) -> subprocess.Popen[bytes]:
    """`tinknot serve` or `tinknot demo` on a data folder, once it answers."""
    log = open(data.with_suffix(".log"), "ab")  # noqa: SIM115 - the process writes to it until it ends
    process = subprocess.Popen(
        [sys.executable, "-m", "tinknot", command, "--data", str(data), "--port", str(port)],
        stdout=log,
        stderr=log,
        env={**os.environ, "PYTHONUNBUFFERED": "1"},
    )
    log.close()
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        if process.poll() is not None:
            raise RuntimeError(data.with_suffix(".log").read_text())
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/healthz", timeout=1):
                return process
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    process.kill()
    raise RuntimeError("the server did not start")


@contextmanager
def server(command: str, data: Path, port: int | None = None) -> Iterator[str]:
    """The address of a running server, ended afterwards."""
    chosen = port or free_port()
    process = start(command, data, chosen)
    try:
        yield f"http://127.0.0.1:{chosen}"
    finally:
        process.terminate()
        process.wait(10)
