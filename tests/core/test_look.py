"""By look: against a brute force that tries every way to describe a solid, for every solid, even and uneven.

The brute force is `tests/outside/brute.py`, which uses nothing of the product.
"""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.solids import (
    Cone,
    Cuboid,
    Cylinder,
    Mesh,
    Plate,
    Pyramid,
    Ring,
    Solid,
    Sphere,
    Tube,
    Wedge,
)
from cubedrill.core.geometry.solids.mesh import MOST_FOLD
from cubedrill.core.geometry.symmetry import Placings, angle_between, canonical_pose_of
from cubedrill.core.judging.canonical import canonical_pose
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_scene
from tests.core.build import scene
from tests.core.strategies import rotations, solids, triples, ups
from tests.outside import brute
from tests.tiers import few, long, some

NORMAL: dict[str, Solid] = {
    "cuboid": Cuboid(size=(2, 2, 2)), "wedge": Wedge(size=(2, 2, 2)), "pyramid": Pyramid(size=(2, 2, 2)),
    "plate": Plate(size=(2, 2)), "cylinder": Cylinder(diameter=2, height=2),
    "tube": Tube(diameter=2, bore=1, height=2), "cone": Cone(diameter=2, height=2),
    "ring": Ring(diameter=2, thickness=0.5), "sphere": Sphere(diameter=2),
}  # fmt: skip
OWN = {  # in its own axes, before all else: as it is, about its axis, turned over, a quarter about its axis
    "as it is": np.eye(3),
    "about its axis": Rotation.from_rotvec([0, 2.1, 0]).as_matrix(),
    "turned over": Rotation.from_rotvec([np.pi, 0, 0]).as_matrix(),
    "a quarter": Rotation.from_rotvec([0, np.pi / 2, 0]).as_matrix(),
}
SIZES = {"even": (0.8, 1.3, 0.8), "uneven": (1.3, 0.9, 0.7)}


def placed(linear, place=(0.0, 0.0, 0.0)):
    world_from_local = np.eye(4)
    world_from_local[:3, :3], world_from_local[:3, 3] = linear, place
    return world_from_local


def by_look(solid, up, target, submitted):
    """Shape distance and angle in rad as the product finds them."""
    anew = submitted @ canonical_pose_of(solid, up, target, submitted)
    return solid.largest_distance(up, target, anew), float(angle_between(target[:3, :3], anew[:3, :3]))


def tried(kind, target, submitted):
    """The same by brute force."""
    world_from_normal = np.diag([*NORMAL[kind].half_extents(1), 1.0])
    return brute.least(kind, target @ world_from_normal, submitted @ world_from_normal)


# What a search over all turns of a bulging solid takes by brute force is too slow for every case.
CASES = [
    (kind, sizes, own, mirrored)
    for kind, sizes, own, mirrored in itertools.product(NORMAL, SIZES, OWN, (False, True))
    if not (kind == "ring" and sizes == "even") or (own, mirrored) in (("turned over", False), ("about its axis", True))
    if kind != "sphere" or sizes == "uneven"
]


@pytest.mark.parametrize(("kind", "sizes", "own", "mirrored"), some(CASES, 12))
def test_the_nearest_description_is_the_one_that_brute_force_finds(kind, sizes, own, mirrored):
    random = np.random.default_rng(CASES.index((kind, sizes, own, mirrored)))
    turned = Rotation.from_rotvec(random.normal(size=3)).as_matrix()
    off = Rotation.from_rotvec(random.normal(size=3) * 0.05).as_matrix()
    target = placed(turned * SIZES[sizes], random.normal(size=3))
    here = target[:3, 3] + random.normal(size=3) * 0.02
    submitted = placed(off @ turned @ OWN[own] * SIZES[sizes] * [-1 if mirrored else 1, 1, 1], here)
    distance, angle = by_look(NORMAL[kind], 1, target, submitted)
    witness, witness_angle = tried(kind, target, submitted)
    # The brute force comes within 3e-7 of a rim's farthest point, from below, and 1e-8 rad of the best turn.
    assert distance == pytest.approx(witness, abs=1e-6)
    # Where the distance curves about its least, an angle off by √1e-7 is as near for the brute force.
    assert angle == pytest.approx(witness_angle, abs=1e-3)


@pytest.mark.parametrize("kind", ["cylinder", "tube", "cone", "ring", "sphere"])
def test_a_skewed_round_solid_is_described_by_its_principal_axes(kind):
    random = np.random.default_rng(8)
    target = placed(Rotation.from_rotvec([0.3, 0.5, -0.2]).as_matrix() * (1.3, 0.9, 0.7))
    own = Rotation.from_rotvec([0, 0.7, 0]).as_matrix()
    submitted = placed(target[:3, :3] @ own, random.normal(size=3) * 0.02)  # its points slid along the oval
    distance, _ = by_look(NORMAL[kind], 1, target, submitted)
    assert distance == pytest.approx(np.linalg.norm(submitted[:3, 3]), abs=1e-12)
    skewed = placed(target[:3, :3] @ np.diag([1, 1.1, 1.2]) @ own, submitted[:3, 3])
    distance, angle = by_look(NORMAL[kind], 1, target, skewed)
    witness, witness_angle = tried(kind, target, skewed)
    assert (distance, angle) == (pytest.approx(witness, abs=1e-6), pytest.approx(witness_angle, abs=1e-6))


@pytest.mark.parametrize("kind", ["cylinder", "tube", "cone", "ring"])
def test_an_oval_turned_by_three_degrees_about_its_axis_is_three_degrees_off(kind):
    oval = np.diag([1.3, 1.0, 0.7])
    turned = placed(Rotation.from_euler("y", 3, degrees=True).as_matrix() @ oval)
    _, angle = by_look(NORMAL[kind], 1, placed(oval), turned)
    assert np.degrees(angle) == pytest.approx(3, abs=1e-12)


@pytest.mark.parametrize("axis", range(3))
def test_an_oval_ball_turned_about_any_of_its_axes_is_off_by_that(axis):
    oval = np.diag([1.3, 1.0, 0.7])
    turned = placed(Rotation.from_rotvec(np.eye(3)[axis] * 0.05).as_matrix() @ oval)
    assert by_look(NORMAL["sphere"], 1, placed(oval), turned)[1] == pytest.approx(0.05, abs=1e-12)


@pytest.mark.parametrize("axis", range(3))
def test_a_ball_with_two_equal_sizes_may_turn_about_the_third_alone(axis):
    sizes = np.diag([1.5 if i == axis else 0.8 for i in range(3)])
    for turns_about in range(3):
        turned = placed(Rotation.from_rotvec(np.eye(3)[turns_about] * 0.4).as_matrix() @ sizes)
        distance, angle = by_look(NORMAL["sphere"], 1, placed(sizes), turned)
        off = 0.0 if turns_about == axis else 0.4
        assert angle == pytest.approx(off, abs=1e-7)
        assert (distance < 1e-12) is (off == 0)


def test_a_ball_is_where_it_is_however_it_is_turned():
    turned = placed(Rotation.from_rotvec([1, 2, 3]).as_matrix() * -1.1, (0.3, 0, 0.4))
    distance, angle = by_look(NORMAL["sphere"], 1, placed(np.eye(3)), turned)
    # Its centre is 0.5 away, its radius 0.1 larger, and mirrored it looks the same.
    assert (distance, angle) == (pytest.approx(0.6, abs=1e-12), pytest.approx(0, abs=1e-7))


def test_a_ball_that_was_never_made_oval_is_laid_along_the_oval_as_well_as_can_be():
    oval, own = np.diag([1.3, 1.0, 0.7]), Rotation.from_rotvec([0.4, -1.0, 2.0])
    # Without a shift the polar factor is best (the largest singular value of the difference): here no turn at all.
    distance, angle = by_look(NORMAL["sphere"], 1, placed(oval), placed(own.as_matrix()))
    assert (distance, angle) == (pytest.approx(0.3, abs=1e-9), pytest.approx(0, abs=1e-7))
    # With one another may be better; the farthest point less the ball's radius is a bound that here is reached.
    far = by_look(NORMAL["sphere"], 1, placed(oval), placed(own.as_matrix(), (3.0, 2.0, 1.0)))[0]
    angles = np.linspace(0, 2 * np.pi, 1441)
    points = brute.bulging("sphere", *np.meshgrid(angles, angles / 4 - np.pi / 4))
    bound = np.linalg.norm(points @ oval - (3.0, 2.0, 1.0), axis=-1).max() - 1
    assert bound - 1e-9 <= far <= bound + 1e-5  # by 1441 samples a turn


def test_a_plate_turned_over_looks_the_same():
    over = placed(Rotation.from_euler("x", 180, degrees=True).as_matrix())
    for sizes in ((1, 1), (2, 3)):
        distance, angle = by_look(Plate(size=sizes), 1, placed(np.eye(3)), over)
        assert (distance, angle) == (pytest.approx(0, abs=1e-12), pytest.approx(0, abs=1e-12))


@pytest.mark.parametrize("kind", ["cylinder", "tube", "cone", "ring"])
@pytest.mark.parametrize(
    "ratio", [1 - 0.99e-4, 1 - 1.01e-4, 1 / (1 - 0.99e-4), 1 / (1 - 1.01e-4), 3 * (1 - 0.99e-4) / 3]
)
def test_a_round_solid_turns_freely_only_if_its_sizes_differ_by_less_than_a_ten_thousandth(kind, ratio):
    bar = np.diag([1.0, 1.0, ratio])
    turned = placed(Rotation.from_euler("y", 30, degrees=True).as_matrix() @ bar)
    _, angle = by_look(NORMAL[kind], 1, placed(np.eye(3)), turned)
    is_round = 1 - min(1, ratio) / max(1, ratio) <= 1e-4
    assert np.degrees(angle) == pytest.approx(0 if is_round else 30, abs=0.02)


@pytest.mark.parametrize("ratio", [1 - 0.9e-4, 1 + 0.9e-4])
def test_a_nearly_round_ball_is_a_ball(ratio):
    turn = Rotation.from_rotvec([0.4, -1.0, 2.0]).as_matrix()
    _, angle = by_look(NORMAL["sphere"], 1, placed(np.eye(3)), placed(turn @ np.diag([1.0, 1.0, ratio])))
    assert np.degrees(angle) == pytest.approx(0, abs=0.02)


@pytest.mark.parametrize("kind", ["cylinder", "tube", "cone", "ring"])
def test_the_smallest_angle_counts_if_all_rotations_are_as_near(kind):
    # Far off along its axis and turned about it: all turns about it are as near as one another but for the rim.
    lifted = placed(Rotation.from_euler("y", 40, degrees=True).as_matrix(), (0, 5, 0))
    distance, angle = by_look(NORMAL[kind], 1, placed(np.eye(3)), lifted)
    assert (distance, angle) == (pytest.approx(5, abs=1e-12), pytest.approx(0, abs=1e-7))


@pytest.mark.parametrize("kind", ["cylinder", "tube", "cone", "ring"])
@pytest.mark.parametrize("seed", range(4))
def test_a_round_solid_turned_about_its_own_axis_is_not_turned_however_it_lies(kind, seed):
    random = np.random.default_rng(seed)
    lying = Rotation.random(rng=random).as_matrix() * (0.8, 1.7, 0.8)
    place = random.normal(size=3)
    own = Rotation.from_euler("y", random.uniform(-3, 3)).as_matrix()
    along = 3 * lying[:, 1] / 1.7  # away along its axis: any turn about it is as near, and none is the least
    distance, angle = by_look(NORMAL[kind], 1, placed(lying, place), placed(lying @ own, place + along))
    assert (distance, angle) == (pytest.approx(3, abs=1e-12), pytest.approx(0, abs=1e-7))


def test_of_turns_that_are_as_near_the_smallest_angle_is_taken():
    # A cone made longer at its apex is off there by 0.4; a base turned by up to 0.4 rad or so is off by less.
    longer = np.eye(4)
    longer[1, 1], longer[1, 3] = 1.2, 0.2
    longer[:3, :3] = longer[:3, :3] @ Rotation.from_euler("y", 10, degrees=True).as_matrix()
    distance, angle = by_look(NORMAL["cone"], 1, np.eye(4), longer)
    assert (distance, angle) == (pytest.approx(0.4, abs=1e-12), pytest.approx(0, abs=1e-7))


@few
@given(solids(), ups, rotations(), triples, st.integers(0, 47))
def test_any_symmetric_turn_anywhere_is_no_distance(solid, up, rotation, place, which):
    maps, half = solid.symmetries(up), solid.half_extents(up)
    centre = solid.middle if isinstance(solid, Mesh) else np.zeros(3)
    target = placed(rotation, place)
    linear = half[:, None] * maps[which % len(maps)] / half
    submitted = target @ placed(linear, centre - linear @ centre)
    assert by_look(solid, up, target, submitted)[0] < 1e-7 * (1 + np.abs(half).max() + np.abs(centre).max())


SIX = [(np.cos(a), h, np.sin(a)) for h in (-1.0, 1.0) for a in np.arange(6) * np.pi / 3]


def test_a_mesh_may_turn_as_its_vertices_show_at_its_present_size():
    prism = Mesh(vertices=tuple((float(x), float(y), float(z)) for x, y, z in SIX), triangles=((0, 1, 2),))
    turn = Rotation.from_euler("y", 60, degrees=True).as_matrix()
    even, uneven = np.eye(3) * 2, np.diag([1.3, 1.0, 0.7])
    assert by_look(prism, 1, placed(even), placed(turn @ even))[0] < 1e-9
    assert np.degrees(by_look(prism, 1, placed(uneven), placed(turn @ uneven))[1]) == pytest.approx(60)
    assert by_look(prism, 1, placed(uneven), placed(uneven @ np.diag([-1, 1, -1])))[0] < 1e-9
    three = [(np.cos(a), h, np.sin(a)) for h in (-1.0, 1.0) for a in np.arange(3) * 2 * np.pi / 3]
    third = Mesh(vertices=tuple((float(x) + 5, float(y), float(z)) for x, y, z in three), triangles=((0, 1, 2),))
    about = placed(Rotation.from_euler("y", 120, degrees=True).as_matrix())
    there, back = placed(np.eye(3), (5, 0, 0)), placed(np.eye(3), (-5, 0, 0))
    assert by_look(third, 1, placed(even), placed(even) @ there @ about @ back)[0] < 1e-9
    flat = Mesh(vertices=tuple((float(x) / 2, float(y), float(z)) for x, y, z in SIX), triangles=((0, 1, 2),))
    as_large = np.diag([2.0, 1.0, 1.0])
    assert by_look(flat, 1, placed(as_large), placed(turn @ as_large))[0] < 1e-9
    lopsided = Mesh(vertices=((0, 0, 0), (3, 0, 1), (0, 2, 0), (1, 1, 4)), triangles=((0, 2, 1),))
    assert len(lopsided.symmetries(1)) == 1


@pytest.mark.parametrize(
    ("solid", "group"),
    [
        (Cuboid(size=(1, 1, 1)), "O"), (Cuboid(size=(1, 2, 1)), "D4"), (Cuboid(size=(1, 2, 3)), "D2"),
        (Pyramid(size=(1, 2, 1)), "C4"), (Pyramid(size=(1, 2, 3)), "C2"), (Wedge(size=(1, 2, 3)), "C1"),
        (Wedge(size=(2, 2, 3)), "C2"), (Plate(size=(1, 1)), "D4"), (Plate(size=(1, 2)), "D2"),
    ],
)  # fmt: skip
def test_symmetry_groups_are_as_large_as_scipys(solid, group):
    # Source: SciPy's Rotation.create_group. Those of a solid are the maps that keep its sizes and do not mirror it; of
    # a plate, which lies on its own mirror image, two maps each are one and the same.
    sizes = solid.half_extents(1) ** 2
    kept = [q for q in solid.symmetries(1) if np.allclose(q.T @ np.diag(sizes) @ q, np.diag(sizes))]
    assert sum(np.linalg.det(q) > 0 for q in kept) == len(Rotation.create_group(group))


@long
@few
@given(solids(), ups, rotations(), triples)
def test_the_largest_distance_is_that_of_the_surface(solid, up, rotation, place):
    other = placed(rotation * 1.1, place)
    points, _ = solid.triangulated(up, 360)
    sampled = np.linalg.norm(points @ (other[:3, :3] - np.eye(3)).T + other[:3, 3], axis=1).max()
    # 360 sides come within (π/360)² / 2 of a round solid's farthest point along each angle, and never beyond it.
    reach = np.abs(points).max() * (np.pi / 360) ** 2 * 2
    found = solid.largest_distance(up, np.eye(4), other)
    assert sampled * (1 - 1e-12) - 1e-12 <= found <= sampled + 2 * reach + 1e-12


@pytest.mark.parametrize("thickness", [0.02, 0.5, 0.99])
def test_the_largest_distance_of_a_ring_is_what_a_search_from_many_places_climbs_to(thickness):
    """However uneven, flat or skewed the difference of two placings is: to rounding, not to the next sample."""
    drawn = np.random.default_rng(5)
    for number in range(12):
        linear, place = drawn.normal(size=(3, 3)) * np.exp(drawn.normal(size=3) * 2), drawn.normal(size=3)
        place *= (1e-6, 1.0, 1e3)[number % 3]
        if number % 4 == 0:
            linear[:, number % 3] = 0.0  # one axis is the same in both placings
        placing = np.eye(4)
        placing[:3, :3], placing[:3, 3] = np.eye(3) + linear, place
        found = Ring(diameter=2, thickness=thickness).largest_distance(1, np.eye(4), placing)
        assert found == pytest.approx(_climbed(thickness, placing - np.eye(4)), rel=1e-11)


def _climbed(thickness, apart):
    def distance(angles):
        around, over = angles
        across = 1 - thickness / 2 + thickness / 2 * np.cos(over)
        points = np.array([across * np.cos(around), thickness / 2 * np.sin(over), across * np.sin(around)])
        return np.linalg.norm(np.tensordot(apart[:3, :3], points, 1).T + apart[:3, 3], axis=-1).T

    starts = np.array(np.meshgrid(np.linspace(0, 2 * np.pi, 48), np.linspace(-np.pi, np.pi, 61)))
    highest = distance(starts).argmax(axis=0)  # over the section, at each place around
    columns = distance(starts).max(axis=0).argsort()[-6:]
    best = starts[:, highest[columns], columns].T
    return max(-minimize(lambda x: -distance(x), start, method="Nelder-Mead", tol=1e-13).fun for start in best)


def ring_of(count, *inward):
    """Two rings of points, one over the other, with some of each drawn towards the middle."""
    around = np.arange(count) * 2 * np.pi / count
    reach = np.where(np.isin(np.arange(count), inward), 0.9, 1.0)
    rings = [np.column_stack((reach * np.cos(around), np.full(count, h), reach * np.sin(around))) for h in (-1.0, 1.0)]
    return np.concatenate(rings)


@pytest.mark.parametrize("inward", [(), (3, 43), (1, 2, 41, 42), (7, 33, 47, 73)])
def test_of_a_mesh_with_many_vertices_every_one_decides_about_a_symmetry(inward):
    points = ring_of(80, *inward)
    mesh = Mesh(vertices=tuple(map(tuple, points.tolist())), triangles=((0, 1, 2),))
    found = {tuple(np.round(q, 9).ravel().tolist()) for q in mesh.symmetries(1)}
    half = np.abs(points).max(axis=0)
    expected = set()
    for q in brute.exchanges((0, 1, 2)):
        moved = points / half @ q.T * half
        if all(np.linalg.norm(points - one, axis=1).min() < 1e-9 for one in moved):
            expected.add(tuple(np.round(q, 9).ravel().tolist()))
    assert found == expected


def test_an_oval_ball_made_of_equally_long_columns_is_oval_all_the_same():
    # Twice as long along X, and turned so that each column is √2 long; the ball lies beside it, so that its turn tells.
    turn = np.array([[1, 1, 1], [-2, 1, 1], [0, -1, 1]]) / np.sqrt([[3], [6], [2]])
    oval, beside = np.diag([2.0, 1.0, 1.0]) @ turn, np.array([0.5, 0.5, 0.3])
    assert np.linalg.norm(oval, axis=0) == pytest.approx(2**0.5)
    directions = np.random.default_rng(0).normal(size=(1000, 3))
    directions /= np.linalg.norm(directions, axis=1)[:, None]

    def farthest(turned_by):
        apart = oval - turn @ Rotation.from_rotvec(turned_by).as_matrix()
        return np.linalg.norm(directions @ apart.T - beside, axis=1).max()

    brute_force = minimize(farthest, [0.1, -0.1, 0.1], method="Nelder-Mead").fun
    distance, _ = by_look(NORMAL["sphere"], 1, placed(oval), placed(np.eye(3), beside))
    assert farthest([0, 0, 0]) > brute_force + 0.02  # to lay it along the oval is not the best
    assert distance == pytest.approx(brute_force, abs=2e-3)


@pytest.mark.parametrize("axis", "xyz")
@pytest.mark.parametrize("count", range(3, MOST_FOLD + 1))
def test_a_mesh_of_any_number_of_sides_may_turn_by_one_of_them_and_not_by_half(count, axis):
    up = np.roll(ring_of(count), "xyz".index(axis) - 1, axis=1)
    prism = Mesh(vertices=tuple(map(tuple, up.tolist())), triangles=((0, 1, 2),))
    for sides in range(1, count):
        turn = placed(Rotation.from_euler(axis, 2 * np.pi * sides / count).as_matrix())
        assert by_look(prism, 1, placed(np.eye(3)), turn)[0] < 1e-9
    half = placed(Rotation.from_euler(axis, np.pi / count).as_matrix())
    assert by_look(prism, 1, placed(np.eye(3)), half)[0] > 1e-3


def test_the_angle_of_a_placing_is_that_between_the_target_and_the_one_described():
    wanted, found, maps = (Rotation.random(4, rng=np.random.default_rng(seed)) for seed in (1, 2, 3))
    for target, submitted in zip(wanted, found, strict=True):
        one, other = (placed(turn.as_matrix() * (2.0, 3.0, 0.5)) for turn in (target, submitted))
        both = Placings(NORMAL["cuboid"], 1, one, other, np.array([2, 3, 0.5]), np.array([2, 3, 0.5]))
        expected = (target.inv() * submitted * maps).magnitude()
        scaled = np.array([np.diag([0.5, 1 / 3, 2.0]) @ turn @ np.diag([2.0, 3.0, 0.5]) for turn in maps.as_matrix()])
        assert both.angles(scaled) == pytest.approx(expected, abs=1e-9)


def test_each_object_is_described_anew_whatever_becomes_of_those_before_it():
    quarter = Rotation.from_euler("y", 90, degrees=True).as_quat().tolist()
    block = {"kind": "cuboid", "size": [1, 1, 1]}
    target = scene(*({"id": i, "solid": block} for i in "abcd"))
    handed = scene(
        {"id": "b"}, {"id": "c", "solid": block}, {"id": "d", "solid": block, "rotation": quarter},
    )  # fmt: skip
    anew = canonical_pose(target, handed, "abcd")
    assert anew.world_from_local("d") == pytest.approx(np.eye(4), abs=1e-12)
    assert [anew[i] is handed[i] for i in "bc"] == [True, True]


@pytest.mark.parametrize(("tolerance", "verdict"), [(2e-4, "pass"), (1e-5, "fail")])
def test_the_size_check_sees_what_makes_a_round_solid_nearly_round(tolerance, verdict):
    mast = {"id": "mast", "solid": {"kind": "cylinder", "diameter": 2, "height": 3}}
    check = {"id": "size", "kind": "size", "object": "mast", "symmetry": "look", "tolerance": tolerance}
    made = Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "mast", "title": "Mast", "start": {"objects": [mast]},
            "reference": {"steps": []}, "checks": [check, {"id": "turn", "kind": "rotation", "object": "mast", "symmetry": "look", "tolerance": 0.1}],
        }
    )  # fmt: skip
    handed_in = scene({**mast, "rotation": [0, 0.3, 0, 0.91**0.5], "scale": [1, 1, 1 + 0.9e-4]})
    report = judge_scene(made, made.target_scene(), handed_in)
    assert [each.verdict for each in report.checks] == [verdict, "pass"]
