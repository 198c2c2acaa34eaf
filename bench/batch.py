"""How fast are many sheets of one exercise marked, against a plain script that compares them with SciPy one by one?

Question 1: a table of marks for a folder of sheets: three objects, a check of position, rotation and size on each.
Inside both clocks: reading each file, parsing it, comparing, points, writing the line. Outside: starting Python, making
the sheets, the target. The plain script knows one space, one order of angles and one unit, and looks for no error.
The points are compared after the timing.

Question 2: does memory stay as it is? The peak of the command itself, for a tenth of the folder and for all of it.

Run: ./run bench batch, or python -m bench.batch NUMBER (10,000 unless given)
"""

from __future__ import annotations

import csv
import json
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from bench.fairness import ANGLE, POSITION, RATIO, exercise
from cubedrill.core.geometry.transform import Parts, parts_of
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.scene.scene import Scene
from cubedrill.formats.table import write_marks
from cubedrill.library.batch import Batch, marks_of

Wanted = tuple[Parts, np.ndarray, np.ndarray]  # target, its pivot in local and in world
REPEATS = 3
PEAK = "import resource, sys; from cubedrill.cli import app; app(sys.argv[1:], standalone_mode=False); "
PEAK += "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)"


def sheet(random: np.random.Generator, target: Scene) -> dict[str, Any]:
    """A sheet typed in world, each number near enough or not."""
    rows = []
    for object_id in target.objects:
        parts = parts_of(target.world_from_local(object_id))
        wobble = random.choice([0.5, 1.5])
        turned = Rotation.from_rotvec(random.normal(size=3) * np.radians(ANGLE) * wobble / 2)
        rows.append(
            {
                "object": object_id, "space": "world",
                "translation": (parts.translation + random.uniform(-1, 1, 3) * POSITION * wobble).tolist(),
                "euler": (turned * Rotation.from_matrix(parts.rotation)).as_euler("XYZ", degrees=True).tolist(),
                "scale": (parts.scale * (1 + random.uniform(-1, 1, 3) * RATIO * wobble)).tolist(),
            }
        )  # fmt: skip
    return {"format": "cube-drill/submission", "version": 1, "exercise": "fair", "kind": "sheet", "rows": rows}


def with_core(made: Exercise, files: list[Path], table: Path) -> None:
    with table.open("w", newline="") as stream:
        write_marks(made, stream, files, marks_of(Batch(made), files))


def plain_script(wanted: dict[str, Wanted], files: list[Path], table: Path) -> None:
    with table.open("w", newline="") as stream:
        lines = csv.writer(stream)
        lines.writerow(["submission", "points"])
        for file in files:
            lines.writerow([file, plain_points(wanted, json.loads(file.read_text()))])


def plain_points(wanted: dict[str, Wanted], handed_in: dict[str, Any]) -> int:
    points = 0
    for row in handed_in["rows"]:
        target, pivot, pivot_world = wanted[row["object"]]
        turned, scale = Rotation.from_euler("XYZ", row["euler"], degrees=True), np.array(row["scale"])
        place = np.array(row["translation"]) + turned.apply(scale * pivot)
        points += bool(np.all(np.abs(place - pivot_world) <= POSITION))
        angle = (turned * Rotation.from_matrix(target.rotation).inv()).magnitude()
        points += bool(angle <= np.radians(ANGLE))
        points += bool(np.all(np.abs(scale / target.scale - 1) <= RATIO))
    return points


def seconds(run: Callable[[], None]) -> float:
    began = time.perf_counter()
    run()
    return time.perf_counter() - began


def points_in(table: Path) -> list[float]:
    with table.open(newline="") as stream:
        return [float(line["points"]) for line in csv.DictReader(stream)]


def peak_mb(exercise_file: Path, folder: Path, table: Path) -> float:
    words = ["check", str(exercise_file), str(folder), "--csv", str(table)]
    ran = subprocess.run([sys.executable, "-c", PEAK, *words], capture_output=True, text=True, check=True)
    return int(ran.stdout.split()[-1]) / 1024


def main(number: int = 10_000) -> None:
    random = np.random.default_rng(1)
    made = exercise(random, look=False)
    target = made.target_scene()
    wanted = {i: (parts_of(target.world_from_local(i)), target[i].pivot, target.pivot_world(i)) for i in target.objects}
    with tempfile.TemporaryDirectory() as place:
        few, many = Path(place) / "few", Path(place) / "many"
        few.mkdir()
        many.mkdir()
        for i in range(number):
            (many / f"{i:06}.json").write_text(json.dumps(sheet(random, target)))
        files = sorted(many.glob("*.json"))
        for file in files[: number // 10]:
            shutil.copy(file, few)
        ours, theirs = Path(place) / "ours.csv", Path(place) / "theirs.csv"
        with_core(made, files[:1000], ours)
        rounds = [
            (seconds(lambda: with_core(made, files, ours)), seconds(lambda: plain_script(wanted, files, theirs)))
            for _ in range(REPEATS)
        ]
        assert points_in(ours) == points_in(theirs)
        exercise_file = Path(place) / "exercise.json"
        exercise_file.write_text(made.model_dump_json(exclude_none=True))
        peaks = [peak_mb(exercise_file, folder, ours) for folder in (few, many)]
    core, plain = sorted(rounds, key=lambda both: both[1] / both[0])[REPEATS // 2]
    print(f"{number:,} sheets of 3 objects, 9 checks")
    print(f"  core          {core / number * 1e6:7.1f} µs a sheet")
    print(f"  plain script  {plain / number * 1e6:7.1f} µs a sheet   {plain / core:5.1f} × the core's time")
    print(f"  the rounds: {', '.join(f'{theirs / ours:.1f} ×' for ours, theirs in rounds)}")
    print(f"peak memory: {peaks[0]:.0f} MB for {number // 10:,}, {peaks[1]:.0f} MB for {number:,}")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
