"""Signing in and out, one's own password, and the very first admin."""

import secrets
from typing import Annotated

from flask import Blueprint, Response, session
from flask_login import current_user, login_user, logout_user
from pydantic import Field

from tinknot.core.model import Name, Result, Strict
from tinknot.services import accounts, pins
from tinknot.web.http import endpoint, person, problem
from tinknot.web.signed_in import SessionUser

bp = Blueprint("account", __name__)
TRIES = "10 per minute"


class SignIn(Strict):
    username: Name
    password: Annotated[str, Field(max_length=200)]


class First(SignIn):
    name: Name


class NewPassword(Strict):
    old: Annotated[str, Field(max_length=200)]
    new: Annotated[str, Field(max_length=200)]


class PinIn(Strict):
    pin: Annotated[str, Field(max_length=20)]


class Session(Result):
    """Who is signed in; `first_start` when nobody exists yet."""

    signed_in: bool
    first_start: bool
    username: str = ""
    name: str = ""
    role: str = ""
    must_change: bool = False
    has_pin: bool = False
    csrf: str = ""


def _session() -> Session:
    if not current_user.is_authenticated:
        return Session(signed_in=False, first_start=accounts.nobody_yet())
    p = person()
    return Session(
        signed_in=True, first_start=False, username=p.username, name=p.name, role=p.role, must_change=p.must_change, has_pin=accounts.has_pin(p.id),
        csrf=session.setdefault("csrf", secrets.token_hex(16)),
    )  # fmt: skip


def _enter(found: accounts.Person) -> Session:
    session.clear()
    session.permanent = True
    login_user(SessionUser(found))
    return _session()


@endpoint(bp, "GET", "/session", out=Session, role=None)
def show() -> Session:
    """Who is signed in."""
    return _session()


@endpoint(bp, "POST", "/session", body=SignIn, out=Session, role=None, limit=TRIES)
def sign_in(body: SignIn) -> Session | Response:
    """Sign in."""
    found = accounts.sign_in(body.username, body.password)
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
    """Sign out."""
    logout_user()
    session.clear()


@endpoint(bp, "POST", "/setup", body=First, out=Session, role=None, status=201, limit=TRIES)
def first_admin(body: First) -> Session:
    """Make the first admin of a new installation."""
    return _enter(accounts.first_admin(body.username, body.name, body.password))


@endpoint(bp, "POST", "/session/password", body=NewPassword, out=Session, role=None, limit=TRIES)
def change(body: NewPassword) -> Session | Response:
    """Change one's own password."""
    if not current_user.is_authenticated:
        return problem(401, "sign-in", "Sign in first", "You are not signed in.")
    return _enter(accounts.change_password(person().id, body.old, body.new))


@endpoint(bp, "PUT", "/session/pin", body=PinIn, out=Session, limit=TRIES)
def set_pin(body: PinIn) -> Session:
    """One's own PIN, to sign as second person on somebody else's device."""
    pins.set_pin(person().id, body.pin)
    return _session()
