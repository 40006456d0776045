"""`tinknot backup`, `restore`, `verify`, `export`, `import`."""

import shutil
import sys
from pathlib import Path
from typing import BinaryIO

import click

from tinknot.cli.running import data_option, database_in
from tinknot.core.errors import TinKnotError
from tinknot.services import planning, records, safe, stock_csv
from tinknot.store.database import open_database


def _open(data: Path) -> None:
    try:
        open_database(database_in(data))
    except TinKnotError as fault:
        sys.exit(str(fault))


@click.command()
@click.argument("target", type=click.Path(path_type=Path))
@data_option
def backup(target: Path, data: Path) -> None:
    """A consistent snapshot in the file TARGET, while the application runs."""
    if target.exists():
        sys.exit(f"{target} exists; choose another name.")
    _open(data)
    safe.snapshot(target)
    print(f"{target}: {target.stat().st_size} bytes")


@click.command()
@click.argument("source", type=click.Path(path_type=Path, exists=True))
@data_option
def restore(source: Path, data: Path) -> None:
    """Put a snapshot in place of the database; the old one is kept beside it. Stop the application first."""
    fault = safe.unusable(source)
    if fault:
        sys.exit(f"{source} is no usable snapshot: {fault}. Nothing was changed.")
    database = database_in(data)
    for suffix in ("", "-wal", "-shm"):
        old = database.with_name(database.name + suffix)
        if old.exists():
            old.rename(old.with_name("before-restore-" + old.name))
    shutil.copyfile(source, database)
    _open(data)
    print(f"Restored {source} to {database}")


@click.command()
@click.argument("file", type=click.File("rb"))
@data_option
def verify(file: BinaryIO, data: Path) -> None:
    """Tell whether a record file is unaltered, and if not, where. Exit status 1 when altered."""
    _open(data)
    found = records.verify(file.read())
    print(found.words)
    sys.exit(0 if found.intact else 1)


@click.command()
@click.argument("what")
@data_option
def export(what: str, data: Path) -> None:
    """Write the joint file of joint WHAT, or `stock` as CSV, to standard output."""
    _open(data)
    try:
        print(stock_csv.export_csv() if what == "stock" else planning.export_file(what))
    except TinKnotError as fault:
        sys.exit(str(fault))


@click.command("import")
@click.argument("file", type=click.File("r", encoding="utf-8"))
@click.option("--apply", "take", is_flag=True, help="Take the changes; without it they are only shown.")
@data_option
def load(file: click.utils.LazyFile, take: bool, data: Path) -> None:
    """Check a stock CSV and, with --apply, take all of it or nothing."""
    _open(data)
    report = stock_csv.import_csv(file.read(), take, "command line")
    for e in report.errors:
        print(f"line {e.line}, {e.column}: {e.message}", file=sys.stderr)
    for c in report.changes:
        print(f"line {c.line}, {c.part_id}: {c.what}; {', '.join(c.details)}")
    print("taken" if report.applied else "nothing taken")
    sys.exit(2 if report.errors else 0)
