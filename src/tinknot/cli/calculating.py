"""`tinknot calc`: the calculators without the web application."""

import sys

import click

from tinknot.cli.terminal import emit, fail
from tinknot.core.calc import CALCULATORS, run
from tinknot.core.errors import InputError


@click.command()
@click.argument("name", required=False)
@click.option("--list", "listing", is_flag=True, help="The names of the calculators.")
@click.option("--schema", is_flag=True, help="JSON Schema of input and output.")
def calc(name: str | None, listing: bool, schema: bool) -> None:
    """Run calculator NAME on the JSON at standard input."""
    if listing:
        for c in CALCULATORS.values():
            print(f"{c.name:16} {c.title}")
        return
    if name not in CALCULATORS:
        fail(InputError.at("", f"no calculator {name!r}; one of {', '.join(CALCULATORS)}"))
    if schema:
        emit(CALCULATORS[name].schema())
        return
    try:
        emit(run(name, sys.stdin.buffer.read()).model_dump(mode="json"))
    except InputError as fault:
        fail(fault)
