"""Many machines: two that serve and one that works, on one database; a backup that is whole."""

import json
import signal
import subprocess
import sys
import time
from contextlib import contextmanager
from pathlib import Path

import httpx2
import pytest
from sqlalchemy import create_engine, text
from tools.local_postgres import LocalPostgres
from tools.served import PATIENCE_S, Server

from cubedrill.demo.load import PASSWORD
from tests.api.conftest import RIGHT
from tests.conftest import _execute, address_of, own_name
from tests.tiers import long

CRATES = "/api/assignments/1"


def until(found):
    """Wait until something is so; return it."""
    end = time.monotonic() + PATIENCE_S
    while not (result := found()):
        assert time.monotonic() < end, "it did not come about"
        time.sleep(0.1)
    return result


@pytest.fixture
def machines(database_url):
    """Two servers that leave the work to others, and a worker; as on three machines."""
    servers = [Server(database_url, 1, "--no-work") for _ in range(2)]
    for server in servers:
        server.start()
    command = [str(Path(sys.executable).parent / "cube-drill"), "work"]
    worker = subprocess.Popen(command, env=servers[0].environment)
    yield [*servers, worker]
    for server in servers:
        server.kill()
    worker.kill()
    worker.wait()


@contextmanager
def signed_in(server, name):
    with httpx2.Client(base_url=server.address, timeout=60) as http:
        answer = http.post("/api/session", json={"sign_in": name, "password": PASSWORD})
        http.headers["X-CSRF-Token"] = answer.json()["csrf_token"]
        yield http


@long
def test_servers_share_saves_and_lose_nothing_when_one_is_killed(machines):
    first, second, worker = machines
    with signed_in(first, "pim") as pim, signed_in(second, "odile") as odile:
        with odile.stream("GET", "/api/classes/1/live") as live:
            lines = live.iter_lines()
            assert next(lines) == "event: again"
            body = {"revision": 0, "steps": [RIGHT], "cursor": 1}
            assert pim.put(f"{CRATES}/draft", json=body).status_code == 200
            told = next(line for line in lines if "cells" in line and line.startswith("data"))
            cell = json.loads(told.removeprefix("data: "))["cells"][0]
            assert (cell["assignment"], cell["at_work"] is not None) == (1, True)
        # What one of them signed in, the other knows.
        with httpx2.Client(base_url=second.address, cookies=dict(pim.cookies), timeout=60) as there:
            assert there.get("/api/home").status_code == 200
            assert there.get(f"{CRATES}/bench").json()["draft"]["revision"] == 1
        first.kill()
        recheck = odile.post(f"{CRATES}/recheck", json={}).json()["id"]
        until(lambda: odile.get(f"/api/rechecks/{recheck}").json()["done"] > 0)
        worker.send_signal(signal.SIGKILL)
        worker.wait()
        before = odile.get(f"/api/rechecks/{recheck}").json()
        again = subprocess.Popen(worker.args, env=second.environment)
        try:
            view = until(lambda: (v := odile.get(f"/api/rechecks/{recheck}").json())["state"] == "done" and v)
            assert before["done"] <= view["done"] == view["total"]
        finally:
            again.terminate()
            assert again.wait(60) in (0, -signal.SIGTERM)
        with odile.stream("GET", "/api/classes/1/live") as live:
            assert next(live.iter_lines()) == "event: again"
            began = time.monotonic()
            second.process.terminate()
            second.process.wait(PATIENCE_S)
            assert time.monotonic() - began < 15  # it waits for a stream for ever where nobody ends it


@long
def test_a_backup_that_is_restored_has_all_there_is_and_guards_it(postgres_url, database_url, tmp_path):
    programs = LocalPostgres(tmp_path).programs
    again = address_of(postgres_url, own_name("restored"))
    _execute(postgres_url, f"create database {own_name('restored')}")
    plain = {url: url.replace("postgresql+psycopg", "postgresql") for url in (database_url, again)}
    dump = str(tmp_path / "cube-drill.dump")
    words = [str(programs / "pg_dump"), "--format=custom", f"--file={dump}", f"--dbname={plain[database_url]}"]
    subprocess.run(words, check=True)
    subprocess.run([str(programs / "pg_restore"), "--no-privileges", f"--dbname={plain[again]}", dump], check=True)
    counts = []
    for url in (database_url, again):
        engine = create_engine(url)
        with engine.connect() as db:
            tables = db.scalars(text("select tablename from pg_tables where schemaname = 'public' order by 1")).all()
            sums = "select count(*), coalesce(sum(hashtext(t::text)::bigint), 0) from"
            counts.append({t: tuple(db.execute(text(f"{sums} {t} t")).one()) for t in tables})
        with engine.connect() as db, pytest.raises(Exception, match="never changed"):
            db.execute(text("update report set rules_version = ''"))
        engine.dispose()
    assert counts[0] == counts[1]
    assert counts[0]["submission"][0] > 60
    _execute(postgres_url, f"drop database {own_name('restored')}")
