"""cube-drill serve: several web processes and one for jobs; they end together, however that comes about."""

import os
import signal
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing
from pathlib import Path

import pytest
from bench.forty import CLASS, add_students, signed_in
from bench.load import CRATES, HAND_INS, polled, saver, several_hand_ins
from tools.served import PATIENCE_S, Server, family

from cubedrill.demo.load import PASSWORD as DEMO_PASSWORD
from tests.tiers import long

PROCESSES = 2
ALL = PROCESSES + 1  # the one for jobs too
FEW, EACH = 4, HAND_INS // CLASS


def until(found):
    """Wait until something is so; return it."""
    end = time.monotonic() + PATIENCE_S
    while not (result := found()):
        assert time.monotonic() < end, "it did not come about"
        time.sleep(0.1)
    return result


def is_there(pid):
    """Tell whether a process runs; one that is dead and not yet fetched by anybody does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


@pytest.fixture
def served(database_url):
    """A running server with all its processes."""
    server = Server(database_url, PROCESSES)
    server.start()
    until(lambda: len(family(server.process.pid)) == ALL)
    yield server
    server.kill()


@long
def test_one_that_dies_is_replaced_and_all_end_in_peace_when_asked_to(served):
    process = served.process
    before = family(process.pid)
    for pid in before:
        os.kill(pid, signal.SIGKILL)
        until(lambda pid=pid: not is_there(pid))
        until(lambda: len(set(filter(is_there, family(process.pid)))) == ALL)
        until(served.answers)
    after = family(process.pid)
    assert set(after).isdisjoint(before)
    process.terminate()
    assert process.wait(PATIENCE_S) in (0, -signal.SIGTERM)
    until(lambda: not any(map(is_there, after)))


@long
def test_a_few_of_a_class_are_served_and_when_the_first_process_dies_all_do(served, database_url):
    """A small part of `./run bench load`: nothing is refused, and what was acknowledged is kept in its order."""
    with ExitStack() as open_, ThreadPoolExecutor(FEW + 1) as pool:
        names = add_students(database_url)[:FEW]
        students = [open_.enter_context(closing(signed_in(served.address, name))) for name in names]
        odile = open_.enter_context(closing(signed_in(served.address, "odile", DEMO_PASSWORD)))
        end = time.monotonic() + 3
        polling = pool.submit(polled, odile, end)
        saves = list(pool.map(lambda n: saver(students[n], n, end), range(FEW)))
        assert polling.result()
        assert all(of_one[0] for of_one in saves)
        list(pool.map(several_hand_ins, students))
        rows = odile.get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
    assert sum(row["work"]["attempts"] for row in rows if row["student"].startswith("student-")) == FEW * EACH
    # One that has just begun in the place of another does not outlive it either, and hold its port.
    for pid in family(served.process.pid):
        os.kill(pid, signal.SIGKILL)
    until(lambda: len(set(filter(is_there, family(served.process.pid)))) == ALL)
    others = family(served.process.pid)
    served.kill()
    until(lambda: not any(map(is_there, others)))
    assert not served.answers()
