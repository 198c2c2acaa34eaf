"""Is anything lost when processes are killed? A class at work while the server, a process of it or the database dies.

Question: after so many kills, is every step and every submission that was acknowledged kept, in the order in which it
was done, and nothing there that nobody sent? The web server is killed as a whole, or one of its processes is, and it is
started again where it does not by itself; of PostgreSQL a process is killed, upon which it recovers from its log.

Run: ./run bench kills [of the web server] [of PostgreSQL] [seed]
"""

from __future__ import annotations

import os
import random
import signal
import sys
import tempfile
import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import httpx2
from sqlalchemy import func, select
from sqlalchemy.orm import Session
from tools.local_postgres import LocalPostgres
from tools.served import Server, family

from bench.forty import add_students, signed_in
from bench.load import CRATE, CRATES
from bench.yard import set_yard
from cubedrill.store.database import engine_for
from cubedrill.store.tables import Mark, Person, StoredSubmission

WEB, DATABASE, SEED = 100, 20, 1
PEOPLE = 8
BETWEEN_S = (0.3, 1.5)  # between a kill and the next
PLACE = f"/api/assignments/{CRATES}"
AWAY = (httpx2.TransportError, httpx2.HTTPStatusError)


class Student:
    """Somebody who does a step again and again, and submits now and then; knows what was acknowledged."""

    def __init__(self, address: str, name: str) -> None:
        self.http = signed_in(address, name)
        self.http.timeout = 20
        self.steps: list[dict[str, Any]] = []  # acknowledged
        self.revision = 0
        self.handed = 0  # acknowledged
        self.perhaps = 0  # sent, and never answered
        self.errors = Counter[str]()

    def work(self, ended: threading.Event, rnd: random.Random) -> None:
        while not ended.is_set():
            more = [*self.steps, {**CRATE, "by": [round(rnd.uniform(-1, 1), 3), 0, 0]}]
            try:
                self._save(more)
                if rnd.random() < 0.1:
                    self._hand_in()
            except AWAY as error:
                self.errors[type(error).__name__] += 1
                self.look(more)
            time.sleep(rnd.random() * 0.1)

    def _save(self, more: list[dict[str, Any]]) -> None:
        body = {"revision": self.revision, "steps": more, "cursor": len(more), "known": len(self.steps)}
        self.revision = self.http.put(PLACE + "/draft", json=body).raise_for_status().json()["revision"]
        self.steps = more

    def _hand_in(self) -> None:
        self.perhaps += 1
        self.http.post(PLACE + "/submissions", json={"revision": self.revision}).raise_for_status()
        self.perhaps -= 1
        self.handed += 1

    def look(self, sent: list[dict[str, Any]]) -> None:
        """What is kept is what was acknowledged, or that with the step whose answer never came."""
        while True:
            try:
                draft = self.http.get(PLACE + "/bench").raise_for_status().json()["draft"]
                break
            except AWAY:
                time.sleep(0.2)
        kept = [entry["step"]["by"] for entry in draft["steps"]]
        assert kept in ([step["by"] for step in steps] for steps in (self.steps, sent)), "a step was lost"
        self.steps, self.revision = (sent if len(kept) == len(sent) else self.steps), draft["revision"]


def kill_web(server: Server, rnd: random.Random) -> str:
    assert server.process is not None
    one_of_them = family(server.process.pid)
    if one_of_them and rnd.random() < 0.5:
        _kill(rnd.choice(one_of_them))
        if server.is_up():
            return "one of the server's processes"
    server.kill()
    server.start()
    return "the server"


def kill_database(postgres: LocalPostgres, rnd: random.Random) -> str:
    first = int((postgres.data / "postmaster.pid").read_text().split()[0])
    _kill(rnd.choice(family(first)))
    return "one of the database's processes"


def _kill(pid: int) -> None:
    try:
        os.kill(pid, signal.SIGKILL)
    except ProcessLookupError:
        return


def series(url: str, server: Server, postgres: LocalPostgres, kills: tuple[int, int], seed: int) -> None:
    rnd = random.Random(seed)
    students = [Student(server.address, name) for name in add_students(url)[:PEOPLE]]
    ended = threading.Event()
    which = [True] * kills[0] + [False] * kills[1]
    rnd.shuffle(which)
    killed = Counter[str]()
    with ThreadPoolExecutor(PEOPLE) as pool:
        at_work = [pool.submit(each.work, ended, random.Random(seed + n)) for n, each in enumerate(students, start=1)]
        try:
            for web in which:
                time.sleep(rnd.uniform(*BETWEEN_S))
                killed[kill_web(server, rnd) if web else kill_database(postgres, rnd)] += 1
        finally:
            ended.set()
        for each in at_work:
            each.result()
    for student in students:
        student.look(student.steps)
    theirs = submitted(url)
    sure, perhaps = sum(each.handed for each in students), sum(each.perhaps for each in students)
    assert sure <= theirs <= sure + perhaps, f"{theirs} submitted; {sure} acknowledged, {perhaps} more were sent"
    print(f"{sum(killed.values())} kills: {dict(killed)}")
    steps = sum(len(each.steps) for each in students)
    print(f"{steps} steps and {sure} submissions were acknowledged; all are kept, in their order")
    print(f"errors meanwhile: {dict(sum((each.errors for each in students), Counter()))}")


def submitted(url: str) -> int:
    """How many submissions of theirs are kept, once all have been explained: whoever does it was killed too."""
    waiting = select(func.count()).select_from(Mark).where(~Mark.explained)
    theirs = select(func.count()).select_from(StoredSubmission).join(Person).where(Person.sign_in.like("student-%"))
    with Session(engine_for(url)) as db:
        while db.scalar(waiting):
            db.rollback()
            time.sleep(0.5)
        return db.scalar(theirs) or 0


def main() -> None:
    given = [int(word) for word in sys.argv[1:]]
    web, database, seed = (*given, *(WEB, DATABASE, SEED)[len(given) :])
    home = Path(tempfile.mkdtemp(prefix="cube-drill-bench-"))
    home.chmod(0o755)
    postgres = LocalPostgres(home)  # durable, as for real
    server = None
    try:
        url = postgres.start()
        set_yard(url)
        server = Server(url, os.cpu_count() or 1)
        server.start()
        series(url, server, postgres, (web, database), seed)
    finally:
        if server is not None:
            server.kill()
        postgres.remove()
        home.rmdir()


if __name__ == "__main__":
    main()
