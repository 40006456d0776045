"""People: sign-in, roles, passwords. Hashes are Argon2id."""

import secrets
from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256
from typing import Any, Literal, get_args

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound
from tinknot.core.model import Result
from tinknot.services import names
from tinknot.services.clock import now, now_text
from tinknot.store.database import writing
from tinknot.store.models import AccountChange, SignIn, User

Role = Literal["viewer", "jointer", "verifier", "admin"]
ROLES: tuple[str, ...] = get_args(Role)
LEAST_PASSWORD = 10
SIGNED_IN_FOR = timedelta(days=14)
CLOCK_OFF = timedelta(minutes=10)  # a sign-in dated further ahead was made by a clock that was wrong

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
    return Person(
        row.id,
        row.username,
        row.name,
        row.role,
        active=row.active,
        must_change=row.must_change,
        version=row.version,
    )


def _row(user_id: int) -> User:
    row = User.get_or_none(User.id == user_id)
    if row is None:
        raise NotFound("There is no such person.")
    return row


class Change(Result):
    """A change of an account, in words: when, who made it, and whose it is."""

    at: str
    by: str
    person: str
    what: str


def changes(most: int = 200) -> list[Change]:
    """The last changes of accounts, the newest first."""
    rows = AccountChange.select().order_by(AccountChange.id.desc()).limit(most)
    return [Change(at=r.at, by=r.by_name, person=r.user_name, what=r.what) for r in rows]


def _noted(row: User, by: Person | None, what: str) -> None:
    """A change of an account, written down in the transaction that makes it. `by` None: whoever sits at the
    server, or a new installation's first admin."""
    AccountChange.create(
        at=now_text(),
        by_id=by.id if by else 0,
        by_name=by.name if by else "the server",
        user=row.id,
        user_name=row.name,
        what=what,
    )


def _new_name(name: str, path: str = "/name", of: int = 0) -> str:
    """A name that a person may have. Called inside a transaction. Raises InputError for one that cannot be
    read, Conflict for one that looks like somebody else's."""
    kept = names.checked(name, path)
    for other in User.select(User.id, User.name).where(User.id != of):
        if names.looks(other.name) == names.looks(kept):
            raise Conflict(
                f"“{kept}” looks like the name of {other.name}, who is here already. Add what tells them"
                " apart: a middle name, a number."
            )
    return kept


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


def add_person(
    username: str, name: str, role: str, password: str, must_change: bool = False, by: Person | None = None
) -> Person:
    """A new person. Raises Conflict when the sign-in name is taken, or the name looks like somebody
    else's."""
    hashed = _checked(password)
    with writing():
        if User.select().where(User.username == username.lower()).exists():
            raise Conflict(f"The sign-in name {username} is taken.")
        return _create(username, name, role, hashed, must_change=must_change, by=by)


def first_admin(username: str, name: str, password: str) -> Person:
    """The first person of a new installation; one, however many ask at once. Raises NotAllowed for any
    other."""
    hashed = _checked(password)
    with writing():
        if not nobody_yet():
            raise NotAllowed("There are people already; ask an admin for an account.")
        return _create(username, name, "admin", hashed)


def _create(
    username: str, name: str, role: str, hashed: str, must_change: bool = False, by: Person | None = None
) -> Person:
    row = User.create(
        username=username.lower(),
        name=_new_name(name),
        role=role,
        password_hash=hashed,
        must_change=must_change,
    )
    _noted(row, by, f"made, as {role}, to sign in as {row.username}")
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
    hashed = _checked(new, "/new")
    return _set_password(user_id, hashed, must_change=False, by=_person(row), what="chose another password")


def one_time_word() -> str:
    """A word that nobody guesses and anybody can type, good for once."""
    return "-".join(secrets.token_hex(2) for _ in range(3))


def reset_password(user_id: int, version: int | None = None, by: Person | None = None) -> tuple[Person, str]:
    """A one-time password from an admin; the person chooses another at the next sign-in. Their PIN ends:
    whoever knows the new word must not sign as them. Raises Conflict when somebody else changed the person
    since `version`."""
    word = one_time_word()
    what = "password reset; the PIN ended with it"
    hashed = _hasher.hash(word)
    return _set_password(user_id, hashed, True, by, what=what, version=version, ends_pin=True), word


def _set_password(
    user_id: int,
    hashed: str,
    must_change: bool,
    by: Person | None,
    what: str,
    version: int | None = None,
    ends_pin: bool = False,
) -> Person:
    with writing():
        row = _unchanged(user_id, version)
        row.password_hash, row.must_change = hashed, must_change
        row.pin_hash = None if ends_pin else row.pin_hash
        row.version += 1
        row.save()
        _end_all(row.id)
        _noted(row, by, what)
    return _person(row)


def _unchanged(user_id: int, version: int | None) -> User:
    """The person's row, inside the transaction that changes it. Raises Conflict when somebody else changed it
    since `version`."""
    row = _row(user_id)
    if version is not None and row.version != version:
        raise Conflict(
            f"{row.name} was changed by somebody else in the meantime. Look again, then change it."
        )
    return row


def set_pin(user_id: int, hashed: str) -> None:
    """One's own PIN, hashed."""
    with writing():
        row = _row(user_id)
        row.pin_hash = hashed
        row.save(only=[User.pin_hash])
        _noted(row, _person(row), "set a PIN")


def set_person(
    user_id: int,
    version: int,
    role: str | None = None,
    active: bool | None = None,
    name: str | None = None,
    by: Person | None = None,
) -> Person:
    """Change role, name or whether the person may sign in. The last admin stays an admin. What was signed
    under the former name keeps it; the person stays the same one, by number. Raises Conflict when somebody
    else changed the person since `version`, or the name looks like somebody else's."""
    with writing():
        row = _unchanged(user_id, version)
        loses = row.role == "admin" and row.active and ((role not in (None, "admin")) or active is False)
        if loses and User.select().where((User.role == "admin") & (User.active == True)).count() <= 1:  # noqa: E712
            raise NotAllowed("There must be one admin left who can sign in.")
        kept = row.name if name is None else _new_name(name, of=row.id)
        said = [f"role {row.role}, now {role}"] if role not in (None, row.role) else []
        said += [f"name {row.name}, now {kept}"] if kept != row.name else []
        said += ["may sign in" if active else "may not sign in"] if active not in (None, row.active) else []
        row.role, row.name = role or row.role, kept
        row.active = row.active if active is None else active
        row.version += 1
        row.save()
        if said:
            _noted(row, by, "; ".join(said))
        if not row.active:
            _end_all(row.id)
    return _person(row)


def enter(user_id: int) -> str:
    """A new sign-in of this person; returns what its cookie says. Only the digest of it is kept."""
    token = secrets.token_urlsafe(32)
    with writing():
        SignIn.delete().where(~_lasts()).execute()
        SignIn.create(token=_digest(token), user=user_id, created=now().isoformat())
    return token


def entered(token: str) -> Person | None:
    """The active person whose sign-in this is, while it lasts."""
    row = (
        User.select()
        .join(SignIn, on=(SignIn.user == User.id))
        .where(
            (SignIn.token == _digest(token)) & _lasts() & (User.active == True)  # noqa: E712 - peewee needs the comparison
        )
        .first()
    )
    return _person(row) if row else None


def _lasts() -> Any:
    """Of a sign-in, that it lasts: it is not too old, and not of a future that the clock was once set to."""
    moment = now()
    return (SignIn.created >= (moment - SIGNED_IN_FOR).isoformat()) & (
        SignIn.created <= (moment + CLOCK_OFF).isoformat()
    )


def sign_in_mark(token: str) -> str:
    """What a sign-in is called where it may be seen: it opens nothing."""
    return sha256(f"mark:{_digest(token)}".encode()).hexdigest()[:16]


def leave(token: str) -> None:
    """End one sign-in; its cookie is worth nothing from now on, wherever there is a copy of it."""
    with writing():
        SignIn.delete().where(SignIn.token == _digest(token)).execute()


def _end_all(user_id: int) -> None:
    SignIn.delete().where(SignIn.user == user_id).execute()


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()
