"""The data folder, as commands name it."""

import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click

from tinknot.cli.terminal import refuse
from tinknot.core.errors import TinKnotError
from tinknot.services import safekeeping
from tinknot.store.faults import told
from tinknot.store.files import write_whole

data_option = click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=Path("tinknot-data"),
    show_default=True,
    help="Folder of the database.",
)


@contextmanager
def plainly() -> Iterator[None]:
    """What is wrong is said in words, and ends the command with status 1."""
    try:
        with told():
            yield
    except TinKnotError as fault:
        refuse(str(fault))
    except OSError as error:
        refuse(str(error))


def made(folder: Path) -> Path:
    """The folder, made for its owner only where it is missing."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    return folder


@contextmanager
def opened(folder: Path) -> Iterator[None]:
    """The data of a folder, which is made where it is missing."""
    with plainly(), safekeeping.opened(made(folder)):
        yield


LEAST_SECRET = 32


def secret_key(folder: Path) -> str:
    """The key that signs sessions, made once and kept readable for its owner only."""
    held = folder / "secret"
    if held.exists() and len(found := held.read_text()) >= LEAST_SECRET:
        return found
    made_now = secrets.token_hex(LEAST_SECRET)
    write_whole(held, made_now.encode())
    return made_now
