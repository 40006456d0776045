"""Anything sent to any endpoint of a filled site: no 5xx, and every answer meets its declared schema.

Half of the requests name things that are really there. Bodies of the largest schemas are made by spoiling
real ones, which goes deeper than inventing them and takes a hundredth of the time."""

import copy
import json
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests.conftest import FULL
from tests.fixtures.databases import lay_out
from tests.trace import SHEETS
from tinknot.services import accounts
from tinknot.store.models import EventRow, Joint, KitSheetRow, Lot, Part, Tool, User
from tinknot.web.app import create_app
from tinknot.web.openapi import openapi


def no_mark_leaves(_ctx, response, _case) -> None:
    """What marks a figure in a sentence stays inside."""
    assert not any(sign in response.text for sign in ("\ue000", "\\ue000"))


CHECKS = [
    no_mark_leaves,
    not_a_server_error,
    response_schema_conformance,
    content_type_conformance,
    status_code_conformance,
]
SPOILED = (  # endpoints whose bodies are made by spoiling real ones
    r"/calc/plan$|/look$|/sheets$|/sheets/look$"
)
OWN_SESSION = r"/session|/setup"  # would sign the fuzzer out
PASSWORD = "a-password-to-fuzz-with"
schema = schemathesis.openapi.from_dict(openapi())


class Site:
    """A filled site, somebody signed in, and what is really there by the name paths give it."""

    def __init__(self, folder: Path) -> None:
        self.app = create_app(
            {"DATABASE": lay_out("ee97242", folder), "SECRET_KEY": "t", "RATE_LIMIT": False}
        )
        accounts.add_person("fuzz", "Fuzz", "admin", PASSWORD)
        self.client = self.app.test_client()
        answer = self.client.post("/api/v1/session", json={"username": "fuzz", "password": PASSWORD})
        self.headers = {"X-CSRF-Token": answer.json["csrf"]}
        self.real: dict[str, list[Any]] = {
            "ref": [r.ref for r in Joint.select()],
            "part_id": [p.part_id for p in Part.select()],
            "lot_id": [x.id for x in Lot.select()],
            "digest": [p.name for p in (folder / "photos").iterdir()][:5],
            "sheet_id": [s.sheet_id for s in KitSheetRow.select()] + list(SHEETS),
            "number": [1, 2],
            "end": ["A", "B"],
            "fault": [e.event_id for e in EventRow.select() if json.loads(e.body)["kind"] == "fault"],
            "user_id": [u.id for u in User.select() if u.username != "fuzz"],
            "tool_id": [t.id for t in Tool.select()],
            "key": ["sleeve.grip_pct", "holds.second_person"],
        }

    def send(self, case: schemathesis.Case) -> None:
        """Send a case as the person signed in, and check the answer."""
        case.headers = {**(case.headers or {}), **self.headers}
        case.cookies = {"tinknot": self.client.get_cookie("tinknot").value}
        case.validate_response(case.call(app=self.app, base_url="http://localhost"), checks=CHECKS)


@pytest.fixture(scope="module")
def filled(tmp_path_factory) -> Site:
    return Site(tmp_path_factory.mktemp("fuzz") / "data")


@schema.exclude(path_regex=f"{OWN_SESSION}|{SPOILED}").parametrize()
@schema.given(data=st.data())
@settings(max_examples=40 if FULL else 6, deadline=None, suppress_health_check=list(HealthCheck))
def test_any_request_is_answered_as_described(case, data, filled: Site):
    own = case.path_parameters or {}
    if own and data.draw(st.booleans(), "things that are there"):
        case.path_parameters = {
            name: data.draw(st.sampled_from(filled.real[name]), name) if name in filled.real else value
            for name, value in own.items()
        }
    if case.path_parameters and case.path_parameters.get("user_id") not in (None, *filled.real["user_id"]):
        case.path_parameters["user_id"] = 999  # never the fuzzer itself
    filled.send(case)


ODD = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(2**70), 2**70),
    st.floats(),
    st.text(max_size=8),
    st.just([]),
    st.just({}),
    st.sampled_from([1e308, -0.0, 5e-324, 2**53, "\x00", "\ud7ff", "9" * 400, [[[]]], {"": None}]),
)


@st.composite
def spoiled(draw: st.DrawFn, bodies: list[Any]) -> Any:
    """A real body with a few places of it gone, doubled or replaced by something odd."""
    body = copy.deepcopy(draw(st.sampled_from(bodies)))
    for _ in range(draw(st.integers(1, 3))):
        at: Any = body
        while True:  # go down into it, and stop somewhere
            keys = list(at) if isinstance(at, dict) else list(range(len(at)))
            if not keys:
                break
            key = draw(st.sampled_from(keys))
            inner = at[key]
            if isinstance(inner, (dict, list)) and inner and draw(st.integers(0, 3)):
                at = inner
                continue
            match draw(st.sampled_from(["odd", "gone", "again", "unknown"])):
                case "odd":
                    at[key] = copy.deepcopy(draw(ODD))  # a later place may lie inside it
                case "gone":
                    del at[key]
                case "again" if isinstance(at, list):
                    at.append(copy.deepcopy(inner))
                case _ if isinstance(at, dict):
                    at["unknown"] = copy.deepcopy(draw(ODD))
            break
    return body


FILES = [json.loads(p.read_text()) for p in sorted((Path(__file__).parents[2] / "examples").glob("*.json"))]
LOOKS = [
    {
        "stagger_steps": 2,
        "connector": {"kind": "mechanical"},
        "choice": {"outer_sleeve": "S-55", "outer_parks_on": "a"},
    },
    {
        "build": {
            "closure": "resin",
            "resin_c": 18,
            "end_wraps": ["A"],
            "earth": {"fault_current_a": 900, "clearing_time_s": 0.4},
        }
    },
    {
        "sheet": "trace-end-p1",
        "trace": {
            "ends": {"A": {"loop_mm": 300}},
            "circuit": {"run_m": 12, "allowances": [{"what": "x", "each_mm": 9, "count": 2}]},
        },
    },
]
BIG = {
    ("POST", "/calc/plan"): FILES,
    ("POST", "/joints/{ref}/look"): LOOKS,
    ("POST", "/sheets"): list(SHEETS.values()),
    ("POST", "/sheets/look"): list(SHEETS.values()),
}


def test_every_endpoint_is_fuzzed_one_way_or_the_other():
    spoiling = {path for _, path in BIG}
    described = {path.removeprefix("/api/v1") for path in openapi()["paths"]}
    assert spoiling <= described
    invented = {
        r.ok().path.removeprefix("/api/v1")
        for r in schema.exclude(path_regex=f"{OWN_SESSION}|{SPOILED}").get_all_operations()
    }
    assert described - invented - spoiling == {"/session", "/session/password", "/session/pin", "/setup"}


@pytest.mark.parametrize(("method", "path"), BIG)
@settings(max_examples=60 if FULL else 12, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_a_spoiled_body_is_answered_as_described(method: str, path: str, data, filled: Site):
    case = schema[f"/api/v1{path}"][method].Case(
        body=json.dumps(data.draw(spoiled(BIG[method, path]))).encode(),
        media_type="application/json",
        path_parameters={"ref": data.draw(st.sampled_from(filled.real["ref"]))} if "{ref}" in path else {},
    )
    filled.send(case)
