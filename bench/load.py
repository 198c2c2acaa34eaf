"""Does the server stand a class at once? Forty save each second, a board is open, two hundred submit, a hundred come.

Question: how long does a save take (half of them, 95 in 100), against asking who is signed in, in the same run; is
anything refused or lost; does memory stay flat? The clients run on the same cores. After each part: everything that was
acknowledged is kept, in the order in which it was done.

Aims: saves with 95 in 100 under 150 ms, half of them in at most 3 times what `GET /api/session` takes; no error.

Run: ./run bench load [seconds of saving]
"""

from __future__ import annotations

import json
import random
import statistics
import sys
import time
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx2
from tools.served import Server, family

from bench.forty import CLASS, add_students, signed_in
from bench.yard import served_yard

SECONDS = 60
HAND_INS, WITHIN_S = 200, 10
AT_ONCE = 100
CRATES = 1  # the assignment of the crates, which has four checks
CRATE = {"op": "move", "objects": ["crate-herring"], "space": "world", "entry": "typed"}


def said(name: str, seconds: Iterable[float]) -> float:
    taken = sorted(1000 * each for each in seconds)
    half, slow = statistics.median(taken), taken[int(0.95 * len(taken))]
    print(
        f"{name:34} {len(taken):5}   half {half:6.1f} ms   95 in 100 {slow:6.1f} ms   most {taken[-1]:6.1f} ms",
        flush=True,
    )
    return half


def timed(ask: Callable[[], httpx2.Response]) -> float:
    began = time.perf_counter()
    ask().raise_for_status()
    return time.perf_counter() - began


def saver(http: httpx2.Client, number: int, until: float) -> tuple[list[float], list[float]]:
    """Somebody who does a step every second, and now and then looks who she is."""
    place, steps, saves, looks = f"/api/assignments/{CRATES}", [], [], []
    rnd = random.Random(number)
    time.sleep(rnd.random())
    while (began := time.monotonic()) < until:
        steps.append({**CRATE, "by": [round(rnd.uniform(-1, 1), 3), 0, 0]})
        body = {"revision": len(steps) - 1, "steps": steps, "cursor": len(steps), "known": len(steps) - 1}
        saves.append(timed(lambda body=body: http.put(place + "/draft", json=body)))
        looks.append(timed(lambda: http.get("/api/session")))
        time.sleep(max(0.0, 1 - (time.monotonic() - began)))
    kept = http.get(place + "/bench").raise_for_status().json()["draft"]
    assert [each["step"]["by"] for each in kept["steps"]] == [step["by"] for step in steps]
    return saves, looks


def submit(http: httpx2.Client, revision: int) -> float:
    """A changed step, saved and submitted; the time of submitting alone."""
    place = f"/api/assignments/{CRATES}"
    step = {**CRATE, "to": [revision, 0.15, -2]}
    body = {"revision": revision, "steps": [step], "cursor": 1}
    revision = http.put(place + "/draft", json=body).raise_for_status().json()["revision"]
    return timed(lambda: http.post(place + "/submissions", json={"revision": revision}))


def several_hand_ins(http: httpx2.Client) -> list[float]:
    revision = http.get(f"/api/assignments/{CRATES}/bench").json()["draft"]["revision"]
    each, rnd = HAND_INS // CLASS, random.Random(revision)
    taken = []
    for number in range(each):
        time.sleep(rnd.random() * WITHIN_S / each)
        taken.append(submit(http, revision + number))
    return taken


def polled(http: httpx2.Client, until: float) -> list[float]:
    """An instructor who looks at the class again and again."""
    taken = []
    while time.monotonic() < until:
        taken.append(timed(lambda: http.get(f"/api/assignments/{CRATES}/submissions")))
        time.sleep(1)
    return taken


def looking_on(http: httpx2.Client, until: float) -> int:
    """Somebody who has the board of the class open, and receives every change. Returns the number of cells."""
    cells = 0
    with http.stream("GET", "/api/classes/1/live") as live:
        for line in live.iter_lines():
            if line.startswith("data: {") and '"cells"' in line:
                cells += len(json.loads(line.removeprefix("data: "))["cells"])
            if time.monotonic() > until:
                break
    return cells


def memory_mb(server: Server) -> float:
    """What all processes of the server take, what some share once."""
    assert server.process is not None
    pids = [server.process.pid, *family(server.process.pid)]
    lines = [line for pid in pids for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()]
    return sum(int(line.split()[1]) for line in lines if line.startswith("Pss:")) / 1024


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else SECONDS
    with served_yard() as (url, server, _assignment), ThreadPoolExecutor(AT_ONCE) as pool:
        address = server.address
        students = list(pool.map(lambda name: signed_in(address, name), add_students(url)))
        odile = signed_in(address, "odile", "harbour-light")
        before = memory_mb(server)
        until = time.monotonic() + seconds
        polling = pool.submit(polled, odile, until)
        board = pool.submit(looking_on, signed_in(address, "odile", "harbour-light"), until)
        saves, looks = zip(*pool.map(lambda n: saver(students[n], n, until), range(CLASS)), strict=True)
        one = said("who is signed in", [each for of_one in looks for each in of_one])
        half = said(f"saves, {CLASS} a second", [each for of_one in saves for each in of_one])
        print(f"{'':34} ratio {half / one:.2f}")
        said("the class page meanwhile", polling.result())
        print(f"sent to an open board meanwhile: {board.result()} cells")
        taken = [each for of_one in pool.map(several_hand_ins, students) for each in of_one]
        said(f"submitted, within {WITHIN_S} s", taken)
        at_hand = [httpx2.Client(base_url=address, timeout=60) for _ in range(AT_ONCE)]
        health = list(pool.map(lambda http: timed(lambda: http.get("/api/health")), at_hand))
        said(f"{AT_ONCE} at the same moment", health)
        rows = odile.get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
        assert sum(row["work"]["attempts"] for row in rows if row["student"].startswith("student-")) == HAND_INS
        print(f"memory {before:.0f} MB before, {memory_mb(server):.0f} MB after")


if __name__ == "__main__":
    main()
