"""`tinknot verify`, `export` and `import`."""

import sys
from pathlib import Path
from typing import BinaryIO, TextIO

import click

from tinknot.cli.folder import data_option, opened
from tinknot.services import planning, records, stock_csv, verifying
from tinknot.services.safekeeping import DATABASE


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option(
    "--key", default="", help="The public key that it must be signed with, hex; else this site's own."
)
@data_option
def verify(file: BinaryIO, key: str, data: Path) -> None:
    """Tell whether a record file is unaltered, and if not, where, and whose key signed it. It needs no data:
    where there is no data folder none is made. Exit status 1 when altered, 3 when unaltered but signed with
    another key than this site's, or than --key."""
    body = file.read()
    if key or not (data / DATABASE).is_file():
        found = verifying.verify(body, key.lower())
    else:
        with opened(data):
            found = records.verify(body)
    print(found.words)
    sys.exit(1 if not found.intact else 0 if found.ours else 3)


@click.command()
@click.argument("what")
@data_option
def export(what: str, data: Path) -> None:
    """Write the joint file of joint WHAT, or `stock` as CSV, to standard output."""
    with opened(data):
        print(stock_csv.export_csv() if what == "stock" else planning.export_file(what))


@click.command("import")
@click.argument("file", type=click.File("r", encoding="utf-8"))
@click.option("--apply", "take", is_flag=True, help="Take the changes; without it they are only shown.")
@data_option
def load(file: TextIO, take: bool, data: Path) -> None:
    """Check a stock CSV and, with --apply, take all of it or nothing."""
    with opened(data):
        report = stock_csv.import_csv(file.read(), take, "command line")
    for e in report.errors:
        print(f"line {e.line}, {e.column}: {e.message}", file=sys.stderr)
    for c in report.changes:
        print(f"line {c.line}, {c.part_id}: {c.what}; {', '.join(c.details)}")
    print("taken" if report.applied else "nothing taken")
    sys.exit(2 if report.errors else 0)
