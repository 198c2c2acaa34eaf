"""Boxes and feature points of solids; exact boxes against clouds of surface points."""

import numpy as np
import pytest
from hypothesis import given
from pydantic import TypeAdapter, ValidationError

from cubedrill.core.geometry.box import is_feature
from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Plate, Pyramid, Ring, Solid, Sphere, Tube, Wedge
from cubedrill.core.geometry.transform import parent_from_parts
from tests.core.strategies import factors, rotations, solids, triples, ups

AROUND = np.linspace(0, 2 * np.pi, 721)


@pytest.mark.parametrize(
    ("solid", "up", "size"),
    [
        (Cuboid(size=(1, 2, 3)), 1, (1, 2, 3)),
        (Wedge(size=(1, 2, 3)), 1, (1, 2, 3)),
        (Pyramid(size=(1, 2, 3)), 2, (1, 2, 3)),
        (Sphere(diameter=4), 1, (4, 4, 4)),
        (Cylinder(diameter=2, height=5), 1, (2, 5, 2)),
        (Cylinder(diameter=2, height=5), 2, (2, 2, 5)),
        (Cone(diameter=2, height=5), 2, (2, 2, 5)),
        (Tube(diameter=2, bore=1, height=5), 1, (2, 5, 2)),
        (Ring(diameter=6, thickness=1), 1, (6, 1, 6)),
        (Ring(diameter=6, thickness=1), 2, (6, 6, 1)),
        (Plate(size=(3, 4)), 1, (3, 0, 4)),
        (Plate(size=(3, 4)), 2, (3, 4, 0)),
    ],
)
def test_every_solid_is_centred_on_its_box(solid, up, size):
    box = solid.local_box(up)
    assert box.most - box.least == pytest.approx(np.array(size))
    assert box.centre == pytest.approx(np.zeros(3), abs=1e-12)


def test_feature_points_are_named_by_signs():
    box = Cuboid(size=(2, 4, 6)).local_box(1)
    assert box.feature("centre").tolist() == [0, 0, 0]
    assert box.feature("+x").tolist() == [1, 0, 0]
    assert box.feature("+x-y").tolist() == [1, -2, 0]
    assert box.feature("-x+y-z").tolist() == [-1, 2, -3]


@pytest.mark.parametrize("name", ["", "x", "+w", "+x+x", "+y+x", "pivot", "+x "])
def test_other_words_are_no_feature_points(name):
    assert not is_feature(name)


def test_a_wedge_has_its_thin_edge_at_plus_x_below():
    corners = {tuple(corner) for corner in Wedge(size=(2, 2, 2)).corner_points(1)}
    assert corners == {(-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (-1, 1, -1), (-1, 1, 1)}


def test_a_pyramid_stands_along_z_where_z_is_up():
    corners = {tuple(corner) for corner in Pyramid(size=(2, 4, 6)).corner_points(2)}
    assert (0, 0, 3) in corners
    assert len([corner for corner in corners if corner[2] == -3]) == 4


def surface(solid: Solid, up: int) -> np.ndarray:
    """Points on a round solid, made from its equation, up last and then put in its place."""
    cos, sin = np.cos(AROUND), np.sin(AROUND)
    match solid:
        case Sphere():
            turn = np.linspace(0, np.pi, 361)[:, None]
            points = [np.sin(turn) * cos, np.sin(turn) * sin, np.cos(turn) * np.ones_like(cos)]
            cloud = np.stack(points, axis=-1).reshape(-1, 3) * solid.diameter / 2
        case Cylinder() | Tube():
            rim = np.stack([cos, sin, 0 * cos], axis=-1) * solid.diameter / 2
            cloud = np.concatenate([rim + [0, 0, solid.height / 2], rim - [0, 0, solid.height / 2]])
        case Cone():
            rim = np.stack([cos, sin, 0 * cos], axis=-1) * solid.diameter / 2 - [0, 0, solid.height / 2]
            cloud = np.concatenate([rim, [[0, 0, solid.height / 2]]])
        case Ring():
            tube = np.linspace(0, 2 * np.pi, 181)[:, None]
            reach = (solid.diameter - solid.thickness) / 2 + np.cos(tube) * solid.thickness / 2
            points = [reach * cos, reach * sin, np.sin(tube) * solid.thickness / 2 * np.ones_like(cos)]
            cloud = np.stack(points, axis=-1).reshape(-1, 3)
        case _:
            raise AssertionError(solid.kind)
    return cloud if up == 2 else cloud[:, [0, 2, 1]]


ROUND = [
    Sphere(diameter=2),
    Cylinder(diameter=2, height=3),
    Cone(diameter=2, height=3),
    Tube(diameter=2, bore=1, height=0.5),
    Ring(diameter=4, thickness=1),
]


@pytest.mark.parametrize("solid", ROUND, ids=lambda solid: solid.kind)
@pytest.mark.parametrize("up", [1, 2])
def test_boxes_of_round_solids_are_exact_under_any_affine_map(solid, up):
    world_from_local = np.eye(4)
    world_from_local[:3, :3] = [[1.2, 0.7, -0.3], [-0.4, 0.9, 0.8], [0.1, -1.5, 0.6]]  # turned, scaled and skewed
    world_from_local[:3, 3] = [5, -6, 7]
    cloud = surface(solid, up) @ world_from_local[:3, :3].T + world_from_local[:3, 3]
    box = solid.box_under(up, world_from_local)
    reach = float(np.abs(cloud).max())
    # The cloud has gaps of half a degree: it falls short of the true surface by at most 1e-5 of the size.
    assert box.least == pytest.approx(cloud.min(axis=0), abs=2e-5 * reach)
    assert box.most == pytest.approx(cloud.max(axis=0), abs=2e-5 * reach)
    assert (box.least <= cloud.min(axis=0) + 1e-12).all()
    assert (box.most >= cloud.max(axis=0) - 1e-12).all()


@given(solids(), ups, rotations(), triples, factors)
def test_the_box_of_a_solid_grows_with_it_and_moves_with_it(solid, up, rotation, translation, factor):
    here = solid.box_under(up, parent_from_parts(np.zeros(3), rotation, np.ones(3)))
    there = solid.box_under(up, parent_from_parts(np.array(translation), rotation, np.full(3, factor)))
    assert there.least == pytest.approx(here.least * factor + np.array(translation), rel=1e-9, abs=1e-9)
    assert there.most == pytest.approx(here.most * factor + np.array(translation), rel=1e-9, abs=1e-9)


@pytest.mark.parametrize(
    "solid",
    [
        {"kind": "cuboid", "size": [1, 0, 1]},
        {"kind": "tube", "diameter": 1, "bore": 1, "height": 1},
        {"kind": "ring", "diameter": 2, "thickness": 1},
        {"kind": "mesh", "vertices": [[0, 0, 0]], "triangles": [[0, 0, 1]]},
        {"kind": "sphere", "diameter": 1, "height": 2},
        {"kind": "blob"},
    ],
)
def test_solids_that_cannot_be_are_refused(solid):
    with pytest.raises(ValidationError):
        TypeAdapter(Solid).validate_python(solid)
