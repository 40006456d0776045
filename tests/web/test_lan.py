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
    for_addresses(tmp_path, ["127.0.0.9", "127.0.0.10"])
    assert certificate.read_bytes() != first
    assert authority_fingerprint(authority) == print_before  # a tablet trusts it once
    assert (tmp_path / "authority.key").stat().st_mode & 0o077 == 0


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
