"""Joints: register, card, readings, choice, plan."""

from typing import Annotated, Any

from flask import Blueprint, Response
from pydantic import Field

from tinknot.core.families.draft import TRIED, Draft
from tinknot.core.model import Result, Strict, some_of
from tinknot.services import joints, kits, planning
from tinknot.services.joints import JointNew, JointOut, JointPatch, Register
from tinknot.services.kits import KitOffer
from tinknot.services.planning import Look, PlanOut
from tinknot.web.http import disposition, endpoint, person

bp = Blueprint("joints", __name__)


class RegisterQuery(Strict):
    text: Annotated[str, Field(max_length=200)] = ""
    state: Annotated[str, Field(max_length=40)] | None = None
    cursor: Annotated[str, Field(max_length=20)] | None = None
    limit: Annotated[str, Field(pattern="^([1-9][0-9]?|100)$")] = "50"


LookIn = some_of(Draft, "LookIn", TRIED, "What to try without storing it.")


class Kits(Result):
    """Kit sheets for a joint."""

    items: list[KitOffer]


class Revisions(Result):
    items: list[PlanOut]


@endpoint(bp, "GET", "/joints", out=Register, query=RegisterQuery)
def register(query: RegisterQuery) -> Register:
    """The register, searched."""
    return joints.register(query.text, query.state, query.cursor, int(query.limit))


@endpoint(bp, "POST", "/joints", body=JointNew, out=JointOut, role="jointer", status=201, keyed=True)
def create(body: JointNew) -> JointOut:
    """A new joint, empty or the same again."""
    return joints.create(body, person())


@endpoint(bp, "GET", "/joints/<ref>", out=JointOut)
def show(ref: str) -> JointOut:
    """One joint."""
    return joints.get(ref)


@endpoint(bp, "PATCH", "/joints/<ref>", body=JointPatch, out=JointOut, role="jointer", guarded=True)
def edit(ref: str, body: JointPatch, version: int) -> JointOut:
    """Change card, readings or choice."""
    return joints.edit(ref, body, version, person())


@endpoint(bp, "POST", "/joints/<ref>/look", body=LookIn, out=Look, heavy=True)
def look(ref: str, body: Strict) -> Look:
    """What would be planned now; nothing is stored."""
    change: dict[str, Any] = body.model_dump(mode="json", exclude_none=True)
    return planning.look(ref, change)


@endpoint(bp, "GET", "/joints/<ref>/kits", out=Kits)
def kit_offers(ref: str) -> Kits:
    """Every kit sheet of the joint's family, with why it does not serve."""
    return Kits(items=kits.offers(ref))


@endpoint(
    bp,
    "POST",
    "/joints/<ref>/plans",
    out=PlanOut,
    role="jointer",
    status=201,
    guarded=True,
    keyed=True,
    heavy=True,
)
def plan(ref: str, version: int) -> PlanOut:
    """Freeze a plan revision and reserve its parts."""
    return planning.freeze(ref, version, person())


@endpoint(bp, "GET", "/joints/<ref>/plans", out=Revisions)
def plans(ref: str) -> Revisions:
    """All plan revisions with what each changed."""
    return Revisions(items=planning.revisions(ref))


@endpoint(bp, "GET", "/joints/<ref>/file", media="application/octet-stream")
def export(ref: str) -> Response:
    """The joint file with the stock it was or would be planned with."""
    body = planning.export_file(ref)
    return Response(
        body,
        mimetype="application/octet-stream",
        headers=disposition("attachment", f"{ref}.tinknot.json"),
    )
