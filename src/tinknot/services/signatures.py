"""Signatures by their public key (Ed25519, RFC 8032)."""

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey


def signature_holds(text: str, signature: str, key: str) -> bool:
    """Whether `signature` is that of `text` under the public key `key`."""
    try:
        Ed25519PublicKey.from_public_bytes(bytes.fromhex(key)).verify(bytes.fromhex(signature), text.encode())
    except (InvalidSignature, ValueError):
        return False
    return True
