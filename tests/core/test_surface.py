"""Areas and volumes against closed formulas, laws under affine maps, and triangles that close."""

import math

import numpy as np
import pytest
from hypothesis import given

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Mesh, Plate, Pyramid, Ring, Sphere, Tube, Wedge
from tests.core.strategies import rotations, solids, ups

I = np.eye(3)  # noqa: E741
PI = math.pi


@pytest.mark.parametrize(
    ("solid", "surface", "content"),
    [
        # From memory: the formulas of elementary solids as taught at school; of the ring, Pappus's theorems.
        (Cuboid(size=(1, 2, 3)), 22, 6),
        (Wedge(size=(3, 4, 2)), 2 * 6 + (3 + 4 + 5) * 2, 12),
        (Pyramid(size=(6, 4, 6)), 36 + 4 * 0.5 * 6 * 5, 48),  # each side 6 wide, 5 along its slope
        (Sphere(diameter=2), 4 * PI, 4 / 3 * PI),
        (Cylinder(diameter=2, height=3), 2 * PI * 3 + 2 * PI, 3 * PI),
        (Cone(diameter=6, height=4), PI * 3 * 5 + PI * 9, 12 * PI),
        (Tube(diameter=4, bore=2, height=5), 2 * PI * (2 + 1) * 5 + 2 * PI * (4 - 1), PI * (4 - 1) * 5),
        (Ring(diameter=4, thickness=1), 4 * PI**2 * 1.5 * 0.5, 2 * PI**2 * 1.5 * 0.25),
        (Plate(size=(2, 3)), 6, 0),
    ],
)
@pytest.mark.parametrize("up", [1, 2])
def test_elementary_solids_have_the_area_and_volume_of_their_formulas(solid, surface, content, up):
    if up == 2 and isinstance(solid, Wedge | Pyramid):
        x, y, z = solid.size
        solid = type(solid)(size=(x, z, y))
    assert solid.area(up, I) == pytest.approx(surface, rel=1e-13)
    assert solid.volume(I) == pytest.approx(content, rel=1e-13)


def test_an_ellipsoid_against_its_closed_form():
    # From memory: a prolate spheroid of semi-axes 1, 1, c has 2π (1 + c / e · asin e), e² = 1 − 1/c².
    c = 3.0
    e = math.sqrt(1 - 1 / c**2)
    assert Sphere(diameter=2).area(1, np.diag([1, 1, c])) == pytest.approx(
        2 * PI * (1 + c / e * math.asin(e)), rel=1e-13
    )


def test_an_oblique_cylinder_against_its_closed_form():
    # Sheared along X by the height: the wall is height × perimeter of the section square to the axis, an ellipse.
    shear = np.array([[1, 1, 0], [0, 1, 0], [0, 0, 1.0]])
    a, b = 1.0, math.cos(PI / 4)
    ellipse = np.hypot(a * np.sin(t := np.linspace(0, 2 * PI, 20001)[:-1]), b * np.cos(t)).mean() * 2 * PI
    wall = ellipse * 3 / math.cos(PI / 4)
    assert Cylinder(diameter=2, height=3).area(1, shear) == pytest.approx(wall + 2 * PI, rel=1e-12)


@given(solids(), ups, rotations())
def test_a_turn_changes_no_area_and_no_volume(solid, up, rotation):
    assert solid.area(up, rotation) == pytest.approx(solid.area(up, I), rel=1e-9)
    assert solid.volume(rotation) == pytest.approx(solid.volume(I), rel=1e-9)


@given(solids(), ups)
def test_twice_the_size_is_four_times_the_area_and_eight_times_the_volume(solid, up):
    assert solid.area(up, 2 * I) == pytest.approx(4 * solid.area(up, I), rel=1e-12)
    assert solid.volume(2 * I) == pytest.approx(8 * solid.volume(I), rel=1e-12)


@given(solids(), ups)
def test_triangles_reach_to_the_local_box_and_no_further(solid, up):
    points, corners = solid.triangulated(up, 40)
    box = solid.local_box(up)
    assert points.min(axis=0) == pytest.approx(box.least, abs=1e-9)
    assert points.max(axis=0) == pytest.approx(box.most, abs=1e-9)
    assert corners.max() < len(points)


@pytest.mark.parametrize("up", [1, 2])
@pytest.mark.parametrize("sides", [3, 20])
@pytest.mark.parametrize(
    "solid",
    [Cuboid(size=(1, 2, 3)), Wedge(size=(1, 2, 3)), Pyramid(size=(1, 2, 3)), Sphere(diameter=2), Cylinder(diameter=1, height=2), Cone(diameter=1, height=2), Tube(diameter=2, bore=1, height=1), Ring(diameter=4, thickness=1)],
)  # fmt: skip
def test_triangles_close_the_solid_with_their_fronts_outside(solid, sides, up):
    points, corners = solid.triangulated(up, sides)
    merged = {tuple(np.round(p, 9) + 0.0) for p in points}
    assert len(merged) == len(points)  # no vertex twice
    number = {p: i for i, p in enumerate(sorted(merged))}
    faces = [[number[tuple(np.round(points[i], 9) + 0.0)] for i in corner] for corner in corners]
    edges = [(f[i], f[(i + 1) % 3]) for f in faces for i in range(3)]
    assert sorted(edges) == sorted((b, a) for a, b in edges)  # each edge is run once each way: closed, one sense
    mesh = Mesh(vertices=tuple(map(tuple, points.tolist())), triangles=tuple(map(tuple, corners.tolist())))
    a, b, c = np.moveaxis(points[corners], 1, 0)
    assert np.einsum("ij,ij->", a, np.cross(b, c)) > 0  # fronts outside
    assert mesh.volume(I) <= solid.volume(I) * (1 + 1e-12)


def test_a_round_solid_has_20_sides_by_default():
    # Common practice, no source.
    assert len(Cone(diameter=1, height=1).triangulated(1)[0]) == 20 + 2


def test_fewer_than_three_sides_are_refused():
    with pytest.raises(CoreError, match="at least 3 sides"):
        Sphere(diameter=1).triangulated(1, 2)


@pytest.mark.parametrize("solid", [Cuboid(size=(1, 2, 3)), Wedge(size=(3, 4, 2)), Pyramid(size=(6, 4, 6))])
@pytest.mark.parametrize("up", [1, 2])
def test_triangles_hold_as_much_as_the_solid_they_are_of_wherever_they_lie(solid, up):
    points, corners = solid.triangulated(up)
    for aside in ((0, 0, 0), (50, -7, 9)):
        mesh = Mesh(
            vertices=tuple(map(tuple, (points + aside).tolist())), triangles=tuple(map(tuple, corners.tolist()))
        )
        assert mesh.volume(I) == pytest.approx(solid.volume(I), rel=1e-12)
        assert mesh.volume(np.diag([2.0, 1.0, -3.0])) == pytest.approx(6 * solid.volume(I), rel=1e-12)
        assert mesh.area(up, I) == pytest.approx(solid.area(up, I), rel=1e-12)
