"""Signing in and out: cookie, token, throttle."""

from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.service import accounts
from cubedrill.service.errors import RefusedError
from cubedrill.store.tables import SignedIn
from tests.api.conftest import Caller


def try_to_sign_in(app, name, password):
    return Caller(app, None).call("POST", "/api/session", json={"sign_in": name, "password": password})


def test_signing_in_sets_a_cookie_that_scripts_cannot_read(sign_in):
    answer = sign_in(None).call("POST", "/api/session", json={"sign_in": "pim", "password": "harbour-light"})
    assert answer.status_code == 201
    assert answer.json()["name"] == "Pim Tasker"
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=lax" in cookie


def test_the_name_is_taken_without_regard_to_case_and_spaces(app):
    assert try_to_sign_in(app, " PIM ", "harbour-light").status_code == 201


def test_the_password_is_kept_as_an_argon2_hash_and_the_token_as_a_hash(sign_in, engine):
    caller = sign_in("pim")
    with engine.connect() as db:
        hashes = db.scalars(text("select password_hash from person")).all()
        assert all(kept.startswith("$argon2id$") for kept in hashes)
        kept = db.scalars(text("select token_hash from signed_in")).all()
    token = caller.http.cookies["cube_drill_session"]
    assert kept == [accounts.token_hash(token)]


@pytest.mark.parametrize(("name", "password"), [("pim", "wrong"), ("nobody", "harbour-light")])
def test_a_wrong_name_and_a_wrong_password_get_the_same_answer(app, name, password):
    answer = try_to_sign_in(app, name, password)
    assert answer.status_code == 401
    assert answer.json()["code"] == "sign-in-failed"
    assert answer.headers["content-type"] == "application/problem+json"


def test_guessing_is_slowed_down_even_for_the_right_password(app):
    answers = [try_to_sign_in(app, "pim", "guess").status_code for _ in range(accounts.MOST_TRIES_A_NAME)]
    assert answers == [401] * accounts.MOST_TRIES_A_NAME
    answer = try_to_sign_in(app, "pim", "harbour-light")
    assert answer.status_code == 429
    assert "wait 10 minutes" in answer.json()["detail"]
    assert try_to_sign_in(app, "wren", "harbour-light").status_code == 201  # others are not locked out


def test_after_the_window_one_may_try_again(app, engine):
    for _ in range(accounts.MOST_TRIES_A_NAME):
        try_to_sign_in(app, "pim", "guess")
    later = datetime.now(UTC) + accounts.THROTTLE_WINDOW + timedelta(seconds=1)
    with Session(engine) as db, db.begin():
        accounts.sign_in(db, "pim", "harbour-light", "testclient", later)


def test_signing_out_ends_the_session_on_the_server(sign_in, engine):
    caller = sign_in("pim")
    token = caller.http.cookies["cube_drill_session"]
    assert caller.call("DELETE", "/api/session").status_code == 204
    caller.http.cookies.set("cube_drill_session", token)
    assert caller.get("/api/session").status_code == 401
    with Session(engine) as db:
        assert db.query(SignedIn).count() == 0


def test_a_session_runs_out(sign_in, engine):
    token = sign_in("pim").http.cookies["cube_drill_session"]
    now = datetime.now(UTC)
    with Session(engine) as db:
        assert accounts.signed_in(db, token, now).person.name == "Pim Tasker"
        with pytest.raises(RefusedError, match="not signed in"):
            accounts.signed_in(db, token, now + accounts.SESSION_LENGTH + timedelta(minutes=1))


@pytest.mark.parametrize("token", [None, "", "wrong", "ünïcode"])
def test_a_change_without_the_token_is_refused_and_changes_nothing(sign_in, token):
    caller = sign_in("pim")
    headers = {} if token is None else {"X-CSRF-Token": token.encode()}
    body = {"revision": 0, "steps": [], "cursor": 0}
    answer = caller.http.put("/api/assignments/1/draft", json=body, headers=headers)
    assert answer.status_code == 403
    assert caller.get("/api/assignments/1/bench").json()["draft"]["revision"] == 0


def test_a_change_from_another_site_is_refused(sign_in):
    caller = sign_in("pim")
    caller.headers["Origin"] = "http://elsewhere.example"
    assert caller.save(0, []).status_code == 403
    caller.headers["Origin"] = "http://testserver"
    assert caller.save(0, []).status_code == 200
