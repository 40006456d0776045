"""A local authority and a certificate for this machine's addresses, so that tablets get HTTPS on the
site's network."""

import contextlib
import ipaddress
import socket
from datetime import timedelta
from pathlib import Path

from cryptography import x509
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import (
    Encoding,
    NoEncryption,
    PrivateFormat,
    load_pem_private_key,
)
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from tinknot.services.clock import now
from tinknot.store.files import write_whole

AUTHORITY_DAYS = 730
PAIR_AGAIN_DAYS = (
    120  # before its end the authority is renewed, with the same key, and tablets pair once more
)
LEAF_DAYS = 390  # browsers refuse certificates that last longer than 398 days
RENEW_DAYS = 30


def lan_addresses() -> list[str]:
    """This machine's addresses on its networks, without the loopback ones."""
    found: set[str] = set()
    for target in (
        "192.0.2.1",
        "198.51.100.1",
    ):  # documentation networks (RFC 5737): no packet is sent to them
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
            try:
                probe.connect((target, 9))
                found.add(probe.getsockname()[0])
            except OSError:
                continue
    with contextlib.suppress(OSError):
        found |= {str(a[4][0]) for a in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}
    return sorted(a for a in found if not ipaddress.ip_address(a).is_loopback)


def _name(common: str) -> x509.Name:
    return x509.Name(
        [
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Tin Knot"),
            x509.NameAttribute(NameOID.COMMON_NAME, common),
        ]
    )


def _new_key(path: Path) -> ec.EllipticCurvePrivateKey:
    key = ec.generate_private_key(ec.SECP256R1())
    write_whole(path, key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    return key


def _read_key(path: Path) -> ec.EllipticCurvePrivateKey:
    key = load_pem_private_key(path.read_bytes(), None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    return key


def _bound(addresses: list[str]) -> x509.NameConstraints:
    """The authority vouches for this machine's own addresses and for no other."""
    own = [x509.IPAddress(ipaddress.ip_network(a)) for a in addresses]
    return x509.NameConstraints([x509.DNSName("localhost"), *own], None)


def _covers(certificate: x509.Certificate, addresses: list[str]) -> bool:
    """Whether an authority is bound, and to all of these addresses."""
    try:
        bound = certificate.extensions.get_extension_for_class(x509.NameConstraints).value
    except x509.ExtensionNotFound:
        return False  # of an earlier version: it could vouch for any address, and for ten years
    held = {str(n.value) for n in bound.permitted_subtrees or () if isinstance(n, x509.IPAddress)}
    return held >= {str(ipaddress.ip_network(a)) for a in addresses}


def _authority(folder: Path, addresses: list[str]) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    """The authority: as it is; renewed with its key where it ends soon, so that a tablet that has either
    trusts both; or anew, with another key, where it is not bound to these addresses."""
    certificate, key = folder / "authority.crt", folder / "authority.key"
    kept = x509.load_pem_x509_certificate(certificate.read_bytes()) if certificate.exists() else None
    if kept is not None and key.exists() and _covers(kept, addresses):
        held = _read_key(key)
        if kept.not_valid_after_utc > now() + timedelta(days=PAIR_AGAIN_DAYS):
            return kept, held
        return _vouching(certificate, held, kept.subject, addresses), held
    made_key = _new_key(key)
    return _vouching(certificate, made_key, _name(f"Tin Knot of {socket.gethostname()}"), addresses), made_key


def _vouching(
    certificate: Path, made_key: ec.EllipticCurvePrivateKey, subject: x509.Name, addresses: list[str]
) -> x509.Certificate:
    """Write an authority's own certificate."""
    usage = x509.KeyUsage(
        digital_signature=False,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=True,
        crl_sign=True,
        encipher_only=False,
        decipher_only=False,
    )
    made = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(made_key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now() - timedelta(days=1))
        .not_valid_after(now() + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(usage, critical=True)
        .add_extension(_bound(addresses), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(made_key.public_key()), critical=False)
        .sign(made_key, hashes.SHA256())
    )
    write_whole(certificate, made.public_bytes(Encoding.PEM))
    return made


def _serves(certificate: x509.Certificate, addresses: list[str], authority: x509.Certificate) -> bool:
    names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    held = {str(a) for a in names.get_values_for_type(x509.IPAddress)}
    try:
        certificate.verify_directly_issued_by(authority)
    except (ValueError, TypeError, InvalidSignature):
        return False
    return held >= set(addresses) and certificate.not_valid_after_utc > now() + timedelta(days=RENEW_DAYS)


def for_addresses(folder: Path, addresses: list[str]) -> tuple[Path, Path, Path]:
    """Files of the authority's certificate, this machine's certificate and its key, made or renewed when they
    do not serve `addresses`. The authority stays while the addresses do, so that a tablet trusts it once in
    two years; bound to these addresses, it is of no use for any other site."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    folder.chmod(0o700)
    certificate, key = folder / "site.crt", folder / "site.key"
    wanted = sorted({*addresses, "127.0.0.1"})
    authority, authority_key = _authority(folder, wanted)
    if not (
        certificate.exists()
        and key.exists()
        and _serves(x509.load_pem_x509_certificate(certificate.read_bytes()), wanted, authority)
    ):
        made_key = _new_key(key)
        names = x509.SubjectAlternativeName(
            [x509.DNSName("localhost"), *(x509.IPAddress(ipaddress.ip_address(a)) for a in wanted)]
        )
        made = (
            x509.CertificateBuilder()
            .subject_name(_name("this site"))
            .issuer_name(authority.subject)
            .public_key(made_key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now() - timedelta(days=1))
            .not_valid_after(min(now() + timedelta(days=LEAF_DAYS), authority.not_valid_after_utc))
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(names, critical=False)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(
                x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False
            )
            .sign(authority_key, hashes.SHA256())
        )
        write_whole(certificate, made.public_bytes(Encoding.PEM) + authority.public_bytes(Encoding.PEM))
    return folder / "authority.crt", certificate, key


def authority_until(path: Path) -> str:
    """The last day on which tablets that are paired now are served without pairing again (ISO 8601)."""
    return x509.load_pem_x509_certificate(path.read_bytes()).not_valid_after_utc.date().isoformat()


def authority_fingerprint(path: Path) -> str:
    """SHA-256 of the authority's certificate, in pairs, to compare by eye."""
    return x509.load_pem_x509_certificate(path.read_bytes()).fingerprint(hashes.SHA256()).hex(":").upper()
