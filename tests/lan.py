"""The real server over HTTPS, as tablets reach it."""

import ssl
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1] / "tools"))
from browser import free_port, start


def asked(port: int, trust: ssl.SSLContext, timeout: float = 5) -> bytes:
    """Who is signed in, as the server answers."""
    address = f"https://127.0.0.1:{port}/api/v1/session"
    with urllib.request.urlopen(address, context=trust, timeout=timeout) as answer:
        return answer.read()


@contextmanager
def served(data: Path) -> Iterator[tuple[int, ssl.SSLContext]]:
    """`tinknot serve --lan` on a data folder, once it answers: its port, and the trust a paired tablet
    has."""
    port = free_port()
    server = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "tinknot",
            "serve",
            "--lan",
            "--address",
            "127.0.0.1",
            "--port",
            str(port),
            "--data",
            str(data),
        ],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        deadline = time.monotonic() + 60
        while True:
            try:
                trust = ssl.create_default_context(cafile=str(data / "tls" / "authority.crt"))
                asked(port, trust, 2)
                break
            except OSError:
                if time.monotonic() > deadline or server.poll() is not None:
                    raise
                time.sleep(0.2)
        yield port, trust
    finally:
        server.kill()
        server.wait(10)


@contextmanager
def plainly_served(data: Path) -> Iterator[int]:
    """`tinknot serve` on a data folder, on this machine alone: its port."""
    port = free_port()
    server = start("serve", data, port)
    try:
        yield port
    finally:
        server.kill()
        server.wait(10)
