"""What every request passes: places for so many at once, bodies, faults, compression, the log."""

import json
import logging
import socket
import threading
from concurrent.futures import ThreadPoolExecutor
from urllib.parse import urlsplit

import httpx2
import pytest

from cubedrill.api.app import create_app
from cubedrill.api.edge import body_limit, concurrency
from cubedrill.api.edge.errors import ACCESS, FAULTS
from cubedrill.settings import Settings
from tests.api.conftest import RIGHT
from tests.api.test_openapi import serving
from tests.tiers import long

AT_ONCE = 120


@pytest.fixture
def address(database_url):
    """A server over HTTP on a fresh database."""
    with serving(create_app(Settings(database_url=database_url))) as address:
        yield address


@long
def test_more_at_once_than_there_are_connections_are_all_answered(address):
    """Threads that wait for a connection once filled the pool of those that could give one back."""

    def ask(_number):
        with httpx2.Client(base_url=address, timeout=60) as http:
            return http.get("/api/health").status_code

    with ThreadPoolExecutor(AT_ONCE) as several:
        assert set(several.map(ask, range(AT_ONCE))) == {200}


def test_beyond_the_queue_one_is_told_to_come_again(sign_in, monkeypatch):
    caller = sign_in("pim")
    monkeypatch.setattr(concurrency, "MAX_REQUESTS", 0)
    answer = caller.get("/api/home")
    assert (answer.status_code, answer.json()["code"], answer.headers["retry-after"]) == (503, "busy", "1")
    assert answer.headers["content-type"] == "application/problem+json"


def test_bodies_that_would_fill_the_memory_are_told_to_come_again(sign_in, monkeypatch):
    caller = sign_in("pim")
    monkeypatch.setattr(body_limit, "MOST_HELD", 10)
    assert (caller.save(0, [RIGHT]).status_code, caller.get("/api/home").status_code) == (503, 200)


def test_a_body_that_does_not_come_is_cut_off(address, monkeypatch):
    monkeypatch.setattr(body_limit, "SECONDS", 0.3)
    at = urlsplit(address)
    with socket.create_connection((at.hostname, at.port), timeout=10) as line:
        line.sendall(b"POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Length: 50\r\n\r\n{")
        told = line.recv(10_000).decode()
        assert told.startswith("HTTP/1.1 408")
        assert "too-slow" in told
        line.settimeout(10)
        while line.recv(1000):  # the connection ends
            pass


@pytest.mark.parametrize("cookie", [None, "made-up"])
def test_bodies_of_strangers_are_limited(sign_in, cookie):
    nobody = sign_in(None)
    if cookie:
        nobody.http.cookies.set("cube_drill_session", cookie)
    large = b'{"sign_in":"' + b"x" * body_limit.LARGEST_ANONYMOUS + b'","password":"x"}'
    answer = nobody.call("POST", "/api/session", content=large)
    assert (answer.status_code, answer.json()["code"]) == (413, "too-large")
    assert sign_in("pim").call("PUT", "/api/assignments/1/draft", content=large).status_code == 422


def test_a_large_body_is_answered_as_a_small_one(sign_in):
    caller = sign_in("pim")
    steps = [{**RIGHT, "objects": ["crate-herring"], "to": [-3, 0.15, -2 + n / 1000]} for n in range(900)]
    assert len(json.dumps(steps)) > body_limit.LARGEST_ANONYMOUS
    answer = caller.save(0, steps)
    assert (answer.status_code, answer.json()["revision"]) == (200, 1)
    stale = caller.save(0, steps)
    assert (stale.status_code, stale.json()["code"], stale.json()["newer"]["revision"]) == (409, "stale-draft", 1)


def test_a_fault_is_a_problem_with_an_id_that_stands_in_the_log(sign_in, monkeypatch, caplog):
    caller = sign_in("pim")
    monkeypatch.setattr("cubedrill.service.news.home.home_of", lambda *_: 1 / 0)
    with caplog.at_level(logging.ERROR, FAULTS.name):
        answer = caller.get("/api/home")
    assert (answer.status_code, answer.headers["content-type"]) == (500, "application/problem+json")
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert answer.headers["x-request-id"] in answer.json()["detail"]
    assert answer.headers["x-request-id"] in caplog.text
    assert "ZeroDivisionError" in caplog.text
    assert caller.get("/api/session").status_code == 200


def test_after_a_fault_the_connection_is_kept(address, monkeypatch):
    monkeypatch.setattr("cubedrill.service.people.accounts.signed_in", lambda *_: 1 / 0)
    at = urlsplit(address)
    with socket.create_connection((at.hostname, at.port), timeout=10) as line:
        for _ in range(2):
            line.sendall(b"GET /api/nothing HTTP/1.1\r\nHost: x\r\n\r\n")
            assert line.recv(10_000).startswith(b"HTTP/1.1 404")


def test_answers_are_packed_from_a_kilobyte_on(sign_in):
    caller = sign_in("pim")
    assert caller.get("/api/assignments/1/bench").headers["content-encoding"] == "gzip"
    assert "content-encoding" not in caller.get("/api/session").headers


def test_the_log_has_a_line_a_request_with_who_and_which_route(sign_in, caplog):
    caller = sign_in("pim")
    with caplog.at_level(logging.INFO, ACCESS.name):
        answer = caller.get("/api/assignments/1/bench")
        caller.http.cookies.clear()
        caller.get("/api/assignments/1/bench")
    lines = [json.loads(record.getMessage()) for record in caplog.records if record.name == ACCESS.name]
    known, unknown = lines
    assert known == {
        **known,
        "request": answer.headers["x-request-id"],
        "method": "GET",
        "route": "/api/assignments/{assignment}/bench",
        "status": 200,
    }
    assert known["person"] == 2
    assert (unknown["person"], unknown["status"]) == (None, 401)


def test_only_listed_host_names_are_answered(database_url, tmp_path):
    app = create_app(Settings(database_url=database_url, screens=tmp_path, hosts=("drill.example",)))
    with serving(app) as address, httpx2.Client(base_url=address) as http:
        for host in ("elsewhere.example", "drill.example.elsewhere", "[", ""):
            assert http.get("/api/health", headers={"Host": host}).json()["code"] == "wrong-host"
        for host in ("drill.example", "drill.example:8400"):
            assert http.get("/api/health", headers={"Host": host}).status_code == 200


def test_files_of_the_screens_are_sent_packed_and_kept_for_good(unopened):
    assets = unopened.state.settings.screens / "assets"
    assets.mkdir(exist_ok=True)
    for ending, content in (("", b"plain"), (".gz", b"zipped"), (".br", b"brotli")):
        (assets / f"bench-1a2b.js{ending}").write_bytes(content)
    with serving(unopened) as address, httpx2.Client(base_url=address) as http:
        for accepted, coding, content in (
            ("gzip, br", "br", b"brotli"),
            ("gzip", "gzip", b"zipped"),
            ("", None, b"plain"),
        ):
            with http.stream("GET", "/assets/bench-1a2b.js", headers={"Accept-Encoding": accepted}) as answer:
                assert b"".join(answer.iter_raw()) == content
                assert answer.headers.get("content-encoding") == coding
                assert answer.headers["content-type"].startswith("text/javascript")
                assert "immutable" in answer.headers["cache-control"]
                assert answer.headers["vary"] == "Accept-Encoding"
        assert http.get("/assets/../index.html").status_code in (404, 503)


def test_only_so_many_are_at_work_at_once(address, monkeypatch):
    """A place is given back however a request ends."""
    inside, most, lock = 0, 0, threading.Lock()

    def slow(*_):
        nonlocal inside, most
        with lock:
            inside += 1
            most = max(most, inside)
        threading.Event().wait(0.05)
        with lock:
            inside -= 1
        raise ValueError("a fault in the middle")

    monkeypatch.setattr("cubedrill.api.access.signed_in", slow)

    def ask(_number):
        with httpx2.Client(base_url=address, timeout=60, cookies={"cube_drill_session": "x"}) as http:
            return http.get("/api/home").status_code

    with ThreadPoolExecutor(40) as several:
        assert set(several.map(ask, range(40))) == {500}
    assert 1 < most <= concurrency.AT_WORK
