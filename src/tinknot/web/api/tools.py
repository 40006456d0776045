"""Tools with calibration dates."""

from flask import Blueprint

from tinknot.core.model import Result
from tinknot.services import tools
from tinknot.services.tools import ToolIn, ToolOut, ToolPatch
from tinknot.web.http import endpoint, person

bp = Blueprint("tools", __name__)


class ToolsOut(Result):
    items: list[ToolOut]


@endpoint(bp, "GET", "/tools", out=ToolsOut)
def everything() -> ToolsOut:
    """All tools, those in date first."""
    return ToolsOut(items=tools.tools())


@endpoint(bp, "POST", "/tools", body=ToolIn, out=ToolOut, role="verifier", status=201, keyed=True)
def add(body: ToolIn) -> ToolOut:
    """Add a tool."""
    return tools.add_tool(body, person())


@endpoint(bp, "PATCH", "/tools/<int:tool_id>", body=ToolPatch, out=ToolOut, role="jointer", guarded=True)
def change(tool_id: int, body: ToolPatch, version: int) -> ToolOut:
    """Out of use; a new due date or new points by a verifier or admin."""
    return tools.set_tool(tool_id, body, version, person())
