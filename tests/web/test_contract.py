"""The HTTP interface against its own description: nothing undescribed, errors mapped. `test_fuzz` sends it
anything."""

import pytest

from tinknot.core.errors import TinKnotError
from tinknot.store.faults import StoreFault
from tinknot.web.http import ENDPOINTS, problem_of
from tinknot.web.openapi import openapi


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
            server_side = isinstance(fault, StoreFault)  # the disk's, not the caller's
            assert (
                (500 if server_side else 400) <= problem_of(fault).status_code < (508 if server_side else 500)
            )


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
