"""`tinknot plan`: a joint file planned without the web application."""

import sys
from typing import BinaryIO

import click

from tinknot.cli.terminal import emit, fail
from tinknot.core.errors import InputError
from tinknot.core.families.file import AnyJoint, file_of
from tinknot.core.model import parse
from tinknot.core.parts.stock import StockIn
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.exchange.plan_text import plan_text
from tinknot.exchange.play_text import play_text


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option("--stock", type=click.File("rb"), help="A stock file; else the stock in the joint file.")
@click.option("--json", "as_json", is_flag=True, help="The plan as JSON.")
@click.option("--play", "as_played", is_flag=True, help="The plan played: each step and the laws it breaks.")
@click.option(
    "--schema",
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=lambda c, _p, v: print_joint_schema(c) if v else None,
    help="JSON Schema of the joint file.",
)
def plan(file: BinaryIO, stock: BinaryIO | None, as_json: bool, as_played: bool) -> None:
    """Plan the joint in FILE. Exit status 0 planned, 3 nothing fits, 2 bad input."""
    try:
        joint = file_of(file.read())
        if stock is not None:
            joint = joint.model_copy(update={"stock": parse(StockIn, stock.read())})
        found = plan_joint(joint)
        played = play_text(joint) if as_played else ""
    except InputError as fault:
        fail(fault)
    if as_played:
        print(played, end="")
    elif as_json:
        emit(found.model_dump(mode="json"))
    else:
        print(plan_text(found), end="")
    sys.exit(0 if found.verdict == "planned" else 3)


def print_joint_schema(context: click.Context) -> None:
    """JSON Schema of the joint file and of the plan."""
    emit({"input": AnyJoint.model_json_schema(), "output": Plan.model_json_schema(mode="serialization")})
    context.exit()
