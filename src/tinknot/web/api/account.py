"""Signing in and out, one's own password, and the very first admin."""

import secrets
from typing import Annotated

from flask import Blueprint, Response, current_app, request, session
from flask_login import current_user, login_user, logout_user
from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Name, Result, Strict
from tinknot.core.work.events import person_mark
from tinknot.services import accounts, pins, tries
from tinknot.services.site import Writing, writing_form
from tinknot.services.tries import Limit
from tinknot.web.http import endpoint, person, problem, waiting
from tinknot.web.signed_in import SessionUser

bp = Blueprint("account", __name__)
TRIES = "10 per minute"  # of one address, of what only somebody signed in or a new installation asks
DOOR = "300 per minute"  # of one address, behind which a whole site may sign in: it bounds the work, no more
BY_ONE = Limit(10, 5 * 60)  # wrong passwords of one name from one address
BY_ALL = Limit(40, 60)  # of one name from everywhere: who guesses keeps the person out for a minute at most


class SignIn(Strict):
    username: Name
    password: Annotated[str, Field(max_length=200)]


class First(SignIn):
    """The first admin; `code` is the word on the server's console, where it listens beyond its own
    machine."""

    name: Name
    code: Annotated[str, Field(max_length=80)] = ""


class NewPassword(Strict):
    old: Annotated[str, Field(max_length=200)]
    new: Annotated[str, Field(max_length=200)]


class PinIn(Strict):
    """A PIN of one's own; the password says that it is the person who sets it."""

    pin: Annotated[str, Field(max_length=20)]
    password: Annotated[str, Field(max_length=200)]


class Session(Result):
    """Who is signed in; `first_start` when nobody exists yet, `needs_code` when the first admin must know
    the word on the server's console. `mark` is how the work knows the person, and `sign_in` this sign-in;
    `site`: how the site writes."""

    signed_in: bool
    first_start: bool
    needs_code: bool = False
    mark: str = ""
    sign_in: str = ""
    username: str = ""
    name: str = ""
    role: str = ""
    must_change: bool = False
    has_pin: bool = False
    csrf: str = ""
    site: Writing = Writing()


def _session() -> Session:
    if not current_user.is_authenticated:
        first = accounts.nobody_yet()
        return Session(
            signed_in=False, first_start=first, needs_code=first and bool(current_app.config["SETUP_CODE"])
        )
    p = person()
    return Session(
        signed_in=True,
        first_start=False,
        mark=person_mark(p.id),
        sign_in=accounts.sign_in_mark(current_user.get_id()),
        username=p.username,
        name=p.name,
        role=p.role,
        must_change=p.must_change,
        has_pin=accounts.has_pin(p.id),
        csrf=session.setdefault("csrf", secrets.token_hex(16)),
        site=writing_form(),
    )


def _enter(found: accounts.Person) -> Session:
    session.clear()
    session.permanent = True
    login_user(SessionUser(found, accounts.enter(found.id)))
    return _session()


@endpoint(bp, "GET", "/session", out=Session, role=None)
def show() -> Session:
    """Who is signed in."""
    return _session()


@endpoint(bp, "POST", "/session", body=SignIn, out=Session, role=None, limit=DOOR)
def sign_in(body: SignIn) -> Session | Response:
    """Sign in."""
    name = body.username.strip().lower()
    here, anywhere = f"door:{name}:{request.remote_addr}", f"door:{name}"
    if wait := current_app.config["RATE_LIMIT"] and (
        tries.count(here, BY_ONE) or tries.count(anywhere, BY_ALL)
    ):
        return waiting(wait)
    found = accounts.sign_in(body.username, body.password)
    if found is not None:
        tries.forget(here, anywhere)
    if found is None:
        return problem(
            401,
            "sign-in",
            "Not signed in",
            "Name and password do not belong together. An admin can reset a lost password.",
        )
    return _enter(found)


@endpoint(bp, "DELETE", "/session", role=None)
def sign_out() -> None:
    """Sign out; the cookie is worth nothing from now on."""
    if current_user.is_authenticated:
        accounts.leave(current_user.get_id())
    logout_user()
    session.clear()


@endpoint(bp, "POST", "/setup", body=First, out=Session, role=None, status=201, limit=TRIES)
def first_admin(body: First) -> Session:
    """Make the first admin of a new installation."""
    code = current_app.config["SETUP_CODE"]
    if code and not secrets.compare_digest(body.code.strip().encode(), code.encode()):
        raise InputError.at("/code", "is not the word that stands on the server's console")
    return _enter(accounts.first_admin(body.username, body.name, body.password))


@endpoint(bp, "POST", "/session/password", body=NewPassword, out=Session, role=None, limit=TRIES)
def change(body: NewPassword) -> Session | Response:
    """Change one's own password."""
    if not current_user.is_authenticated:
        return problem(401, "sign-in", "Sign in first", "You are not signed in.")
    return _enter(accounts.change_password(person().id, body.old, body.new))


@endpoint(bp, "PUT", "/session/pin", body=PinIn, out=Session, limit=TRIES)
def set_pin(body: PinIn) -> Session:
    """One's own PIN, to sign as second person on somebody else's device; asks for the password."""
    if accounts.sign_in(person().username, body.password) is None:
        raise InputError.at("/password", "is not your password")
    pins.set_pin(person().id, body.pin)
    return _session()
