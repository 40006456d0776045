"""People: sign-in, roles, passwords. Hashes are Argon2id."""

import secrets
from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256
from typing import Literal, get_args

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound
from tinknot.services.clock import now
from tinknot.store.database import writing
from tinknot.store.models import SignIn, User

Role = Literal["viewer", "jointer", "verifier", "admin"]
ROLES: tuple[str, ...] = get_args(Role)
LEAST_PASSWORD = 10
SIGNED_IN_FOR = timedelta(days=14)

_hasher = PasswordHasher()
_DUMMY = _hasher.hash(secrets.token_hex(8))  # so that an unknown name costs the same time


@dataclass(frozen=True)
class Person:
    """A person without the secrets; `version` guards edits."""

    id: int
    username: str
    name: str
    role: str
    active: bool
    must_change: bool
    version: int


def hash_secret(secret: str) -> str:
    """Argon2id hash of a password or PIN."""
    return _hasher.hash(secret)


def secret_holds(hashed: str, secret: str) -> bool:
    """True, or argon2's VerifyMismatchError."""
    return _hasher.verify(hashed, secret)


def has_pin(user_id: int) -> bool:
    """Whether this person can sign with a PIN."""
    return _row(user_id).pin_hash is not None


def person_named(username: str) -> Person | None:
    """The active person with this sign-in name."""
    row = User.get_or_none((User.username == username.lower()) & (User.active == True))  # noqa: E712 - peewee needs the comparison
    return _person(row) if row else None


def _person(row: User) -> Person:
    return Person(row.id, row.username, row.name, row.role, row.active, row.must_change, row.version)


def _row(user_id: int) -> User:
    row = User.get_or_none(User.id == user_id)
    if row is None:
        raise NotFound("There is no such person.")
    return row


def _checked(password: str, path: str = "/password") -> str:
    if len(password) < LEAST_PASSWORD:
        raise InputError.at(path, f"must have at least {LEAST_PASSWORD} characters")
    return _hasher.hash(password)


def nobody_yet() -> bool:
    """Whether this is a new installation without people."""
    return not User.select().exists()


def everybody() -> list[Person]:
    """All people, by name."""
    return [_person(r) for r in User.select().order_by(User.name)]


def add_person(username: str, name: str, role: str, password: str, must_change: bool = False) -> Person:
    """A new person. Raises Conflict when the sign-in name is taken."""
    hashed = _checked(password)
    with writing():
        if User.select().where(User.username == username.lower()).exists():
            raise Conflict(f"The sign-in name {username} is taken.")
        return _create(username, name, role, hashed, must_change)


def first_admin(username: str, name: str, password: str) -> Person:
    """The first person of a new installation; one, however many ask at once. Raises NotAllowed for any
    other."""
    hashed = _checked(password)
    with writing():
        if not nobody_yet():
            raise NotAllowed("There are people already; ask an admin for an account.")
        return _create(username, name, "admin", hashed)


def _create(username: str, name: str, role: str, hashed: str, must_change: bool = False) -> Person:
    row = User.create(
        username=username.lower(),
        name=name,
        role=role,
        password_hash=hashed,
        must_change=must_change,
    )
    return _person(row)


def sign_in(username: str, password: str) -> Person | None:
    """The person, when name and password belong together and the person is active."""
    row = User.get_or_none(User.username == username.strip().lower())
    try:
        _hasher.verify(row.password_hash if row else _DUMMY, password)
    except (VerifyMismatchError, InvalidHashError):
        return None
    return _person(row) if row and row.active else None


def change_password(user_id: int, old: str, new: str) -> Person:
    """Own password; other sessions of the person end."""
    row = _row(user_id)
    if sign_in(row.username, old) is None:
        raise InputError.at("/old", "is not your present password")
    if old == new:
        raise InputError.at("/new", "must differ from the old password")
    return _set_password(row, _checked(new, "/new"), must_change=False)


def one_time_word() -> str:
    """A word that nobody guesses and anybody can type, good for once."""
    return "-".join(secrets.token_hex(2) for _ in range(3))


def reset_password(user_id: int) -> tuple[Person, str]:
    """A one-time password from an admin; the person chooses another at the next sign-in."""
    word = one_time_word()
    return _set_password(_row(user_id), _hasher.hash(word), must_change=True), word


def _set_password(row: User, hashed: str, must_change: bool) -> Person:
    with writing():
        row.password_hash, row.must_change = hashed, must_change
        row.version += 1
        row.save()
        _end_all(row.id)
    return _person(row)


def set_person(
    user_id: int, version: int, role: str | None = None, active: bool | None = None, name: str | None = None
) -> Person:
    """Change role, name or whether the person may sign in. The last admin stays an admin. Raises Conflict
    when somebody else changed the person since `version`."""
    with writing():
        row = _row(user_id)
        if row.version != version:
            raise Conflict(
                f"{row.name} was changed by somebody else in the meantime. Look again, then change it."
            )
        loses = row.role == "admin" and row.active and ((role not in (None, "admin")) or active is False)
        if loses and User.select().where((User.role == "admin") & (User.active == True)).count() <= 1:  # noqa: E712
            raise NotAllowed("There must be one admin left who can sign in.")
        row.role = role or row.role
        row.name = name or row.name
        row.active = row.active if active is None else active
        row.version += 1
        row.save()
        if not row.active:
            _end_all(row.id)
    return _person(row)


def enter(user_id: int) -> str:
    """A new sign-in of this person; returns what its cookie says. Only the digest of it is kept."""
    token = secrets.token_urlsafe(32)
    with writing():
        SignIn.delete().where(SignIn.created < (now() - SIGNED_IN_FOR).isoformat()).execute()
        SignIn.create(token=_digest(token), user=user_id, created=now().isoformat())
    return token


def entered(token: str) -> Person | None:
    """The active person whose sign-in this is, while it lasts."""
    row = (
        User.select()
        .join(SignIn, on=(SignIn.user == User.id))
        .where(
            (SignIn.token == _digest(token))
            & (SignIn.created >= (now() - SIGNED_IN_FOR).isoformat())
            & (User.active == True)  # noqa: E712 - peewee needs the comparison
        )
        .first()
    )
    return _person(row) if row else None


def leave(token: str) -> None:
    """End one sign-in; its cookie is worth nothing from now on, wherever there is a copy of it."""
    with writing():
        SignIn.delete().where(SignIn.token == _digest(token)).execute()


def _end_all(user_id: int) -> None:
    SignIn.delete().where(SignIn.user == user_id).execute()


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()
