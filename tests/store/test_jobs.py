"""The job queue: kept with what asks for it, students' results first, retried after a fault or a death."""

import asyncio
import multiprocessing
import os
import signal
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from procrastinate import App
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.jobs import tasks, worker
from cubedrill.jobs.worker import work_until_killed
from cubedrill.store.database import engine_for
from cubedrill.store.jobs import CLEAN_UP, EXPLAIN, RECHECK, add_jobs, jobs_of, retry_job
from cubedrill.store.tables import JoinCode
from tests.conftest import database_named, own_name
from tests.jobs import do_all


@pytest.fixture
def database(template):
    with database_named(template, own_name("jobs")) as url:
        engine = engine_for(url)
        yield engine
        engine.dispose()


def listed(engine):
    with engine.connect() as connection:
        return jobs_of(connection)


def add(engine, kind, *args):
    with Session(engine) as db, db.begin():
        add_jobs(db, kind, args)


def test_a_job_is_kept_only_with_the_transaction_that_asks_for_it(database):
    with Session(database) as db:
        add_jobs(db, EXPLAIN, [{"submission": 1}])
        db.rollback()
    assert listed(database) == []
    add(database, EXPLAIN, {"submission": 1}, {"submission": 2})
    assert [(job.kind, job.args, job.state) for job in listed(database)] == [
        ("explain", {"submission": 1}, "waiting"), ("explain", {"submission": 2}, "waiting"),
    ]  # fmt: skip


def test_results_of_students_come_before_what_an_instructor_waits_for(database, monkeypatch):
    done = []
    monkeypatch.setattr(tasks, "explain", lambda _engine, submission: done.append(("explain", submission)))
    monkeypatch.setattr(tasks, "recheck", lambda _engine, _recheck, submission: done.append(("recheck", submission)))
    add(database, RECHECK, {"recheck_id": 1, "submission": 1})
    add(database, EXPLAIN, {"submission": 2})
    do_all(database)
    assert done == [("explain", 2), ("recheck", 1)]
    assert listed(database) == []


def test_a_job_that_fails_is_tried_again_and_says_why(database, monkeypatch):
    monkeypatch.setattr(tasks, "explain", lambda *_: 1 / 0)
    add(database, EXPLAIN, {"submission": 1})
    do_all(database)
    (job,) = listed(database)
    assert (job.state, job.attempts, job.why) == ("waiting", 1, "ZeroDivisionError: division by zero")
    for _ in range(EXPLAIN.attempts):
        with database.begin() as connection:
            connection.execute(text("update procrastinate_jobs set scheduled_at = now()"))
        do_all(database)
    (job,) = listed(database)
    assert job.state == "failed"
    done = []
    monkeypatch.setattr(tasks, "explain", lambda _engine, submission: done.append(submission))
    with database.begin() as connection:
        assert retry_job(connection, job.id)
        assert not retry_job(connection, job.id)
    do_all(database)
    assert (done, listed(database)) == ([1], [])


def _hang(*_words):
    time.sleep(600)


def _work(url, hangs):
    if hangs:
        tasks.explain = _hang
    worker.STALLED_S = 1.0
    worker.OPTIONS.update(update_heartbeat_interval=0.2, stalled_worker_timeout=1.0)
    work_until_killed(url)


def test_the_job_of_a_worker_that_is_killed_is_done_by_the_next_one(database):
    url = database.url.render_as_string(hide_password=False)
    add(database, EXPLAIN, {"submission": 1})

    def until(state, process):
        for _ in range(300):
            if [job.state for job in listed(database)] == state:
                return
            assert process.is_alive()
            time.sleep(0.1)
        raise AssertionError(listed(database))

    for hangs, state in ((True, ["running"]), (False, [])):
        process = multiprocessing.get_context("fork").Process(target=_work, args=(url, hangs))
        process.start()
        until(state, process)
        os.kill(process.pid, signal.SIGKILL)
        process.join()


def test_expired_sessions_and_codes_are_deleted_at_night(database):
    with Session(database) as db, db.begin():
        db.execute(text("update signed_in set expires_at = now()"))
        # Of two failed jobs one failed long ago; a third one is done, and left only its reason.
        add_jobs(db, EXPLAIN, [{"submission": 1}, {"submission": 2}])
        db.execute(text("update procrastinate_jobs set status = 'failed'"))
        db.execute(text("insert into job_failure (job_id, why) select id, 'A fault' from procrastinate_jobs"))
        db.execute(text("insert into job_failure (job_id, why) values (987654, 'Gone')"))
        db.execute(
            text(
                "update job_failure set failed_at = now() - interval '15 days' where job_id in (select id from procrastinate_jobs where args ->> 'submission' = '1')"
            )
        )
        db.add(JoinCode(code="OLD2345", class_id=1, ends_at=db.scalar(text("select now()"))))

    async def nightly() -> None:
        app: App = tasks.app_for(database.url.render_as_string(hide_password=False))
        async with app.open_async():
            await app.configure_task(CLEAN_UP.name).defer_async(timestamp=0)

    with ThreadPoolExecutor(1) as apart:
        apart.submit(lambda: asyncio.run(nightly())).result()
    do_all(database)
    assert [(job.args, job.why) for job in listed(database)] == [({"submission": 2}, "A fault")]
    with database.connect() as connection:
        assert connection.scalar(text("select count(*) from job_failure")) == 1
        assert connection.scalar(text("select count(*) from join_code where code = 'OLD2345'")) == 0


def test_the_command_lists_jobs_with_the_reason_and_retries_one(database, monkeypatch):
    def command(*words):
        url = database.url.render_as_string(hide_password=False)
        program = str(Path(sys.executable).parent / "cube-drill")
        environment = {**os.environ, "CUBE_DRILL_DATABASE_URL": url}
        return subprocess.run([program, "jobs", *words], env=environment, capture_output=True, text=True, check=False)

    assert command().stdout == "No jobs are waiting, running or failed.\n"
    monkeypatch.setattr(tasks, "explain", lambda *_: 1 / 0)
    add(database, EXPLAIN, {"submission": 7})
    do_all(database)
    (job,) = listed(database)
    line = command().stdout
    assert line.startswith(f"{job.id}  waiting  explain  submission 7  since ")
    assert line.endswith("ZeroDivisionError: division by zero\n")
    refused = command("--retry", str(job.id))
    assert (refused.returncode != 0, "has not failed" in refused.stderr) == (True, True)
    with database.begin() as connection:
        connection.execute(text("update procrastinate_jobs set status = 'failed'"))
    assert f"{job.id}  waiting" in command("--retry", str(job.id)).stdout
