"""Sign-in, sessions, roles, passwords."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.web.conftest import PASSWORD, Api
from tinknot.store.database import close
from tinknot.store.models import User
from tinknot.web.app import create_app


def test_sign_in_and_out(sign_in):
    api = sign_in("runa")
    assert api("GET", "/session")["name"] == "Runa"
    api("DELETE", "/session", status=204)
    assert api("GET", "/session")["signed_in"] is False
    assert api("GET", "/board", status=401)["type"] == "tinknot:sign-in"


@pytest.mark.parametrize(("name", "word"), [("runa", "wrong-password"), ("nobody", PASSWORD)])
def test_wrong_sign_in_says_the_same(sign_in, name: str, word: str):
    found = sign_in(None)("POST", "/session", {"username": name, "password": word}, 401)
    assert "do not belong together" in found["detail"]


def test_cookie_is_guarded(app):
    answer = app.test_client().post("/api/v1/session", json={"username": "runa", "password": PASSWORD})
    cookie = answer.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Lax" in cookie
    assert "default-src 'self'" in answer.headers["Content-Security-Policy"]


def test_a_write_without_the_token_is_refused(runa):
    runa.csrf = "forged"
    assert runa("POST", "/lines", {"name": "x", "length_m": 5}, 403)["type"] == "tinknot:csrf"


def test_rate_limit(tmp_path):
    app = create_app({"DATABASE": tmp_path / "r.db", "SECRET_KEY": "t"})
    api = Api(app.test_client(), None)
    for _ in range(10):
        api("POST", "/session", {"username": "x", "password": "y"}, 401)
    assert "Wait 5 minutes" in api("POST", "/session", {"username": "x", "password": "y"}, 429)["detail"]


def test_roles(sign_in):
    viewer = sign_in("vera")
    viewer("GET", "/board")
    assert "needs the role jointer" in viewer("POST", "/lines", {"name": "x", "length_m": 5}, 403)["detail"]
    sign_in("runa")("GET", "/people", status=403)


def test_password_change_ends_other_sessions(sign_in):
    one, two = sign_in("runa"), sign_in("runa")
    found = one("POST", "/session/password", {"old": "wrong", "new": "another-password"}, 422)
    assert found["errors"][0]["path"] == "/old"
    assert (
        one("POST", "/session/password", {"old": PASSWORD, "new": "short"}, 422)["errors"][0]["path"]
        == "/new"
    )
    one("POST", "/session/password", {"old": PASSWORD, "new": "another-password"})
    one("GET", "/board")
    two("GET", "/board", status=401)


def test_admin_resets_a_lost_password(sign_in):
    admin = sign_in("ylva")
    runa = next(p for p in admin("GET", "/people")["items"] if p["username"] == "runa")
    word = admin("POST", f"/people/{runa['id']}/password")["password"]
    api = sign_in(None)
    api.csrf = api("POST", "/session", {"username": "runa", "password": word})["csrf"]
    assert api("GET", "/board", status=403)["type"] == "tinknot:change-password"
    api.csrf = api("POST", "/session/password", {"old": word, "new": "my-own-password"})["csrf"]
    api("GET", "/board")


def test_people_are_added_changed_and_one_admin_stays(sign_in):
    admin = sign_in("ylva")
    new = {"username": "odd", "name": "Odd", "role": "viewer", "password": "first-password"}
    made = admin("POST", "/people", new, 201)
    assert made["must_change"]
    admin("POST", "/people", new, 409)
    assert admin("PATCH", f"/people/{made['id']}", {"role": "jointer"}, If_Match='"1"')["role"] == "jointer"
    ylva = next(p for p in admin("GET", "/people")["items"] if p["username"] == "ylva")
    assert (
        "one admin left"
        in admin("PATCH", f"/people/{ylva['id']}", {"active": False}, 403, If_Match='"1"')["detail"]
    )
    admin("PATCH", "/people/999", {"role": "viewer"}, 404, If_Match='"1"')
    admin("POST", "/people/999/password", status=404)


def test_first_start(tmp_path, sign_in):
    app = create_app({"DATABASE": tmp_path / "new.db", "SECRET_KEY": "t"})
    api = Api(app.test_client(), None)
    assert api("GET", "/session")["first_start"]
    assert (
        api("POST", "/setup", {"username": "me", "name": "Me", "password": "short"}, 422)["errors"][0]["path"]
        == "/password"
    )
    assert (
        api("POST", "/setup", {"username": "me", "name": "Me", "password": "long-enough-word"}, 201)["role"]
        == "admin"
    )
    Api(app.test_client(), None)(
        "POST", "/setup", {"username": "me2", "name": "Me", "password": "long-enough-word"}, 403
    )


def test_ten_who_start_at_once_make_one_admin(tmp_path):
    app = create_app({"DATABASE": tmp_path / "new.db", "SECRET_KEY": "t", "RATE_LIMIT": False})

    def start(n: int) -> int:
        body = {"username": f"me{n}", "name": "Me", "password": "long-enough-word"}
        status = app.test_client().post("/api/v1/setup", json=body).status_code
        close()
        return status

    with ThreadPoolExecutor(10) as pool:
        assert sorted(pool.map(start, range(10))) == [201] + [403] * 9
    assert User.select().count() == 1


def test_answers_and_papers_are_kept_by_no_cache(runa):
    runa("POST", "/joints", {"ref": "J-1"}, 201)
    for path in (
        "/joints/J-1",
        "/board",
        "/stock.csv",
        "/session",
        "/joints/none/card.pdf",
        "/joints/J-1/file",
    ):
        assert runa.client.get(f"/api/v1{path}").headers["Cache-Control"] == "no-store", path
