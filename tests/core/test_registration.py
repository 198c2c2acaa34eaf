"""Meshes that were made anew are found where they stand: whatever a program did to vertices and triangles, all solids."""

import itertools

import numpy as np
import pytest
import trimesh
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.registration import _moments, is_as_it_was, maps_onto, measures_of, measures_of_solid
from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Mesh, Plate, Pyramid, Ring, Sphere, Tube, Wedge
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.judging.mesh_matching import registered
from tests.core.build import after, scene
from tests.core.test_checks import judged
from tests.tiers import few, some

PRISM = Mesh(
    vertices=(
        (0, 0, 0),
        (3, 0, 0),
        (3, 0, 1),
        (1, 0, 1),
        (1, 0, 4),
        (0, 0, 4),
        (0, 2, 0),
        (3, 2, 0),
        (3, 2, 1),
        (1, 2, 1),
        (1, 2, 4),
        (0, 2, 4),
    ),
    triangles=(
        (0, 1, 2),
        (0, 2, 3),
        (0, 3, 4),
        (0, 4, 5),
        (6, 8, 7),
        (6, 9, 8),
        (6, 10, 9),
        (6, 11, 10),
        (0, 7, 1),
        (0, 6, 7),
        (1, 8, 2),
        (1, 7, 8),
        (2, 9, 3),
        (2, 8, 9),
        (3, 10, 4),
        (3, 9, 10),
        (4, 11, 5),
        (4, 10, 11),
        (5, 6, 0),
        (5, 11, 6),
    ),
)  # an L, pushed: not convex, and alike to nothing but its mirror image
FLAT_SIDED = {
    "cuboid": (Cuboid(size=(1, 2, 3)), 48), "wedge": (Wedge(size=(4, 1, 2)), 12),
    "pyramid": (Pyramid(size=(2, 3, 1.5)), 8), "mesh": (PRISM, 2),
}  # fmt: skip
ROUND = {
    "cylinder": Cylinder(diameter=1, height=3),
    "cone": Cone(diameter=2, height=1),
    "tube": Tube(diameter=2, bore=1, height=1),
}
PLACES = st.tuples(
    st.lists(st.floats(-1, 1), min_size=3, max_size=3).filter(lambda axis: np.linalg.norm(axis) > 0.1),
    st.floats(-3, 3), st.lists(st.floats(0.3, 3), min_size=3, max_size=3),
    st.lists(st.sampled_from((1.0, -1.0)), min_size=3, max_size=3), st.lists(st.floats(-20, 20), min_size=3, max_size=3),
)  # fmt: skip


def placed(drawn):
    """A place: turned, unevenly scaled, perhaps mirrored."""
    axis, angle, sizes, signs, away = drawn
    place = np.eye(4)
    turn = Rotation.from_rotvec(angle * np.array(axis) / np.linalg.norm(axis)).as_matrix()
    place[:3, :3], place[:3, 3] = turn * (np.array(sizes) * signs), away
    return place


def made_anew(points, triangles, seed, added=6):
    """As another program writes it: numbers of 32 bits, edges split, a vertex of its own for each corner, shuffled."""
    random = np.random.default_rng(seed)
    places, faces = [tuple(p) for p in points], [tuple(f) for f in triangles]
    for _ in range(added):
        a, b, c = faces.pop(random.integers(len(faces)))
        share = random.uniform(0.2, 0.8)
        places.append(tuple(np.array(places[a]) * share + np.array(places[b]) * (1 - share)))
        faces += [(a, len(places) - 1, c), (len(places) - 1, b, c)]
    corners = np.array(places, dtype=np.float32).astype(float)[np.array(faces)].reshape(-1, 3)
    order = random.permutation(len(corners))
    return corners[order], np.argsort(order)[np.arange(len(corners))].reshape(-1, 3)


def nearest(maps, place):
    return min((float(np.abs(each - place).max()) for each in maps), default=np.inf)


@pytest.mark.parametrize("name", FLAT_SIDED)
@few
@given(drawn=PLACES, seed=st.integers(0, 999), up=st.sampled_from((1, 2)))
def test_every_map_of_a_flat_sided_solid_is_found_and_no_other(name, drawn, seed, up):
    """Any corner of a triangle can be taken to any other by a map, so that a wedge has twelve."""
    solid, symmetries = FLAT_SIDED[name]
    points, triangles = solid.triangulated(up)
    place = placed(drawn)
    maps = maps_onto(solid, up, *made_anew(mapped(place, points), triangles, seed))
    assert len(maps) == symmetries
    assert nearest(maps, place) < 1e-4


@pytest.mark.parametrize("name", ROUND)
@few
@given(drawn=PLACES, seed=st.integers(0, 999), sides=st.integers(5, 48))
def test_round_solids_are_found_whatever_the_number_of_their_sides(name, drawn, seed, sides):
    solid = ROUND[name]
    points, triangles = solid.triangulated(1, sides)
    place = placed(drawn)
    assert nearest(maps_onto(solid, 1, *made_anew(mapped(place, points), triangles, seed)), place) < 1e-4


@given(drawn=PLACES, seed=st.integers(0, 999))
def test_a_ball_is_found_by_any_vertices_that_lie_on_it(drawn, seed):
    ball, place = Sphere(diameter=3), placed(drawn)
    directions = np.random.default_rng(seed).normal(size=(60, 3))
    points = mapped(place, 1.5 * directions / np.linalg.norm(directions, axis=1, keepdims=True))
    (found,) = maps_onto(ball, 1, points, np.zeros((0, 3), dtype=np.intp))
    spreads = [each[:3, :3] @ each[:3, :3].T for each in (found, place)]
    assert spreads[0] == pytest.approx(spreads[1], abs=1e-5 * np.abs(spreads[1]).max())
    assert found[:3, 3] == pytest.approx(place[:3, 3], abs=1e-5)
    dented = np.concatenate((points, [place[:3, 3]]))
    assert maps_onto(ball, 1, dented, np.zeros((0, 3), dtype=np.intp)) == []


# Its fourth moments are alike along its axis and across.
@example(drawn=([1, 0, 0], 1.0, [1, 1, 1], [1, 1, 1], [0, 0, 0]), around=5, section=5, thickness=1.0625)
@few
@given(drawn=PLACES, around=st.integers(5, 60), section=st.integers(5, 32), thickness=st.floats(0.2, 1.8))
def test_a_ring_is_found_by_any_numbers_of_sides_that_another_maker_gave_it(drawn, around, section, thickness):
    """Made by trimesh, whose ring lies across Z; its turn about itself is one of many, its ends may be exchanged."""
    ring, place = Ring(diameter=4, thickness=thickness), placed(drawn)
    made = trimesh.creation.torus(2 - thickness / 2, thickness / 2, major_sections=around, minor_sections=section)
    points, triangles = made_anew(mapped(place, np.array(made.vertices)), made.faces, section, added=0)
    (found,) = maps_onto(ring, 2, points, triangles)[:1]
    size = np.abs(place[:3, :3]).max()
    assert found[:3, :2] @ found[:3, :2].T == pytest.approx(place[:3, :2] @ place[:3, :2].T, abs=2e-3 * size**2)
    assert np.outer(found[:3, 2], found[:3, 2]) == pytest.approx(
        np.outer(place[:3, 2], place[:3, 2]), abs=2e-3 * size**2
    )
    assert found[:3, 3] == pytest.approx(place[:3, 3], abs=1e-4)
    dented = points + (np.arange(len(points)) == section)[:, None] * 0.05 * (place[:3, 3] - points)
    assert maps_onto(ring, 2, dented, triangles) == []


def test_a_ring_that_is_stretched_across_its_axis_keeps_its_slant():
    ring, made = Ring(diameter=4, thickness=1), trimesh.creation.torus(1.5, 0.5)
    slanted = np.eye(4)
    slanted[:3, :3] = np.diag([1, 2, 3]) @ Rotation.from_euler("xyz", [20, 30, 40], degrees=True).as_matrix()
    (found,) = maps_onto(ring, 2, mapped(slanted, np.array(made.vertices)), np.array(made.faces))
    assert np.outer(found[:3, 2], found[:3, 2]) == pytest.approx(np.outer(slanted[:3, 2], slanted[:3, 2]), abs=1e-6)
    assert found[:3, :2] @ found[:3, :2].T == pytest.approx(slanted[:3, :2] @ slanted[:3, :2].T, abs=1e-6)


TURNED = {"op": "rotate", "objects": ["a"], "axis": [1, 2, 3], "angle": 50}


@pytest.mark.parametrize("solid", [{"kind": "ring", "diameter": 4, "thickness": 1}, {"kind": "sphere", "diameter": 3}])
def test_a_ring_and_a_ball_whose_turn_no_file_tells_are_judged_as_they_look(solid):
    """Places rounded to six digits, as many programs write them: that makes no oval of what is round."""
    start = scene({"id": "a", "name": "A", "solid": solid})
    target = after(start, TURNED)
    if solid["kind"] == "ring":
        made = trimesh.creation.torus(1.5, 0.5, major_sections=7, minor_sections=9)
        points = np.array(made.vertices)[:, [0, 2, 1]]
    else:
        made = trimesh.creation.icosphere(2, 1.5)
        points = np.array(made.vertices)
    for askew in (False, True):
        world = (after(target, {**TURNED, "axis": "x", "angle": 20}) if askew else target).world_from_local("a")
        mesh = Mesh(vertices=mapped(world, points).round(6).tolist(), triangles=made.faces.tolist())
        found = registered(target, scene({"id": "a", "name": "A", "solid": mesh}))
        assert found.several == {"a"} or solid["kind"] == "sphere"  # which may stand just where the target has it
        off = found.scene.world_from_local("a")[:3, :3] @ np.linalg.inv(target.world_from_local("a")[:3, :3])
        angle = np.degrees(Rotation.from_matrix(off).magnitude())
        aside = scene({"id": "a", "name": "A", "solid": mesh, "translation": [0.01, 0, 0]})
        by_look = judged(target, registered(target, aside).scene, kind="rotation", symmetry="look")
        assert by_look.difference == pytest.approx(angle, abs=0.01)
        assert angle > 5 if askew and solid["kind"] == "ring" else angle < 1e-3


def test_no_other_round_solid_and_no_half_of_one_is_taken_for_a_ring():
    ring = Ring(diameter=4, thickness=1)
    for other in (*ROUND.values(), Sphere(diameter=3)):
        assert maps_onto(ring, 1, *other.triangulated(1)) == []
    whole = trimesh.creation.torus(1.5, 0.5)
    half = np.array(whole.faces)[(np.array(whole.vertices)[whole.faces][:, :, 0] >= -1e-9).all(axis=1)]
    used, corners = np.unique(half, return_inverse=True)
    assert maps_onto(ring, 2, np.array(whole.vertices)[used], corners.reshape(half.shape)) == []
    assert maps_onto(ring, 2, np.array(whole.vertices), half) == []  # though its vertices are all there


def test_the_order_of_vertices_is_no_proof_where_corners_tell():
    """Sorted, the corners of a box that stands on its side lie in the list as those of one that does not."""
    solid, place = Cuboid(size=(1, 2, 3)), placed(([1, 0, 0], np.pi / 2, [1, 1, 1], [1, 1, 1], [5, 0, 0]))
    points, triangles = solid.triangulated(1)
    moved, order = np.unique(mapped(place, points).round(9), axis=0, return_index=True)
    maps = maps_onto(solid, 1, moved, np.argsort(order)[triangles])
    assert len(maps) == 48
    assert nearest(maps, place) < 1e-6


@few
@given(drawn=PLACES, seed=st.integers(0, 999), up=st.sampled_from((1, 2)))
def test_a_plate_is_found_in_its_own_plane(drawn, seed, up):
    """What its normal is stretched by, nobody can see."""
    plate, place = Plate(size=(2, 3)), placed(drawn)
    points, triangles = plate.triangulated(up)
    maps = maps_onto(plate, up, *made_anew(mapped(place, points), triangles, seed))
    assert len(maps) == 8
    flat = [axis for axis in range(4) if axis != up]
    assert min(float(np.abs((each - place)[:, flat]).max()) for each in maps) < 1e-4
    assert maps_onto(plate, up, *made_anew(mapped(place, points[:3]), triangles[:1], seed, added=0)) == []


ALL = {
    **{name: each[0] for name, each in FLAT_SIDED.items()},
    **ROUND,
    "sphere": Sphere(diameter=2),
    "plate": Plate(size=(2, 3)),
}


@pytest.mark.parametrize(("wanted", "other"), some(itertools.product(ALL, ALL), 30))
def test_no_solid_is_taken_for_another(wanted, other):
    mesh = made_anew(*ALL[other].triangulated(1), seed=5, added=0 if other == "sphere" else 6)
    assert bool(maps_onto(ALL[wanted], 1, *mesh)) is (wanted == other)


@pytest.mark.parametrize("name", FLAT_SIDED)
def test_a_vertex_that_slid_is_another_shape(name):
    """Also along its own edge, where every vertex still lies on the surface."""
    solid = FLAT_SIDED[name][0]
    points, triangles = (np.array(each) for each in solid.triangulated(1))
    for other in range(1, len(points)):
        slid = points.copy()
        slid[0] += 0.02 * (points[other] - points[0])
        assert maps_onto(solid, 1, *made_anew(slid, triangles, 1, added=0)) == []


def test_a_dented_or_cut_mesh_is_another_shape():
    cube = Cuboid(size=(2, 2, 2))
    points, triangles = cube.triangulated(1)
    inward = np.concatenate((points, [[0.5, 0.5, 0.5]]))
    dented = np.concatenate(
        (triangles[1:], [(*triangles[0][:2], 8), (*triangles[0][1:], 8), (triangles[0][2], triangles[0][0], 8)])
    )
    assert maps_onto(cube, 1, *made_anew(inward, dented, 2, added=0)) == []
    assert maps_onto(cube, 1, points * (1, 1, 0), triangles) == []
    assert maps_onto(cube, 1, points[:3], np.array([[0, 1, 2]])) == []


@given(st.lists(st.floats(0.1, 5), min_size=3, max_size=3))
def test_moments_of_a_box_are_those_of_the_textbook(sizes):
    """Volume abc, centre in the middle, spread a²/12: from memory, as every table of moments has it."""
    points, triangles = Cuboid(size=tuple(sizes)).triangulated(1)
    volume, centre, spread = _moments(points[triangles])
    assert volume == pytest.approx(np.prod(sizes))
    assert centre == pytest.approx(np.zeros(3), abs=1e-12)
    assert spread == pytest.approx(np.diag(np.square(sizes) / 12), abs=1e-9)


AS_IT_WAS = {**ALL, "ring": Ring(diameter=4, thickness=1)}


@pytest.mark.parametrize("name", AS_IT_WAS)
def test_a_mesh_that_is_the_solid_as_it_was_is_told_from_one_that_is_not(name):
    solid = AS_IT_WAS[name]
    points, triangles = solid.triangulated(1)
    mesh = made_anew(points, triangles, 3, added=0)
    assert is_as_it_was(solid, 1, *mesh)
    assert not is_as_it_was(solid, 1, mesh[0] * (2, 1, 1), mesh[1])
    assert not is_as_it_was(solid, 1, mesh[0] + (0, 0.5, 0), mesh[1])


LYING = Rotation.from_euler("x", 90, degrees=True).as_matrix()
ON_ITS_HEAD = Rotation.from_euler("x", 180, degrees=True).as_matrix()


@pytest.mark.parametrize(
    ("solid", "turned", "same"),
    [
        (Cylinder(diameter=2, height=2), LYING, False),
        (Cylinder(diameter=2, height=2), ON_ITS_HEAD, True),
        (Tube(diameter=2, bore=1, height=2), LYING, False),
        (Tube(diameter=2, bore=1, height=2), ON_ITS_HEAD, True),
        (Cone(diameter=2, height=2), ON_ITS_HEAD, False),
        (Sphere(diameter=2), LYING, True),
        (Ring(diameter=4, thickness=1), ON_ITS_HEAD, True),
    ],
    ids=str,
)
def test_a_round_solid_that_fills_the_same_box_is_as_it_was_only_if_it_stands_so(solid, turned, same):
    points, triangles = solid.triangulated(1)
    middle = (points.max(axis=0) + points.min(axis=0)) / 2
    assert is_as_it_was(solid, 1, (points - middle) @ turned.T + middle, triangles) is same


@pytest.mark.parametrize("name", sorted(ALL))
def test_a_mesh_is_measured_the_same_wherever_it_lies_and_however_it_was_made(name):
    solid, rng = ALL[name], np.random.default_rng(5)
    points, triangles = made_anew(*solid.triangulated(1), 3, added=0)
    world = np.eye(4)
    world[:3, :3] = np.diag((1.5, 0.7, 2.0))
    turned = Rotation.random(random_state=rng).as_matrix() @ np.diag((1, 1, -1))
    corners, found = measures_of(mapped(world, points) @ turned.T + rng.normal(size=3), triangles)
    own = measures_of_solid(solid, 1, world, corners)
    assert found == pytest.approx(own, abs=1e-6 * own.max())
    for other in ALL.values() if name != "mesh" else ():
        if other.kind != solid.kind:
            assert np.abs(measures_of_solid(other, 1, world, corners) - own).max() > 1e-3 * own.max(), other.kind


@pytest.mark.parametrize("name", sorted(ALL.keys() - {"plate"}))
def test_a_block_as_large_as_the_solid_is_not_the_solid(name):
    points, _ = ALL[name].triangulated(1)
    block, faces = Cuboid(size=tuple(np.ptp(points, axis=0).tolist())).triangulated(1)
    middle = (points.max(axis=0) + points.min(axis=0)) / 2
    assert is_as_it_was(ALL[name], 1, block + middle, faces) is (name == "cuboid")
