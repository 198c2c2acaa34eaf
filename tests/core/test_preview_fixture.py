"""The fixture that the browser's preview is held to: what the core answers for moves in all spaces it previews.

The screens' tests read the same file (web/src/bench/preview.test.ts). To write it anew:
python -m tests.core.test_preview_fixture
"""

import json
from pathlib import Path

import numpy as np
import pytest

from cubedrill.core.conventions import Conventions
from cubedrill.core.replay import replay
from cubedrill.core.stage import Stage
from cubedrill.core.steps.move import Move

FILE = Path(__file__).parents[1] / "fixtures" / "moves.json"
CASES = 60


def poses(scene):
    return {
        object_id: {
            "world_from_local": scene.world_from_local(object_id).ravel(order="F").tolist(),
            "pivot_world": scene.pivot_world(object_id).tolist(),
        }
        for object_id in scene.objects
    }


def answered(case):
    """The poses before and after a case's step."""
    start = Stage.model_validate({"objects": case["objects"]}).to_scene(Conventions())
    after = replay(start, [Move.model_validate(case["step"])])[-1].scene
    return {"before": poses(start), "after": poses(after)}


def made_up(random):
    """A crane, its jib and its hook; turned, unevenly scaled and mirrored; and a move of one or several of them."""
    objects = []
    for name, parent in (("crane", None), ("jib", "crane"), ("hook", "jib"), ("crate", None)):
        turn = random.normal(size=4)
        scale = random.uniform(0.3, 3, 3) if parent is None else np.full(3, random.uniform(0.3, 3))
        objects.append(
            {
                "id": name, "parent": parent, "pivot": random.uniform(-1, 1, 3).tolist(),
                "translation": random.uniform(-10, 10, 3).tolist(),
                "rotation": (turn / np.linalg.norm(turn)).tolist(),
                "scale": (scale * random.choice([-1, 1], 3)).tolist(),
            }
        )  # fmt: skip
    values = random.uniform(-5, 5, 3).tolist()
    amount = {"by": values} if random.random() < 0.6 else {"to": [values[0], None, values[2]]}
    chosen = random.choice(["crane", "jib", "hook", "crate"], size=random.integers(1, 3), replace=False).tolist()
    step = {"op": "move", "objects": chosen, "space": str(random.choice(["world", "local"])), **amount}
    return {"objects": objects, "step": step}


def test_the_fixture_is_what_the_core_answers():
    cases = json.loads(FILE.read_text(encoding="utf-8"))
    assert len(cases) == CASES
    for case in cases:
        for when, expected in answered(case).items():
            for object_id, pose in expected.items():
                for key, numbers in pose.items():
                    assert case[when][object_id][key] == pytest.approx(numbers, abs=1e-12)


if __name__ == "__main__":
    generator = np.random.default_rng(7)
    made = [made_up(generator) for _ in range(CASES)]
    FILE.write_text(json.dumps([{**case, **answered(case)} for case in made]) + "\n", encoding="utf-8")
