"""HTTPS on the site's network: a certificate a browser would take, and the pairing page."""

import urllib.request
from pathlib import Path

import pytest

from tests.lan import asked, served
from tinknot.services.certificates import authority_fingerprint, for_addresses
from tinknot.web.pairing import create_pairing


def test_certificate_serves_its_addresses_and_is_kept(tmp_path: Path):
    authority, certificate, _ = for_addresses(tmp_path, ["127.0.0.9"])
    first = certificate.read_bytes()
    for_addresses(tmp_path, ["127.0.0.9"])
    assert certificate.read_bytes() == first
    print_before = authority_fingerprint(authority)
    certificate.unlink()
    for_addresses(tmp_path, ["127.0.0.9"])
    assert certificate.read_bytes() != first
    assert authority_fingerprint(authority) == print_before  # a tablet trusts it once
    for_addresses(tmp_path, ["127.0.0.9", "127.0.0.10"])
    assert authority_fingerprint(authority) != print_before  # bound to other addresses it is another
    assert (tmp_path / "authority.key").stat().st_mode & 0o077 == 0
    assert tmp_path.stat().st_mode & 0o077 == 0


def test_pairing_page():
    client = create_pairing(b"CERT", "https://10.0.0.5:5117", "AA:BB").test_client()
    page = client.get("/").text
    assert "https://10.0.0.5:5117" in page
    assert "AA:BB" in page
    assert client.get("/pair.svg").text.startswith("<svg")
    assert client.get("/tinknot.crt").data == b"CERT"
    assert client.get("/other").status_code == 404


def test_served_over_https(tmp_path: Path):
    with served(tmp_path / "d") as (port, trust):
        assert b"first_start" in asked(port, trust)
        with urllib.request.urlopen(f"http://127.0.0.1:{port + 1}/", timeout=5) as page:
            assert b"Pair this tablet" in page.read()
        with pytest.raises(OSError, match="certificate"):
            urllib.request.urlopen(f"https://127.0.0.1:{port}/healthz", timeout=5)


def test_the_authority_vouches_for_this_machine_only_and_for_two_years(tmp_path: Path):
    from datetime import timedelta

    from cryptography import x509

    from tests.clock import CLOCK

    authority, certificate, _ = for_addresses(tmp_path, ["10.0.0.5"])
    made = x509.load_pem_x509_certificate(authority.read_bytes())
    bound = made.extensions.get_extension_for_class(x509.NameConstraints)
    assert bound.critical
    allowed = {str(n.value) for n in bound.value.permitted_subtrees}
    assert allowed == {"localhost", "10.0.0.5/32", "127.0.0.1/32"}
    assert made.not_valid_after_utc - CLOCK() == timedelta(days=730)
    key = (tmp_path / "authority.key").read_bytes()
    CLOCK.on(days=640)  # it ends soon: renewed with its key, so that who trusts either is served
    for_addresses(tmp_path, ["10.0.0.5"])
    renewed = x509.load_pem_x509_certificate(authority.read_bytes())
    assert renewed.not_valid_after_utc > made.not_valid_after_utc
    assert (tmp_path / "authority.key").read_bytes() == key
    leaf = x509.load_pem_x509_certificate(certificate.read_bytes())
    leaf.verify_directly_issued_by(renewed)
    leaf.verify_directly_issued_by(made)


def test_an_authority_of_before_that_could_vouch_for_anybody_is_replaced(tmp_path: Path, monkeypatch):
    from tinknot.services import certificates

    monkeypatch.setattr(certificates, "_covers", lambda *_: False)
    authority, _, _ = for_addresses(tmp_path, ["10.0.0.5"])
    first, key = authority_fingerprint(authority), (tmp_path / "authority.key").read_bytes()
    monkeypatch.undo()
    monkeypatch.setattr(certificates, "_bound", lambda _: pytest.fail("kept as it is"))
    for_addresses(tmp_path, ["10.0.0.5"])
    assert authority_fingerprint(authority) == first
    monkeypatch.undo()
    for_addresses(tmp_path, ["10.0.0.6"])
    assert (tmp_path / "authority.key").read_bytes() != key
