"""`tinknot serve`, `tinknot demo` and `tinknot openapi`."""

import asyncio
import ipaddress
import os
import socket
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import click
import segno
import waitress
from flask import Flask
from hypercorn.asyncio import serve as serve_asgi
from hypercorn.config import Config

from tinknot.cli.folder import LEAST_SECRET, data_option, made, plainly, secret_key
from tinknot.cli.terminal import emit, refuse
from tinknot.demo import scenario
from tinknot.services import settings
from tinknot.services.accounts import nobody_yet, one_time_word
from tinknot.services.certificates import (
    authority_fingerprint,
    authority_until,
    for_addresses,
    lan_addresses,
)
from tinknot.services.safekeeping import DATABASE, sweep
from tinknot.store.lock import holding
from tinknot.web.app import LOOPBACK, create_app
from tinknot.web.openapi import openapi
from tinknot.web.pairing import create_pairing

PORT = 5117
THREADS = 8
PATIENCE: dict[str, Any] = {
    "connection_limit": 1000,  # that say nothing yet, beside those that are served
    "channel_timeout": 30,
    "cleanup_interval": 5,
    "asyncore_use_poll": True,
    "max_request_header_size": 64 * 1024,
    "ident": "tinknot",
    "_quiet": True,
}  # of both plain servers: who opens a connection and says nothing keeps nobody out
SWITCH_S = 0.001  # who works something out gives way to who only asks
MOST_BODY = (
    9 * 1024 * 1024
)  # just above what the application takes, so that the application says what is too much


def _secret(folder: Path, host: str) -> str:
    given = os.environ.get("TINKNOT_SECRET_KEY")
    if given:
        if len(given.encode()) < LEAST_SECRET:
            refuse(
                f"Refused: TINKNOT_SECRET_KEY has under {LEAST_SECRET} bytes; a short key can be guessed, and"
                " sessions forged."
            )
        return given
    if not _loopback(host):
        refuse(
            "Refused: set TINKNOT_SECRET_KEY before listening beyond this machine, so that sessions cannot be"
            " forged."
        )
    return secret_key(folder)


def _loopback(host: str) -> bool:
    return host == "localhost" or (_is_address(host) and ipaddress.ip_address(host).is_loopback)


def _is_address(host: str) -> bool:
    try:
        ipaddress.ip_address(host)
    except ValueError:
        return False
    return True


def _names(host: str, more: tuple[str, ...]) -> list[str]:
    """The host names the application answers to."""
    everywhere = host in ("0.0.0.0", "::")
    own = [*lan_addresses(), socket.gethostname()] if everywhere else [host]
    return list(dict.fromkeys((*LOOPBACK, *own, *more)))


def _setup_code(listens_beyond: bool) -> str:
    """The word that the first admin must know where others can reach the page before them."""
    return one_time_word() if listens_beyond else ""


def _app(data: Path, secret: str, fill: bool, **config: Any) -> Flask:
    app = create_app({"DATABASE": data / DATABASE, "SECRET_KEY": secret, **config})
    if app.config["SETUP_CODE"] and nobody_yet():
        print(f"The first admin is asked for this word: {app.config['SETUP_CODE']}", flush=True)
    sweep(data)
    if fill and nobody_yet():
        scenario.build()
    return app


def _says(address: str, fill: bool) -> None:
    settings.put("address", address)
    print(f"Tin Knot is at {address}", flush=True)
    if fill:
        for username, name, role in scenario.CREW:
            pin = f", PIN {scenario.PINS[username]}" if username in scenario.PINS else ""
            print(f"  {role:9} {username:6} {scenario.PASSWORD}   ({name}{pin})", flush=True)


def _run(data: Path, host: str, port: int, fill: bool, names: tuple[str, ...] = ()) -> None:
    with plainly(), holding(made(data)):
        code = _setup_code(not _loopback(host))
        app = _app(data, _secret(data, host), fill, TRUSTED_HOSTS=_names(host, names), SETUP_CODE=code)
        _says(f"http://{host}:{port}", fill)
        sys.setswitchinterval(SWITCH_S)
        waitress.serve(app, host=host, port=port, threads=THREADS, **PATIENCE)


def _run_lan(data: Path, port: int, addresses: list[str], names: tuple[str, ...]) -> None:
    """HTTPS for the site's network, and the pairing page beside it on the next port."""
    if not addresses:
        refuse("This machine is on no network now. Connect it, or name its address with --address.")
    with plainly(), holding(made(data)):
        _serve_lan(data, port, addresses, names)


def _serve_lan(data: Path, port: int, addresses: list[str], names: tuple[str, ...]) -> None:
    authority, certificate, key = for_addresses(data / "tls", addresses)
    app = _app(
        data,
        secret_key(data),
        False,
        SESSION_COOKIE_SECURE=True,
        TRUSTED_HOSTS=_names("0.0.0.0", (*addresses, *names)),
        SETUP_CODE=_setup_code(True),
    )
    address = f"https://{addresses[0]}:{port}"
    fingerprint = authority_fingerprint(authority)
    pairing = f"http://{addresses[0]}:{port + 1}"
    page = create_pairing(authority.read_bytes(), address, fingerprint)
    threading.Thread(
        target=lambda: waitress.serve(page, host="0.0.0.0", port=port + 1, threads=2, **PATIENCE),
        daemon=True,
    ).start()
    _says(address, False)
    print(f"Pair a tablet at {pairing}\nFingerprint {fingerprint}", flush=True)
    print(
        f"Tablets paired now are served until {authority_until(authority)}; then pair them again.", flush=True
    )
    segno.make(pairing, error="m").terminal(compact=True)
    sys.setswitchinterval(SWITCH_S)
    asyncio.run(_https(app, port, certificate, key))


async def _https(app: Flask, port: int, certificate: Path, key: Path) -> None:
    """Serve over TLS. Handshakes, headers and bodies are awaited beside each other, and a thread is taken
    only for a request that is here whole; so a connection that says nothing keeps nobody waiting."""
    asyncio.get_running_loop().set_default_executor(ThreadPoolExecutor(THREADS, "request"))
    config = Config()
    config.bind = [f"0.0.0.0:{port}"]
    config.certfile, config.keyfile = str(certificate), str(key)
    config.include_server_header = False
    config.read_timeout = config.ssl_handshake_timeout = 30
    config.wsgi_max_body_size = MOST_BODY
    config.errorlog = None
    await serve_asgi(app, config, mode="wsgi")


@click.command()
@data_option
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=PORT, show_default=True)
@click.option("--lan", is_flag=True, help="HTTPS for tablets on the site's network, with a pairing page.")
@click.option("--address", multiple=True, help="This machine's address for --lan; else found by itself.")
@click.option("--name", multiple=True, help="A host name people reach this machine by; others are refused.")
def serve(
    data: Path, host: str, port: int, lan: bool, address: tuple[str, ...], name: tuple[str, ...]
) -> None:
    """Run the application; the first visit makes the first admin."""
    if lan:
        _run_lan(data, port, [str(ipaddress.ip_address(a)) for a in address] or lan_addresses(), name)
    else:
        _run(data, host, port, False, names=name)


@click.command()
@click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=Path("demo-data"),
    show_default=True,
    help="Folder of the demo's database.",
)
@click.option("--port", default=PORT, show_default=True)
def demo(data: Path, port: int) -> None:
    """Run with the invented Skarn funicular; delete the folder to start over."""
    _run(data, "127.0.0.1", port, fill=True)


@click.command("openapi")
def describe() -> None:
    """The OpenAPI description of the HTTP interface."""
    emit(openapi())
