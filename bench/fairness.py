"""Is the checker fair? Right work written another way never fails; work one part in a million beyond never passes.

Series 1: random scenes, submitted as sheets in other conventions, with equivalent angles or the negated quaternion,
with symmetric turns where looks count, as scenes with an assembly around them, and in another order of steps that
commute: all must pass. Series 2: one component beyond its tolerance by one part in a million, along an axis, in an
angle or in a size: none may pass. It counts; nothing is timed.

Run: ./run bench fairness, or python -m bench.fairness NUMBER SEED (100,000 and 1 unless given)
"""

from __future__ import annotations

import sys
from typing import Any, get_args

import numpy as np
from pydantic import TypeAdapter
from rich.progress import track
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions, ConventionTransform, EulerOrder
from cubedrill.core.geometry.transform import determinant, parts_of
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.submission import Submission, load_submission
from cubedrill.core.scene.reading import euler_nearest
from cubedrill.core.scene.scene import Scene

SUBMISSION: TypeAdapter[Any] = TypeAdapter(Submission)
BEYOND = 1 + 1e-6
SOLIDS: tuple[dict[str, Any], ...] = (
    {"kind": "cuboid", "size": [1, 2, 3]},
    {"kind": "cuboid", "size": [1, 1, 1]},
    {"kind": "cylinder", "diameter": 1, "height": 2},
    {"kind": "cone", "diameter": 1, "height": 2},
    {"kind": "sphere", "diameter": 1},
    {"kind": "wedge", "size": [1, 2, 1]},
    {"kind": "pyramid", "size": [2, 1, 2]},
    {"kind": "tube", "diameter": 2, "bore": 1, "height": 1},
)
POSITION, ANGLE, RATIO = 0.05, 1.5, 0.02


def exercise(random: np.random.Generator, look: bool) -> Exercise:
    """A chain of two and one alone, anywhere, with a check of every measured kind on each."""
    objects = [
        {
            "id": i, "name": i, "parent": parent, "solid": SOLIDS[random.integers(len(SOLIDS))],
            "translation": random.uniform(-50, 50, 3).tolist(),
            "rotation": Rotation.random(rng=random).as_quat().tolist(),
            "scale": [float(random.uniform(0.5, 2))] * 3, "pivot": random.uniform(-1, 1, 3).tolist(),
        }
        for i, parent in (("a", None), ("b", "a"), ("c", None))
    ]  # fmt: skip
    symmetry = "look" if look else "strict"
    checks = [
        check
        for i in "abc"
        for check in (
            {"id": f"{i}p", "kind": "position", "object": i, "tolerance": POSITION},
            {"id": f"{i}r", "kind": "rotation", "object": i, "tolerance": ANGLE, "symmetry": symmetry},
            {"id": f"{i}s", "kind": "size", "object": i, "tolerance": RATIO, "symmetry": symmetry},
        )
    ]
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "fair", "title": "Fair",
            "start": {"objects": objects}, "target": {"objects": objects}, "checks": checks,
        }
    )  # fmt: skip


def conventions(random: np.random.Generator) -> Conventions:
    return Conventions(
        up=str(random.choice(["y", "z"])), handedness=str(random.choice(["right", "left"])),
        length=str(random.choice(["mm", "cm", "m", "in", "ft"])), angle=str(random.choice(["deg", "rad", "turn"])),
        euler=str(random.choice(get_args(EulerOrder))),
    )  # type: ignore[arg-type]  # fmt: skip


def symmetric(random: np.random.Generator, target: Scene, object_id: str) -> np.ndarray:
    """(4, 4) the object's place in the world, described by one of the turns that leave its solid as it is."""
    world_from_local = target.world_from_local(object_id).copy()
    solid, up = target[object_id].solid, target.conventions.up_index
    assert solid is not None
    maps = [q for q in solid.symmetries(up) if determinant(q) > 0]
    half = solid.half_extents(up)
    q = maps[random.integers(len(maps))]
    sized = half[:, None] * q / half
    if solid.free_turns == "about up":
        sized = sized @ Rotation.from_rotvec(np.eye(3)[up] * random.uniform(-4, 4)).as_matrix()
    if np.allclose(np.linalg.norm(sized, axis=0), 1):  # a turn, and no exchange of unequal sizes
        world_from_local[:3, :3] = world_from_local[:3, :3] @ sized
    return world_from_local


def written(random: np.random.Generator, made: Exercise, target: Scene, look: bool) -> dict[str, Any]:
    """The target as a sheet, written another way."""
    other = conventions(random)
    change = ConventionTransform(target.conventions, other)
    rows = []
    for object_id in target.objects:
        place = symmetric(random, target, object_id) if look else target.world_from_local(object_id)
        parts = parts_of(change.matrix(place))
        row: dict[str, Any] = {
            "object": object_id,
            "translation": parts.translation.tolist(),
            "scale": parts.scale.tolist(),
        }
        way = random.integers(3)
        if way == 0:
            before = np.asarray(random.uniform(-9, 9, 3))
            row["euler"] = (euler_nearest(parts.rotation, other.euler, before) / other.radians_per_unit).tolist()
        else:
            sign = 1 if way == 1 else -1
            row["rotation"] = (sign * Rotation.from_matrix(parts.rotation).as_quat()).tolist()
        rows.append(row)
    return {
        "format": "cube-drill/submission", "version": 1, "exercise": made.id, "kind": "sheet",
        "conventions": other.model_dump(), "rows": rows,
    }  # fmt: skip


def beyond(random: np.random.Generator, made: Exercise, target: Scene) -> dict[str, Any]:
    """The target with one component of one object a hair beyond its tolerance."""
    spoilt, kind = "abc"[random.integers(3)], random.integers(3)
    rows = []
    for object_id in target.objects:
        world_from_local = target.world_from_local(object_id)
        parts = parts_of(world_from_local)
        place, rotation, scale = parts.translation.copy(), Rotation.from_matrix(parts.rotation), parts.scale.copy()
        if object_id == spoilt:
            way = float(random.choice([-1, 1])) * BEYOND
            axis = int(random.integers(3))
            if kind == 0:
                place[axis] += way * POSITION
            elif kind == 1:
                line = random.normal(size=3)
                rotation = Rotation.from_rotvec(line / np.linalg.norm(line) * np.radians(ANGLE) * way) * rotation
            else:
                scale[axis] *= 1 + way * RATIO
        row = {"object": object_id, "translation": place.tolist(), "rotation": rotation.as_quat().tolist()}
        rows.append({**row, "scale": scale.tolist()})
    return {"format": "cube-drill/submission", "version": 1, "exercise": made.id, "kind": "sheet", "rows": rows}


def nested(random: np.random.Generator, made: Exercise, target: Scene) -> dict[str, Any]:
    """The target as a scene with an assembly around it that the exercise does not know, anywhere and turned anyhow."""
    world_from_hold = np.eye(4)
    world_from_hold[:3, :3] = Rotation.random(rng=random).as_matrix()
    world_from_hold[:3, 3] = random.uniform(-50, 50, 3)
    objects: list[dict[str, Any]] = [{"id": "hold", "matrix": world_from_hold.ravel(order="F").tolist()}]
    for item in target.objects.values():
        assert item.solid is not None
        place = item.parent_from_local if item.parent else np.linalg.inv(world_from_hold) @ item.parent_from_local
        objects.append(
            {
                "id": f"file-{item.id}", "name": item.name, "solid": item.solid.model_dump(),
                "parent": f"file-{item.parent}" if item.parent else "hold", "pivot": item.pivot.tolist(),
                "matrix": place.ravel(order="F").tolist(),
            }
        )  # fmt: skip
    scene = {"conventions": target.conventions.model_dump(), "objects": objects}
    return {"format": "cube-drill/submission", "version": 1, "exercise": made.id, "kind": "scene", "scene": scene}


def reordered(random: np.random.Generator, made: Exercise) -> tuple[Exercise, dict[str, Any]]:
    """The exercise with a reference of its own, and its steps in another order of those that commute.

    Steps on two objects that have nothing to do with each other; those on one object keep their order.
    """
    own: dict[str, list[dict[str, Any]]] = {"a": [], "c": []}
    for object_id, steps in own.items():
        for _ in range(3):
            if random.integers(2):
                by = random.uniform(-5, 5, 3).tolist()
                steps.append({"op": "move", "objects": [object_id], "space": str(random.choice(SPACES)), "by": by})
            else:
                axis, angle = str(random.choice(list("xyz"))), float(random.uniform(-180, 180))
                steps.append({"op": "rotate", "objects": [object_id], "space": "local", "axis": axis, "angle": angle})
    document = made.model_dump(mode="json", exclude_unset=True)
    document = {**document, "target": None, "reference": {"steps": [*own["a"], *own["c"]]}}
    whose = random.permutation(["a"] * 3 + ["c"] * 3)
    taken = {object_id: iter(steps) for object_id, steps in own.items()}
    steps = [next(taken[str(object_id)]) for object_id in whose]
    handed_in = {
        "format": "cube-drill/submission", "version": 1, "exercise": made.id, "kind": "steps", "steps": steps,
    }  # fmt: skip
    return Exercise.model_validate(document), handed_in


SPACES = ("world", "local", "parent")
PER_EXERCISE = 50


def passes(made: Exercise, target: Scene, document: dict[str, Any]) -> bool:
    report = judge_loaded(
        made, target, load_submission(made.start_scene(), target, SUBMISSION.validate_python(document))
    )
    return all(check.verdict == "pass" for check in report.checks)


def series(count: int, seed: int) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Return the right submissions that did not pass and the wrong ones that did, of so many of each."""
    random = np.random.default_rng(seed)
    failed, passed = [], []
    for batch in track(range(-(-count // PER_EXERCISE)), "Judging", transient=True, disable=count < 10_000):
        look = batch % 2 == 1
        made, strict = exercise(random, look), exercise(random, False)
        targets = [e.target_scene() for e in (made, strict)]
        for number in range(PER_EXERCISE):
            if number % 10 == 5:
                other, again = reordered(random, made)
                right = passes(other, other.target_scene(), again)
            else:
                way = nested(random, made, targets[0]) if number % 10 == 0 else None
                again = way or written(random, made, targets[0], look)
                right = passes(made, targets[0], again)
            if not right:
                failed.append(again)
            wrong = beyond(random, strict, targets[1])
            if passes(strict, targets[1], wrong):
                passed.append(wrong)
    return failed, passed


def main() -> None:
    words = [*sys.argv[1:], *("100000", "1")[len(sys.argv) - 1 :]]
    count, seed = int(words[0]), int(words[1])
    failed, passed = series(count, seed)
    print(f"{count:,} right submissions written another way: {len(failed)} did not pass")
    print(f"{count:,} submissions one part in a million beyond a tolerance: {len(passed)} passed")


if __name__ == "__main__":
    main()
