"""`tinknot serve`, `tinknot demo` and `tinknot openapi`."""

import ipaddress
import os
import secrets
import sys
from pathlib import Path

import click
import waitress

from tinknot.cli.job import emit
from tinknot.core.errors import TinKnotError
from tinknot.demo import scenario
from tinknot.services.accounts import nobody_yet
from tinknot.services.site import set_setting
from tinknot.web.app import create_app
from tinknot.web.http import openapi

PORT = 5117
data_option = click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=Path("tinknot-data"),
    show_default=True,
    help="Folder of the database.",
)


def database_in(folder: Path) -> Path:
    """The database file of a data folder, which is made when missing."""
    folder.mkdir(parents=True, exist_ok=True)
    return folder / "tinknot.db"


def _secret(folder: Path, host: str) -> str:
    given = os.environ.get("TINKNOT_SECRET_KEY")
    if given:
        return given
    if not ipaddress.ip_address("127.0.0.1" if host == "localhost" else host).is_loopback:
        sys.exit(
            "Refused: set TINKNOT_SECRET_KEY before listening beyond this machine, so that sessions cannot be forged."
        )
    held = folder / "secret"
    if not held.exists():
        held.touch(mode=0o600)
        held.write_text(secrets.token_hex(32))
    return held.read_text()


def _run(data: Path, host: str, port: int, fill: bool) -> None:
    try:
        app = create_app({"DATABASE": database_in(data), "SECRET_KEY": _secret(data, host)})
        if fill and nobody_yet():
            scenario.build()
    except TinKnotError as fault:
        sys.exit(str(fault))
    address = f"http://{host}:{port}"
    set_setting("address", address)
    print(f"Tin Knot is at {address}", flush=True)
    if fill:
        for username, name, role in scenario.CREW:
            print(f"  {role:9} {username:6} {scenario.PASSWORD}   ({name})", flush=True)
    waitress.serve(app, host=host, port=port, threads=8, ident="tinknot", _quiet=True)


@click.command()
@data_option
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", default=PORT, show_default=True)
def serve(data: Path, host: str, port: int) -> None:
    """Run the application; the first visit makes the first admin."""
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
