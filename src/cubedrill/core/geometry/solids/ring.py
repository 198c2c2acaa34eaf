"""A torus."""

from __future__ import annotations

import math
from typing import Final, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.farthest import farthest_on_ring
from cubedrill.core.geometry.fits import (
    FEWEST_SIDES,
    FLATTEST,
    VOLUME,
    evened,
    nearest_turn,
    signed_volume,
    tolerance_of,
)
from cubedrill.core.geometry.solids.base import Axial, across_length, rim_point, unit
from cubedrill.core.geometry.surface import Triangles, axes_across, cofactor, integral_over_a_turn, lathe
from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.values import Array, Indices, Positive, frozen

LEFT_OF_RING: Final = 0.5  # of its volume; five sides each way leave 0.57


class Ring(Axial):
    """A torus about up: `diameter` outermost, `thickness` of its round section."""

    is_convex = False
    corners_tell_turn = False

    kind: Literal["ring"] = "ring"
    diameter: Positive
    thickness: Positive

    @model_validator(mode="after")
    def _section_fits(self) -> Self:
        if self.thickness >= self.diameter / 2:
            raise ValueError("the thickness must be below half the diameter")
        return self

    @property
    def own_volume(self) -> float:
        """The section's area times the way of its centre. Source: Pappus."""
        return (np.pi * self.thickness**2 / 4) * np.pi * (self.diameter - self.thickness)

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products: a torus is the Minkowski sum of a circle and a ball."""
        circle = across_length(up, directions_local) * ((self.diameter - self.thickness) / 2)
        return np.asarray(circle + np.linalg.norm(directions_local, axis=1) * (self.thickness / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the point of the circle plus the point of the ball."""
        circle = rim_point(self.diameter - self.thickness, up, direction_local)
        return np.asarray(circle + unit(direction_local) * (self.thickness / 2))

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its surface, integrated over two turns."""
        stretch = cofactor(linear)
        first, second = axes_across(up)

        def around(section: float) -> float:
            def size(turn: Array) -> Array:
                normals = np.zeros((len(turn), 3))
                normals[:, first], normals[:, second] = np.cos(turn) * np.cos(section), np.sin(turn) * np.cos(section)
                normals[:, up] = np.sin(section)
                return np.asarray(np.linalg.norm(normals @ stretch.T, axis=1))

            # Farther out there is more of it and farther in as much less, and opposite places are stretched alike.
            return integral_over_a_turn(size) * (self.thickness / 2) * ((self.diameter - self.thickness) / 2)

        return integral_over_a_turn(np.vectorize(around))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return as many sides around as in a section."""
        section = 2 * np.pi * np.arange(sides + 1) / sides
        circle = np.column_stack((np.cos(section), np.sin(section))) * (self.thickness / 2)
        circle[:, 0] += (self.diameter - self.thickness) / 2
        return lathe(circle, up, sides)

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|; see `SolidBase.farthest`."""
        across = [axis for axis in range(3) if axis != up]
        way = (self.diameter - self.thickness) / 2
        return farthest_on_ring(linear[:, :, [*across, up]], place, way, self.thickness / 2)

    def stands(self, up: int, target_from_local: Array) -> bool:
        """Return True: a ring that lies on its side has another box."""
        return True

    def free_turn_towards(self, up: int, linear: Array, aim: Array) -> Array:
        """Return the turn about itself, or over, that brings one map nearest to another."""
        turn = np.eye(3)
        flat = [axis for axis in range(3) if axis != up]
        turn[np.ix_(flat, flat)] = nearest_turn(linear[:, flat].T @ aim[:, flat])
        turn[up, up] = -1.0 if linear[:, up] @ aim[:, up] < 0 else 1.0
        return turn

    def fitted_to(self, up: int, points: Array, triangles: Indices) -> list[Array]:
        """Return the map onto a mesh whose vertices all lie on a ring, with any number around and in a section.

        Its turn about itself is one of many. In the frame in which the vertices' covariance is one, a ring is stretched
        along its axis alone, which is one of the main axes of their fourth moments, or of their sixth where the fourth
        are alike. Of a stretch a around and b along it, (aρ − R)² + (bh)² = r² is linear in a², a and b².
        """
        vertices = np.unique(points, axis=0)
        if len(vertices) < FEWEST_SIDES**2:
            return []
        centre = vertices.mean(axis=0)
        spread = np.cov((vertices - centre).T)
        if np.linalg.cond(spread) > FLATTEST:
            return []
        white = np.linalg.inv(np.linalg.cholesky(spread))
        whitened = (vertices - centre) @ white.T
        squares = (whitened**2).sum(axis=1)
        moments = (np.einsum("n,ni,nj->ij", squares**power, whitened, whitened) for power in (1, 2))
        for axis in np.concatenate([np.linalg.eigh(each)[1].T for each in moments]):
            stretch = _stretch_of_ring(self, whitened, axis)
            if stretch is not None:
                around, along = stretch
                own = np.linalg.svd(axis[None])[2][1:] / around
                linear: Array = np.linalg.inv(white) @ np.insert(own, up, axis / along, axis=0).T
                flat = [each for each in range(3) if each != up]
                linear[:, flat] = evened(linear[:, flat], 4 * tolerance_of(points) / (self.diameter / 2))
                target_from_local = affine(linear, centre)
                if _is_whole_ring(self, up, target_from_local, points, triangles):
                    return [frozen(target_from_local)]
        return []


def _stretch_of_ring(ring: Ring, whitened: Array, axis: Array) -> tuple[float, float] | None:
    """Return the factors, around an axis and along it, from whitened points to a ring; None if they lie on no ring."""
    middle, radius = (ring.diameter - ring.thickness) / 2, ring.thickness / 2
    height = whitened @ axis
    across = np.linalg.norm(whitened - np.outer(height, axis), axis=1)
    terms = np.column_stack((across**2, -2 * middle * across, height**2))
    found, _, rank, _ = np.linalg.lstsq(terms, np.full(len(terms), radius**2 - middle**2), rcond=None)
    return (float(found[1]), math.sqrt(found[2])) if rank == terms.shape[1] and found.min() > 0 else None


def _is_whole_ring(ring: Ring, up: int, target_from_local: Array, points: Array, triangles: Indices) -> bool:
    """Tell whether all vertices lie on a ring, and enclose all of it but what its few sides cut off."""
    middle, radius = (ring.diameter - ring.thickness) / 2, ring.thickness / 2
    local_from_target: Array = np.linalg.inv(target_from_local).astype(np.float64)
    own = mapped(local_from_target, points)
    across = np.linalg.norm(np.delete(own, up, axis=1), axis=1)
    off = np.abs(np.hypot(across - middle, own[:, up]) - radius).max()
    near = 4 * tolerance_of(points) / np.linalg.svd(target_from_local[:3, :3], compute_uv=False)[-1]
    whole = 2 * math.pi**2 * middle * radius**2 * abs(float(np.linalg.det(target_from_local[:3, :3])))
    return bool(off <= near) and LEFT_OF_RING * whole <= abs(signed_volume(points, triangles)) <= (1 + VOLUME) * whole
