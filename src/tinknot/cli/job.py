"""`tinknot calc` and `tinknot plan`: the core without the web application."""

import json
import sys
from typing import Any, BinaryIO, NoReturn

import click

from tinknot.core.calc import CALCULATORS, run
from tinknot.core.errors import InputError
from tinknot.core.joint.anyjoint import AnyJoint
from tinknot.core.joint.parts import StockIn
from tinknot.core.model import parse
from tinknot.core.plan import Plan
from tinknot.core.planning import plan_joint
from tinknot.exchange.plan_text import plan_text


def fail(fault: InputError) -> NoReturn:
    """Exit 2 with the contract's error object on standard error."""
    body = {
        "type": "tinknot:bad-input",
        "title": fault.title,
        "detail": str(fault),
        "errors": [{"path": e.path, "message": e.message} for e in fault.errors],
    }
    print(json.dumps({"error": body}, ensure_ascii=False), file=sys.stderr)
    sys.exit(2)


def emit(data: Any) -> None:
    """JSON on standard output."""
    print(json.dumps(data, ensure_ascii=False, indent=2))


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


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option("--stock", type=click.File("rb"), help="A stock file; else the stock in the joint file.")
@click.option("--json", "as_json", is_flag=True, help="The plan as JSON.")
@click.option(
    "--schema",
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=lambda c, _p, v: v and print_joint_schema(c),
    help="JSON Schema of the joint file.",
)
def plan(file: BinaryIO, stock: BinaryIO | None, as_json: bool) -> None:
    """Plan the joint in FILE. Exit status 0 planned, 3 nothing fits, 2 bad input."""
    try:
        joint = parse(AnyJoint, file.read()).root
        if stock is not None:
            joint = joint.model_copy(update={"stock": parse(StockIn, stock.read())})
        found = plan_joint(joint)
    except InputError as fault:
        fail(fault)
    if as_json:
        emit(found.model_dump(mode="json"))
    else:
        print(plan_text(found), end="")
    sys.exit(0 if found.verdict == "planned" else 3)


def print_joint_schema(context: click.Context) -> None:
    """JSON Schema of the joint file and of the plan."""
    emit({"input": AnyJoint.model_json_schema(), "output": Plan.model_json_schema(mode="serialization")})
    context.exit()
