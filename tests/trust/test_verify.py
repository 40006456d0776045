"""`verify` answers in words, whatever it is given."""

import json
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import FULL
from tests.web.test_fuzz import spoiled
from tinknot.core.plan.plan import canonical
from tinknot.services import records, site
from tinknot.services.verifying import digest

WORDS = (
    b"",
    b"{",
    b"null",
    b"[]",
    b"1E400",
    b"NaN",
    b'{"events": NaN}',
    b"-Infinity",
    b"[" * 200_000,
    b'{"a":' * 100_000,
    b"\xff\xfe",
    b"\x00",
    b'"\\ud800"',
    b"9" * 5000,
    b'{"events": [], "digest": 1e400}',
    b"true",
    b'{"events": {"a": 1}}',
)


@pytest.mark.parametrize("data", WORDS, ids=lambda d: repr(d[:16]))
def test_no_record_at_all(app, data: bytes):
    found = records.verify(data)
    assert not found.intact
    assert found.words.startswith("This is no readable record: ")


@settings(max_examples=300 if FULL else 60, deadline=None)
@given(
    st.binary(max_size=60)
    | st.recursive(
        st.none() | st.booleans() | st.integers() | st.floats() | st.text(),
        lambda x: st.lists(x) | st.dictionaries(st.text(), x),
    ).map(lambda v: json.dumps(v).encode())
)
def test_any_bytes(data: bytes):
    assert not records.verify(data).intact


def signed_anew(body: dict[str, Any]) -> bytes:
    """As a forger with the site's key for exports would leave it: only the inner checks can tell."""
    rest = {k: v for k, v in body.items() if k not in ("digest", "export_signature")}
    rest["export_signature"] = site.sign(digest(rest))
    return canonical(rest | {"digest": digest(rest)}).encode()


def test_a_record_with_any_place_spoiled(released):
    """Every spoiled record is answered in words; none that says something else is called unaltered."""
    data = released("GET", "/joints/J-1/record.json")
    body = json.loads(data)
    assert records.verify(signed_anew(body)).intact

    @settings(max_examples=200 if FULL else 40, deadline=None, suppress_health_check=list(HealthCheck))
    @given(spoiled([body]))
    def spoil(changed: Any) -> None:
        try:
            same = canonical(changed).encode() == data
        except ValueError:
            same = False
        raw = json.dumps(changed).encode()
        assert records.verify(raw).intact is (same and raw == data)
        if isinstance(changed, dict) and not same:
            try:
                again = signed_anew(changed)
            except (ValueError, TypeError):
                return
            found = records.verify(again)
            unsigned = {
                "line",
                "version",
                "format",
                "unknown",
                "altered",
            }  # a new export may say these; nothing signed does
            differs = {k for k in changed.keys() | body.keys() if changed.get(k) != body.get(k)} - {
                "digest",
                "export_signature",
            }
            assert found.words
            assert not found.intact or differs <= unsigned or found.signed is False, (differs, found)

    spoil()
