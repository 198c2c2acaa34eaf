"""What the browser's preview is held to: steps with the core's answer, written by `python -m tests.core.test_preview_fixture`.

The core wrote the file itself: it holds the browser to the core, and the core to nothing but what it was.
"""

import json
from pathlib import Path
from typing import get_args

import numpy as np
import pytest

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, EulerOrder
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.replay import replay
from tests.core.build import steps_of

FILE = Path(__file__).parents[1] / "fixtures" / "steps.json"
CASES = 160


def poses(scene):
    return {
        object_id: {
            "world_from_local": scene.world_from_local(object_id).ravel(order="F").tolist(),
            "pivot_world": scene.pivot_world(object_id).tolist(),
        }
        for object_id in scene.objects
    }


def shown(box):
    return box and {"least": box.least.tolist(), "most": box.most.tolist()}


def answered(case):
    """The scene before a case's step as the browser knows it, and the poses after it."""
    conventions = Conventions(**case["conventions"])
    start = Stage.model_validate({"objects": case["objects"], "marker": case["marker"]}).to_scene(conventions)
    state = replay(start, steps_of(case["step"]))[-1]
    return {**setting(start), "after": poses(state.scene), "sentence": state.sentence}


def setting(scene: Scene):
    up = scene.conventions.up_index
    return {
        "known": {
            i: {"pivot": item.pivot.tolist(), "local_box": shown(item.solid.local_box(up) if item.solid else None)}
            for i, item in scene.objects.items()
        },
        "boxes": {i: shown(scene.box(i, np.eye(4))) for i in scene.objects},
        "before": poses(scene),
    }


SOLIDS = (
    {"kind": "cuboid", "size": [1, 2, 1.5]},
    {"kind": "wedge", "size": [1, 0.5, 2]},
    {"kind": "pyramid", "size": [1.5, 1, 0.5]},
    {"kind": "plate", "size": [1, 2]},
    {"kind": "cylinder", "diameter": 1, "height": 2},
    {"kind": "tube", "diameter": 1, "bore": 0.5, "height": 2},
    {"kind": "cone", "diameter": 1.2, "height": 1.4},
    {"kind": "ring", "diameter": 2, "thickness": 0.4},
    {"kind": "sphere", "diameter": 1.5},
    {"kind": "mesh", "vertices": [[0, 0, 0], [2, 0, 0], [0, 1, 0], [0, 0, 3]],
     "triangles": [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]]},
)  # fmt: skip


def made_up(random):
    """A crane, its jib and its hook, and a crate; turned, unevenly scaled, mirrored, skewed; and a step of some of them."""
    objects = []
    for name, parent in (("crane", None), ("jib", "crane"), ("hook", "jib"), ("crate", None)):
        turn = random.normal(size=4)
        scale = random.uniform(0.3, 3, 3) if parent is None else np.full(3, random.uniform(0.3, 3))
        objects.append(
            {
                "id": name, "parent": parent, "pivot": random.uniform(-1, 1, 3).tolist(),
                "solid": SOLIDS[random.integers(len(SOLIDS))],
                "translation": random.uniform(-10, 10, 3).tolist(),
                "rotation": (turn / np.linalg.norm(turn)).tolist(),
                "scale": (scale * random.choice([-1, 1], 3)).tolist(),
            }
        )  # fmt: skip
    conventions = {
        "up": str(random.choice(["y", "z"])),
        "handedness": str(random.choice(["right", "left"])),
        "angle": str(random.choice(["deg", "rad", "turn"])),
        "length": str(random.choice(["mm", "cm", "m", "in", "ft"])),
        "euler": str(random.choice(get_args(EulerOrder))),
    }
    chosen = random.choice(["crane", "jib", "hook", "crate"], size=random.integers(1, 3), replace=False).tolist()
    step = {**made_up_step(random), "objects": chosen}
    return {"objects": objects, "conventions": conventions, "marker": random.uniform(-3, 3, 3).tolist(), "step": step}


def made_up_step(random):
    values = random.uniform(-5, 5, 3).tolist()
    factors = (random.uniform(0.3, 2, 3) * random.choice([-1, 1], 3)).tolist()
    spaces = [
        "world", "parent", "local", {"object": "crate"}, {"view": {"right": values, "up": [0.2, 1, -0.3]}},
        {"line": [{"object": "jib", "at": "+x-y"}, [1, 2, 3]]},
    ]  # fmt: skip
    pivots = ["own", "box", "selection", "origin", "marker", values, {"object": "hook", "at": "-x+y-z"}]
    space, pivot = spaces[random.integers(len(spaces))], pivots[random.integers(len(pivots))]
    kinds = (
        {"op": "move", "space": space, "by": values},
        {"op": "move", "space": space, "to": [values[0], None, values[2]]},
        {"op": "move", "space": space, "to": values, "point": {"object": "crate", "at": "+x"}},
        {"op": "rotate", "space": space, "axis": "xyz"[random.integers(3)], "angle": values[0], "pivot": pivot},
        {"op": "rotate", "space": space, "axis": values, "angle": values[1], "pivot": pivot},
        {"op": "rotate", "space": ["world", "parent"][random.integers(2)], "to": values},
        {"op": "scale", "space": space, "by": factors, "pivot": pivot},
        {"op": "scale", "to": [abs(factors[0]), None, 1.5], "pivot": pivot},
        {"op": "scale", "to": [None, abs(factors[1]), None], "uniform": True, "pivot": pivot},
        {"op": "scale", "keep_volume": {"axis": "y", "factor": abs(factors[1])}, "pivot": pivot},
    )
    return kinds[random.integers(len(kinds))]


def test_the_fixture_is_what_the_core_answers():
    cases = json.loads(FILE.read_text(encoding="utf-8"))
    assert len(cases) == CASES
    assert {case["conventions"]["euler"] for case in cases} == set(get_args(EulerOrder))
    for case in cases:
        now = answered(case)
        assert case["sentence"] == now["sentence"]
        for when in ("before", "after"):
            for object_id, pose in now[when].items():
                for key, numbers in pose.items():
                    assert case[when][object_id][key] == pytest.approx(numbers, abs=1e-10)


def write() -> None:
    random = np.random.default_rng(7)
    made = []
    while len(made) < CASES:
        case = made_up(random)
        try:
            made.append({**case, **answered(case)})
        except CoreError as error:  # what has no angles or no size to set: the bench does not preview what is refused
            assert error.code in ("skewed-turn", "flat-axis")
    FILE.write_text(json.dumps(made) + "\n", encoding="utf-8")


if __name__ == "__main__":
    write()
