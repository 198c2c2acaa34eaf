"""Measures: worked relations, closed forms, laws, and what has no answer."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import cKDTree
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene import measure
from cubedrill.core.scene.measure import angle_between, closest, distance_between, feature_of, overlap
from cubedrill.core.scene.spaces import ObjectSpace
from cubedrill.core.scene.stage import Stage
from tests.core.build import CRATE, QUARTER_Z, near, scene
from tests.core.strategies import quaternions, rotations
from tests.tiers import few, some

BALL = {"kind": "sphere", "diameter": 2}
TILT = Rotation.from_euler("z", 45, degrees=True).as_quat().tolist()


def test_a_box_in_another_objects_space_counts_from_its_pivot():
    start = scene(
        {"id": "a", "solid": CRATE, "translation": [5, 0, 0]}, {"id": "p", "rotation": QUARTER_Z, "pivot": [1, 0, 0]}
    )
    _, box = measure.box_in(start, "a", ObjectSpace(object="p"))
    # p's pivot is at (0, 1, 0); its X is world Y, its Y is world −X.
    assert (box.least, box.most) == (near([-2, -6, -1]), near([0, -4, 1]))


def test_sizes_area_and_volume_as_it_stands():
    start = scene({"id": "p", "scale": [2, 2, 2]}, {"id": "a", "parent": "p", "solid": CRATE, "rotation": TILT})
    assert measure.own_sizes(start, "a") == near([4, 4, 4])
    assert measure.area(start, "a") == pytest.approx(96)
    assert measure.volume(start, "a") == pytest.approx(64)
    with pytest.raises(CoreError, match="p is an assembly"):
        measure.volume(start, "p")


def two(second, **place):
    return scene({"id": "a", "solid": CRATE}, {"id": "b", "solid": second, **place})


@pytest.mark.parametrize(
    ("first", "second", "distance", "angle"),
    [
        ("+x+y+z", "-x-y-z", math.hypot(3, 0, 0), None),  # (1, 1, 1) to (4, 1, 1): corners with b moved by (5, 2, 2)
        ("pivot", "centre", math.hypot(5, 2, 2), None),
        ("+x+y", "-x-y", 3, 0),  # two edges along Z, side by side over 0 … 1
        ("+x+y", "-x-z", 3, math.pi / 2),
        ("+x", "-x", 3, math.pi),  # faces that look at each other and overlap across
        ("+x", "+y", math.hypot(3, 2, 0), math.pi / 2),  # b's top is at y = 3, from x = 4
        ("+x", "-x-y", 3, 0),  # an edge along Z lies along the face
        ("+x", "-y-z", 3, math.pi / 2),  # an edge along X stands on the face
        ("+x", "+x+y+z", math.hypot(5, 2, 2), None),
        ("centre", "-x", math.hypot(4, 1, 1), None),
    ],
)
def test_between_features(first, second, distance, angle):
    # Source: Ericson, "Real-Time Collision Detection" (2005), section 5.1: relations of points, segments, rectangles.
    start = two(CRATE, translation=[5, 2, 2])
    one, other = feature_of(start, "a", first), feature_of(start, "b", second)
    assert distance_between(one, other).distance == pytest.approx(distance, abs=1e-9)
    assert angle_between(one, other) == (None if angle is None else pytest.approx(angle, abs=1e-12))


def test_a_face_keeps_its_normal_under_uneven_scale():
    # A wedge of space: scaled by (1, 2, 1) after a turn of 45° the faces are no longer square to each other.
    start = scene({"id": "p", "scale": [1, 2, 1]}, {"id": "a", "parent": "p", "rotation": TILT, "solid": CRATE})
    normal = feature_of(start, "a", "+x").normal
    in_face = start.world_from_local("a")[:3, 1]
    assert normal @ in_face == near(0)


@pytest.mark.parametrize(
    ("solid", "place", "distance"),
    [
        (BALL, {"translation": [5, 0, 0]}, 3),
        (BALL, {"translation": [4, 4, 0]}, math.hypot(3, 3) - 1),  # from the crate's edge to the ball
        (BALL, {"translation": [5, 0, 0], "scale": [2, 1, 1]}, 2),  # an ellipsoid reaches 2 along X
        ({"kind": "cylinder", "diameter": 2, "height": 4}, {"translation": [0, 6, 0], "scale": [1, 1, 3]}, 3),
        (
            {"kind": "cone", "diameter": 2, "height": 2},
            {"translation": [5, 0, 0], "rotation": QUARTER_Z},
            3,
        ),  # apex at x = 4
        ({"kind": "tube", "diameter": 2, "bore": 1, "height": 2}, {"translation": [0, 5, 0]}, 3),
        (CRATE, {"translation": [2, 2, 2]}, 0),  # corner on corner
        (CRATE, {"translation": [1, 0, 0]}, 0),
    ],
)
def test_closest_points(solid, place, distance):
    found = closest(two(solid, **place), "a", "b")
    assert found.distance == pytest.approx(distance, abs=1e-9)
    assert np.linalg.norm(found.first - found.second) == pytest.approx(distance, abs=1e-6)


def test_the_closest_of_an_assembly_is_that_of_its_solids():
    start = scene(
        {"id": "a", "solid": CRATE},
        {"id": "g"},
        *({"id": i, "parent": "g", "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("b", 9), ("c", 4))),
    )
    assert closest(start, "a", "g").distance == near(2)
    with pytest.raises(CoreError, match="no solid"):
        closest(scene({"id": "a", "solid": CRATE}, {"id": "g"}), "a", "g")


@pytest.mark.parametrize("gap", [0.3, 0.01, 1e-4])
@pytest.mark.parametrize("kind", ["cuboid", "cylinder", "wedge", "pyramid"])
def test_the_gap_of_a_flat_object_is_measured_to_its_base(kind, gap):
    """Two flat faces one above the other, turned and shifted in their plane: the distance is the gap, at any angle."""
    sizes = {"diameter": 1, "height": 3} if kind == "cylinder" else {"size": [1, 3, 2]}
    for degrees in range(0, 360, 5):
        half = math.radians(degrees) / 2
        above = {
            "id": "b", "solid": {"kind": kind, **sizes}, "rotation": [0, math.sin(half), 0, math.cos(half)],
            "translation": [0.2 - degrees / 900, 1 + gap + 1.5, degrees / 700 - 0.1],
        }  # fmt: skip
        found = closest(scene({"id": "a", "solid": CRATE}, above), "a", "b")
        assert found.distance == pytest.approx(gap, abs=1e-7), degrees


convex = st.sampled_from(
    [CRATE, BALL, {"kind": "cylinder", "diameter": 1, "height": 3}, {"kind": "cone", "diameter": 2, "height": 1}, {"kind": "wedge", "size": [1, 2, 3]}, {"kind": "pyramid", "size": [1, 2, 3]}]
)  # fmt: skip


@few
@given(convex, convex, rotations(), quaternions(), st.floats(0.2, 5), st.integers(0, 25))
def test_a_body_moved_out_by_the_gap_touches_and_overlaps_by_what_it_goes_further(one, other, turn, spin, far, way):
    # Along the closest direction: moved by the distance the bodies touch; a hair further and they overlap by no more than
    # that. Two corners may slide past each other; what goes into a ball overlaps it.
    direction = turn[:, way % 3] * (1 if way % 2 else -1)
    objects = [
        {"id": "a", "solid": one, "rotation": spin.tolist(), "scale": [1, 1.5, 0.7]},
        {"id": "b", "solid": other, "translation": (direction * (5 + far)).tolist()},
    ]
    start = Stage.model_validate({"objects": objects}).to_scene(Conventions())
    found = closest(start, "a", "b")
    assert found.distance > 0
    nearer = (found.first - found.second) / found.distance
    touching = start.with_objects([start.moved_by("b", nearer * found.distance)])
    assert closest(touching, "a", "b").distance == pytest.approx(0, abs=1e-6)  # two edges that cross meet slowly
    closer = start.with_objects([start.moved_by("b", nearer * (found.distance + 0.01))])
    assert closest(closer, "a", "b").distance <= 0.01
    assert overlap(closer, "a", "b") <= 0.01 + 1e-9  # the way it came is one way out; a corner can have a shorter one
    if BALL in (one, other):
        assert closest(closer, "a", "b").distance == pytest.approx(0, abs=1e-8)
        assert overlap(closer, "a", "b") > 0
    apart = start.with_objects([start.moved_by("b", nearer * (found.distance - 0.01))])
    assert closest(apart, "a", "b").distance == pytest.approx(0.01, abs=1e-7)
    assert overlap(apart, "a", "b") == 0


@pytest.mark.parametrize(
    ("solid", "place", "depth"),
    [
        (CRATE, {"translation": [1.5, 0.2, 0]}, 0.5),
        (BALL, {"translation": [1.5, 0, 0]}, 0.5),
        (CRATE, {"translation": [2.1, 0, 0]}, 0),
        (CRATE, {"translation": [1 + math.sqrt(2) - 0.3, 0, 0], "rotation": TILT}, 0.3),  # an edge 0.3 into a face
    ],
)
def test_overlap_depth(solid, place, depth):
    assert overlap(two(solid, **place), "a", "b") == pytest.approx(depth, abs=1e-9)


def test_two_balls_overlap_by_the_sum_of_radii_less_the_distance():
    start = scene({"id": "a", "solid": BALL}, {"id": "b", "solid": BALL, "translation": [0.6, 0.8, 0.5]})
    assert overlap(start, "a", "b") == pytest.approx(2 - math.hypot(0.6, 0.8, 0.5), abs=1e-8)


def test_from_an_origin_to_near_side_middle_and_far_side():
    start = scene({"id": "a", "solid": CRATE, "translation": [5, -3, 0]})
    sides = measure.from_origin(start.box("a", np.eye(4)), np.array([1.0, 1.0, 0.0]))
    assert (sides.near, sides.middle, sides.far) == (near([3, -3, -1]), near([4, -4, 0]), near([5, -5, 1]))


def test_objects_outside_the_plot_are_listed_with_the_distance():
    stage = {
        "objects": [{"id": "a", "solid": CRATE}, {"id": "b", "solid": BALL, "translation": [9.5, 0.5, -10]}],
        "plot": {"min": [-10, -1, -10], "max": [10, 5, 10]},
    }
    start = Stage.model_validate(stage).to_scene(Conventions())
    found = measure.outside_plot(start)
    assert list(found) == ["b"]
    assert (found["b"].least, found["b"].most) == (near([0, 0, 1]), near([0.5, 0, 0]))
    assert measure.outside_plot(scene({"id": "a", "solid": CRATE})) == {}


@pytest.mark.parametrize("degrees", [0, 30, 90, 120, 170, 180, 210, 300])
def test_the_angle_of_lines_is_acute_and_that_of_faces_is_not(degrees):
    turn = Rotation.from_euler("z", degrees, degrees=True).as_quat().tolist()
    block = {"kind": "cuboid", "size": [3, 1, 0.7]}
    start = scene({"id": "a", "solid": block}, {"id": "b", "solid": block, "rotation": turn, "translation": [9, 0, 0]})
    along, across, face = ([feature_of(start, i, at) for i in "ab"] for at in ("+y+z", "+x+z", "+x"))
    between = abs(math.remainder(math.radians(degrees), 2 * math.pi))
    acute = min(between, math.pi - between)
    assert angle_between(*along) == pytest.approx(acute, abs=1e-7)  # edges along X
    assert angle_between(*across) == pytest.approx(acute, abs=1e-7)  # edges along Y
    assert angle_between(*face) == pytest.approx(between, abs=1e-7)
    edge, plane = feature_of(start, "a", "+y+z"), feature_of(start, "b", "+x")
    assert angle_between(edge, plane) == pytest.approx(math.pi / 2 - acute, abs=1e-7)
    assert angle_between(plane, edge) == angle_between(edge, plane)


@pytest.mark.parametrize("seed", some(range(12), 3))
def test_features_of_uneven_blocks_against_many_points_of_both(seed):
    random = np.random.default_rng(seed)

    def block(name):
        return {
            "id": name, "solid": {"kind": "cuboid", "size": random.uniform(0.3, 4, 3).tolist()},
            "rotation": Rotation.random(rng=random).as_quat().tolist(), "translation": random.normal(size=3).tolist(),
            "scale": random.uniform(0.5, 2, 3).tolist(),
        }  # fmt: skip

    start = scene(block("a"), block("b"))
    places = [["+x+y+z", "-x+z", "+y"][i] for i in random.integers(0, 3, 2)]
    points = []
    for object_id, at in zip("ab", places, strict=True):
        half = np.array(start[object_id].solid.size) / 2
        shares = np.array(list(itertools.product(np.linspace(-1, 1, 41), repeat=3)))
        for i, letter in enumerate("xyz"):
            if letter in at:
                shares[:, i] = 1 if f"+{letter}" in at else -1
        local = np.unique(shares, axis=0) * half
        points.append(local @ start.world_from_local(object_id)[:3, :3].T + start.world_from_local(object_id)[:3, 3])
    sampled = cKDTree(points[0]).query(points[1])[0].min()
    found = distance_between(feature_of(start, "a", places[0]), feature_of(start, "b", places[1])).distance
    # Never above what two points of them are apart, and at most by half a sample's diagonal each below it.
    assert found <= sampled + 1e-9
    assert sampled - found < 0.5


@pytest.mark.parametrize(("gap", "depth"), [(0.3, 0), (1e-6, 0), (-0.2, 0.2)])
def test_a_thing_in_a_hollow_overlaps_only_where_it_meets_the_wall(gap, depth):
    tube = {"kind": "tube", "diameter": 6, "bore": 5, "height": 3}
    inner = {"kind": "cylinder", "diameter": 5 - 2 * gap, "height": 1}
    start = scene({"id": "a", "solid": tube}, {"id": "b", "solid": inner})
    assert (overlap(start, "a", "b") > 0) is (depth > 0)
    assert closest(start, "a", "b").distance == pytest.approx(max(gap, 0), abs=2e-3)  # by triangles of 96 sides


@pytest.mark.parametrize("axis", range(3))
@pytest.mark.parametrize("side", [-1, 1])
@pytest.mark.parametrize(("by", "out"), [(0.5, True), (1e-8, True), (1e-10, False), (0, False), (-0.5, False)])
def test_each_wall_of_the_plot_counts_by_itself(axis, side, by, out):
    place = [0.0, 0.0, 0.0]
    place[axis] = side * (4 - 0.75 + by)
    objects = [{"id": "a", "solid": {"kind": "cuboid", "size": [1.5, 1.5, 1.5]}, "translation": place}]
    plot = {"min": [-4, -4, -4], "max": [4, 4, 4]}
    start = Stage.model_validate({"objects": objects, "plot": plot}).to_scene(Conventions())
    found = measure.outside_plot(start)
    assert (list(found) == ["a"]) is out
    if out:
        beyond = [[by if i == axis and way == side else 0 for i in range(3)] for way in (-1, 1)]
        assert (found["a"].least, found["a"].most) == (near(beyond[0]), near(beyond[1]))
