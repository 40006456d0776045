"""A local authority and a certificate for this machine's addresses, so that tablets get HTTPS on the
site's network."""

import contextlib
import ipaddress
import socket
from datetime import timedelta
from pathlib import Path

from cryptography import x509
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

AUTHORITY_DAYS = 3650
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


def _write(path: Path, data: bytes) -> None:
    path.touch(mode=0o600)
    path.chmod(0o600)
    path.write_bytes(data)


def _new_key(path: Path) -> ec.EllipticCurvePrivateKey:
    key = ec.generate_private_key(ec.SECP256R1())
    _write(path, key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    return key


def _read_key(path: Path) -> ec.EllipticCurvePrivateKey:
    key = load_pem_private_key(path.read_bytes(), None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    return key


def _authority(folder: Path) -> tuple[x509.Certificate, ec.EllipticCurvePrivateKey]:
    certificate, key = folder / "authority.crt", folder / "authority.key"
    if certificate.exists() and key.exists():
        return x509.load_pem_x509_certificate(certificate.read_bytes()), _read_key(key)
    made_key, subject = _new_key(key), _name(f"Tin Knot of {socket.gethostname()}")
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
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(made_key.public_key()), critical=False)
        .sign(made_key, hashes.SHA256())
    )
    _write(certificate, made.public_bytes(Encoding.PEM))
    return made, made_key


def _serves(certificate: x509.Certificate, addresses: list[str]) -> bool:
    names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    held = {str(a) for a in names.get_values_for_type(x509.IPAddress)}
    return held >= set(addresses) and certificate.not_valid_after_utc > now() + timedelta(days=RENEW_DAYS)


def for_addresses(folder: Path, addresses: list[str]) -> tuple[Path, Path, Path]:
    """Files of the authority's certificate, this machine's certificate and its key, made or renewed when they
    do not serve `addresses`. The authority stays, so that a tablet trusts it once."""
    folder.mkdir(parents=True, exist_ok=True)
    certificate, key = folder / "site.crt", folder / "site.key"
    authority, authority_key = _authority(folder)
    wanted = sorted({*addresses, "127.0.0.1"})
    if not (
        certificate.exists()
        and key.exists()
        and _serves(x509.load_pem_x509_certificate(certificate.read_bytes()), wanted)
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
            .not_valid_after(now() + timedelta(days=LEAF_DAYS))
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(names, critical=False)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(
                x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False
            )
            .sign(authority_key, hashes.SHA256())
        )
        _write(certificate, made.public_bytes(Encoding.PEM) + authority.public_bytes(Encoding.PEM))
    return folder / "authority.crt", certificate, key


def authority_fingerprint(path: Path) -> str:
    """SHA-256 of the authority's certificate, in pairs, to compare by eye."""
    return x509.load_pem_x509_certificate(path.read_bytes()).fingerprint(hashes.SHA256()).hex(":").upper()
