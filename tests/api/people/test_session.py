"""Signing in and out: cookie, token, throttle."""

import time
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.service.errors import RefusedError
from cubedrill.service.people import accounts
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


def guesses(app, name, count):
    return [try_to_sign_in(app, name, "guess").status_code for _ in range(count)]


def test_guessing_has_to_wait_even_with_the_right_password(app, monkeypatch):
    monkeypatch.setattr(accounts, "FIRST_WAIT", accounts.LONGEST_WAIT)  # longer than a busy machine takes to ask again
    assert guesses(app, "pim", accounts.FREE_TRIES) == [401] * accounts.FREE_TRIES
    answer = try_to_sign_in(app, "pim", "harbour-light")
    assert (answer.status_code, answer.json()["code"]) == (429, "too-many-sign-ins")
    assert 1 <= int(answer.headers["retry-after"]) <= accounts.LONGEST_WAIT.total_seconds()
    assert try_to_sign_in(app, "wren", "harbour-light").status_code == 201  # others behind the address are let in


def test_repeated_guesses_wait_longer_each_time(engine):
    now = datetime.now(UTC)
    with Session(engine) as db:
        for _ in range(accounts.FREE_TRIES):
            with pytest.raises(RefusedError, match="Wrong username"):
                accounts.sign_in(db, "pim", "guess", accounts.From(""), now)
        for wait in (accounts.FIRST_WAIT * 2**n for n in range(4)):
            with pytest.raises(RefusedError, match="Too many"):
                accounts.sign_in(db, "pim", "guess", accounts.From(""), now + wait - timedelta(seconds=1))
            now += wait + timedelta(seconds=1)
            with pytest.raises(RefusedError, match="Wrong username"):
                accounts.sign_in(db, "pim", "guess", accounts.From(""), now)
        now += accounts.LONGEST_WAIT
        accounts.sign_in(db, "pim", "harbour-light", accounts.From(""), now)


def test_from_elsewhere_the_owner_of_a_name_gets_in(app, engine):
    guesses(app, "pim", accounts.FREE_TRIES)
    with Session(engine) as db:
        accounts.sign_in(db, "pim", "harbour-light", accounts.From("192.0.2.7"), datetime.now(UTC))


def test_a_name_is_guessed_from_many_places_so_often_and_no_more(engine):
    now = datetime.now(UTC)
    with Session(engine) as db:
        told = []
        for number in range(accounts.MOST_TRIES_A_NAME + 1):
            with pytest.raises(RefusedError) as refused:
                accounts.sign_in(db, "pim", "guess", accounts.From(f"192.0.2.{number}"), now)
            told.append(refused.value.code)
        assert told == ["sign-in-failed"] * accounts.MOST_TRIES_A_NAME + ["too-many-sign-ins"]
        later = now + accounts.THROTTLE_WINDOW + timedelta(seconds=1)
        accounts.sign_in(db, "pim", "harbour-light", accounts.From("192.0.2.1"), later)


def test_an_address_of_many_names_is_slowed_down_and_never_locked(app, engine):
    for number in range(accounts.FREE_TRIES_AN_ADDRESS + 3):
        assert try_to_sign_in(app, f"made-up-{number}", "guess").status_code == 401
    with Session(engine) as db:
        assert accounts.slowed_s(db, "", datetime.now(UTC)) == pytest.approx(3 * accounts.SLOWED_EACH_S)
        assert accounts.slowed_s(db, "192.0.2.7", datetime.now(UTC)) == 0
    began = time.monotonic()
    assert try_to_sign_in(app, "wren", "harbour-light").status_code == 201
    assert time.monotonic() - began > 3 * accounts.SLOWED_EACH_S


def test_many_tries_at_once_are_no_more_than_one_after_the_other(engine):
    def one(_number):
        with Session(engine) as db, pytest.raises(RefusedError) as refused:
            accounts.sign_in(db, "pim", "guess", accounts.From(""), now)
        return refused.value.code

    now = datetime.now(UTC)
    with ThreadPoolExecutor(20) as several:
        told = list(several.map(one, range(40)))
    assert told.count("sign-in-failed") == accounts.FREE_TRIES


@pytest.mark.parametrize("forwarded", ["203.0.113.9", "x" * 4000, "203.0.113.9, 198.51.100.1"])
def test_nobody_is_believed_where_a_request_came_from(app, engine, forwarded):
    """Not from this machine either: who stands in front is told by name."""
    caller = Caller(app, None)
    caller.headers["X-Forwarded-For"] = forwarded
    body = {"sign_in": "pim", "password": "guess"}
    answers = [caller.call("POST", "/api/session", json=body).status_code for _ in range(accounts.FREE_TRIES + 1)]
    assert answers == [401] * accounts.FREE_TRIES + [429]
    with engine.connect() as db:
        assert set(db.scalars(text("select address from sign_in_failure"))) == {""}


def test_refused_sign_ins_and_leavers_appear_in_the_activity(app, sign_in, engine):
    try_to_sign_in(app, "pim", "guess")
    try_to_sign_in(app, "nobody", "guess")
    caller = sign_in("pim")
    caller.http.put("/api/assignments/1/draft", json={"revision": 0, "steps": [], "cursor": 0})  # without the token
    caller.get("/api/assignments/1/submissions")  # the instructor's
    caller.get("/api/submissions/1")  # another student's
    caller.call("DELETE", "/api/session")
    with engine.connect() as db:
        rows = db.execute(
            text("select person_id, kind from event where id > (select max(id) from event) - 7 order by id")
        )
        assert [tuple(row) for row in rows] == [
            (2, "sign-in failed"),
            (None, "sign-in failed"),
            (2, "signed in"),
            (2, "refused"),
            (2, "refused"),
            (2, "refused"),
            (2, "signed out"),
        ]


def test_a_new_sign_in_ends_the_session_that_the_browser_had(sign_in, app):
    caller = sign_in("pim")
    before = caller.http.cookies["cube_drill_session"]
    again = {"sign_in": "pim", "password": "harbour-light"}
    assert caller.call("POST", "/api/session", json=again).status_code == 201
    other = Caller(app, None)
    other.http.cookies.set("cube_drill_session", before)
    assert (other.get("/api/session").status_code, caller.get("/api/session").status_code) == (401, 200)


def test_all_other_sessions_are_ended_and_nobody_elses(sign_in):
    here, elsewhere, wren = sign_in("pim"), sign_in("pim"), sign_in("wren")
    assert here.call("DELETE", "/api/session/others").status_code == 204
    assert [each.get("/api/session").status_code for each in (here, elsewhere, wren)] == [200, 401, 200]


def test_a_session_that_is_not_used_ends(sign_in, engine):
    token = sign_in("pim").http.cookies["cube_drill_session"]
    now = datetime.now(UTC)
    with Session(engine) as db, db.begin():
        used = now + accounts.IDLE - timedelta(minutes=1)
        accounts.signed_in(db, token, used)
        accounts.signed_in(db, token, used + accounts.IDLE - timedelta(minutes=1))
        with pytest.raises(RefusedError, match="not signed in"):
            accounts.signed_in(db, token, used + 2 * accounts.IDLE)


def test_signing_out_ends_the_session_on_the_server(sign_in, engine):
    caller = sign_in("pim")
    token = caller.http.cookies["cube_drill_session"]
    assert caller.call("DELETE", "/api/session").status_code == 204
    caller.http.cookies.set("cube_drill_session", token)
    assert caller.get("/api/session").status_code == 401
    with Session(engine) as db:
        assert db.query(SignedIn).count() == 0


def test_a_session_runs_out_however_much_it_is_used(sign_in, engine):
    token = sign_in("pim").http.cookies["cube_drill_session"]
    now = datetime.now(UTC)
    with Session(engine) as db, db.begin():
        for hours in range(1, 12):
            assert accounts.signed_in(db, token, now + timedelta(hours=hours)).person.name == "Pim Tasker"
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


@pytest.mark.parametrize(
    "origin",
    [
        "http://elsewhere.example", "https://testserver", "http://testserver:8080", "http://testserver.elsewhere.example",
        "ftp://testserver", "testserver", "null", "", "http://[", "http://testserver@elsewhere.example",
    ],
)  # fmt: skip
def test_a_change_from_another_site_is_refused(sign_in, origin):
    caller = sign_in("pim")
    caller.headers["Origin"] = origin
    assert caller.save(0, []).status_code == 403


@pytest.mark.parametrize("origin", ["http://testserver", "http://testserver:80", "HTTP://TESTSERVER"])
def test_a_change_from_our_own_page_is_taken(sign_in, origin):
    caller = sign_in("pim")
    caller.headers["Origin"] = origin
    assert caller.save(0, []).status_code == 200
