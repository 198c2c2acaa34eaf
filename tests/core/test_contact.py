"""What rests on what: by a witness that knows nothing of casts, by geometry worked out by hand, and whether it tips."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from pydantic import TypeAdapter, ValidationError
from scipy.optimize import linprog
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Mesh, Plate, Pyramid, Ring, Sphere, Tube, Wedge
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.judging.checks.relation import off_row
from cubedrill.core.scene.contact import OVER_TOL, lift_onto
from cubedrill.core.scene.standing import tips
from tests.core.build import scene
from tests.tiers import some

CHECK: TypeAdapter[Check] = TypeAdapter(Check)
CONVEX = [
    {"kind": "cuboid", "size": [2, 1, 1.5]}, {"kind": "wedge", "size": [2, 1, 1.5]},
    {"kind": "pyramid", "size": [2, 1, 1.5]}, {"kind": "sphere", "diameter": 2},
    {"kind": "cylinder", "diameter": 1.5, "height": 2}, {"kind": "cone", "diameter": 1.5, "height": 2},
    {"kind": "plate", "size": [2, 1.5]},
]  # fmt: skip
ROUND = {"sphere", "cylinder", "cone"}
PLATE = {"id": "p", "name": "Plate", "solid": {"kind": "cuboid", "size": [4, 0.2, 4]}}
CRATE = {"kind": "cuboid", "size": [1, 1, 1]}


def turned(axis, degrees):
    return Rotation.from_euler(axis, degrees, degrees=True).as_quat().tolist()


def witness(here, upper, lower, up):
    """How far up, by a linear programme over the corners of both: one point of each on the same upright line."""
    across = [(up + 1) % 3, (up + 2) % 3]
    corners = []
    for object_id in (upper, lower):
        points, _ = here[object_id].solid.triangulated(up, 96)
        world_from_local = here.world_from_local(object_id)
        corners.append(points @ world_from_local[:3, :3].T + world_from_local[:3, 3])
    a, b = corners
    same_line = np.hstack((a[:, across].T, -b[:, across].T))
    sums = np.array([[1.0] * len(a) + [0.0] * len(b), [0.0] * len(a) + [1.0] * len(b)])
    found = linprog(
        np.concatenate((a[:, up], -b[:, up])), A_eq=np.vstack((same_line, sums)), b_eq=[0, 0, 1, 1], bounds=(0, None)
    )
    return None if found.status else -found.fun


@pytest.mark.parametrize("up", [1, 2])
@pytest.mark.parametrize(("upper", "lower"), some(itertools.product(CONVEX, CONVEX), 14))
def test_a_convex_solid_is_let_down_as_a_linear_programme_lets_it(upper, lower, up):
    random = np.random.default_rng(CONVEX.index(upper) * 16 + CONVEX.index(lower) * 2 + up)
    for _ in range(3):
        items = [
            {"id": i, "solid": solid, "translation": (random.normal(size=3) * 0.7).tolist(),
             "scale": random.uniform(0.5, 1.5, 3).tolist(), "rotation": Rotation.random(rng=random).as_quat().tolist()}
            for i, solid in (("a", upper), ("b", lower))
        ]  # fmt: skip
        here = scene(*items, up="yz"[up - 1])
        lift, expected = lift_onto(here, "a", "b"), witness(here, "a", "b", up)
        if expected is None:
            assert lift is None
        else:
            # 96 sides come within (π/96)² / 2 of a round side, which a steep contact makes a few times more.
            assert lift == pytest.approx(expected, abs=0.01 if {upper["kind"], lower["kind"]} & ROUND else 1e-9)


@pytest.mark.parametrize("kind", [solid["kind"] for solid in CONVEX if solid["kind"] != "plate"])
def test_triangles_are_let_down_as_the_solid_they_are_of(kind):
    solid = next(s for s in CONVEX if s["kind"] == kind)
    made = scene({"id": "a", "solid": solid})
    points, corners = made["a"].solid.triangulated(1, 96)
    mesh = {"kind": "mesh", "vertices": points.tolist(), "triangles": corners.tolist()}
    random = np.random.default_rng(5)
    for _ in range(6):
        place = {"translation": [*random.normal(size=3)], "rotation": Rotation.random(rng=random).as_quat().tolist()}
        below = {"id": "b", "solid": CONVEX[1], "rotation": Rotation.random(rng=random).as_quat().tolist()}
        exact, by_triangles = (
            lift_onto(scene({"id": "a", "solid": s, **place}, below), "a", "b") for s in (solid, mesh)
        )
        assert (exact is None) is (by_triangles is None)
        if exact is not None:
            assert by_triangles == pytest.approx(exact, abs=1e-2)  # 96 sides, as above


@pytest.mark.parametrize("up", ["y", "z"])
@pytest.mark.parametrize("degrees", some(range(0, 360, 15), 7))
def test_solids_that_overlap_by_rounding_only_stand_beside_each_other(degrees, up):
    """Blocks face to face and posts side to side, at every angle: more than OVER_TOL counts."""
    axis, along = [0.0, 1.0, 0.0] if up == "y" else [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]
    turn = Rotation.from_rotvec(np.multiply(axis, math.radians(degrees)))
    solids = {1.0: {"kind": "cuboid", "size": [1, 1, 1]}, 0.8: {"kind": "cylinder", "diameter": 0.8, "height": 1}}
    for (width, solid), overlap in itertools.product(solids.items(), (1e-6, 1.1e-9, 0.9e-9, 1e-12, 0.0, -1e-6)):
        place = turn.apply(along) * (width - overlap) + np.multiply(axis, 3)
        upper = {"id": "a", "solid": solid, "translation": place.tolist(), "rotation": turn.as_quat().tolist()}
        lower = {"id": "b", "solid": solid, "rotation": turn.as_quat().tolist()}
        lift = lift_onto(scene(upper, lower, up=up), "a", "b")
        assert lift == (pytest.approx(1 - 3, abs=1e-9) if overlap > OVER_TOL else None), (solid["kind"], overlap)


@pytest.mark.parametrize("up", ["y", "z"])
@pytest.mark.parametrize("below", [[], [{"id": "b", "solid": {"kind": "plate", "size": [9, 9]}}]])
def test_a_flat_plate_stands_without_any_tolerance(up, below):
    sheet = {"id": "a", "solid": {"kind": "plate", "size": [2, 1]}}
    assert tips(scene(sheet, *below, up=up), "a", 0.0) is None


def test_a_ball_rests_on_a_ball_where_their_centres_are_two_radii_apart():
    # Radii 1 and 0.5, the centres 0.9 aside: √(1.5² − 0.9²) = 1.2 apart along up.
    here = scene({"id": "a", "solid": {"kind": "sphere", "diameter": 1}, "translation": [0.9, 5, 0]},
                 {"id": "b", "solid": {"kind": "sphere", "diameter": 2}})  # fmt: skip
    assert lift_onto(here, "a", "b") == pytest.approx(1.2 - 5, abs=1e-12)
    beside = scene({"id": "a", "solid": {"kind": "sphere", "diameter": 1}, "translation": [1.51, 5, 0]},
                   {"id": "b", "solid": {"kind": "sphere", "diameter": 2}})  # fmt: skip
    assert lift_onto(beside, "a", "b") is None


def test_a_ball_sinks_into_a_bore_and_a_ring_lies_on_its_section():
    # A ball of radius 1 on a bore of radius 0.6 has its centre 0.8 above the rim, which is at 0.5.
    tube = {"id": "t", "solid": {"kind": "tube", "diameter": 2, "bore": 1.2, "height": 1}}
    ball = scene({"id": "a", "solid": {"kind": "sphere", "diameter": 2}, "translation": [0, 3, 0]}, tube)
    assert lift_onto(ball, "a", "t") == pytest.approx(1.3 - 3, abs=1e-3)  # 96 sides
    through = scene({"id": "a", "solid": {"kind": "sphere", "diameter": 1}, "translation": [0, 3, 0]}, tube)
    assert lift_onto(through, "a", "t") is None
    ring = scene(
        {"id": "a", "solid": {"kind": "ring", "diameter": 2, "thickness": 0.4}, "translation": [0, 1, 0]}, PLATE
    )
    assert lift_onto(ring, "a", "p") == pytest.approx(0.3 - 1, abs=1e-9)
    sunk = scene(
        {"id": "a", "solid": {"kind": "ring", "diameter": 2, "thickness": 0.4}, "translation": [0, 0.25, 0]}, PLATE
    )
    assert lift_onto(sunk, "a", "p") == pytest.approx(0.05, abs=1e-6)


def test_an_assembly_comes_down_until_the_first_of_its_solids_meets_one():
    # Legs with their bases at 2.5 and 2.3, over blocks with their tops at 0.5 and 1.5: the second is on after 0.8.
    places = {"left leg": (-1, 3), "right leg": (1, 2.8), "low block": (-1, 0), "high block": (1, 1)}
    whole = [{"id": "trestle"}, {"id": "step"}]
    parts = [
        {"id": i, "parent": "trestle" if "leg" in i else "step", "solid": CRATE, "translation": [x, y, 0]}
        for i, (x, y) in places.items()
    ]
    assert lift_onto(scene(*whole, *parts), "trestle", "step") == pytest.approx(-0.8, abs=1e-12)


def tray():
    """A tray as a mesh: a floor with its top at 0.1, two walls up to 1 along Z, open at both ends."""
    profile = [(-2, 0), (2, 0), (2, 1), (1.8, 1), (1.8, 0.1), (-1.8, 0.1), (-1.8, 1), (-2, 1)]
    vertices = [[float(x), float(y), z] for z in (-2.0, 2.0) for x, y in profile]
    quads = [(i, (i + 1) % 8, 8 + (i + 1) % 8, 8 + i) for i in range(8)]
    ends = [(0, 1, 4), (1, 2, 3), (1, 3, 4), (0, 4, 5), (0, 5, 7), (5, 6, 7)]
    triangles = [t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))]
    triangles += [tuple(8 * end + i for i in t) for end in (0, 1) for t in ends]
    return {"id": "t", "name": "Tray", "solid": {"kind": "mesh", "vertices": vertices, "triangles": triangles}}


@pytest.mark.parametrize(
    ("height", "lift"), [(0.6, 0.0), (0.9, -0.3), (0.55, 0.05), (3.0, -2.4)], ids=["lies", "above", "sunk", "high"]
)
def test_a_crate_in_a_tray_meets_its_floor_not_the_height_of_its_walls(height, lift):
    here = scene({"id": "a", "solid": CRATE, "translation": [0, height, 0]}, tray())
    assert lift_onto(here, "a", "t") == pytest.approx(lift, abs=1e-9)


def judged(here, **check):
    made = CHECK.validate_python({"id": "c", "kind": "relation", "object": "a", "tolerance": 0.01, **check})
    return made.judge(Case(here, here))


def on_plate(x=0.0, y=0.6, solid=CRATE, plate=None, **more):
    return scene({"id": "a", "name": "Crate", "solid": solid, "translation": [x, y, 0], **more}, plate or PLATE)


def test_over_the_corner_of_a_turned_plates_world_box_nothing_rests():
    turned_plate = {**PLATE, "rotation": turned("y", 45)}
    # The plate's corner lies 2.83 along X; at (2.2, 2.2) its world box is below, the plate itself is not.
    aside = scene({"id": "a", "solid": CRATE, "translation": [2.2, 0.6, 2.2]}, turned_plate)
    result = judged(aside, relation="rests_on", other="p")
    assert (result.verdict, result.difference) == ("fail", None)
    assert judged(on_plate(plate=turned_plate), relation="rests_on", other="p").verdict == "pass"


def test_an_object_flat_on_a_slope_rests_on_it():
    slope = {"id": "p", "name": "Slope", "solid": {"kind": "wedge", "size": [4, 3, 2]}}
    # The slope's normal is (3, 4) / 5; a crate of 1 turned to lie on it has its centre half a metre off the surface.
    down = -math.degrees(math.atan2(3, 4))
    on_it = scene({"id": "a", "solid": CRATE, "translation": [0.3, 0.4, 0], "rotation": turned("z", down)}, slope)
    result = judged(on_it, relation="rests_on", other="p", stable=True)
    assert (result.verdict, result.difference) == ("pass", pytest.approx(0, abs=1e-12))
    # Let down by 0.2 it would lie as it did: along up, the distance is the same as how far it was lifted.
    above = scene({"id": "a", "solid": CRATE, "translation": [0.3, 0.6, 0], "rotation": turned("z", down)}, slope)
    assert judged(above, relation="rests_on", other="p").difference == pytest.approx(0.2, abs=1e-12)


def test_an_object_with_nine_tenths_over_an_edge_tips():
    # The plate ends at 2; a crate of 1 at 2.4 hangs over by 0.9, with its centre 0.4 beyond the edge.
    over = on_plate(x=2.4)
    assert judged(over, relation="rests_on", other="p").verdict == "pass"
    result = judged(over, relation="rests_on", other="p", stable=True)
    assert (result.verdict, result.difference) == ("fail", pytest.approx(0, abs=1e-12))
    assert "would tip over towards +X, with its centre 0.4 m beyond the edge" in result.text
    assert judged(on_plate(x=1.99), relation="rests_on", other="p", stable=True).verdict == "pass"
    assert judged(on_plate(x=2.01), relation="rests_on", other="p", stable=True).verdict == "fail"


def test_tipping_at_a_corner_names_both_axes():
    corner = scene({"id": "a", "solid": CRATE, "translation": [-2.3, 0.6, 2.3]}, PLATE)
    tip = tips(corner, "a", 0.01)
    assert tip is not None
    assert tip.beyond == pytest.approx(0.3 * 2**0.5, abs=1e-6)
    text = judged(corner, relation="rests_on", other="p", stable=True).text
    assert "towards −X and +Z" in text or "towards +Z and −X" in text


def test_an_object_supported_from_elsewhere_does_not_tip():
    # A plank over the plate's edge stands on a post of the same height beside it, whatever that belongs to.
    plank = {"id": "a", "solid": {"kind": "cuboid", "size": [4, 0.2, 1]}, "translation": [2.5, 0.2, 0]}
    post = {"id": "q", "solid": {"kind": "cylinder", "diameter": 0.4, "height": 0.2}, "translation": [4, 0, 0]}
    assert judged(scene(plank, PLATE), relation="rests_on", other="p", stable=True).verdict == "fail"
    assert judged(scene(plank, PLATE, post), relation="rests_on", other="p", stable=True).verdict == "pass"
    assert (
        judged(scene(plank, PLATE, {**post, "parent": "p"}), relation="rests_on", other="p", stable=True).verdict
        == "pass"
    )


def test_children_weigh_too():
    # A light rod hangs over the edge with its end; a crate nested on its other end holds it down.
    rod = {"id": "a", "solid": {"kind": "cuboid", "size": [3, 0.2, 0.2]}, "translation": [2.2, 0.2, 0]}
    load = {"id": "b", "parent": "a", "solid": CRATE, "translation": [-1, 0.6, 0]}
    assert tips(scene(rod, PLATE), "a", 0.01) is not None
    assert tips(scene(rod, load, PLATE), "a", 0.01) is None


@pytest.mark.parametrize(
    ("solid", "stands"),
    [
        (
            {"kind": "wedge", "size": [3, 3, 1]},
            False,
        ),  # its centre is a third from the upright side, 0.5 from the middle
        ({"kind": "cuboid", "size": [3, 3, 1]}, True),
    ],
    ids=["wedge", "cuboid"],
)
def test_it_is_the_centre_of_volume_that_counts(solid, stands):
    # Over a plate that begins at 0 and goes on to +X; the middle of the box is at 0.2, that of the wedge at −0.3.
    plate = {"id": "p", "solid": {"kind": "cuboid", "size": [4, 0.2, 4]}, "translation": [2, 0, 0]}
    here = scene({"id": "a", "solid": solid, "translation": [0.2, 1.6, 0]}, plate)
    assert (tips(here, "a", 0.01) is None) is stands


@pytest.mark.parametrize("solid", [s for s in CONVEX if s["kind"] in ("cuboid", "cylinder", "cone", "pyramid")])
def test_on_the_ground_a_base_stands_and_an_edge_does_not(solid):
    upright = scene({"id": "a", "solid": solid})
    low = float(upright.require_box("a", np.eye(4)).least[1])
    assert tips(scene({"id": "a", "solid": solid, "translation": [3, -low, 1]}), "a", 0.001) is None
    tilted = scene({"id": "a", "solid": solid, "rotation": turned("z", 20)})
    low = float(tilted.require_box("a", np.eye(4)).least[1])
    assert tips(
        scene({"id": "a", "solid": solid, "rotation": turned("z", 20), "translation": [0, -low, 0]}), "a", 0.001
    )


def test_up_along_z_is_the_same():
    plate = {"id": "p", "solid": {"kind": "cuboid", "size": [4, 4, 0.2]}}
    here = scene({"id": "a", "solid": CRATE, "translation": [0, -2.4, 0.6]}, plate, up="z")
    assert lift_onto(here, "a", "p") == pytest.approx(0, abs=1e-12)
    assert "towards −Y, with its centre 0.4 m" in judged(here, relation="rests_on", other="p", stable=True).text


def test_an_assembly_rests_by_the_solids_in_it():
    legs = [{"id": f"l{x}", "parent": "a", "solid": CRATE, "translation": [x, 0.6, 0]} for x in (-1, 1)]
    here = scene({"id": "a"}, *legs, PLATE)
    assert judged(here, relation="rests_on", other="p", stable=True).verdict == "pass"


@pytest.mark.parametrize(
    ("solid", "up"),
    [
        (solid, up)
        for up in (1, 2)
        for solid in (
            Cuboid(size=(1, 2, 3)), Wedge(size=(1, 2, 3)), Pyramid(size=(1, 2, 3)), Sphere(diameter=2),
            Cylinder(diameter=1, height=3), Cone(diameter=2, height=3), Tube(diameter=2, bore=1, height=3),
            Ring(diameter=3, thickness=0.5),
        )
    ],
    ids=lambda value: getattr(value, "kind", "yz"[value - 1] if isinstance(value, int) else value),
)  # fmt: skip
def test_the_centre_of_volume_is_that_of_the_triangles(solid, up):
    points, corners = solid.triangulated(up, 240)
    mesh = Mesh(vertices=tuple(map(tuple, (points + 5).tolist())), triangles=tuple(map(tuple, corners.tolist())))
    # Source for the mesh: the divergence theorem; for the solid: the formulas named beside it.
    assert mesh.centroid(up) - 5 == pytest.approx(solid.centroid(up), abs=1e-3)


def test_a_flat_mesh_has_the_mean_of_its_corners():
    flat = Mesh(vertices=((0, 0, 0), (2, 0, 0), (2, 0, 2), (0, 0, 2)), triangles=((0, 1, 2), (0, 2, 3)))
    assert flat.centroid(1) == pytest.approx([1, 0, 1])
    assert Plate(size=(1, 2)).centroid(1) == pytest.approx([0, 0, 0])


@pytest.mark.parametrize(
    ("places", "spacing", "off"),
    [
        ([(0, 0, 0), (1, 0, 0), (2, 0, 0)], None, 0.0),
        ([(0, 0, 0), (1.1, 0, 0), (2, 0, 0)], None, 0.1),  # steps of 1.1 and 0.9 about a mean of 1
        ([(0, 0, 0), (1, 0, 0), (0.5, 0.75**0.5, 0)], None, 0.75**0.5),  # a triangle of equal sides is no row
        ([(0, 0, 0), (1, 0.2, 0), (2, 0, 0)], None, 0.2),
        ([(0, 0, 0), (1, 0, 0), (2, 0, 0)], 1.5, 0.5),
        ([(0, 0, 0), (1, 0, 0), (0, 0, 0)], None, 1.0),  # there and back again
        ([(0, 0, 0), (1, 0, 0), (2, 0, 0), (1, 0, 0)], None, 4 / 3),  # steps of 1, 1 and −1 about a mean of 1/3
    ],
)
def test_a_row_is_straight_even_and_in_order(places, spacing, off):
    assert off_row(np.array(places, dtype=float), spacing) == pytest.approx(off, abs=1e-12)


def test_a_row_may_be_told_how_far_apart():
    here = scene(*({"id": i, "solid": CRATE, "translation": [2.0 * n, 0, 0]} for n, i in enumerate("abc")))
    assert judged(here, object=list("abc"), relation="row", spacing=2).verdict == "pass"
    assert judged(here, object=list("abc"), relation="row", spacing=1.5).difference == pytest.approx(0.5)


@pytest.mark.parametrize(
    "check", [{"relation": "touches", "other": "p", "stable": True}, {"relation": "gap", "other": "p", "distance": 1, "spacing": 1}]
)  # fmt: skip
def test_parameters_that_do_not_fit_a_relation_are_refused(check):
    with pytest.raises(ValidationError, match="goes with"):
        CHECK.validate_python({"id": "c", "kind": "relation", "object": "a", "tolerance": 0.01, **check})


def test_two_rings_are_let_down_onto_each_other_by_all_their_triangles():
    # The upper ring stands on edge across the lower one, its section's lowest point over the lower one's highest:
    # 1 down to where it meets it, as their sections are 0.4 thick and it hangs 1 below its centre.
    rings = [
        {"id": "a", "solid": {"kind": "ring", "diameter": 2, "thickness": 0.4}, "translation": [0.8, 2.2, 0],
         "rotation": turned("z", 90)},
        {"id": "b", "solid": {"kind": "ring", "diameter": 2, "thickness": 0.4}},
    ]  # fmt: skip
    assert lift_onto(scene(*rings), "a", "b") == pytest.approx(-1, abs=1e-3)


def roof(ridge, mirrored):
    """A mesh that is no convex solid to the program: a roof of two slopes, its ridge along Z and 1 high."""
    side = -1.0 if mirrored else 1.0
    corners = [[-1, 0, -2], [-1, 0, 2], [1, 0, -2], [1, 0, 2], [0, 1, -2], [0, 1, 2]]
    return {
        "kind": "mesh",
        "vertices": [[x * side, y * ridge, z] for x, y, z in corners],
        "triangles": [[0, 1, 5], [0, 5, 4], [2, 4, 5], [2, 5, 3]],
    }


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("degrees", [90, -90, 35, -35, 145])
def test_a_ridge_comes_down_on_a_ridge_that_it_crosses(degrees, mirrored):
    # Upside down, so that its ridge is 1 below it; over the other's, which is 1 high: they cross at one point alone.
    here = scene(
        {"id": "u", "solid": roof(-1, mirrored), "translation": [0.1, 5, -0.2], "rotation": turned("y", degrees)},
        {"id": "l", "solid": roof(1, not mirrored)},
    )
    assert lift_onto(here, "u", "l") == pytest.approx(1 + 1 - 5, abs=1e-9)


@pytest.mark.parametrize("turned_round", [False, True])
@pytest.mark.parametrize("other_round", [False, True])
def test_a_blade_comes_down_on_the_edge_of_a_blade(turned_round, other_round):
    # Two single triangles that stand on edge: the lower edge of one, along X, across the upper edge of the other, along Z.
    def blade(corners, again):
        return {"kind": "mesh", "vertices": corners, "triangles": [[0, 2, 1] if again else [0, 1, 2]]}

    here = scene(
        {"id": "u", "solid": blade([[-1, 0, 0], [1, 0, 0], [0, 1, 0]], turned_round), "translation": [0.1, 3, 0.2]},
        {"id": "l", "solid": blade([[0, 0, -1], [0, 0, 1], [0, -1, 0]], other_round)},
    )
    assert lift_onto(here, "u", "l") == pytest.approx(-3, abs=1e-9)


BLOCK_OF_TRIANGLES = {
    "kind": "mesh",
    "vertices": [[x, y, z] for x in (-0.5, 0.5) for y in (-0.5, 0.5) for z in (-0.5, 0.5)],
    "triangles": [
        [0, 1, 3], [0, 3, 2], [4, 6, 7], [4, 7, 5], [0, 4, 5], [0, 5, 1], [2, 3, 7], [2, 7, 6], [0, 2, 6], [0, 6, 4], [1, 5, 7],
        [1, 7, 3],
    ],
}  # fmt: skip


@pytest.mark.parametrize("x", [0.0, 1.8, 1.99, 2.01, 2.2, 2.45])
@pytest.mark.parametrize("degrees", [0, 30])
def test_a_block_of_triangles_tips_as_the_same_block_does(x, degrees):
    places = {"translation": [x, 0.6, 0.3], "rotation": turned("y", degrees)}
    both = [
        tips(scene({"id": "c", "solid": solid, **places}, PLATE), "c", 0.01) for solid in (BLOCK_OF_TRIANGLES, CRATE)
    ]
    assert (both[0] is None) == (both[1] is None) == (x < 2)
    if both[0] is not None and both[1] is not None:
        assert both[0].beyond == pytest.approx(both[1].beyond, abs=1e-6)
        assert both[0].direction_world == pytest.approx(both[1].direction_world, abs=1e-6)


def test_an_object_slightly_above_its_support_earns_partial_points_and_does_not_tip():
    result = judged(on_plate(y=0.615), relation="rests_on", other="p", stable=True, zero_at=3, points=4)
    assert (result.verdict, result.points) == ("near", pytest.approx(3))
    assert "off by 0.015 m" in result.text


def test_on_an_edge_as_thin_as_nothing_it_would_tip_any_way():
    upright = {"id": "p", "name": "Plate", "solid": {"kind": "plate", "size": [4, 4]}, "rotation": turned("x", 90)}
    result = judged(on_plate(y=2.5, plate=upright), relation="rests_on", other="p", stable=True)
    assert (result.verdict, result.difference) == ("fail", pytest.approx(0, abs=1e-12))
    assert "nothing below is wide enough to support it" in result.text


@pytest.mark.parametrize(("x", "way", "beyond"), [(1.9, None, 0), (2.4, "+X", 0.4), (-1.9, None, 0), (-2.4, "−X", 0.4)])
def test_an_object_on_its_edge_stands_if_the_edge_is_supported(x, way, beyond):
    upright = {"kind": "plate", "size": [4, 2]}
    here = on_plate(x, 1.1, upright, rotation=turned("x", 90))
    result = judged(here, relation="rests_on", other="p", stable=True)
    assert result.verdict == ("pass" if way is None else "fail")
    if way is not None:
        assert f"would tip over towards {way}, with its centre {beyond} m beyond the edge" in result.text
