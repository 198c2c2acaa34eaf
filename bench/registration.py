"""Are solids found again in meshes that were made anew? All solids, unevenly scaled, mirrored, turned, in 32 bits.

Their vertices are split, sorted anyhow and added to, round ones have any number of sides; and in every fifth case a
vertex was moved, so that the shape is another and nothing may be found. Aims: all found, none of the others taken.

Run: ./run bench registration [cases] [seed]
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from typing import Final

import numpy as np
from rich.progress import track
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.registration import maps_onto
from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Plate, Pyramid, Ring, Solid, Sphere, Tube, Wedge
from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.values import Array, Indices

CASES, SEED = 5000, 1
NEAR: Final = 1e-3  # of the size: how far a corner may come out
SOLIDS: tuple[Solid, ...] = (
    Cuboid(size=(1, 2, 3)), Cuboid(size=(1, 1, 1)), Wedge(size=(4, 1, 2)), Pyramid(size=(2, 3, 2)), Sphere(diameter=2),
    Cylinder(diameter=1, height=3), Cone(diameter=2, height=1), Tube(diameter=2, bore=1, height=1), Plate(size=(2, 1)),
    Ring(diameter=4, thickness=1),
)  # fmt: skip


def made_anew(points: Array, corners: Indices, added: int, rng: np.random.Generator) -> tuple[Array, Indices]:
    """A mesh with points added on its edges, each corner of a triangle a vertex of its own, in any order."""
    places, triangles = list(points), [tuple(each) for each in corners.tolist()]
    for _ in range(added):
        a, b, c = triangles.pop(int(rng.integers(len(triangles))))
        share = rng.uniform(0.1, 0.9)
        places.append(places[a] * share + places[b] * (1 - share))
        triangles += [(a, len(places) - 1, c), (len(places) - 1, b, c)]
    split = np.array(places)[np.array(triangles)].reshape(-1, 3)
    order = rng.permutation(len(split))
    return split[order], np.argsort(order)[np.arange(len(split))].reshape(-1, 3)


def case(solid: Solid, wrong: bool, rng: np.random.Generator) -> tuple[Array, Indices, Array]:
    """A mesh of a solid somewhere, and where it is."""
    place = Rotation.random(rng=rng).as_matrix() * (rng.uniform(0.3, 3, 3) * rng.choice([1.0, -1.0], 3))
    world_from_local = affine(place, rng.uniform(-20, 20, 3))
    is_round = isinstance(solid, Cylinder | Cone | Tube | Ring)
    points, corners = solid.triangulated(1, int(rng.integers(5, 50))) if is_round else solid.triangulated(1)
    if wrong:
        points = points.copy()
        # One at the foot: a moved tip only makes a cone or a pyramid a slanted one, which a map can do too.
        points[points[:, 1].argmin()] += rng.choice([-1.0, 1.0]) * np.array((0.3, 0.2, 0.25))
    points, corners = made_anew(points, corners, 0 if isinstance(solid, Sphere | Ring) else 5, rng)
    return mapped(world_from_local, points).astype(np.float32).astype(np.float64), corners, world_from_local


def is_found(solid: Solid, maps: list[Array], wanted: Array) -> bool:
    """Tell whether one of the maps is the one wanted; but for the turn of a ball or ring, which nobody knows."""
    if isinstance(solid, Sphere | Ring):
        maps, wanted = [_but_for_turns(solid, each) for each in maps], _but_for_turns(solid, wanted)
    if isinstance(solid, Plate):  # across it nothing is told
        maps, wanted = [np.delete(each, 1, axis=1) for each in maps], np.delete(wanted, 1, axis=1)
    return any(float(np.abs(each - wanted).max()) <= NEAR * (1 + np.abs(wanted).max()) for each in maps)


def _but_for_turns(solid: Sphere | Ring, world_from_local: Array) -> Array:
    """What stays of a map when the solid turns about itself: of a ring its axis, but for its sign, stands apart."""
    linear = world_from_local[:3, :3]
    if isinstance(solid, Sphere):
        return np.column_stack((linear @ linear.T, world_from_local[:3, 3]))
    around, axis = np.delete(linear, 1, axis=1), np.outer(linear[:, 1], linear[:, 1])
    return np.column_stack((around @ around.T, axis, world_from_local[:3, 3]))


def main(words: list[str]) -> None:
    """Count and print."""
    cases, seed = (*(int(word) for word in words), *(CASES, SEED)[len(words) :])
    rng = np.random.default_rng(seed)
    outcomes, took = Counter[str](), list[float]()
    for number in track(range(cases), disable=not sys.stdout.isatty()):
        solid, wrong = SOLIDS[number % len(SOLIDS)], number % 5 == 0
        points, corners, wanted = case(solid, wrong, rng)
        began = time.perf_counter()
        maps = maps_onto(solid, 1, points, corners)
        took.append(time.perf_counter() - began)
        if wrong:
            outcomes["taken though it is another shape" if maps else "another shape, and not taken"] += 1
        else:
            outcomes["found" if is_found(solid, maps, wanted) else f"not found: {solid.kind}"] += 1
    print(dict(outcomes))
    print(f"median {1000 * np.median(took):.1f} ms, the slowest {1000 * max(took):.0f} ms")


if __name__ == "__main__":
    main(sys.argv[1:])
