"""How long does a scene file take to be read, matched and judged, and does memory stay as it is over many of them?

A usual file: fifty objects without names, places baked into vertices that were put in another order, half of them
moved, as OBJ; it is read in the process apart. A large one: a single mesh as large as is allowed. Aims: a second, and
ten. The peer is trimesh, which reads the same bytes in this process and does nothing else.

Run: ./run bench files [hand-ins]
"""

from __future__ import annotations

import io
import resource
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import mark_one
from cubedrill.formats.documents import submission_in
from cubedrill.formats.sandbox import load_beforehand

OBJECTS, HAND_INS, TIMES = 50, 1000, 5
KINDS: tuple[dict[str, Any], ...] = (
    {"kind": "cuboid", "size": [1, 2, 3]}, {"kind": "cylinder", "diameter": 1, "height": 2},
    {"kind": "wedge", "size": [2, 1, 1.5]}, {"kind": "pyramid", "size": [1, 1, 2]},
    {"kind": "tube", "diameter": 2, "bore": 1, "height": 1}, {"kind": "sphere", "diameter": 1.5},
)  # fmt: skip


def yard(rng: np.random.Generator) -> Exercise:
    """An exercise of fifty objects, each of its own size, all of them checked."""
    objects, checks = [], []
    for number in range(OBJECTS):
        scale = 1 + number / 100
        solid = {
            key: [n * scale for n in value] if isinstance(value, list) else value if key == "kind" else value * scale
            for key, value in KINDS[number % len(KINDS)].items()
        }
        matrix = affine(Rotation.random(rng=rng).as_matrix(), rng.uniform(-30, 30, 3))
        objects.append({"id": f"o{number}", "solid": solid, "matrix": matrix.ravel(order="F").tolist()})
        checks.append({"id": f"c{number}", "kind": "position", "object": f"o{number}", "tolerance": 0.01})
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "yard", "title": "Yard",
            "start": {"objects": objects}, "target": {"objects": objects}, "checks": checks,
        }
    )  # fmt: skip


def obj_of(exercise: Exercise, rng: np.random.Generator) -> bytes:
    """Its target as another program would write it, every second object moved."""
    scene, lines, before = exercise.target_scene(), list[str](), 0
    for number, item in enumerate(scene.objects.values()):
        assert item.solid is not None
        points, corners = item.solid.triangulated(1)
        order = rng.permutation(len(points))
        placed = mapped(scene.world_from_local(item.id), points)[order] + (number % 2) * 0.5
        faces = np.argsort(order)[corners] + before + 1
        lines += [f"o {chr(97 + number // 26)}x{chr(97 + number % 26)}"]
        lines += ["v {:.6f} {:.6f} {:.6f}".format(*point) for point in placed.tolist()]
        lines += ["f {} {} {}".format(*face) for face in faces.tolist()]
        before += len(points)
    return "\n".join(lines).encode()


def large() -> bytes:
    """A ball of nearly as many vertices and triangles as may be, as binary STL: nothing is shared in it."""
    import trimesh  # noqa: PLC0415 - each process apart runs this file again, and has no need of it

    return bytes(trimesh.creation.icosphere(subdivisions=7).export(file_type="stl"))


def median(work: Callable[[], object]) -> float:
    """Seconds that something takes, the middle of a few times."""
    took = []
    for _ in range(TIMES):
        began = time.perf_counter()
        work()
        took.append(time.perf_counter() - began)
    return float(np.median(took))


def resident_mb() -> float:
    """Memory of this process as it is now."""
    pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1])
    return pages * resource.getpagesize() / 1024**2


def main(words: list[str]) -> None:
    """Measure and print."""
    import trimesh  # noqa: PLC0415 - see above

    load_beforehand("cubedrill.formats.documents", "cubedrill.core.judging.judge")  # as the server does
    rng = np.random.default_rng(1)
    exercise = yard(rng)
    start, target = exercise.start_scene(), exercise.target_scene()

    def judged(content: bytes, name: str) -> None:
        mark_one(exercise, start, target, submission_in(content, name, exercise, {}).document)

    usual, much = obj_of(exercise, rng), large()
    judged(usual, "a.obj")  # the process that all others come from begins with the first
    for name, content in (("a.obj", usual), ("a.stl", much)):
        own = median(lambda content=content, name=name: judged(content, name))  # type: ignore[misc]
        peer = median(
            lambda content=content, name=name: trimesh.load(io.BytesIO(content), file_type=name[2:])  # type: ignore[misc]
        )
        print(f"{name}, {len(content) / 1e6:.1f} MB: {own:.2f} s, {own / peer:.1f} times as long as the peer reads it")
    before = resident_mb()
    hand_ins = int(words[0]) if words else HAND_INS
    for _ in range(hand_ins):
        judged(usual, "a.obj")
    print(f"memory: {before:.0f} MB, and {resident_mb():.0f} MB after {hand_ins} files more")


if __name__ == "__main__":
    main(sys.argv[1:])
