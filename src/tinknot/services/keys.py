"""The site's keys: files beside the database that only their owner may read, named by their fingerprint. The
database says which one is the site's, never what it is, so that a copy of the database forges nothing."""

from hashlib import sha256
from pathlib import Path

from cryptography.exceptions import UnsupportedAlgorithm
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
from cryptography.hazmat.primitives.asymmetric.rsa import RSAPrivateKey, generate_private_key
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    PublicFormat,
    load_pem_private_key,
)

from tinknot.services import settings
from tinknot.store.database import db, fold_log, writing
from tinknot.store.faults import StoreFault, told
from tinknot.store.files import write_whole

PrivateKey = Ed25519PrivateKey | RSAPrivateKey
SITE, PIN = "site-key", "pin-key"  # what signs releases; what PINs are sealed to


class KeyMissing(StoreFault):
    """The database names a key whose file is not there."""

    title = "A key of this site is missing"


def folder() -> Path:
    """Where the keys lie."""
    return Path(db.database).parent / "keys"


def file_name(name: str, fingerprint: str) -> str:
    """The file of a key."""
    return f"{name}-{fingerprint}.pem"


def site_key() -> Ed25519PrivateKey:
    """The key that signs releases (Ed25519, RFC 8032), made at the first use. Raises KeyMissing."""
    found = _key(SITE)
    assert isinstance(found, Ed25519PrivateKey)
    return found


def pin_key() -> RSAPrivateKey:
    """The key devices seal PINs to (RSA 2048), made at the first use. Raises KeyMissing."""
    found = _key(PIN)
    assert isinstance(found, RSAPrivateKey)
    return found


def move_out() -> None:
    """Keys that an earlier version kept inside the database are moved to files; no bytes of them stay
    behind."""
    _at_hand.clear()
    inside = {name: held for name in (SITE, PIN) if (held := settings.get(name)) is not None}
    for name, held in inside.items():
        key: PrivateKey
        if name == SITE:
            key = Ed25519PrivateKey.from_private_bytes(bytes.fromhex(held))
        else:
            loaded = load_pem_private_key(held.encode(), None)
            assert isinstance(loaded, RSAPrivateKey)
            key = loaded
        fingerprint = _write(name, key)
        with writing():
            settings.put(f"{name}-id", fingerprint)
            settings.drop(name)
    if inside:
        fold_log()


def forget_missing() -> list[str]:
    """Keys whose files are gone or damaged are no longer the site's; new ones are made at their next use.
    Their names."""
    gone = [
        name
        for name in (SITE, PIN)
        if (held := settings.get(f"{name}-id")) and fault_of(folder(), file_name(name, held))
    ]
    for name in gone:
        settings.drop(f"{name}-id")
    _at_hand.clear()
    return gone


_at_hand: dict[tuple[str, str], PrivateKey] = {}  # by database and name: asked for with every event


def _key(name: str) -> PrivateKey:
    known = (str(db.database), name)
    if known in _at_hand:
        return _at_hand[known]
    fingerprint = settings.get(f"{name}-id") or _make(name)
    found = _load(folder() / file_name(name, fingerprint))
    if not db.in_transaction():  # else the making of it may yet be taken back
        _at_hand[known] = found
    return found


def _make(name: str) -> str:
    """Make a key and say that it is the site's; returns its fingerprint."""
    with writing():
        fingerprint: str | None = settings.get(f"{name}-id")  # somebody else may have made it meanwhile
        if fingerprint is None:
            fingerprint = _write(name, _new(name))
            settings.put(f"{name}-id", fingerprint)
    return fingerprint


def _new(name: str) -> PrivateKey:
    return Ed25519PrivateKey.generate() if name == SITE else generate_private_key(65537, 2048)


def _load(path: Path) -> PrivateKey:
    try:
        found = load_pem_private_key(path.read_bytes(), None)
    except FileNotFoundError:
        raise KeyMissing(
            f"The key file {path.name} is missing beside the database. Put it back from a backup."
        ) from None
    except (ValueError, TypeError, UnsupportedAlgorithm):
        found = None
    if not isinstance(found, (Ed25519PrivateKey, RSAPrivateKey)):
        raise KeyMissing(
            f"The key file {path.name} beside the database is damaged. Put it back from a backup."
        ) from None
    return found


GONE = "is missing"


def fault_of(place: Path, file: str) -> str:
    """What is wrong with a key file in a folder, in words; empty when it holds the key that its name says."""
    path = place / file
    if not path.is_file():
        return GONE
    try:
        key = _load(path)
    except KeyMissing:
        return "is damaged"
    return "" if file.endswith(f"-{_fingerprint(key)}.pem") else "holds another key than its name says"


def _fingerprint(key: PrivateKey) -> str:
    public = key.public_key().public_bytes(Encoding.DER, PublicFormat.SubjectPublicKeyInfo)
    return sha256(public).hexdigest()[:16]


def _write(name: str, key: PrivateKey) -> str:
    """Write a key's file, durably and for its owner only; returns its fingerprint."""
    fingerprint = _fingerprint(key)
    with told():
        folder().mkdir(mode=0o700, exist_ok=True)
        body = key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption())
        write_whole(folder() / file_name(name, fingerprint), body)
    return fingerprint
