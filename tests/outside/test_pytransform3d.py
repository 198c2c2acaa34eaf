"""Turns and their readings against pytransform3d, an independent implementation of the same conversions."""

import numpy as np
import pytest
import pytransform3d.rotations as pr
import pytransform3d.transformations as pt

from cubedrill.core.geometry.transform import turn
from cubedrill.core.steps.replay import readings_of
from tests.core.build import near, scene, states


@pytest.mark.parametrize("seed", range(30))
def test_a_turn_about_any_axis(seed):
    random = np.random.default_rng(seed)
    axis = random.normal(size=3)
    axis /= np.linalg.norm(axis)
    angle = float(random.uniform(-np.pi, np.pi))
    assert turn(axis, angle) == near(pr.matrix_from_axis_angle((*axis, angle)))


@pytest.mark.parametrize("seed", range(30))
def test_a_chain_of_turned_objects_and_the_quaternion_read(seed):
    random = np.random.default_rng(seed)
    quaternions = [pr.random_quaternion(random) for _ in range(3)]
    places = random.uniform(-5, 5, (3, 3))
    objects = [
        {
            "id": str(i),
            "parent": str(i - 1) if i else None,
            "translation": p.tolist(),
            "rotation": np.roll(q, -1).tolist(),
        }
        for i, (q, p) in enumerate(zip(quaternions, places, strict=True))
    ]
    read = readings_of(states(scene(*objects)))[-1]
    theirs = np.eye(4)
    for i, (q, p) in enumerate(zip(quaternions, places, strict=True)):
        theirs = pt.concat(pt.transform_from(pr.matrix_from_quaternion(q), p), theirs)
        assert read[str(i)].world_from_local == near(theirs)
        # pytransform3d writes w first; q and −q are one turn.
        assert abs(read[str(i)].rotation @ np.roll(q, -1)) == near(1)
