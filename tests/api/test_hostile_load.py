"""Attempts to stop the server: slow bodies, many streams, many publishers at once, a frozen database."""

import base64
import json
import os
import signal
import socket
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit

import httpx2
import pytest
from sqlalchemy import text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from cubedrill.api import live
from cubedrill.api.edge import body_limit
from cubedrill.formats import documents
from cubedrill.service.people import accounts
from cubedrill.service.people.accounts import give_one_time
from cubedrill.service.work import files
from cubedrill.store import database
from cubedrill.store.plans import plans
from cubedrill.store.tables import Person, SignedIn
from tests.api.conftest import RIGHT
from tests.api.test_edge import address  # noqa: F401 - the fixture of a real server

PASSWORD = "harbour-light"


def now():
    return datetime.now(UTC)


@contextmanager
def signed_in(place, name="pim"):
    with httpx2.Client(base_url=place, timeout=60) as http:
        http.headers["X-CSRF-Token"] = http.post("/api/session", json={"sign_in": name, "password": PASSWORD}).json()[
            "csrf_token"
        ]
        yield http


@contextmanager
def stalled(place, count, announced, sent=b"{", path="/api/session", headers=""):
    """Connections that announce a body, send a part of it, and wait."""
    at = urlsplit(place)
    with ExitStack() as lines:
        for _ in range(count):
            line = lines.enter_context(socket.create_connection((at.hostname, at.port), timeout=10))
            line.sendall(
                f"POST {path} HTTP/1.1\r\nHost: x\r\n{headers}Content-Length: {announced}\r\n\r\n".encode() + sent
            )
        time.sleep(0.3)
        yield


def test_bodies_that_are_announced_and_do_not_come_keep_nobody_from_saving(address):  # noqa: F811
    """Room for 64 MB of announced bodies would be gone with 1,030 of these."""
    with signed_in(address) as http, stalled(address, 300, 64_000):
        for revision in range(3):
            body = {"revision": revision, "steps": [RIGHT], "cursor": 1}
            assert http.put("/api/assignments/1/draft", json=body).status_code == 200


def test_one_who_fills_her_own_room_leaves_that_of_others(address, monkeypatch):  # noqa: F811
    monkeypatch.setattr(body_limit, "MOST_OF_A_PERSON", 300_000)
    with signed_in(address) as pim, signed_in(address, "theo") as theo:
        headers = f"Cookie: {'; '.join(f'{n}={v}' for n, v in pim.cookies.items())}\r\nX-CSRF-Token: {pim.headers['X-CSRF-Token']}\r\nContent-Type: application/octet-stream\r\n"
        with stalled(address, 1, 1_000_000, b"x" * 250_000, "/api/assignments/1/files?name=a.json", headers):
            large = {"revision": 0, "steps": [{**RIGHT, "objects": ["crate-herring"]}] * 900, "cursor": 1}
            assert len(json.dumps(large)) > body_limit.LARGEST_ANONYMOUS
            assert pim.put("/api/assignments/1/draft", json=large).status_code == 503
            assert theo.put("/api/assignments/1/draft", json=large).status_code == 200
        time.sleep(0.3)  # her own room is given back
        assert pim.put("/api/assignments/1/draft", json=large).status_code == 200


def test_small_bodies_of_one_address_have_their_own_bound(address, monkeypatch):  # noqa: F811
    monkeypatch.setattr(body_limit, "MOST_OF_AN_ADDRESS", 1000)
    with stalled(address, 1, 2000, b"{" + b" " * 900), httpx2.Client(base_url=address, timeout=20) as http:
        answer = http.post("/api/session", content=b"{" + b" " * 900, headers={"Content-Type": "application/json"})
        assert (answer.status_code, answer.json()["code"]) == (503, "busy")
        assert http.get("/api/health").status_code == 200


def test_the_description_of_the_api_needs_a_session_and_is_written_once(sign_in, monkeypatch):
    nobody, pim = sign_in(None), sign_in("pim")
    assert nobody.get("/api/openapi.json").status_code == 401
    first = pim.get("/api/openapi.json")
    assert first.json()["info"]["title"] == "Cube Drill"
    monkeypatch.setattr(pim.http.app, "openapi", None)
    assert pim.get("/api/openapi.json").content == first.content


def test_streams_that_open_at_once_leave_the_connections_to_requests(address):  # noqa: F811
    """Each asked for a connection when it opened: 17 of 300 got none, and others waited."""
    with signed_in(address, "odile") as odile:
        taken, done = [], threading.Event()

        def look(_number):
            with odile.stream("GET", "/api/classes/1/live") as stream:
                taken.append(stream.status_code)
                done.wait(30)

        slowest = 0.0
        with ThreadPoolExecutor(80) as several:
            looking = [several.submit(look, n) for n in range(80)]
            while len(taken) < 80:
                began = time.monotonic()
                with httpx2.Client(base_url=address, timeout=60) as http:
                    assert http.get("/api/health").status_code == 200
                slowest = max(slowest, time.monotonic() - began)
                time.sleep(0.02)
            done.set()
            for each in looking:
                each.result(60)
    assert set(taken) == {200}
    assert slowest < 10, "a request waited for streams"


def test_a_refused_viewer_takes_no_connection(sign_in, app):
    for name, status in ((None, 401), ("pim", 403)):
        assert sign_in(name).get("/api/classes/1/live").status_code == status
    assert (app.state.hub.opening, len(app.state.hub.looking)) == (0, 0)
    assert live.MOST_LOOKING == 300


def plan_to_publish(caller):
    plan = caller.call("POST", "/api/plans", json={"from_version": 1, "copy_of_it": True}).json()["plan"]
    return plan, {"seen": caller.get(f"/api/plans/{plan}").json()["seen"]}


def test_two_exercises_are_published_side_by_side(app, sign_in):
    """One whose transaction holds the turn of another exercise does not make this one wait."""
    odile = sign_in("odile")
    plan, body = plan_to_publish(odile)
    with Session(app.state.engine) as db, db.begin():
        plans.publish_in_turn(db, "another-exercise")
        assert odile.call("POST", f"/api/plans/{plan}/versions", json=body).status_code == 201


def test_a_turn_that_does_not_come_is_said_as_what_it_is(app, sign_in, engine):
    odile = sign_in("odile")
    plan, body = plan_to_publish(odile)
    exercise = odile.get(f"/api/plans/{plan}").json()["exercise"]
    with Session(app.state.engine) as other, other.begin():
        plans.publish_in_turn(other, exercise)
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(database, "LIMITS", "-c lock_timeout=200")
            limited = database.engine_for(str(engine.url.render_as_string(hide_password=False)), 3)
        app.state.engine, before = limited, app.state.engine
        answer = odile.call("POST", f"/api/plans/{plan}/versions", json=body)
        app.state.engine = before
        limited.dispose()
    assert (answer.status_code, answer.json()["code"]) == (503, "in-use")
    assert "database" not in answer.json()["detail"]


def test_a_plan_that_changed_while_it_was_judged_is_not_published(sign_in, monkeypatch):
    odile = sign_in("odile")
    plan, body = plan_to_publish(odile)
    real = plans.publish_in_turn

    def meanwhile(db, exercise):
        card = odile.get(f"/api/plans/{plan}").json()
        changed = {"revision": card["revision"], "card": {**card["card"], "title": "Another title"}}
        assert odile.call("PUT", f"/api/plans/{plan}/card", json=changed).status_code == 200
        real(db, exercise)

    monkeypatch.setattr(plans, "publish_in_turn", meanwhile)
    answer = odile.call("POST", f"/api/plans/{plan}/versions", json=body)
    assert (answer.status_code, answer.json()["code"]) == (409, "stale-plan")


def test_a_session_that_ends_during_a_request_is_no_fault(app, sign_in, monkeypatch):
    """It was noted through the object when it was used last, which fails if the row is gone by then."""
    pim = sign_in("pim")
    with Session(app.state.engine) as db, db.begin():
        db.execute(text("update signed_in set seen_at = seen_at - interval '30 minutes'"))
    real = accounts.people.note_seen

    def ended(db, token_hash, now):
        with Session(app.state.engine) as other, other.begin():
            other.delete(other.get(SignedIn, token_hash))
        real(db, token_hash, now)

    monkeypatch.setattr(accounts.people, "note_seen", ended)
    assert pim.get("/api/home").status_code == 200
    assert pim.get("/api/home").status_code == 401


def test_a_wrong_password_costs_the_same_for_everybody(app, monkeypatch):
    """Counted in checks of a password at full and at little cost, not in time."""
    asked = []

    class Counting:
        def __init__(self, name, real):
            self.name, self.real = name, real

        def verify(self, *words):
            asked.append(self.name)
            return self.real.verify(*words)

        def hash(self, *words):
            return self.real.hash(*words)

    with Session(app.state.engine) as db, db.begin():
        fresh = Person(sign_in="fresh", name="Fresh", password_hash="")
        password = give_one_time(fresh, now())
        db.add(fresh)
    monkeypatch.setattr(accounts, "PASSWORDS", Counting("full", accounts.PASSWORDS))
    monkeypatch.setattr(accounts, "_RANDOM_ONES", Counting("little", accounts._RANDOM_ONES))
    accounts._nobodys_hash()
    accounts._nobodys_one_time_hash()
    costs = {}
    for name in ("pim", "fresh", "nobody-at-all"):
        asked.clear()
        with Session(app.state.engine) as db, pytest.raises(accounts.RefusedError):
            accounts.sign_in(
                db,
                name,
                "wrong",
                accounts.From("127.0.0.1"),
                now(),
            )
        costs[name] = sorted(asked)
    assert set(map(tuple, costs.values())) == {("full", "little")}
    with Session(app.state.engine) as db:
        token, who = accounts.sign_in(
            db,
            "fresh",
            password,
            accounts.From("127.0.0.2"),
            now(),
        )
    assert token
    assert who.must_choose


def test_an_upload_that_comes_late_does_not_replace_a_later_one(sign_in):
    pim = sign_in("pim")
    place = "/api/assignments/3/files"

    def send(name, order):
        content = json.dumps({"objects": [{"id": "barrel-tar", "name": name}]}).encode()
        return pim.call("POST", f"{place}?name={name}&order={order}", content=content)

    newest = send("second.json", 2000)
    assert newest.status_code == 201
    late = send("first.json", 1000)
    assert (late.status_code, late.json()["code"]) == (409, "newer-file")
    assert pim.get(f"{place}/{newest.json()['file']}").json()["name"] == "second.json"
    assert send("third.json", 3000).status_code == 201
    assert pim.get(f"{place}/{newest.json()['file']}").status_code == 404  # replaced


def test_a_roster_in_utf_16_is_read(sign_in):
    """Spreadsheets save it as "Unicode text": UTF-16 with its mark, tabs between the columns."""
    odile = sign_in("odile")
    table = "Name\tE-mail\nZoë Quayle\tzoe@harbour.example\n"
    for coding in ("utf-16", "utf-16-le", "utf-16-be"):
        mark = {"utf-16-le": b"\xff\xfe", "utf-16-be": b"\xfe\xff"}.get(coding, b"")
        body = {"files": [{"name": "class.txt", "content": base64.b64encode(mark + table.encode(coding)).decode()}]}
        answer = odile.call("POST", "/api/classes/1/roster/preview", json=body)
        assert answer.status_code == 200, answer.text
        (row,) = answer.json()["rows"]
        assert (row["name"], row["email"], row["does"]) == ("Zoë Quayle", "zoe@harbour.example", "new")


def test_a_file_that_unfolds_to_thousands_of_meshes_is_refused(sign_in):
    cube = {
        "kind": "mesh",
        "vertices": [[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]],
        "triangles": [[0, 2, 1], [0, 1, 3], [1, 2, 3], [0, 3, 2]],
    }
    content = json.dumps({"objects": [{"id": f"o{n}", "solid": cube} for n in range(1001)]}).encode()
    answer = sign_in("pim").call("POST", "/api/assignments/3/files?name=many.json", content=content)
    assert (answer.status_code, answer.json()["code"]) == (422, "unreadable-file")
    assert "1000 meshes" in answer.json()["detail"]


def test_a_kept_file_is_read_once_however_often_it_is_looked_at(sign_in, monkeypatch):
    pim = sign_in("pim")
    content = json.dumps({"objects": [{"id": "barrel-tar"}]}).encode()
    sent = pim.call("POST", "/api/assignments/3/files?name=a.json", content=content).json()["file"]
    reads = []
    real = files.submission_in
    monkeypatch.setattr(files, "submission_in", lambda *words: reads.append(words[1]) or real(*words))
    for _ in range(3):
        assert pim.get(f"/api/assignments/3/files/{sent}").status_code == 200
    assert pim.get(f"/api/assignments/3/files/{sent}?length=cm").status_code == 200
    assert len(reads) == 2


def test_a_file_of_another_program_is_parsed_when_it_comes_and_again_by_newer_readers_alone(sign_in, monkeypatch):
    pim = sign_in("pim")
    content = b"o Barrel\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nf 1 2 3\nf 1 2 4\n"
    sent = pim.call("POST", "/api/assignments/3/files?name=a.obj", content=content).json()
    parsed = []
    real = documents.read_in_sandbox
    monkeypatch.setattr(documents, "read_in_sandbox", lambda content: parsed.append(1) or real(content))
    place = f"/api/assignments/3/files/{sent['file']}"
    for version, count in ((files.READER_VERSION, 0), (files.READER_VERSION + 1, 1)):
        monkeypatch.setattr(files, "READER_VERSION", version)
        files._READ.clear()
        again = pim.get(place).json()
        assert {key: again[key] for key in ("objects", "placed", "notes", "asked")} == {
            key: sent[key] for key in ("objects", "placed", "notes", "asked")
        }
        assert len(parsed) == count


def test_a_frozen_database_is_given_up_after_a_while(database_url, monkeypatch):
    """The server process of one connection is stopped as a debugger would stop it: nothing comes back, and nothing ends."""
    monkeypatch.setattr(database, "ANSWERS_S", 1.0)
    engine = database.engine_for(database_url, 1)
    with engine.connect() as connection:
        pid = connection.scalar(text("select pg_backend_pid()"))
        if not Path(f"/proc/{pid}").exists():
            pytest.fail("the server process is not on this machine")
        os.kill(pid, signal.SIGSTOP)
        try:
            began = time.monotonic()
            with pytest.raises(OperationalError, match="timeout"):
                connection.execute(text("select 1"))
            assert time.monotonic() - began < 10
            assert connection.invalidated
        finally:
            os.kill(pid, signal.SIGCONT)
    with engine.connect() as connection:  # a new one
        assert connection.scalar(text("select 1")) == 1
    engine.dispose()
