"""HTTPS on the site's network: whoever connects and says nothing keeps nobody waiting."""

import socket
import ssl
import time
from pathlib import Path

from tests.lan import asked, served

SILENT = 20


def took(port: int, trust: ssl.SSLContext) -> float:
    """How long an answer takes, s."""
    begun = time.monotonic()
    asked(port, trust)
    return time.monotonic() - begun


def test_silent_and_half_open_connections_delay_nobody(tmp_path: Path):
    with served(tmp_path / "d") as (port, trust):
        held_up_by_nobody(port, trust)


def held_up_by_nobody(port: int, trust: ssl.SSLContext) -> None:
    alone = min(took(port, trust) for _ in range(3))
    held = []
    try:
        for n in range(SILENT):
            raw = socket.create_connection(("127.0.0.1", port), timeout=5)
            held.append(raw)
            if n % 3 == 1:  # said hello and no more
                held[-1] = trust.wrap_socket(raw, server_hostname="127.0.0.1")
                held[-1].sendall(b"GET /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\n")
            if n % 3 == 2:  # promised a body and never sent it
                held[-1] = trust.wrap_socket(raw, server_hostname="127.0.0.1")
                held[-1].sendall(
                    b"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type:"
                    b" application/json\r\nContent-Length: 60\r\n\r\n{"
                )
        time.sleep(0.3)
        among = sorted(took(port, trust) for _ in range(5))
        assert among[2] < 20 * alone + 0.5, (alone, among)
    finally:
        for connection in held:
            connection.close()
