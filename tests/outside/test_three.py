"""Steps against an independent implementation: three.js, run with node."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from tests.core.build import after, scene

CASES = 300
HERE = Path(__file__).parent
PARENTS = {"base": None, "jib": "base", "hook": "jib"}


def made_up_case(random: np.random.Generator) -> dict:
    """A chain of three turned and evenly scaled objects, and eight steps that three.js has a call of its own for."""
    objects = [
        {
            "id": name,
            "parent": parent,
            "translation": random.uniform(-10, 10, 3).tolist(),
            "rotation": Rotation.random(rng=random).as_quat().tolist(),
            # Even factors: three decomposes an uneven parent's world matrix and loses the skew.
            "scale": [float(random.uniform(0.5, 2))] * 3,
        }
        for name, parent in PARENTS.items()
    ]
    return {"objects": objects, "steps": [made_up_step(random) for _ in range(8)]}


def made_up_step(random: np.random.Generator) -> dict:
    space = str(random.choice(["world", "parent", "local"]))
    amounts = {
        "move": lambda: {"space": space, "by": random.uniform(-5, 5, 3).tolist()},
        "rotate": lambda: {
            "space": space,
            "axis": str(random.choice(list("xyz"))),
            "angle": float(random.uniform(-360, 360)),
        },
        "rotate to": lambda: {"space": "parent", "to": random.uniform(-180, 180, 3).tolist()},
        "scale": lambda: {"space": "local", "by": [float(random.uniform(0.5, 2))] * 3},
        "nest": lambda: {"objects": ["hook"], "parent": [None, "base", "jib"][random.integers(3)]},
        # lookAt of what is no camera turns its +Z to the point, with Y as near to up as may be.
        "aim": lambda: {"axis": "+z", "at": random.uniform(-20, 20, 3).tolist()},
    }
    kind = str(random.choice(list(amounts)))
    return {"op": kind.split(maxsplit=1)[0], "objects": [str(random.choice(list(PARENTS)))], **amounts[kind]()}


def test_steps_of_every_kind_it_knows_come_out_as_three_has_them():
    random = np.random.default_rng(20261124)
    cases = [made_up_case(random) for _ in range(CASES)]
    ran = subprocess.run(
        ["node", str(HERE / "three_steps.mjs")], input=json.dumps(cases), capture_output=True, text=True, check=True
    )
    for case, theirs in zip(cases, json.loads(ran.stdout), strict=True):
        ours = after(scene(*case["objects"]), *case["steps"])
        for object_id, elements in theirs.items():
            # 1e-9: the two multiply in other orders; numbers stay below a thousand.
            assert ours.world_from_local(object_id).ravel(order="F") == pytest.approx(elements, abs=1e-9)
