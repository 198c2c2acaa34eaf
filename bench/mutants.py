"""How many small mistakes in the core would the tests notice, and which would they let pass?

Mistakes are drawn from all that could be made in each room, from a seed (see tools/mutants.py). The tests that run over
the line are run with it, and it is noticed when one of them fails. Printed: each that is not, then how many by room.
Those of bench/mutants_argued.json were looked at and change no mark: they are counted apart, and the file says why.

Run: ./run bench mutants [how many a room, 25] [seed, 1] [room ...]
"""

from __future__ import annotations

import importlib
import json
import multiprocessing
import os
import random
import sys
import tempfile
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from tools.mutants import ROOT, Covered, Mutant, is_noticed, mutants_of, unaltered

ARGUED = Path(__file__).with_name("mutants_argued.json")
CORE = ROOT / "src" / "cubedrill" / "core"
ROOMS = {
    "checks": ("judging/checks/*.py",),
    "look": ("geometry/symmetry.py", "geometry/turns.py", "geometry/apart.py", "judging/described.py"),
    "resting": ("scene/contact.py", "scene/standing.py", "geometry/closest.py"),
    "verdict": ("judging/verdict.py", "judging/judge.py", "judging/sheet_batch.py"),
    "matching": ("judging/matching.py", "judging/submission.py"),
    "reading": ("scene/reading.py", "scene/measure.py"),
    "causes": ("judging/causes/*.py", "judging/separate.py"),
    "steps": ("steps/*.py",),
    "spaces": ("scene/spaces.py", "geometry/conventions.py", "scene/scene.py", "scene/stage.py"),
    "transform": ("geometry/transform.py", "geometry/surface.py", "geometry/solids.py"),
}
WARM = (
    "numpy", "scipy.optimize", "scipy.spatial", "pydantic", "hypothesis", "sqlalchemy", "psycopg", "coal", "trimesh",
    "pytransform3d.transformations", "fastapi", "typer", "pytest",
)  # fmt: skip


def warm() -> None:
    """Load what is not ours once: a mistake's process is forked from here."""
    for name in WARM:
        importlib.import_module(name)


def drawn(rooms: Sequence[str], many: int, seed: int) -> dict[str, list[Mutant]]:
    """Draw mistakes from each room."""
    chosen = {}
    for room in rooms:
        files = sorted(path for pattern in ROOMS[room] for path in CORE.glob(pattern))
        every = [mutant for path in files for mutant in mutants_of(path)]
        chosen[room] = random.Random(f"{seed} {room}").sample(every, min(many, len(every)))
        print(f"{room:<10} {len(every):5} small mistakes could be made, {len(chosen[room])} are", flush=True)
    return chosen


def main(words: Sequence[str]) -> None:
    many, seed = int(words[0]) if words else 25, int(words[1]) if len(words) > 1 else 1
    chosen = drawn(words[2:] or list(ROOMS), many, seed)
    kept = os.environ.get("CUBE_DRILL_COVERED")  # a folder with the tests' coverage, to find it once for several runs
    with tempfile.TemporaryDirectory() as fresh:
        covered = Covered(Path(kept or fresh))
        if not covered.data.exists():
            covered.run()
        covered.read()
    one = next(iter(chosen.values()))[0]
    if is_noticed(unaltered(one), covered.tests_over(one)):
        sys.exit("The tests fail where nothing is altered.")
    tasks = [(room, mutant, covered.tests_over(mutant)) for room, mutants in chosen.items() for mutant in mutants]
    with ProcessPoolExecutor(os.cpu_count(), multiprocessing.get_context("spawn"), warm) as pool:
        noticed = []
        for task, answer in zip(tasks, pool.map(is_noticed, *zip(*(t[1:] for t in tasks), strict=True)), strict=True):
            noticed.append((*task, answer))
            if not answer:
                print(told(task[1]), f"   ({len(task[2])} tests)", flush=True)
    report([(room, mutant, answer) for room, mutant, _tests, answer in noticed])


def report(noticed: Sequence[tuple[str, Mutant, bool]]) -> None:
    """Print the table by room, and how many of what was let pass has been argued."""
    argued = {tuple(row[:3]): row[3] for row in json.loads(ARGUED.read_text())}
    print(f"\n{'room':<10} {'drawn':>6} {'noticed':>8} {'argued':>7} {'share':>7}")
    for room in [*dict.fromkeys(room for room, _, _ in noticed), "all"]:
        rows = [row for row in noticed if room in (row[0], "all")]
        seen = sum(answer for *_, answer in rows)
        fine = sum((m.file, m.was, m.became) in argued for _, m, answer in rows if not answer)
        print(f"{room:<10} {len(rows):6} {seen:8} {fine:7} {seen / max(len(rows) - fine, 1):7.0%}")


def told(mutant: Mutant) -> str:
    """A mistake in words: where, what it was, what it became."""
    return f"{mutant.file}:{mutant.line}\n    {mutant.was}\n    {mutant.became}"


if __name__ == "__main__":
    main(sys.argv[1:])
