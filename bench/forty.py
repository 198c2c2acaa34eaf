"""Does the bench stay quick for a class? Forty students at work in one exercise, against one alone, on the same server.

Question: how much longer does an answer take, for what the bench asks while one works: what a step would do, what is
measured, a step saved? Each student, every PACE seconds, types (three previews), measures (once) and does a step (one
save). Then once more, while each of them submits a scene file of another program as well. Inside the clock: the
server and its database. After the timing: every step that was acknowledged is kept.

Run: ./run bench forty
"""

from __future__ import annotations

import statistics
import time
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx2
from sqlalchemy.orm import Session

from bench.yard import served_yard
from cubedrill.service.people.accounts import PASSWORDS
from cubedrill.store.database import engine_for
from cubedrill.store.tables import Membership, Person

CLASS = 40
PACE = 5.0  # seconds between a student's steps
ROUNDS = 6
PASSWORD = "made-up-harbour"  # noqa: S105 - of people who are here for the length of a run

Times = dict[str, list[float]]


def add_students(url: str) -> list[str]:
    names = [f"student-{n}" for n in range(CLASS)]
    password_hash = PASSWORDS.hash(PASSWORD)
    engine = engine_for(url)
    with Session(engine) as db, db.begin():
        people = [Person(sign_in=name, name=name, password_hash=password_hash) for name in names]
        db.add_all(people)
        db.flush()
        db.add_all(Membership(class_id=1, person_id=person.id, role="student") for person in people)
    engine.dispose()
    return names


def signed_in(address: str, name: str, password: str = PASSWORD) -> httpx2.Client:
    http = httpx2.Client(base_url=address, timeout=60)
    answer = http.post("/api/session", json={"sign_in": name, "password": password}).raise_for_status()
    http.headers["X-CSRF-Token"] = answer.json()["csrf_token"]
    return http


def at_work(http: httpx2.Client, assignment: int, late: float, first: int = 0, file: bytes | None = None) -> Times:
    """A student's work for some rounds; late: how long after the others she begins; first: the solid of her first step.

    file: what she submits after one of them.
    """
    taken: Times = defaultdict(list)
    place = f"/api/assignments/{assignment}"
    steps: list[dict[str, Any]] = []
    start = http.get(place + "/bench").raise_for_status().json()["draft"]
    steps = [entry["step"] for entry in start["steps"]]
    revision = start["revision"]

    def asked(what: str, method: str, path: str, body: dict[str, Any]) -> Any:
        began = time.perf_counter()
        answer = http.request(method, place + path, json=body).raise_for_status()
        taken[what].append(1000 * (time.perf_counter() - began))
        return answer.json()

    time.sleep(late)
    for number in range(first, first + ROUNDS):
        began = time.perf_counter()
        step = {"op": "drop", "objects": [f"o{number}"], "onto": "below"}
        for clearance in (0.1, 0.12, 0.125):
            more = [*steps, {**step, "clearance": clearance}]
            asked("preview", "POST", "/preview", {"steps": more, "cursor": len(more)})
        pair = {"first": {"object": "o0"}, "second": {"object": "o9"}}
        asked("measure", "POST", "/measures", {"steps": steps, "cursor": len(steps), "asked": [pair]})
        steps = [*steps, {**step, "clearance": 0.125}]
        body = {"revision": revision, "steps": steps, "cursor": len(steps), "known": len(steps) - 1}
        revision = asked("save", "PUT", "/draft", body)["revision"]
        if file is not None and number - first == int(late * CLASS / PACE) % ROUNDS:
            began_file = time.perf_counter()
            headers = {"Content-Type": "application/octet-stream"}
            sent = http.post(place + "/files?name=work.glb", content=file, headers=headers).raise_for_status().json()
            http.post(f"{place}/files/{sent['file']}/submissions", json={}).raise_for_status()
            taken["file"].append(1000 * (time.perf_counter() - began_file))
        time.sleep(max(0.0, PACE - (time.perf_counter() - began)))
    kept = http.get(place + "/bench").raise_for_status().json()["draft"]["steps"]
    assert len(kept) == len(steps)
    return taken


def main() -> None:
    with served_yard() as (url, server, assignment):
        address = server.address
        people = [signed_in(address, name) for name in add_students(url)]
        start = people[0].get(f"/api/assignments/{assignment}/scenes/start?kind=.glb").raise_for_status().content
        alone = at_work(people[-1], assignment, 0, file=start)
        for what_else, first, file in (("", 0, None), (", a file each", ROUNDS, start)):
            compared(alone, of_all(people[:-1], assignment, first, file), what_else)


def of_all(people: list[httpx2.Client], assignment: int, first: int, file: bytes | None) -> Times:
    """What everybody's requests took, each beginning a little after the one before."""
    together: Times = defaultdict(list)
    with ThreadPoolExecutor(len(people)) as pool:
        for times in pool.map(
            lambda n: at_work(people[n], assignment, n * PACE / CLASS, first, file), range(len(people))
        ):
            for what, values in times.items():
                together[what] += values
    return together


def compared(alone: Times, together: Times, what_else: str) -> None:
    for what, values in together.items():
        one, all_ = statistics.median(alone[what]), statistics.median(values)
        slow = statistics.quantiles(values, n=20)[-1]
        print(f"{what:8} alone {one:6.1f} ms   in a class{what_else} {all_:6.1f} ms, 95 in 100 below {slow:6.1f} ms"
              f"   ratio {all_ / one:.2f}", flush=True)  # fmt: skip


if __name__ == "__main__":
    main()
