"""People and their roles; for admins."""

from typing import Annotated

from flask import Blueprint
from pydantic import Field

from tinknot.core.model import Name, Result, Strict
from tinknot.services import accounts
from tinknot.services.accounts import Change, Role
from tinknot.web.http import endpoint, person

bp = Blueprint("people", __name__)


class PersonOut(Result):
    id: int
    username: str
    name: str
    role: str
    active: bool
    must_change: bool
    version: int


class PeopleOut(Result):
    items: list[PersonOut]


class PersonIn(Strict):
    username: Annotated[str, Field(pattern=r"^[A-Za-z0-9._-]{2,40}$")]
    name: Name
    role: Role
    password: Annotated[str, Field(max_length=200)]


class PersonPatch(Strict):
    name: Name | None = None
    role: Role | None = None
    active: bool | None = None


class ResetOut(Result):
    """The one-time password, shown once."""

    person: PersonOut
    password: str


def _out(p: accounts.Person) -> PersonOut:
    return PersonOut(
        id=p.id,
        username=p.username,
        name=p.name,
        role=p.role,
        active=p.active,
        must_change=p.must_change,
        version=p.version,
    )


@endpoint(bp, "GET", "/people", out=PeopleOut, role="admin")
def everybody() -> PeopleOut:
    """All people."""
    return PeopleOut(items=[_out(p) for p in accounts.everybody()])


class Changes(Result):
    """The last changes of accounts, the newest first."""

    items: list[Change]


@endpoint(bp, "GET", "/people/changes", out=Changes, role="verifier")
def log() -> Changes:
    """Every change of an account: a verifier sees what an admin did to whose name, role, password or PIN."""
    return Changes(items=accounts.changes())


@endpoint(bp, "POST", "/people", body=PersonIn, out=PersonOut, role="admin", status=201)
def add(body: PersonIn) -> PersonOut:
    """Add a person, who chooses a password at the first sign-in."""
    return _out(
        accounts.add_person(body.username, body.name, body.role, body.password, must_change=True, by=person())
    )


@endpoint(bp, "PATCH", "/people/<int:user_id>", body=PersonPatch, out=PersonOut, role="admin", guarded=True)
def change(user_id: int, body: PersonPatch, version: int) -> PersonOut:
    """Change role, name, or whether the person may sign in."""
    return _out(accounts.set_person(user_id, version, body.role, body.active, name=body.name, by=person()))


@endpoint(bp, "POST", "/people/<int:user_id>/password", out=ResetOut, role="admin", guarded=True)
def reset(user_id: int, version: int) -> ResetOut:
    """Give a one-time password to somebody who lost theirs; their PIN ends with the old one."""
    found, word = accounts.reset_password(user_id, version, person())
    return ResetOut(person=_out(found), password=word)
