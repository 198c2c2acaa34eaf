"""The shapes an object can have: their sizes, local boxes and support functions.

Every solid is centred on the local origin by its box; an axial one stands along the up axis.
"""

from __future__ import annotations

import itertools
import math
import re
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Annotated, Final, Literal, Self, assert_never

import numpy as np
from pydantic import Field, Strict, model_validator

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.values import Array, Indices, Positive, Value, Vector, as_vector, frozen

Index = Annotated[int, Strict(), Field(ge=0)]
Size = tuple[Positive, Positive, Positive]

_FEATURE: Final = re.compile(r"(?=.)([+-]x)?([+-]y)?([+-]z)?")


class Cuboid(Value):
    """A block with sizes along X, Y and Z."""

    kind: Literal["cuboid"] = "cuboid"
    size: Size


class Wedge(Value):
    """A right triangle in the plane of X and up, drawn out along the third axis; right angle at −X −up."""

    kind: Literal["wedge"] = "wedge"
    size: Size


class Pyramid(Value):
    """A base at −up and an apex in the middle of +up."""

    kind: Literal["pyramid"] = "pyramid"
    size: Size


class Sphere(Value):
    """A ball."""

    kind: Literal["sphere"] = "sphere"
    diameter: Positive


class Cylinder(Value):
    """A round bar along up."""

    kind: Literal["cylinder"] = "cylinder"
    diameter: Positive
    height: Positive


class Cone(Value):
    """A round base at −up and an apex at +up."""

    kind: Literal["cone"] = "cone"
    diameter: Positive
    height: Positive


class Tube(Value):
    """A cylinder with a round bore along up."""

    kind: Literal["tube"] = "tube"
    diameter: Positive
    bore: Positive
    height: Positive

    @model_validator(mode="after")
    def _bore_fits(self) -> Self:
        if self.bore >= self.diameter:
            raise ValueError("the bore must be below the diameter")
        return self


class Ring(Value):
    """A torus about up: `diameter` outermost, `thickness` of its round section."""

    kind: Literal["ring"] = "ring"
    diameter: Positive
    thickness: Positive

    @model_validator(mode="after")
    def _section_fits(self) -> Self:
        if self.thickness >= self.diameter / 2:
            raise ValueError("the thickness must be below half the diameter")
        return self


class Plate(Value):
    """A flat rectangle across up; sizes along the other two axes, in the order x, y, z."""

    kind: Literal["plate"] = "plate"
    size: tuple[Positive, Positive]


class Mesh(Value):
    """Triangles over vertices; its local box is that of its vertices."""

    kind: Literal["mesh"] = "mesh"
    vertices: Annotated[tuple[Vector, ...], Field(min_length=1, max_length=200_000, fail_fast=True)]
    triangles: Annotated[tuple[tuple[Index, Index, Index], ...], Field(max_length=400_000, fail_fast=True)]

    @model_validator(mode="after")
    def _corners_exist(self) -> Self:
        corners = np.array(self.triangles, dtype=np.intp).reshape(-1, 3)
        wrong = np.flatnonzero((corners >= len(self.vertices)).any(axis=1))
        if len(wrong):
            raise ValueError(f"triangle {wrong[0]} names a vertex that is not there")
        return self

    @cached_property
    def points(self) -> Array:
        """(n, 3) its vertices, read-only."""
        return frozen(np.array(self.vertices, dtype=np.float64))

    @cached_property
    def corners(self) -> Indices:
        """(m, 3) its triangles as indices of vertices, read-only."""
        corners = np.array(self.triangles, dtype=np.intp).reshape(-1, 3)
        corners.flags.writeable = False
        return corners

    @cached_property
    def middle(self) -> Array:
        """(3,) the mean of the places at which it has vertices, which every symmetry leaves where it is."""
        return frozen(np.unique(self.points, axis=0).mean(axis=0))

    @cached_property
    def box(self) -> Box:
        """Its box in its own coordinates."""
        return Box(frozen(self.points.min(axis=0)), frozen(self.points.max(axis=0)))


Solid = Annotated[
    Cuboid | Wedge | Pyramid | Sphere | Cylinder | Cone | Tube | Ring | Plate | Mesh, Field(discriminator="kind")
]


@dataclass(frozen=True)
class Box:
    """A box along the axes of some frame: its least and largest coordinates, (3,) each."""

    least: Array
    most: Array

    @property
    def size(self) -> Array:
        """(3,) the lengths of the box."""
        return np.asarray(self.most - self.least)

    @property
    def centre(self) -> Array:
        """(3,) the middle of the box."""
        return np.asarray((self.least + self.most) / 2)

    def feature(self, name: str) -> Array:
        """(3,) the point of the box with this name: `centre`, `+x` (face), `+x-y` (edge), `+x+y-z` (corner)."""
        signs = feature_signs(name)
        return np.asarray(self.centre + signs * (self.most - self.least) / 2)

    def with_box(self, other: Box) -> Box:
        """Return the least box around both."""
        return Box(np.minimum(self.least, other.least), np.maximum(self.most, other.most))


def is_feature(name: str) -> bool:
    """Tell whether this is the name of a point of a box."""
    return name == "centre" or _FEATURE.fullmatch(name) is not None


def feature_signs(name: str) -> Array:
    """(3,) of −1, 0 and 1: where on a box the point of this name lies."""
    return np.array([(f"+{axis}" in name) - float(f"-{axis}" in name) for axis in "xyz"])


def local_box(solid: Solid, up: int) -> Box:
    """Box of a solid in its own coordinates; up: index of the up axis. Its arrays are read-only, since it is kept."""
    return solid.box if isinstance(solid, Mesh) else _local_box(solid, up)


@lru_cache(maxsize=10_000)  # every step and check that names a point of a solid asks for it
def _local_box(solid: Solid, up: int) -> Box:
    axes = np.eye(3)
    return Box(frozen(-support(solid, up, -axes)), frozen(support(solid, up, axes)))


def support(solid: Solid, up: int, directions_local: Array) -> Array:
    """Largest dot product of each direction with a point of the solid.

    up: index of the up axis; directions_local (n, 3), of any length. Returns (n,), exact for round solids.
    Source: Ericson, "Real-Time Collision Detection" (2005), section 9.5.4 (support mappings); a torus is the
    Minkowski sum of a circle and a ball, so its support is the sum of theirs.
    """
    along = directions_local[:, up]
    across = np.linalg.norm(np.delete(directions_local, up, axis=1), axis=1)
    match solid:
        case Cuboid() | Plate():
            return np.asarray(np.abs(directions_local) @ (_sizes(solid, up) / 2))
        case Wedge() | Pyramid() | Mesh():
            return np.asarray((directions_local @ vertices(solid, up).T).max(axis=1))
        case Sphere():
            return np.asarray(np.linalg.norm(directions_local, axis=1) * (solid.diameter / 2))
        case Cylinder() | Tube():
            return np.asarray(np.abs(along) * (solid.height / 2) + across * (solid.diameter / 2))
        case Cone():
            apex, base = along * (solid.height / 2), across * (solid.diameter / 2) - along * (solid.height / 2)
            return np.asarray(np.maximum(apex, base))
        case Ring():
            circle = across * ((solid.diameter - solid.thickness) / 2)
            return np.asarray(circle + np.linalg.norm(directions_local, axis=1) * (solid.thickness / 2))
        case _:
            assert_never(solid)


def is_convex(solid: Solid) -> bool:
    """Tell whether the solid is convex by its kind."""
    return not isinstance(solid, Tube | Ring | Mesh)


def support_point(solid: Solid, up: int, direction_local: Array) -> Array:
    """(3,) the point of a convex solid, or of the hull of another, that lies farthest along a direction (3,)."""
    match solid:
        case Cuboid() | Plate():
            return np.asarray(np.copysign(_sizes(solid, up) / 2, direction_local))
        case Wedge() | Pyramid() | Mesh():
            corners = vertices(solid, up)
            return np.asarray(corners[int(np.argmax(corners @ direction_local))])
        case Sphere():
            return _outermost(direction_local) * (solid.diameter / 2)
        case Cylinder() | Tube():
            rim = _outermost(_across(direction_local, up)) * (solid.diameter / 2)
            rim[up] = math.copysign(solid.height / 2, direction_local[up])
            return rim
        case Cone():
            rim = _outermost(_across(direction_local, up)) * (solid.diameter / 2)
            rim[up] = -solid.height / 2
            apex = np.zeros(3)
            apex[up] = solid.height / 2
            return apex if apex @ direction_local >= rim @ direction_local else rim
        case Ring():
            circle = _outermost(_across(direction_local, up)) * ((solid.diameter - solid.thickness) / 2)
            return circle + _outermost(direction_local) * (solid.thickness / 2)
        case _:
            assert_never(solid)


def _across(direction: Array, up: int) -> Array:
    flat = direction.copy()
    flat[up] = 0.0
    return flat


def _outermost(direction: Array) -> Array:
    """(3,) the direction with length 1; zero where it has none, since any point of the flat side will do."""
    length = float(np.linalg.norm(direction))
    return np.asarray(direction / length) if length > 0 else np.zeros(3)


def box_under(solid: Solid, up: int, target_from_local: Array) -> Box:
    """Exact box of a solid in the coordinates that an affine map (4, 4) leads to."""
    rows = target_from_local[:3, :3]
    place = target_from_local[:3, 3]
    reach = support(solid, up, np.concatenate((rows, -rows)))
    return Box(place - reach[3:], place + reach[:3])


def converted(solid: Solid, change: ConventionTransform) -> Solid:
    """Return the same solid in other conventions: its sizes change places and units, a mesh its vertices."""
    match solid:
        case Cuboid() | Wedge() | Pyramid():
            size = as_vector(change.ratio * change.sizes(np.array(solid.size)))
            return solid.model_copy(update={"size": size})
        case Plate():
            sizes = change.ratio * change.sizes(_sizes(solid, change.source.up_index))
            return Plate(size=tuple(np.delete(sizes, change.target.up_index).tolist()))
        case Mesh():
            return _converted_mesh(solid, change)
        case Sphere() | Cylinder() | Cone() | Tube() | Ring():
            lengths = {key: change.length(value) for key, value in solid.model_dump(exclude={"kind"}).items()}
            return solid.model_copy(update=lengths)
        case _:
            assert_never(solid)


def _converted_mesh(mesh: Mesh, change: ConventionTransform) -> Mesh:
    """Vertices follow the basis; triangles turn round where it mirrors, so that their fronts stay outside."""
    places = change.point(mesh.points).tolist()
    turned = mesh.corners[:, (0, 2, 1)].tolist() if change.hand < 0 else mesh.triangles
    return Mesh(vertices=tuple(map(tuple, places)), triangles=tuple(map(tuple, turned)))


def corner_signs() -> Array:
    """(8, 3) of −1 and 1: the corners of a box, the last axis running fastest."""
    return np.array(list(itertools.product((-1.0, 1.0), repeat=3)))


def vertices(solid: Wedge | Pyramid | Mesh, up: int) -> Array:
    """(n, 3) corners of a flat-sided solid that is no block, in its own coordinates."""
    if isinstance(solid, Mesh):
        return solid.points
    third = 3 - up  # X is never up, so the axes other than X are up and this one
    if isinstance(solid, Wedge):
        corners = [(-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (-1, 1, -1), (-1, 1, 1)]
    else:
        corners = [(-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (0, 1, 0)]
    signs = np.zeros((len(corners), 3))
    signs[:, (0, up, third)] = corners
    return np.asarray(signs * np.array(solid.size) / 2)


def extreme_points(solid: Cuboid | Plate | Wedge | Pyramid | Mesh, up: int) -> Array:
    """(n, 3) points of a flat-sided solid among which the farthest along any direction is: its corners."""
    match solid:
        case Cuboid() | Plate():
            return corner_signs() * _sizes(solid, up) / 2
        case _:
            return vertices(solid, up)


def _sizes(solid: Cuboid | Plate, up: int) -> Array:
    return np.insert(np.array(solid.size), up, 0.0) if isinstance(solid, Plate) else np.array(solid.size)
