"""Idempotency keys: one thing is made however often it is asked for, and no secret is kept."""

import json
import sqlite3
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import timedelta

import pytest

from tests.clock import CLOCK
from tests.web.conftest import PASSWORD
from tests.web.test_joint import filled
from tests.web.test_stock import FIGURES
from tinknot.store.database import close
from tinknot.store.models import Joint, Line, PlanRevision, Repeat

LINE = {"name": "Feeder", "length_m": 900}


def test_the_same_again_gets_the_same_answer(runa):
    first, second = (runa("POST", "/joints", {"title": "x"}, 201, Idempotency_Key="k1") for _ in range(2))
    assert first == second
    assert Joint.select().count() == 1
    assert runa("POST", "/joints", {"title": "x"}, 201, Idempotency_Key="k2")["ref"] != first["ref"]


def test_the_same_key_with_another_body_is_a_conflict(runa):
    runa("POST", "/lines", LINE, 201, Idempotency_Key="k")
    told = runa("POST", "/lines", LINE | {"length_m": 901}, 409, Idempotency_Key="k")
    assert "another request" in told["detail"]
    assert Line.select().count() == 1


def test_a_key_is_one_persons_at_one_address(runa, sign_in):
    runa("POST", "/lines", LINE, 201, Idempotency_Key="k")
    sign_in("eskil")("POST", "/lines", LINE | {"name": "Other"}, 201, Idempotency_Key="k")
    runa("POST", "/joints", {"title": "x"}, 201, Idempotency_Key="k")


def at_once(app, path: str, body: dict, **headers: str) -> list[tuple[int, str]]:
    """Ten requests with one key from ten threads."""
    cookie = app.test_client()
    csrf = cookie.post("/api/v1/session", json={"username": "runa", "password": PASSWORD}).json["csrf"]
    value = cookie.get_cookie("tinknot").value

    def ask(_: int) -> tuple[int, str]:
        client = app.test_client()
        client.set_cookie("tinknot", value)
        answer = client.post(
            f"/api/v1{path}", json=body, headers={"X-CSRF-Token": csrf, "Idempotency-Key": "k", **headers}
        )
        close()
        return answer.status_code, answer.text

    with ThreadPoolExecutor(10) as pool:
        return list(pool.map(ask, range(10)))


def test_ten_at_once_make_one_thing(app):
    found = at_once(app, "/joints", {"title": "x"})
    assert Joint.select().count() == 1
    assert {status for status, _ in found} == {201}
    assert len({body for _, body in found}) == 1


def test_ten_at_once_make_one_plan(stocked, app):
    filled(stocked)
    found = at_once(app, "/joints/J-1/plans", {}, **{"If-Match": '"2"'})
    assert PlanRevision.select().count() == 1
    assert {status for status, _ in found} <= {201, 409, 429}  # two of one person at once, the others wait
    assert len({body for status, body in found if status == 201}) == 1
    again = stocked.client.post(
        "/api/v1/joints/J-1/plans",
        json={},
        headers={"X-CSRF-Token": stocked.csrf, "Idempotency-Key": "k", "If-Match": '"2"'},
    )
    assert (again.status_code, again.text) in found


def test_what_failed_may_be_tried_again_with_its_key(runa):
    runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES | {"id": "a/b"}}, 422, Idempotency_Key="k")
    assert Repeat.select().count() == 0
    runa("POST", "/stock", {"kind": "sleeve", "figures": FIGURES}, 201, Idempotency_Key="k")


def test_no_secret_is_kept(sign_in, app):
    admin = sign_in("ylva")
    person = {"username": "odd", "name": "Odd", "role": "viewer", "password": "first-password-of-odd"}
    made = admin("POST", "/people", person, 201, Idempotency_Key="k1")
    word = admin("POST", f"/people/{made['id']}/password", None, 200, Idempotency_Key="k2")["password"]
    anybody = sign_in(None)
    anybody.csrf = anybody(
        "POST", "/session", {"username": "odd", "password": word}, 200, Idempotency_Key="k3"
    )["csrf"]
    assert Repeat.select().count() == 0
    with closing(sqlite3.connect(app.config["DATABASE"])) as connection:
        everything = "\n".join(connection.iterdump())
    for secret in (word, "first-password-of-odd"):
        assert secret not in everything


def test_nothing_is_kept_for_nobody(sign_in):
    sign_in(None)("POST", "/calc/flat", {"width_mm": 11, "thickness_mm": 5}, 200, Idempotency_Key="k")
    assert Repeat.select().count() == 0


def test_old_keys_go(runa):
    runa("POST", "/lines", LINE, 201, Idempotency_Key="old")
    CLOCK.on(hours=49)
    runa("POST", "/lines", LINE | {"name": "Other"}, 201, Idempotency_Key="new")
    assert Repeat.select().count() == 1


@pytest.mark.parametrize("key", ["", "x" * 201, "é", "a\tb"])
def test_what_is_no_key(runa, key: str):
    told = runa.client.post(
        "/api/v1/lines",
        data=json.dumps(LINE),
        content_type="application/json",
        headers={"X-CSRF-Token": runa.csrf, "Idempotency-Key": key},
    )
    assert told.status_code == 422
    assert told.json["errors"][0]["path"] == "/Idempotency-Key"
    assert Line.select().count() == 0
    assert timedelta(hours=48) >= timedelta(hours=1)
