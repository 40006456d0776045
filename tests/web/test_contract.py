"""The HTTP interface against its own description: nothing undescribed, no 5xx, errors mapped."""

import pytest
import schemathesis
from hypothesis import HealthCheck, settings

from tests.web.conftest import PASSWORD
from tinknot.core.errors import TinKnotError
from tinknot.services import accounts
from tinknot.web.app import create_app
from tinknot.web.http import ENDPOINTS, openapi, problem_of

schema = schemathesis.openapi.from_dict(openapi())


@pytest.fixture(scope="module")
def fuzzed(tmp_path_factory):
    app = create_app(
        {"DATABASE": tmp_path_factory.mktemp("f") / "f.db", "SECRET_KEY": "t", "RATE_LIMIT": False}
    )
    accounts.add_person("ylva", "Ylva", "admin", PASSWORD)
    client = app.test_client()
    csrf = client.post("/api/v1/session", json={"username": "ylva", "password": PASSWORD}).json["csrf"]
    return app, client, csrf


@schema.exclude(path_regex="/session$|/session/password|/people").parametrize()
@settings(max_examples=8, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_input_makes_a_server_error(case, fuzzed):
    app, client, csrf = fuzzed
    cookie = client.get_cookie("tinknot")
    case.headers = {**(case.headers or {}), "X-CSRF-Token": csrf}
    case.cookies = {"tinknot": cookie.value}
    response = case.call(app=app, base_url="http://localhost")
    assert response.status_code < 500, response.text
    if response.status_code >= 400 and response.content:
        assert "Traceback" not in response.text


def test_every_operation_answers_or_explains():
    described = openapi()["paths"]
    assert len(ENDPOINTS) == sum(len(v) for v in described.values())


def test_every_lower_error_has_an_answer(app):
    def below(kind: type[TinKnotError]) -> set[type[TinKnotError]]:
        return {kind}.union(*(below(k) for k in kind.__subclasses__()))

    with app.test_request_context():
        for kind in below(TinKnotError):
            fault = kind.__new__(kind)
            Exception.__init__(fault, "words")
            if hasattr(kind, "at"):
                fault = kind.at("/x", "words")
            assert 400 <= problem_of(fault).status_code < 500


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [("GET", "/api/v1/nothing", 404), ("PUT", "/api/v1/board", 405), ("POST", "/api/nothing", 405)],
)
def test_unknown_addresses(runa, method: str, path: str, status: int):
    answer = runa.client.open(path, method=method, headers={"X-CSRF-Token": runa.csrf})
    assert answer.status_code == status
    assert answer.mimetype == "application/problem+json"


def test_wrong_content_type_and_malformed_body(runa):
    answer = runa.client.post("/api/v1/lines", data="a=b", headers={"X-CSRF-Token": runa.csrf})
    assert answer.status_code == 415
    assert runa("POST", "/lines", b"{", 422)["errors"][0]["message"] == "is not valid JSON"
