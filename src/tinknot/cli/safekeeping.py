"""`tinknot backup` and `restore`."""

import sys
from pathlib import Path

import click

from tinknot.cli.folder import data_option, made, plainly
from tinknot.cli.terminal import refuse
from tinknot.services import safekeeping
from tinknot.store.lock import holding


@click.command()
@click.argument("target", type=click.Path(path_type=Path), default=Path())
@data_option
def backup(target: Path, data: Path) -> None:
    """An archive of database, pictures and keys in the file TARGET, or in the folder TARGET under a name
    with date and version, while the application runs. Keep it as you would a key: whoever has it can sign
    as this site. Exit status 2 when what was saved is damaged: the archive is made all the same, and what is
    damaged is said."""
    with plainly():
        if not (data / safekeeping.DATABASE).is_file():
            refuse(f"There are no data in {data}.")
        made_now = safekeeping.backup(data, target)
        print(f"{made_now.archive}: {made_now.archive.stat().st_size} bytes")
    for remark in made_now.remarks:
        print(f"Damaged: {remark}")
    sys.exit(2 if made_now.remarks else 0)


@click.command()
@click.argument("source", type=click.Path(path_type=Path))
@click.option(
    "--anyway", is_flag=True, help="Restore also what is not whole: chains, pictures or keys missing."
)
@data_option
def restore(source: Path, anyway: bool, data: Path) -> None:
    """Put SOURCE, an archive of `backup`, a database file or a data folder, in place of the data. It is
    looked at first; what was there is kept under a name with the time. Stop the application first."""
    with plainly(), holding(made(data)):
        done = safekeeping.restore(data, source, anyway)
    for remark in done.remarks:
        print(f"Not whole: {remark}")
    if done.kept:
        print(f"What was there is kept as {done.kept}")
    print(f"Restored {source} to {data}, {done.pictures} pictures and keys added")
