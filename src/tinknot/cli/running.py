"""`tinknot serve`, `tinknot demo` and `tinknot openapi`."""

import ipaddress
import os
import threading
from pathlib import Path
from typing import Any

import click
import segno
import waitress
from cheroot import wsgi
from cheroot.ssl.builtin import BuiltinSSLAdapter
from flask import Flask

from tinknot.cli.folder import LEAST_SECRET, data_option, made, plainly, secret_key
from tinknot.cli.terminal import emit, refuse
from tinknot.demo import scenario
from tinknot.services import settings
from tinknot.services.accounts import nobody_yet
from tinknot.services.certificates import authority_fingerprint, for_addresses, lan_addresses
from tinknot.services.safekeeping import DATABASE, sweep
from tinknot.store.lock import holding
from tinknot.web.app import create_app
from tinknot.web.openapi import openapi
from tinknot.web.pairing import create_pairing

PORT = 5117


def _secret(folder: Path, host: str) -> str:
    given = os.environ.get("TINKNOT_SECRET_KEY")
    if given:
        if len(given.encode()) < LEAST_SECRET:
            refuse(
                f"Refused: TINKNOT_SECRET_KEY has under {LEAST_SECRET} bytes; a short key can be guessed, and sessions forged."
            )
        return given
    if not ipaddress.ip_address("127.0.0.1" if host == "localhost" else host).is_loopback:
        refuse(
            "Refused: set TINKNOT_SECRET_KEY before listening beyond this machine, so that sessions cannot be forged."
        )
    return secret_key(folder)


def _app(data: Path, secret: str, fill: bool, **config: Any) -> Flask:
    app = create_app({"DATABASE": data / DATABASE, "SECRET_KEY": secret, **config})
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


def _run(data: Path, host: str, port: int, fill: bool) -> None:
    with plainly(), holding(made(data)):
        app = _app(data, _secret(data, host), fill)
        _says(f"http://{host}:{port}", fill)
        waitress.serve(app, host=host, port=port, threads=8, ident="tinknot", _quiet=True)


def _run_lan(data: Path, port: int, addresses: list[str]) -> None:
    """HTTPS for the site's network, and the pairing page beside it on the next port."""
    if not addresses:
        refuse("This machine is on no network now. Connect it, or name its address with --address.")
    with plainly(), holding(made(data)):
        _serve_lan(data, port, addresses)


def _serve_lan(data: Path, port: int, addresses: list[str]) -> None:
    authority, certificate, key = for_addresses(data / "tls", addresses)
    app = _app(data, secret_key(data), False, SESSION_COOKIE_SECURE=True)
    address = f"https://{addresses[0]}:{port}"
    fingerprint = authority_fingerprint(authority)
    pairing = f"http://{addresses[0]}:{port + 1}"
    page = create_pairing(authority.read_bytes(), address, fingerprint)
    server = wsgi.Server(("0.0.0.0", port), app, numthreads=8, server_name="tinknot")
    server.ssl_adapter = BuiltinSSLAdapter(str(certificate), str(key))
    threading.Thread(
        target=lambda: waitress.serve(
            page, host="0.0.0.0", port=port + 1, threads=2, ident="tinknot", _quiet=True
        ),
        daemon=True,
    ).start()
    _says(address, False)
    print(f"Pair a tablet at {pairing}\nFingerprint {fingerprint}", flush=True)
    segno.make(pairing, error="m").terminal(compact=True)
    server.safe_start()


@click.command()
@data_option
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=PORT, show_default=True)
@click.option("--lan", is_flag=True, help="HTTPS for tablets on the site's network, with a pairing page.")
@click.option("--address", multiple=True, help="This machine's address for --lan; else found by itself.")
def serve(data: Path, host: str, port: int, lan: bool, address: tuple[str, ...]) -> None:
    """Run the application; the first visit makes the first admin."""
    if lan:
        _run_lan(data, port, [str(ipaddress.ip_address(a)) for a in address] or lan_addresses())
    else:
        _run(data, host, port, fill=False)


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
