"""A second person's PIN: set by its owner, sealed by the device to the site's key, checked here."""

import base64
import itertools
from math import ceil

from argon2.exceptions import InvalidHashError, VerifyMismatchError
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import padding
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat

from tinknot.core.errors import InputError
from tinknot.core.model import Result
from tinknot.core.work.events import Signature, person_mark
from tinknot.services import accounts, keys, tries
from tinknot.services.accounts import Person, hash_secret, person_named, secret_holds
from tinknot.services.tries import Limit
from tinknot.store.models import User

BY_ONE = Limit(5, 15 * 60)  # wrong tries of one person's PIN by whoever is signed in on the device
OF_ONE = Limit(
    30, 60
)  # by all together: who guesses from many accounts holds the person up for a minute at most


def _sealing(joint: str, step: str, event: str) -> padding.OAEP:
    """What a PIN is sealed with: it opens for this event of this step of this joint only."""
    label = "\n".join((joint, step, event)).encode()
    return padding.OAEP(mgf=padding.MGF1(hashes.SHA256()), algorithm=hashes.SHA256(), label=label)


def public_key() -> str:
    """The key a device seals PINs to: RSA, SubjectPublicKeyInfo, base64."""
    return base64.b64encode(
        keys.pin_key().public_key().public_bytes(Encoding.DER, PublicFormat.SubjectPublicKeyInfo)
    ).decode()


def seal(pin: str, joint: str, step: str, event: str) -> str:
    """A PIN sealed as a device does it, for one event (its id) of a step of a joint (its reference)."""
    sealed = keys.pin_key().public_key().encrypt(pin.encode(), _sealing(joint, step, event))
    return base64.b64encode(sealed).decode()


def set_pin(user_id: int, pin: str) -> None:
    """One's own PIN; whoever calls has made sure of the person. Raises InputError for one that is easily
    guessed."""
    if not (pin.isdecimal() and 4 <= len(pin) <= 12):
        raise InputError.at("/pin", "must be 4 to 12 digits")
    steps = {(int(b) - int(a)) % 10 for a, b in itertools.pairwise(pin)}
    if steps in ({0}, {1}, {9}):
        raise InputError.at("/pin", "is guessed at once; choose another")
    accounts.set_pin(user_id, hash_secret(pin))


class Verifier(Result):
    """Somebody who can sign with a PIN; `mark` is how the work knows them."""

    username: str
    name: str
    mark: str


def verifiers() -> list[Verifier]:
    """Who can sign with a PIN, by name."""
    rows = User.select().where(
        (User.active == True) & User.pin_hash.is_null(False) & User.role.in_(("verifier", "admin"))  # noqa: E712
    )
    return [
        Verifier(username=r.username, name=r.name, mark=person_mark(r.id)) for r in rows.order_by(User.name)
    ]


def signer(given: Signature, joint: str, step: str, event: str, by: Person) -> tuple[Person | None, str]:
    """The person whose signature holds for this event of this step, or None and why not. `by` is who is
    signed in on the device. A PIN opens for the event it was sealed for, and events are taken once; so it
    is used once."""
    row = User.get_or_none(User.username == given.username.strip().lower())
    if row is None or not row.active or row.pin_hash is None:
        return None, f"{given.username} has no PIN to sign with"
    mine, all_of_it = f"pin:{row.id}:{by.id}", f"pin:{row.id}"
    wait = tries.count(mine, BY_ONE) or tries.count(all_of_it, OF_ONE)
    if wait:
        return (
            None,
            f"The PIN of {row.name} is locked here after too many wrong tries; wait {ceil(wait / 60)} min",
        )
    try:
        sealed = base64.b64decode(given.sealed_pin, validate=True)
        pin = keys.pin_key().decrypt(sealed, _sealing(joint, step, event)).decode()
        right = secret_holds(row.pin_hash, pin)
    except (ValueError, UnicodeDecodeError, VerifyMismatchError, InvalidHashError):
        right = False
    if not right:
        return (
            None,
            f"The PIN of {row.name} was wrong, or was given for something else; the hold is open again",
        )
    tries.forget(mine, all_of_it)
    return person_named(row.username), ""
