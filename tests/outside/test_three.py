"""Moves against an independent implementation: three.js, run with node."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from cubedrill.core.conventions import Conventions
from cubedrill.core.replay import replay
from cubedrill.core.stage import Stage
from cubedrill.core.steps.move import Move

CASES = 200
HERE = Path(__file__).parent


def made_up_case(random: np.random.Generator) -> dict:
    """A chain of three turned and evenly scaled objects, and six moves in all plain spaces."""
    objects = [
        {
            "id": name,
            "parent": parent,
            "translation": random.uniform(-10, 10, 3).tolist(),
            "rotation": Rotation.random(rng=random).as_quat().tolist(),
            # Even factors: three decomposes an uneven parent's world matrix and loses the skew.
            "scale": [float(random.uniform(0.3, 3))] * 3,
        }
        for name, parent in (("base", None), ("jib", "base"), ("hook", "jib"))
    ]
    steps = [
        {
            "op": "move",
            "objects": [str(random.choice(["base", "jib", "hook"]))],
            "space": str(random.choice(["world", "parent", "local"])),
            "by": random.uniform(-5, 5, 3).tolist(),
        }
        for _ in range(6)
    ]
    return {"objects": objects, "steps": steps}


def test_moves_in_every_space_come_out_as_three_has_them():
    random = np.random.default_rng(20261124)
    cases = [made_up_case(random) for _ in range(CASES)]
    ran = subprocess.run(
        ["node", str(HERE / "three_moves.mjs")], input=json.dumps(cases), capture_output=True, text=True, check=True
    )
    for case, theirs in zip(cases, json.loads(ran.stdout), strict=True):
        start = Stage.model_validate({"objects": case["objects"]}).to_scene(Conventions())
        ours = replay(start, [Move.model_validate(step) for step in case["steps"]])[-1].scene
        for object_id, elements in theirs.items():
            # 1e-9: the two multiply in other orders; numbers stay below a thousand.
            assert ours.world_from_local(object_id).ravel(order="F") == pytest.approx(elements, abs=1e-9)
