"""What is told of a measure: each amount once, worked out by hand."""

import numpy as np
import pytest

from cubedrill.core.scene.measuring import Thing, measured
from tests.core.build import near, scene

# Two blocks of 2 × 2 × 2, twice as long in X; their middles 10 apart along X and 3 along Z.
BLOCK = {"kind": "cuboid", "size": [2, 2, 2]}
WHERE = scene(
    {"id": "a", "solid": BLOCK, "scale": [2, 1, 1], "translation": [-5, 1, 0]},
    {"id": "b", "solid": BLOCK, "scale": [2, 1, 1], "translation": [5, 1, 3]},
    {"id": "in-a", "solid": BLOCK, "translation": [-6, 1, 0.5]},
    {"id": "group"},
)


def told(first, second=None):
    found = measured(WHERE, Thing(**first), Thing(**second) if second else None)
    assert len({amount.what for amount in found.amounts}) == len(found.amounts)
    return {amount.what: amount.value for amount in found.amounts}, found.points


def test_of_an_object_its_sizes_and_how_far_its_sides_are():
    amounts, points = told({"object": "a"})
    assert amounts == {
        "own size X": 4, "own size Y": 2, "own size Z": 2, "area": near(40), "volume": near(16),
        "near side at X": -3, "near side at Y": 0, "near side at Z": -1, "middle at X": -5, "middle at Y": 1,
        "middle at Z": 0, "far side at X": -7, "far side at Y": 2, "far side at Z": 1,
    }  # fmt: skip
    assert points is None


def test_of_places_where_they_are_and_how_long_or_large():
    assert told({"object": "a", "at": "+x+y+z"})[0] == {"at X": -3, "at Y": 2, "at Z": 1}
    assert told({"object": "a", "at": "+y-z"})[0] == {"at X": -5, "at Y": 2, "at Z": -1, "length": 4}
    assert told({"object": "a", "at": "+y"})[0]["area"] == near(8)


def test_between_objects_the_closest_points():
    amounts, points = told({"object": "a"}, {"object": "b"})
    # From −3 to 3 along X, from 1 to 2 along Z.
    assert amounts["distance"] == pytest.approx(np.hypot(6, 1))
    assert [amounts[f"along {axis}"] for axis in "XYZ"] == [near(6), pytest.approx(0, abs=1e-9), near(1)]
    assert np.linalg.norm(points[1] - points[0]) == pytest.approx(np.hypot(6, 1))


def test_between_objects_in_each_other_how_deep():
    amounts, _ = told({"object": "a"}, {"object": "in-a"})
    assert amounts["distance"] == 0
    assert amounts["overlap"] == pytest.approx(1.5)  # out along Z: 2 less the half that it is beside it


def test_between_places_their_distance_and_angle():
    amounts, points = told({"object": "a", "at": "+x"}, {"object": "b", "at": "-x+y"})
    assert amounts["angle"] == pytest.approx(0)  # the edge runs along Z, in the plane of the face
    assert amounts["distance"] == pytest.approx(np.hypot(6, 1))
    assert points.shape == (2, 3)
