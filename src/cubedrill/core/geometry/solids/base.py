"""The protocol of solids: a kind of solid is one file behind it."""

from __future__ import annotations

import itertools
from abc import ABC, abstractmethod
from collections.abc import Sequence
from functools import cache, lru_cache
from typing import TYPE_CHECKING, ClassVar, Final, Literal, Self

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.farthest import farthest_of_points, farthest_on_ball
from cubedrill.core.geometry.surface import DEFAULT_SIDES, FEWEST_SIDES, Triangles
from cubedrill.core.geometry.transform import determinant
from cubedrill.core.values import Array, Indices, Positive, Value, as_vector, frozen

Size = tuple[Positive, Positive, Positive]

FreeTurns = Literal["none", "about up", "any"]


class SolidBase(Value, ABC):
    """A shape in its own coordinates, centred on the origin by its box; an axial one stands along the up axis.

    Everywhere `up` is the index of the up axis.

    Attributes
    ----------
    is_convex : bool
        By its kind.
    free_turns : {"none", "about up", "any"}
        Which rotations by any angle leave it as it is. Solids that have some are curved.
    matched_by_corners : bool
        Whether the corners of its hull tell where a mesh of it stands. Otherwise `fitted_to` does.
    corners_tell_turn : bool
        Whether they also tell how it is turned.
    """

    is_convex: ClassVar[bool] = True
    free_turns: ClassVar[FreeTurns] = "none"
    matched_by_corners: ClassVar[bool] = True
    corners_tell_turn: ClassVar[bool] = True

    @abstractmethod
    def support(self, up: int, directions_local: Array) -> Array:
        """Return the support function of the solid: the largest dot product of each direction with its points.

        Parameters
        ----------
        up : int
            Index of the up axis.
        directions_local : (n, 3) array
            Of any length.

        Returns
        -------
        (n,) array
            Exact for round solids.

        Notes
        -----
        Source: Ericson, "Real-Time Collision Detection" (2005), section 9.5.4.
        """

    @abstractmethod
    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return (3,) the point of the solid, or of its hull, that lies farthest along a direction (3,)."""

    @abstractmethod
    def converted(self, change: ConventionTransform) -> Self:
        """Return the same solid in other conventions."""

    @property
    @abstractmethod
    def own_volume(self) -> float:
        """Its volume as it is in its own coordinates."""

    @abstractmethod
    def area(self, up: int, linear: Array) -> float:
        """Return the area of its surface under a linear map (3, 3); a plate counts one side."""

    @abstractmethod
    def surface(self, up: int, sides: int) -> Triangles:
        """Return the triangles of the solid, for a valid number of sides; see `triangulated`."""

    @abstractmethod
    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the maps (3, 3) of its normal shape onto itself that exchange or mirror its axes.

        The normal shape is the solid in a box of size 2. Free turns are not among them.
        """

    @abstractmethod
    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p| over the points x of the solid, for many affine maps at once.

        Parameters
        ----------
        up : int
            Index of the up axis.
        linear : (n, 3, 3) array
            The linear parts A.
        place : (n, 3) array
            The translations p.

        Returns
        -------
        (n,) array
        """

    def local_box(self, up: int) -> Box:
        """Return its box in its own coordinates. The arrays are read-only, since the box is cached."""
        return _local_box(self, up)

    def box_under(self, up: int, target_from_local: Array) -> Box:
        """Return its exact box in the coordinates that an affine map (4, 4) leads to."""
        rows, place = target_from_local[:3, :3], target_from_local[:3, 3]
        reach = self.support(up, np.concatenate((rows, -rows)))
        return Box(place - reach[3:], place + reach[:3])

    def half_extents(self, up: int) -> Array:
        """Return (3,) half the local box; 1 along the flat axis of a plate, which has no extent to divide by."""
        half = self.local_box(up).size / 2
        return np.where(half > 0, half, 1.0)

    def centroid(self, up: int) -> Array:
        """Return (3,) the centre of its volume in its own coordinates."""
        return self.local_box(up).centre.copy()

    def middle_of_symmetry(self, up: int) -> Array:
        """Return (3,) the point that all its symmetries keep in place."""
        return self.local_box(up).centre

    def turns_at(self, scale: Array) -> list[Array]:
        """Return its further turns (3, 3), by less than a quarter, where its own axes are scaled by (3,)."""
        return []

    def volume(self, linear: Array) -> float:
        """Return its volume under a linear map (3, 3); of a mesh, what its triangles enclose."""
        return abs(determinant(linear)) * self.own_volume

    def triangulated(self, up: int, sides: int = DEFAULT_SIDES) -> Triangles:
        """Return its triangles in its own coordinates, fronts outside in right-handed conventions.

        Parameters
        ----------
        up : int
            Index of the up axis.
        sides : int
            Of round solids, at least FEWEST_SIDES.

        Returns
        -------
        points (n, 3) and corners (m, 3), indices of points

        Raises
        ------
        CoreError
            "too-few-sides".
        """
        if sides < FEWEST_SIDES:
            raise CoreError("too-few-sides", fewest=FEWEST_SIDES)
        return self.surface(up, sides)

    def largest_distances(self, up: int, difference: Array) -> Array:
        """Return the largest distance between corresponding points of pairs of placings.

        Parameters
        ----------
        up : int
            Index of the up axis.
        difference : (n, 4, 4) array
            One placing minus the other.

        Returns
        -------
        (n,) array
            In scene lengths.
        """
        return self.farthest(up, difference[:, :3, :3], difference[:, :3, 3])

    def largest_distance(self, up: int, world_from_target: Array, world_from_submitted: Array) -> float:
        """Return the largest distance between corresponding points of two placings, (4, 4) each, in scene lengths."""
        return float(self.largest_distances(up, (world_from_submitted - world_from_target)[None])[0])

    def sides_from_corners(self, corners: int) -> int:
        """Return how many sides it has if its hull has so many corners."""
        return DEFAULT_SIDES

    def stands(self, up: int, target_from_local: Array) -> bool:
        """Tell whether its axis still points along up under a map (4, 4); if only its box does, it may lie."""
        return True

    def fitted_to(self, up: int, points: Array, triangles: Indices) -> list[Array]:
        """Return the maps that take the solid onto a mesh, if corners alone do not determine them.

        Parameters
        ----------
        up : int
            Index of the up axis.
        points : (n, 3) array
        triangles : (m, 3) array of int

        Returns
        -------
        list of (4, 4) array
            Empty if the mesh has another shape.
        """
        return []

    def free_turn_towards(self, up: int, linear: Array, aim: Array) -> Array:
        """Return the turn (3, 3) of itself, if it has free ones, that brings a map (3, 3) nearest to another one."""
        return np.eye(3)


@lru_cache(maxsize=10_000)  # every step and check that names a point of a solid asks for it
def _local_box(solid: SolidBase, up: int) -> Box:
    axes = np.eye(3)
    return Box(frozen(-solid.support(up, -axes)), frozen(solid.support(up, axes)))


class FlatSided(SolidBase):
    """A solid of flat faces, given by its corners and its triangles."""

    @abstractmethod
    def corner_points(self, up: int) -> Array:
        """Return (n, 3) its corners in its own coordinates."""

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products; see `SolidBase.support`."""
        return np.asarray((directions_local @ self.corner_points(up).T).max(axis=1))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the farthest corner; see `SolidBase.support_point`."""
        corners = self.corner_points(up)
        return np.asarray(corners[int(np.argmax(corners @ direction_local))])

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its triangles under a linear map (3, 3)."""
        points, corners = self.surface(up, DEFAULT_SIDES)
        a, b, c = np.moveaxis((points @ linear.T)[corners], 1, 0)
        return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|; see `SolidBase.farthest`."""
        return farthest_of_points(self.corner_points(up), linear, place)


class Boxed(FlatSided):
    """A flat-sided solid with a size along each axis."""

    if TYPE_CHECKING:
        size: tuple[float, float, float]

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same solid: its sizes change places and units."""
        return self.model_copy(update={"size": as_vector(change.ratio * change.sizes(np.array(self.size)))})


class Cornered(Boxed):
    """A boxed solid given by a table of corners and faces.

    Attributes
    ----------
    signs : tuple
        Of each corner along X, up and the third axis: −1, 0 or 1.
    faces : tuple
        Loops of corner numbers, fronts outside for axes in that order.
    """

    signs: ClassVar[tuple[tuple[int, int, int], ...]]
    faces: ClassVar[tuple[tuple[int, ...], ...]]

    def corner_points(self, up: int) -> Array:
        """Return (n, 3) its corners."""
        signs = np.zeros((len(self.signs), 3))
        signs[:, (0, up, 3 - up)] = self.signs  # X is never up
        return np.asarray(signs * np.array(self.size) / 2)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return the triangles of its faces."""
        return self.corner_points(up), outward(self.faces, (0, up, 3 - up))


class Round(SolidBase):
    """A solid with curved faces, whose sizes are lengths that no axis owns."""

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same solid with its lengths in other units."""
        lengths = {key: change.length(value) for key, value in self.model_dump(exclude={"kind"}).items()}
        return self.model_copy(update=lengths)


class Axial(Round):
    """A round solid that any turn about the up axis leaves as it is."""

    free_turns = "about up"

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes across, with and without the mirror along up."""
        mirrored = np.diag([-1.0 if axis == up else 1.0 for axis in range(3)])
        return [flip @ q for q in signed_exchanges((0, 3 - up)) for flip in (np.eye(3), mirrored)]

    def stands(self, up: int, target_from_local: Array) -> bool:
        """Tell whether its axis points along up, either way."""
        return abs(axis_along_up(up, target_from_local)) > 1 - UPRIGHT_TOL


class Bar(Axial):
    """A round solid whose hull is a cylinder along up; a kind of it has a diameter and a height."""

    if TYPE_CHECKING:
        diameter: float
        height: float

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products; see `SolidBase.support`."""
        across = across_length(up, directions_local)
        return np.asarray(np.abs(directions_local[:, up]) * (self.height / 2) + across * (self.diameter / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the point of the outer rim under the direction."""
        rim = rim_point(self.diameter, up, direction_local)
        rim[up] = np.copysign(self.height / 2, direction_local[up])
        return rim

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|, which an outer rim has."""
        rims = (farthest_on_rim(self.diameter, side * self.height / 2, up, linear, place) for side in (1, -1))
        return np.asarray(np.maximum(*rims))

    def sides_from_corners(self, corners: int) -> int:
        """Return half the corners: each end has one for every side."""
        return corners // 2


UPRIGHT_TOL: Final = 1e-6  # of the cosine between an axis and up


def axis_along_up(up: int, target_from_local: Array) -> float:
    """Return the cosine of the angle between up and where a map (4, 4) takes it."""
    axis = target_from_local[:3, up]
    return float(axis[up] / np.linalg.norm(axis))


def rim_point(diameter: float, up: int, direction_local: Array) -> Array:
    """Return (3,) the point of a circle across up that lies farthest along a direction."""
    across = direction_local.copy()
    across[up] = 0.0
    return unit(across) * (diameter / 2)


def farthest_on_rim(diameter: float, height: float, up: int, linear: Array, place: Array) -> Array:
    """Return (n,) the largest |A x + p| over a circle at a height; linear (n, 3, 3), place (n, 3)."""
    across = [axis for axis in range(3) if axis != up]
    return farthest_on_ball(linear[:, :, across] * (diameter / 2), place + height * linear[:, :, up])


def across_length(up: int, directions: Array) -> Array:
    """Return (n,) the lengths of the parts of directions (n, 3) across up."""
    return np.asarray(np.linalg.norm(np.delete(directions, up, axis=1), axis=1))


def unit(direction: Array) -> Array:
    """Return (3,) a direction with length 1; zero if it has none, since any point of a flat side will do."""
    length = float(np.linalg.norm(direction))
    return np.asarray(direction / length) if length > 0 else np.zeros(3)


def outward(faces: tuple[tuple[int, ...], ...], order: tuple[int, int, int]) -> Indices:
    """Return the triangles of faces, reversed if the axes do not stand in the order x, y, z."""
    corners = np.array([(f[0], f[i], f[i + 1]) for f in faces for i in range(1, len(f) - 1)], dtype=np.intp)
    return corners if order == (0, 1, 2) else corners[:, ::-1]


@cache
def signed_exchanges(axes: tuple[int, ...]) -> tuple[Array, ...]:
    """Return every exchange and mirror of these axes; the others stay."""
    found = []
    for order in itertools.permutations(axes):
        for signs in itertools.product((1.0, -1.0), repeat=len(axes)):
            q = np.eye(3)
            for source, target, sign in zip(axes, order, signs, strict=True):
                q[:, source] = 0.0
                q[target, source] = sign
            found.append(frozen(q))
    return tuple(found)
