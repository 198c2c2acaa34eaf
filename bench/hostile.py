"""Does anything that strangers send bring the server down? Good bodies and files with values made wrong in any place.

Question: of so many bodies over all routes, how many are answered with a fault of the server, and how long does the
worst one take? The same of files through the command line's reader, and of scene files of other programs. Aims: no
fault, none over 2 s of CPU; memory flat.

Run: ./run bench hostile [bodies] [files] [scene files] [seed]
"""

from __future__ import annotations

import copy
import json
import random
import resource
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any

from fastapi.testclient import TestClient
from tools.local_postgres import LocalPostgres

from bench.yard import set_yard
from cubedrill.api.app import create_app
from cubedrill.core.errors import CoreError
from cubedrill.core.judging.judge import judge_submission
from cubedrill.demo.load import HERE, PASSWORD
from cubedrill.formats import transforms
from cubedrill.formats.documents import FormatError, read_exercise, read_submission
from cubedrill.formats.kinds import WRITERS, kind_of, read
from cubedrill.formats.limits import UnreadableError
from cubedrill.formats.sandbox import load_beforehand, read_in_sandbox
from cubedrill.settings import Settings

CRATES = HERE / "exercises" / "crates-morning-boat.json"
BODIES, FILES, SCENES, SEED = 20_000, 5_000, 20_000, 1
LONGEST_CPU_S = 2.0
IN_Z = {"conventions": {"up": "z"}, "matches": {"quay": "Quay"}}
MESH = {"kind": "mesh", "vertices": [[0, 0, 0], [1, 0, 0], [0, 1, 0]], "triangles": [[0, 1, 2]]}
STEPS = [
    {"op": "move", "objects": ["crate-herring"], "by": [1, 0, 0]},
    {"op": "rotate", "objects": ["crate-herring"], "axis": "y", "degrees": 30, "pivot": "box"},
    {"op": "scale", "objects": ["crate-herring"], "by": [2, 1, 1], "space": "local"},
    {"op": "duplicate", "objects": ["crate-herring"], "ids": ["copy"], "between": {"op": "move", "by": [0, 0, 1]}},
    {"op": "add", "object": {"id": "new", "solid": MESH}},
    {"op": "drop", "objects": ["crate-herring"], "onto": "below", "clearance": 0.1},
    {"op": "aim", "objects": ["crate-herring"], "axis": "+z", "at": [1, 2, 3]},
    {"op": "align", "objects": ["crate-herring"], "to": {"object": "quay"}, "x": ["min", "max"]},
]  # fmt: skip
NUMBERS = [0, -0.0, 5e-324, 1e-300, 1e-12, 1e154, -1e154, 1e308, -1e308, 2**53, -1, 90, 720, 1e6]
PAIR = {"first": {"object": "quay"}, "second": [1, 2, 3]}
WRONG: list[Any] = [
    None, True, "", "x", "\x00", "a\x00b", "\ud800", "=1+1", "[bold]x[/]", "\x1b[31m", "x" * 5000, 0, -1,
    -0.0, 5e-324, 1e308, -1e308, 1e154,
    1e-300, 2**63, -(2**63) - 1, 2**200, 0.1, [], {}, [[]], [1, 2, 3], [1e308, 1, 1], [5e-324] * 3, [0, 0, 0],
    {"object": "quay"},
    {"a": {"b": {}}}, ["quay"], ["crate-herring"] * 1001, "world", "local",
    {"view": {"right": [1, 0, 0], "up": [1, 0, 0]}},
    {"line": [[0, 0, 0], [0, 0, 0]]}, [1e200, 1e-200, 1],
]  # fmt: skip


def leaves(value: Any, place: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place in a document, the document itself first."""
    yield place
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield from leaves(inner, (*place, key))


def made_wrong(good: Any, rnd: random.Random) -> Any:
    """A document with one to three of its values made wrong, a key more, one less, or one twice."""
    wrong = copy.deepcopy(good)
    for _ in range(rnd.choice((1, 1, 2, 3))):
        place = rnd.choice(list(leaves(wrong)))
        if not place:
            wrong = rnd.choice(WRONG) if rnd.random() < 0.05 else wrong
            continue
        *path, key = place
        at = wrong
        for part in path:
            at = at[part]
        way = rnd.random()
        if way < 0.3 and isinstance(at[key], int | float):
            at[key] = rnd.choice(NUMBERS)
        elif way < 0.75:
            at[key] = copy.deepcopy(rnd.choice(WRONG))
        elif way < 0.85:
            del at[key]
        elif isinstance(at, dict):
            at[rnd.choice(("\x00", "x" * 300, "unknown", "object"))] = copy.deepcopy(rnd.choice(WRONG))
        else:
            at.append(copy.deepcopy(at[key]))
    return wrong


def good_bodies() -> list[tuple[str, str, str, Any]]:
    """A good body for each route that takes one, with who is let in there: an instructor, or a student."""
    from tests.api.people.test_roles import ROLES, ROUTES  # noqa: PLC0415 - the one list of all routes

    ones = ("assignment", "submission", "plan", "version", "file", "class", "recheck")
    names = {**dict.fromkeys(ones, 1), "part": "reference", "number": 0, "person_id": 3}
    found = [
        ("odile" if answers[ROLES.index("owner")] in (403, 404) else "pim", method, path.format(**names), body)
        for (method, path), (body, answers) in ROUTES.items()
        if body is not None and not isinstance(body, bytes)
    ]
    work = {"steps": STEPS, "cursor": len(STEPS)}
    more = [
        ("pim", "PUT", "/api/assignments/1/draft", {"revision": 0, **work}),
        ("pim", "POST", "/api/assignments/1/look", work),
        ("pim", "POST", "/api/assignments/1/preview", work),
        ("odile", "POST", "/api/plans/1/reference/preview", work),
        ("pim", "POST", "/api/assignments/1/measures", {**work, "asked": [PAIR]}),
        ("odile", "POST", "/api/plans", {"exercise": json.loads(CRATES.read_text())}),
        ("pim", "POST", "/api/assignments/1/files/1/submissions", IN_Z),
    ]  # fmt: skip
    return [*found, *more * 3]


def text_of(document: Any) -> bytes:
    return json.dumps(document).encode("utf-8", "surrogatepass")


def send_all(url: str, count: int, rnd: random.Random) -> tuple[Counter[str], float, list[str]]:
    app = create_app(Settings(database_url=url))
    found, worst, faults = Counter[str](), 0.0, list[str]()
    with ExitStack() as opened:
        callers = {
            name: opened.enter_context(TestClient(app, raise_server_exceptions=False)) for name in ("odile", "pim")
        }
        for name, caller in callers.items():
            answer = caller.post("/api/session", json={"sign_in": name, "password": PASSWORD})
            caller.headers["X-CSRF-Token"] = answer.json()["csrf_token"]
            caller.headers["Content-Type"] = "application/json"
        bodies = good_bodies()
        for _ in range(count):
            who, method, path, good = rnd.choice(bodies)
            if (method, path) == ("POST", "/api/session"):
                continue  # tries to sign in have to wait; what they carry is of the same types
            body = text_of(made_wrong(good, rnd))
            began = time.process_time()
            answer = callers[who].request(method, path, content=body)
            taken = time.process_time() - began
            worst = max(worst, taken)
            found[f"{answer.status_code // 100}xx"] += 1
            if answer.status_code >= 500 or taken > LONGEST_CPU_S:
                faults.append(f"{answer.status_code} {taken:.1f} s {method} {path} {body[:2000]!r}")
    return found, worst, faults


def read_all(count: int, rnd: random.Random) -> tuple[Counter[str], float, list[str]]:
    """The same of files: read, carried out and judged as the command line does."""
    exercises = sorted((HERE / "exercises").glob("*.json"))
    found, worst, faults = Counter[str](), 0.0, list[str]()
    with tempfile.TemporaryDirectory() as folder:
        for _ in range(count):
            path = rnd.choice(exercises)
            works = sorted((HERE / "submissions" / path.stem).glob("*.json"))
            one = rnd.choice([path, *works])
            wrong = Path(folder) / "wrong.json"
            wrong.write_bytes(text_of(made_wrong(json.loads(one.read_text()), rnd)))
            began = time.process_time()
            try:
                exercise = read_exercise(wrong if one == path else path)
                work = read_submission(rnd.choice(works) if one == path and works else wrong)
                judge_submission(exercise, exercise.start_scene(), exercise.target_scene(), work)
                found["judged"] += 1
            except (CoreError, FormatError):
                found["refused"] += 1
            except Exception as fault:
                faults.append(f"{fault!r} {one.name} {wrong.read_bytes()[:3000]!r}")
            worst = max(worst, time.process_time() - began)
    return found, worst, faults


def read_scenes(count: int, rnd: random.Random) -> tuple[Counter[str], float, list[str]]:
    """The same of scene files of every kind, with bytes made wrong: ours are read here, the others apart as ever."""
    target = read_exercise(CRATES).target_scene()
    good = {end: write(target) for end, write in WRITERS.items()} | {".csv": transforms.write(target)}
    found, worst, faults = Counter[str](), 0.0, list[str]()
    for _ in range(count):
        end = rnd.choice(sorted(good))
        content = with_bytes_wrong(good[end], rnd)
        kind = kind_of(content)
        apart = kind is not None and kind.name == "OpenUSD"
        began = time.process_time()
        try:
            if end == ".csv":
                transforms.read(content)
            elif apart:
                read_in_sandbox(content)
            else:
                read(content)
            found["read"] += 1
        except UnreadableError:
            found["refused"] += 1
        except Exception as fault:
            faults.append(f"{fault!r} {end} {content[:300]!r}")
        worst = max(worst, time.process_time() - began)
    return found, worst, faults


def with_bytes_wrong(content: bytes, rnd: random.Random) -> bytes:
    """A file with some bytes changed, taken out, or put in from elsewhere in it."""
    wrong = bytearray(content)
    for _ in range(rnd.choice((1, 1, 3, 20))):
        at, more = rnd.randrange(len(wrong)), rnd.randrange(1, 40)
        match rnd.randrange(3):
            case 0:
                wrong[at] = rnd.randrange(256)
            case 1:
                del wrong[at : at + more]
            case _:
                wrong[at:at] = wrong[rnd.randrange(len(wrong)) :][:more]
    return bytes(wrong)


def main() -> None:
    given = [int(word) for word in sys.argv[1:]]
    load_beforehand("fastapi.testclient", "bench.yard", "cubedrill.api.app", "cubedrill.demo.load")  # what is above
    bodies, files, scenes, seed = (*given, *(BODIES, FILES, SCENES, SEED)[len(given) :])
    home = Path(tempfile.mkdtemp(dir="/dev/shm" if Path("/dev/shm").is_dir() else None))  # noqa: S108
    home.chmod(0o755)
    server = LocalPostgres(home, durable=False)
    try:
        url = server.start()
        set_yard(url)
        for name, (found, worst, faults) in {
            "bodies": send_all(url, bodies, random.Random(seed)),
            "files": read_all(files, random.Random(seed)),
            "scene files": read_scenes(scenes, random.Random(seed)),
        }.items():
            print(f"{name}: {dict(found)}, the worst {worst:.2f} s of CPU, {len(faults)} faults")
            print("\n".join(faults[:20]))
        print(f"memory at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    finally:
        server.remove()


if __name__ == "__main__":
    main()
