"""Closest points against coal, and areas, volumes and triangles against trimesh."""

import coal
import numpy as np
import pytest
import trimesh
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Pyramid, Ring, Sphere, Tube, Wedge
from cubedrill.core.scene.measure import closest
from tests.core.build import scene

RANDOM = np.random.default_rng(5)
# coal's cylinders and cones lie along Z: z-up conventions.
SOLIDS = {
    "cuboid": ({"kind": "cuboid", "size": [1, 2, 1.5]}, coal.Box(1, 2, 1.5)),
    "sphere": ({"kind": "sphere", "diameter": 1.3}, coal.Sphere(0.65)),
    "cylinder": ({"kind": "cylinder", "diameter": 1, "height": 2}, coal.Cylinder(0.5, 2)),
    "cone": ({"kind": "cone", "diameter": 1.2, "height": 1.4}, coal.Cone(0.6, 1.4)),
}


@pytest.mark.parametrize("first", SOLIDS)
@pytest.mark.parametrize("second", SOLIDS)
def test_distances_of_convex_solids(first, second):
    request = coal.DistanceRequest()
    request.gjk_tolerance = request.epa_tolerance = 1e-8
    for _ in range(12):
        turns, places = Rotation.random(2, rng=RANDOM), RANDOM.uniform(-2.5, 2.5, (2, 3))
        objects = [
            {"id": i, "solid": SOLIDS[kind][0], "rotation": q.tolist(), "translation": p.tolist()}
            for i, kind, q, p in zip("ab", (first, second), turns.as_quat(), places, strict=True)
        ]
        frames = [coal.Transform3s(m, p) for m, p in zip(turns.as_matrix(), places, strict=True)]
        theirs = coal.distance(
            SOLIDS[first][1], frames[0], SOLIDS[second][1], frames[1], request, coal.DistanceResult()
        )
        # coal is at most 7e-7 off with these tolerances; it counts overlaps below zero, where ours is 0.
        assert closest(scene(*objects, up="z"), "a", "b").distance == pytest.approx(max(theirs, 0), abs=1e-6)


@pytest.mark.parametrize(
    "solid",
    [Cuboid(size=(1, 2, 3)), Wedge(size=(1, 2, 3)), Pyramid(size=(1, 2, 3)), Sphere(diameter=2), Cylinder(diameter=1, height=2), Cone(diameter=2, height=1), Tube(diameter=2, bore=1, height=1), Ring(diameter=4, thickness=1)],
)  # fmt: skip
@pytest.mark.parametrize("up", [1, 2])
def test_area_and_volume_under_an_affine_map(solid, up):
    linear = RANDOM.normal(size=(3, 3))
    linear *= np.sign(np.linalg.det(linear))
    points, corners = solid.triangulated(up, 400)
    mesh = trimesh.Trimesh(points @ linear.T, corners)
    assert mesh.is_watertight
    # 400 sides leave about (π/400)² / 2 = 3e-5 of a round solid out.
    assert mesh.volume == pytest.approx(solid.volume(linear), rel=2e-4)
    assert mesh.area == pytest.approx(solid.area(up, linear), rel=2e-4)
