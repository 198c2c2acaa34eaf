"""A ball."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Literal

import numpy as np
from scipy.special import elliprg

from cubedrill.core.geometry.farthest import farthest_on_ball
from cubedrill.core.geometry.fits import evened, nearest_turn, tolerance_of
from cubedrill.core.geometry.solids.base import Round, signed_exchanges, unit
from cubedrill.core.geometry.surface import Triangles, lathe
from cubedrill.core.values import Array, Indices, Positive, frozen

AROUND: Final = 0.8  # of an ellipsoid's diameters: vertices that go all around it reach at least so far


class Sphere(Round):
    """A ball."""

    free_turns = "any"
    matched_by_corners = False
    corners_tell_turn = False

    kind: Literal["sphere"] = "sphere"
    diameter: Positive

    @property
    def own_volume(self) -> float:
        """Source: Archimedes, On the Sphere and Cylinder."""
        return np.pi * self.diameter**3 / 6

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products; see `SolidBase.support`."""
        return np.asarray(np.linalg.norm(directions_local, axis=1) * (self.diameter / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the point under the direction."""
        return unit(direction_local) * (self.diameter / 2)

    def area(self, up: int, linear: Array) -> float:
        """Return the area of the ellipsoid by Carlson's R_G (DLMF 19.33.1)."""
        semi = np.linalg.svd(linear, compute_uv=False) * (self.diameter / 2)
        a, b, c = (semi**2).tolist()
        return float(4 * np.pi * elliprg(a * b, a * c, b * c))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return rings of latitude between two poles."""
        rings = max(2, sides // 2)
        polar = np.pi * np.arange(rings + 1) / rings - np.pi / 2
        profile = np.column_stack((np.cos(polar), np.sin(polar))) * (self.diameter / 2)
        profile[(0, -1), 0] = 0.0  # the poles, which cos(π/2) only nearly reaches
        return lathe(profile, up, sides)

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the 48 signed exchanges of axes."""
        return signed_exchanges((0, 1, 2))

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|; see `SolidBase.farthest`."""
        return farthest_on_ball(linear * (self.diameter / 2), place)

    def free_turn_towards(self, up: int, linear: Array, aim: Array) -> Array:
        """Return the turn that brings one map nearest to another."""
        return nearest_turn(linear.T @ aim)

    def fitted_to(self, up: int, points: Array, triangles: Indices) -> list[Array]:
        """Return a map onto the ellipsoid on which all vertices lie.

        Parameters
        ----------
        up : int
            Index of the up axis.
        points : (n, 3) array
        triangles : (m, 3) array of int

        Returns
        -------
        list of (4, 4) array
            One of the many possible maps, or none if the vertices lie on no ellipsoid.

        Notes
        -----
        The quadric x Q x + 2 b x = 1 is fitted by least squares; its centre is −Q⁻¹ b.
        """
        middle, size = points.mean(axis=0), float(np.ptp(points, axis=0).max())
        x, y, z = ((points - middle) / size).T
        terms = np.column_stack((x * x, y * y, z * z, 2 * x * y, 2 * x * z, 2 * y * z, 2 * x, 2 * y, 2 * z))
        if len(points) < terms.shape[1]:
            return []
        found, _, rank, _ = np.linalg.lstsq(terms, np.ones(len(points)), rcond=None)
        a, b, c, d, e, f, *linear = found
        quadric = np.array(((a, d, e), (d, b, f), (e, f, c)))
        if rank < terms.shape[1] or np.linalg.eigvalsh(quadric)[0] <= 0:
            return []
        centre = -np.linalg.solve(quadric, linear)
        values, axes = np.linalg.eigh(quadric / (1 + centre @ quadric @ centre))
        reach = np.ptp(np.column_stack((x, y, z)) @ axes, axis=0) * np.sqrt(values) / 2
        if float(reach.min()) < AROUND:
            return []  # two circles lie on many ellipsoids, and reach to the ends of none
        linear_map = (axes / np.sqrt(values)) @ axes.T * size / (self.diameter / 2)
        linear_map = evened(linear_map, 4 * tolerance_of(points) / (self.diameter / 2))
        target_from_local = np.eye(4)
        target_from_local[:3, :3], target_from_local[:3, 3] = linear_map, middle + centre * size
        radii = np.linalg.norm((points - target_from_local[:3, 3]) @ np.linalg.inv(linear_map).T, axis=1)
        off = np.abs(radii / (self.diameter / 2) - 1).max() * size
        return [frozen(target_from_local)] if off <= 4 * tolerance_of(points) else []
