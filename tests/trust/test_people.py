"""Accounts: what is asked before a PIN is set, what ends with a password, what a name may look like, who
reads what was changed, and who is shut out by whose mistakes."""

import pytest

from tests.web.conftest import PASSWORD, Api
from tinknot.services import names
from tinknot.web.app import create_app

PIN = "40719263"


def test_a_pin_asks_for_the_password(sign_in):
    eskil = sign_in("eskil")
    refused = eskil("PUT", "/session/pin", {"pin": PIN, "password": "not-my-password"}, 422)
    assert refused["errors"][0]["path"] == "/password"
    assert not eskil("GET", "/session")["has_pin"]
    assert eskil("PUT", "/session/pin", {"pin": PIN, "password": PASSWORD})["has_pin"]


def test_a_reset_ends_the_pin_and_a_verifier_reads_who_did_it(sign_in):
    eskil, admin = sign_in("eskil"), sign_in("ylva")
    eskil("PUT", "/session/pin", {"pin": PIN, "password": PASSWORD})
    number = next(p["id"] for p in admin("GET", "/people")["items"] if p["username"] == "eskil")
    word = admin("POST", f"/people/{number}/password")["password"]
    inside = eskil.client.application.test_client()
    signed = inside.post("/api/v1/session", json={"username": "eskil", "password": word}).json
    assert signed["must_change"]
    assert not signed["has_pin"]
    new = {"old": word, "new": "another-long-one"}
    inside.post("/api/v1/session/password", json=new, headers={"X-CSRF-Token": signed["csrf"]})
    changes = inside.get("/api/v1/people/changes").json["items"]
    assert [(c["person"], c["by"], c["what"]) for c in changes[:3]] == [
        ("Eskil", "Eskil", "chose another password"),
        ("Eskil", "Ylva", "password reset; the PIN ended with it"),
        ("Eskil", "Eskil", "set a PIN"),
    ]
    assert sign_in("runa")("GET", "/people/changes", status=403)


def test_every_change_of_an_account_is_in_the_log(sign_in):
    admin = sign_in("ylva")
    body = {"username": "tor", "name": "Tor Vik", "role": "jointer", "password": "long-enough-1"}
    tor = admin("POST", "/people", body, 201)
    at = f"/people/{tor['id']}"
    tor = admin("PATCH", at, {"role": "verifier", "name": "Tor Lund"}, If_Match=f'"{tor["version"]}"')
    admin("PATCH", at, {"active": False}, If_Match=f'"{tor["version"]}"')
    said = [c["what"] for c in admin("GET", "/people/changes")["items"][:3]]
    assert said == [
        "may not sign in",
        "role jointer, now verifier; name Tor Vik, now Tor Lund",
        "made, as jointer, to sign in as tor",
    ]


@pytest.mark.parametrize(
    "name",
    [
        "Esk\u200bil Moe",
        "\u202eliksE",
        "Eskil\u2066",
        "Eskil\x00",
        "Eskil\u00ad Moe",
        "...",
        "Esk\u0456l Moe",
    ],
)
def test_a_name_is_what_is_seen(sign_in, name: str):
    body = {"username": "new", "name": name, "role": "verifier", "password": "long-enough-1"}
    refused = sign_in("ylva")("POST", "/people", body, 422)
    assert refused["errors"][0]["path"] == "/name"


@pytest.mark.parametrize(
    ("name", "status"),
    [
        *((n, 409) for n in ("Eskil", "eskil", "Éskil", "Eskıl", "ESKIL ", "Esk1l", "Eskll", "\uff25skil")),
        ("Eskild", 201),
    ],
)
def test_no_two_names_look_alike(sign_in, name: str, status: int):
    body = {"username": "new", "name": name, "role": "verifier", "password": "long-enough-1"}
    sign_in("ylva")("POST", "/people", body, status)


@pytest.mark.parametrize(
    "name", ["Ingrid Åsheim", "Søren Ø", "José María", "Łukasz", "Ирина Петрова", "李 明", "O'Neill-Ray"]
)
def test_names_of_people_are_taken(name: str):
    assert names.checked(name) == name


def test_ten_wrong_sign_ins_from_one_address_shut_out_nobody_behind_it(tmp_path, populated):
    import shutil

    shutil.copy(populated, tmp_path / "t.db")
    app = create_app({"DATABASE": tmp_path / "t.db", "SECRET_KEY": "test"})
    outside = Api(app.test_client(), None)
    for n in range(36):
        wrong = {"username": f"guess{n % 3}", "password": "wrong"}
        status = outside.client.post("/api/v1/session", json=wrong).status_code
        assert status in (401, 429)
    assert status == 429, "who guesses one name again and again waits"
    assert Api(app.test_client(), "runa")("GET", "/session")["signed_in"]
