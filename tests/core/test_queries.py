"""What is told of a measure: each amount once, worked out by hand."""

import numpy as np
import pytest

from cubedrill.core.scene.queries import Asked, measured
from tests.core.build import near, scene

# Two blocks of 2 × 2 × 2, twice as long in X; their middles 10 apart along X and 3 along Z.
BLOCK = {"kind": "cuboid", "size": [2, 2, 2]}
WHERE = scene(
    {"id": "a", "solid": BLOCK, "scale": [2, 1, 1], "translation": [-5, 1, 0]},
    {"id": "b", "solid": BLOCK, "scale": [2, 1, 1], "translation": [5, 1, 3]},
    {"id": "in-a", "solid": BLOCK, "translation": [-6, 1, 0.5]},
    {"id": "group"},
)


def told(first, second=None, **more):
    found = measured(WHERE, Asked.model_validate({"first": first, "second": second, **more}))
    assert len({amount.what for amount in found.amounts}) == len(found.amounts)
    return {amount.what: amount.value for amount in found.amounts}, found.points


def test_of_an_object_its_sizes_and_how_far_its_sides_are():
    amounts, points = told({"object": "a"})
    assert amounts == {
        "own size X": 4, "own size Y": 2, "own size Z": 2, "area": near(40), "volume": near(16),
        "box size X": 4, "box size Y": 2, "box size Z": 2,
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


# A beam of 4 × 1 × 2 that is turned 30° about Y, with a small block in it 3 along its own X.
BEAM = {"kind": "cuboid", "size": [4, 1, 2]}
TURN = {"rotation": [0, np.sin(np.pi / 12), 0, np.cos(np.pi / 12)]}
TURNED = scene(
    {"id": "beam", "solid": BEAM, "translation": [10, 0, 0], "pivot": [-2, 0, 0], **TURN},
    {"id": "peg", "solid": {"kind": "cuboid", "size": [1, 1, 1]}, "parent": "beam", "translation": [3, 0, 0]},
)


def of(first, second=None, **more):
    found = measured(TURNED, Asked.model_validate({"first": first, "second": second, **more}))
    return {amount.what: amount.value for amount in found.amounts}


def boxed(amounts, name):
    return [amounts[f"{name}{axis}"] for axis in "XYZ"]


@pytest.mark.parametrize(
    ("space", "size", "middle"),
    [
        ("world", [4 * np.cos(np.pi / 6) + 2 * 0.5, 1, 4 * 0.5 + 2 * np.cos(np.pi / 6)], [10, 0, 0]),
        ("local", [4, 1, 2], [2, 0, 0]),
        ({"object": "peg"}, [4, 1, 2], [-3, 0, 0]),
        ({"line": [[0, 0, 0], [0, 0, -1]]}, None, None),
    ],
)
def test_a_box_lies_along_the_axes_of_any_space_and_is_counted_from_its_origin(space, size, middle):
    amounts = of({"object": "beam"}, space=space)
    if size is not None:
        assert boxed(amounts, "box size ") == pytest.approx(size)
    if middle is not None:
        assert boxed(amounts, "middle at ") == pytest.approx(middle, abs=1e-12)
    if space == {"line": [[0, 0, 0], [0, 0, -1]]}:  # its X is the world's −Z, its Z the world's X
        world = of({"object": "beam"})
        assert boxed(amounts, "box size ") == pytest.approx([world[f"box size {axis}"] for axis in "ZYX"])


def test_coordinates_and_ways_are_told_in_the_space_from_the_origin_that_is_chosen():
    assert boxed(of({"object": "peg", "at": "centre"}, space="parent"), "at ") == pytest.approx([3, 0, 0], abs=1e-12)
    at_end = {"object": "beam", "at": "+x"}
    assert boxed(of({"object": "peg", "at": "centre"}, space="local", origin=at_end), "at ") == pytest.approx(
        [1, 0, 0], abs=1e-12
    )
    way = of({"object": "beam", "at": "centre"}, {"object": "peg", "at": "centre"}, space={"object": "beam"})
    assert boxed(way, "along ") == pytest.approx([3, 0, 0], abs=1e-12)
    sides = of({"object": "beam"}, space="local", origin=at_end)
    assert [sides[f"{side} at X"] for side in ("near side", "middle", "far side")] == pytest.approx(
        [0, -2, -4], abs=1e-12
    )
