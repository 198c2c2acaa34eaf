"""How fast is a replay, against the same steps through pytransform3d and three.js, and how does its cost grow?

Question 1: 50 moves and turns over 30 objects, four deep, with the world matrix of every object after every step, since
that is what a saved draft is answered with. Inside the clock: replay and matrices. Outside: making and checking the
scene and the steps, starting node. The peers do moves and turns only (pytransform3d knows no scale), so the list has no
others. Results are compared after the timing.

Question 2: does the cost grow in a straight line with steps, objects and depth?

Run: ./run bench replay
"""

from __future__ import annotations

import json
import subprocess
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytransform3d.rotations as pr
import pytransform3d.transformations as pt
from pydantic import TypeAdapter
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps import Step, StepList
from cubedrill.core.steps.replay import replay

STEPS: TypeAdapter[tuple[Step, ...]] = TypeAdapter(StepList)
REPEATS = 15
AGREE = 1e-9


def made_up(steps: int, objects: int, depth: int, seed: int = 1) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Objects in chains of a depth, and moves and turns of them in every plain space."""
    random = np.random.default_rng(seed)
    scene = [
        {
            "id": f"o{i}",
            "parent": None if i % depth == 0 else f"o{i - 1}",
            "translation": random.uniform(-5, 5, 3).tolist(),
            "rotation": Rotation.random(rng=random).as_quat().tolist(),
        }
        for i in range(objects)
    ]
    done = []
    for i in range(steps):
        step: dict[str, Any] = {"objects": [f"o{random.integers(objects)}"]}
        step["space"] = ("world", "parent", "local")[random.integers(3)]
        if i % 2:
            step |= {"op": "rotate", "axis": "xyz"[random.integers(3)], "angle": float(random.uniform(-180, 180))}
        else:
            step |= {"op": "move", "by": random.uniform(-1, 1, 3).tolist()}
        done.append(step)
    return scene, done


def with_core(start: Scene, steps: tuple[Step, ...]) -> dict[str, np.ndarray]:
    states = replay(start, steps)
    for state in states[1:]:
        worlds = {i: state.scene.world_from_local(i) for i in state.scene.objects}
    return worlds


def with_pytransform3d(objects: list[dict[str, Any]], steps: list[dict[str, Any]]) -> dict[str, np.ndarray]:
    parents = {item["id"]: item["parent"] for item in objects}
    local = {
        item["id"]: pt.transform_from(pr.matrix_from_quaternion(np.roll(item["rotation"], 1)), item["translation"])
        for item in objects
    }
    for step in steps:
        worlds = _worlds(parents, local)
        (target,) = step["objects"]
        parent = parents[target]
        above = np.eye(4) if parent is None else worlds[parent]
        axes = {"world": np.eye(4), "parent": above, "local": worlds[target]}[step["space"]][:3, :3]
        if step["op"] == "move":
            motion = pt.transform_from(np.eye(3), axes @ np.array(step["by"]))
        else:
            axis, centre = axes[:, "xyz".index(step["axis"])], worlds[target][:3, 3]
            turn = pr.matrix_from_axis_angle((*axis, np.radians(step["angle"])))
            motion = pt.transform_from(turn, centre - turn @ centre)
        moved = pt.concat(worlds[target], motion)
        local[target] = pt.concat(moved, pt.invert_transform(above))
    return _worlds(parents, local)


def _worlds(parents: dict[str, str | None], local: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    worlds: dict[str, np.ndarray] = {}
    for item, parent in parents.items():  # parents stand before their children
        worlds[item] = local[item] if parent is None else pt.concat(local[item], worlds[parent])
    return worlds


def with_three(objects: list[dict[str, Any]], steps: list[dict[str, Any]]) -> tuple[float, dict[str, np.ndarray]]:
    script = Path(__file__).with_name("replay_three.mjs")
    sent = json.dumps({"objects": objects, "steps": steps, "repeats": REPEATS})
    ran = subprocess.run(["node", str(script)], input=sent, capture_output=True, text=True, check=True)
    answer = json.loads(ran.stdout)
    worlds = {i: np.array(elements).reshape(4, 4, order="F") for i, elements in answer["worlds"].items()}
    return answer["seconds"], worlds


def best(run: Callable[[], Any]) -> float:
    """Seconds of the fastest of several runs, after one to warm up."""
    run()
    times = []
    for _ in range(REPEATS):
        began = time.perf_counter()
        run()
        times.append(time.perf_counter() - began)
    return min(times)


def prepared(objects: list[dict[str, Any]], steps: list[dict[str, Any]]) -> tuple[Scene, tuple[Step, ...]]:
    return Stage.model_validate({"objects": objects}).to_scene(Conventions()), STEPS.validate_python(steps)


def agree(ours: dict[str, np.ndarray], theirs: dict[str, np.ndarray]) -> None:
    worst = max(float(np.abs(ours[i] - theirs[i]).max()) for i in ours)
    assert worst < AGREE, f"they differ by {worst}"


def main() -> None:
    objects, steps = made_up(50, 30, 4)
    start, ready = prepared(objects, steps)
    core = best(lambda: with_core(start, ready))
    peer = best(lambda: with_pytransform3d(objects, steps))
    three, three_worlds = with_three(objects, steps)
    agree(with_core(start, ready), with_pytransform3d(objects, steps))
    agree(with_core(start, ready), three_worlds)
    print("50 steps over 30 objects, 4 deep, every world matrix after every step")
    print(f"  core           {core * 1e3:7.2f} ms")
    print(f"  pytransform3d  {peer * 1e3:7.2f} ms   {peer / core:5.2f} × the core's time")
    print(f"  three.js       {three * 1e3:7.2f} ms   {three / core:5.2f} × the core's time")
    print("\nwhat grows      steps objects depth      ms   µs a step")
    for name, sizes in (
        ("steps", [(n, 30, 4) for n in (25, 50, 100, 200, 400)]),
        ("objects", [(50, n, 4) for n in (15, 30, 60, 120, 240)]),
        ("depth", [(50, 32, n) for n in (1, 2, 4, 8, 16, 32)]),
    ):
        for count, many, deep in sizes:
            start, ready = prepared(*made_up(count, many, deep))
            seconds = best(lambda: replay(start, ready)[-1].scene)  # noqa: B023 - run at once
            print(f"{name:<13} {count:7} {many:7} {deep:5} {seconds * 1e3:7.2f} {seconds / count * 1e6:11.1f}")


if __name__ == "__main__":
    main()
