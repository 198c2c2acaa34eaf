"""Symmetries of solids: all ways to describe a placed solid anew so that it looks the same, and the nearest of them.

A solid is its normal shape (a cube, a round bar of height and diameter 2 …) under the half extents E of its local box.
A map Q that leaves the normal shape as it is describes a placed solid anew: W · E Q E⁻¹. For a cuboid these are the 48
signed exchanges of axes, which include those that make a 2 × 1 × 1 one a 1 × 2 × 1 one. A round solid that is as wide
one way as the other may be turned by any angle about its axis; one that is not is an oval, and is described by its
principal axes, their exchanges and mirrors.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import inverse, rotation_of
from cubedrill.core.geometry.turns import least_orientation, minimize_over_angle, towards
from cubedrill.core.values import Array

ROUND_TOL: Final = 1e-4  # of the larger size: a round solid whose sizes across differ by no more turns freely
SQUARE_TOL: Final = 1e-9  # largest dot product of unit columns that need no other principal axes
SYMMETRY_TOL: Final = 1e-14  # of an object's size: so near it lies where it should but for rounding
TIE_TOL: Final = 1e-9  # of a distance: descriptions that differ by less are told apart by their angle


@dataclass(frozen=True)
class Turning:
    """Maps of a normal shape onto itself: `before` · any turn about an axis · `after`, (3, 3) each."""

    before: Array
    axis: int
    after: Array

    def by(self, angles_rad: Array) -> Array:
        """Return the maps (n, 3, 3) with these turns (n,)."""
        turns = Rotation.from_rotvec(angles_rad[:, None] * np.eye(3)[self.axis]).as_matrix()
        return np.asarray(self.before @ turns @ self.after)


@dataclass(frozen=True)
class Placings:
    """One solid placed twice: as a target, and as it was submitted, each (4, 4) from its normal shape to the world.

    solid: the target's. target_half, submitted_half: (3,) half extents of the two local boxes.
    """

    solid: Solid
    up: int
    world_from_target: Array
    world_from_submitted: Array
    target_half: Array
    submitted_half: Array

    @property
    def target(self) -> Array:
        """(3, 3) the linear part of the target."""
        return self.world_from_target[:3, :3]

    @property
    def submitted(self) -> Array:
        """(3, 3) the linear part of what was submitted."""
        return self.world_from_submitted[:3, :3]

    def distances(self, maps: Array) -> Array:
        """Return (n,) shape distances with the submitted one described by maps (n, 3, 3) of the normal shape."""
        described = np.broadcast_to(self.world_from_submitted, (len(maps), 4, 4)).copy()
        described[:, :3, :3] = described[:, :3, :3] @ maps
        normal_from_local = inverse(_world_from_normal(self.solid, self.up, np.eye(4)))
        return self.solid.largest_distances(self.up, (described - self.world_from_target) @ normal_from_local)

    def angles(self, maps: Array) -> Array:
        """Return (n,) angles in rad from the target's rotation to the described one's."""
        return angle_between(self.target / self.target_half, self.submitted @ maps / self.submitted_half)

    def same_handed(self, maps: Array) -> Array:
        """Return those of the maps that give the submitted one the target's handedness."""
        sign = np.linalg.det(self.target) * np.linalg.det(self.submitted)
        return np.asarray(maps[np.linalg.det(maps) * sign > 0])

    def nearest(self, maps: Array, turnings: Sequence[Turning]) -> Array | None:
        """Return the map (3, 3) with the least shape distance, then the smaller angle; none where there is no map."""
        turnings = [turning for turning in turnings if len(self.same_handed(turning.by(np.zeros(1))))]
        uprights = [turning.by(np.array([self._upright(turning)])) for turning in turnings]
        maps = np.concatenate((self.same_handed(maps), *uprights))
        if not len(maps):
            return None
        distances = self.distances(maps)
        for turning in turnings:
            turned = self._least_turned(turning, float(distances.min()))
            if turned is not None:
                maps = np.concatenate((maps, turned))
                distances = np.concatenate((distances, self.distances(turned)))
        alike = maps[distances <= distances.min() * (1 + TIE_TOL)]
        return np.asarray(alike[self.angles(alike).argmin()])

    def _least_turned(self, turning: Turning, known: float) -> Array | None:
        """Return the nearest map of a turning; none where it is not nearer than a distance that is known, (1, 3, 3)."""
        reach = float(np.linalg.norm(self.submitted @ turning.before, axis=0).max())
        if known <= SYMMETRY_TOL * reach:
            return None

        def distance(angles: Array) -> Array:
            return self.distances(turning.by(angles))

        found = minimize_over_angle(distance, reach, known * (1 + TIE_TOL))
        return None if found is None else turning.by(np.array([towards(distance, *found, self._upright(turning))]))

    def _upright(self, turning: Turning) -> float:
        """The turn in rad that brings the described rotation nearest to the target's: the trace is greatest there."""
        first, second = (turning.axis + 1) % 3, (turning.axis + 2) % 3
        own, wanted = (m / np.linalg.norm(m, axis=0) for m in (self.submitted @ turning.before, self.target))
        k = turning.after @ wanted.T @ own
        return math.atan2(k[first, second] - k[second, first], k[first, first] + k[second, second])


def canonical_pose_of(
    solid: Solid, up: int, world_from_target: Array, world_from_submitted: Array, wanted: Solid | None = None
) -> Array:
    """Return the local map T after which W · T looks the same as the submitted W and is nearest to the target.

    Parameters
    ----------
    solid : Solid
    up : int
        Index of the up axis.
    world_from_target : (4, 4) array
    world_from_submitted : (4, 4) array
    wanted : Solid, optional
        The target's solid, if its sizes differ.

    Returns
    -------
    (4, 4) array
        The identity if no description has the target's handedness.

    Notes
    -----
    Among all descriptions with the target's handedness, the one with the smallest shape distance, then with the
    smallest angle.
    """
    wanted = wanted if wanted is not None and wanted.kind == solid.kind else solid
    placings = Placings(
        wanted,
        up,
        _world_from_normal(wanted, up, world_from_target),
        _world_from_normal(solid, up, world_from_submitted),
        wanted.half_extents(up),
        solid.half_extents(up),
    )
    q = placings.nearest(*_maps(placings))
    middle, half = solid.middle_of_symmetry(up), solid.half_extents(up)
    described = np.eye(4)
    if q is not None:
        linear = half[:, None] * q / half
        described[:3, :3] = linear
        described[:3, 3] = middle - linear @ middle
    return described


def _world_from_normal(solid: Solid, up: int, world_from_local: Array) -> Array:
    """Return the map (4, 4) from a solid's normal shape, which is centred on the origin, to the world."""
    local_from_normal = np.diag([*solid.half_extents(up), 1.0])
    local_from_normal[:3, 3] = solid.middle_of_symmetry(up)
    return np.asarray(world_from_local @ local_from_normal)


def _maps(placings: Placings) -> tuple[Array, list[Turning]]:
    """Return all maps of the normal shape onto itself at the submitted one's present size: single ones, and turns."""
    solid, up, target, submitted = placings.solid, placings.up, placings.target, placings.submitted
    maps = np.array(solid.symmetries(up))
    if solid.free_turns == "any":
        return _of_a_ball(placings, maps)
    if solid.free_turns == "about up":
        first, second = (up + 1) % 3, (up + 2) % 3
        if _even(np.linalg.svd(submitted[:, (first, second)])[1]):
            ways = [q for q in maps if q[first, second] == 0 and q[second, second] > 0]  # all else is one and a turn
            return maps[:0], [Turning(np.eye(3), up, way) for way in ways]
        return _principal(submitted, (first, second)) @ maps @ _principal(target, (first, second)).T, []
    turns = solid.turns_at(np.linalg.norm(submitted / placings.submitted_half, axis=0))
    return np.array([*maps, *turns]), []


def _of_a_ball(placings: Placings, maps: Array) -> tuple[Array, list[Turning]]:
    """Return the maps of a ball at its present size: one with two equal axes turns about the third."""
    target, submitted = placings.target, placings.submitted
    own, wanted = (_principal(linear, (0, 1, 2)) for linear in (submitted, target))
    lengths = np.linalg.norm(submitted @ own, axis=0)
    if _even(lengths):
        left, _, right = np.linalg.svd(submitted.T @ target)
        nearest = left @ right  # of the same handedness, since the product's determinant has that sign
        if not _even(np.linalg.norm(target @ wanted, axis=0)):
            nearest = least_orientation(placings.distances, nearest)
        return nearest[None], []
    for axis in range(3):
        across = [(axis + 1) % 3, (axis + 2) % 3]
        if _even(lengths[across]):
            ways = [q for q in maps if (q[across].max(axis=1) > 0).all()]  # all else is one of these and a turn
            return maps[:0], [Turning(own, axis, way @ wanted.T) for way in ways]
    return own @ maps @ wanted.T, []


def _principal(world_from_normal: Array, axes: tuple[int, ...]) -> Array:
    """Return the rotation (3, 3) of the normal shape that lays these axes of it along its principal axes.

    Where they are square to each other already, they are the principal axes as they are.
    """
    columns = world_from_normal[:, axes]
    units = columns / np.linalg.norm(columns, axis=0)
    laid = np.eye(3)
    if np.abs(units.T @ units - np.eye(len(axes))).max() > SQUARE_TOL:
        laid[np.ix_(axes, axes)] = np.linalg.svd(columns)[2].T
    return laid


def _even(lengths: Array) -> bool:
    """Tell whether the sizes of a round solid count as equal: nobody sees more, and a rounded matrix is no oval."""
    return bool(np.ptp(lengths) <= ROUND_TOL * lengths.max())


def angle_between(target: Array, submitted: Array) -> Array:
    """Return the angles of the smallest rotations from one orientation to others, ignoring scale.

    Parameters
    ----------
    target : (3, 3) array
    submitted : (..., 3, 3) array

    Returns
    -------
    (...) array
        In radians, from 0 to π.

    Notes
    -----
    The angle is 2 · atan2(|v|, |w|) of the quaternion of the difference, which is accurate near 0 and near half a
    turn.
    Source: Huynh, "Metrics for 3D Rotations" (2009), Φ₆ by another formula.

    Examples
    --------
    >>> quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    >>> float(np.degrees(angle_between(np.eye(3), 2 * quarter)))
    90.0
    """
    first, second = (rotation_of(linear) for linear in (target, submitted))
    quaternions = Rotation.from_matrix(second @ first.T).as_quat()
    return np.asarray(2 * np.arctan2(np.linalg.norm(quaternions[..., :3], axis=-1), np.abs(quaternions[..., 3])))
