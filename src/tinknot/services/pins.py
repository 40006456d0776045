"""A second person's PIN: set by its owner, sealed by the device to the site's key, checked here."""

import base64
import itertools
from datetime import datetime, timedelta

from argon2.exceptions import InvalidHashError, VerifyMismatchError
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import padding
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat

from tinknot.core.errors import InputError
from tinknot.core.events import Signature
from tinknot.services import keys
from tinknot.services.accounts import Person, hash_secret, person_named, secret_holds
from tinknot.services.clock import now
from tinknot.store.database import writing
from tinknot.store.models import User

MOST_MISSES = 5
LOCKED_MIN = 15
_OAEP = padding.OAEP(mgf=padding.MGF1(hashes.SHA256()), algorithm=hashes.SHA256(), label=None)


def public_key() -> str:
    """The key a device seals PINs to: RSA, SubjectPublicKeyInfo, base64."""
    return base64.b64encode(
        keys.pin_key().public_key().public_bytes(Encoding.DER, PublicFormat.SubjectPublicKeyInfo)
    ).decode()


def seal(pin: str) -> str:
    """A PIN sealed as a device does it."""
    return base64.b64encode(keys.pin_key().public_key().encrypt(pin.encode(), _OAEP)).decode()


def set_pin(user_id: int, pin: str) -> None:
    """One's own PIN. Raises InputError for one that is easily guessed."""
    if not (pin.isdecimal() and 4 <= len(pin) <= 12):
        raise InputError.at("/pin", "must be 4 to 12 digits")
    steps = {(int(b) - int(a)) % 10 for a, b in itertools.pairwise(pin)}
    if steps in ({0}, {1}, {9}):
        raise InputError.at("/pin", "is guessed at once; choose another")
    hashed = hash_secret(pin)
    with writing():
        User.update(pin_hash=hashed, pin_misses=0, pin_locked_until=None).where(User.id == user_id).execute()


def verifiers() -> dict[str, str]:
    """Who can sign with a PIN: name by sign-in name."""
    rows = User.select().where(
        (User.active == True) & User.pin_hash.is_null(False) & User.role.in_(("verifier", "admin"))  # noqa: E712
    )
    return {r.username: r.name for r in rows.order_by(User.name)}


def signer(given: Signature) -> tuple[Person | None, str]:
    """The person whose signature holds, or None and why not. Every try is counted before it is looked at, so that many
    at once are no more tries than one after the other; wrong ones lock the PIN for a while."""
    row = User.get_or_none(User.username == given.username.strip().lower())
    if row is None or not row.active or row.pin_hash is None:
        return None, f"{given.username} has no PIN to sign with"
    if not _count(row.id):
        return None, f"The PIN of {row.name} is locked after too many wrong tries; wait {LOCKED_MIN} min"
    try:
        pin = keys.pin_key().decrypt(base64.b64decode(given.sealed_pin, validate=True), _OAEP).decode()
        right = secret_holds(row.pin_hash, pin)
    except (ValueError, UnicodeDecodeError, VerifyMismatchError, InvalidHashError):
        right = False
    if not right:
        return None, f"The PIN of {row.name} was wrong; the hold is open again"
    with writing():
        User.update(pin_misses=0, pin_locked_until=None).where(User.id == row.id).execute()
    return person_named(row.username), ""


def _count(user_id: int) -> bool:
    """Count a try before it is looked at; whether it may be."""
    with writing():
        row = User.get_by_id(user_id)
        if row.pin_locked_until and datetime.fromisoformat(row.pin_locked_until) > now():
            return False
        tries, until = row.pin_misses + 1, None
        if tries >= MOST_MISSES:
            tries, until = 0, (now() + timedelta(minutes=LOCKED_MIN)).isoformat()
        User.update(pin_misses=tries, pin_locked_until=until).where(User.id == user_id).execute()
    return True
