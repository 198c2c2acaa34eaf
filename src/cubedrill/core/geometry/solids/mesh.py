"""Triangles over vertices."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property
from typing import Annotated, Final, Literal, Self

import numpy as np
from pydantic import Field, Strict, model_validator
from scipy.spatial import KDTree
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.solids.base import FlatSided, signed_exchanges
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.values import Array, Indices, Vector, frozen

Index = Annotated[int, Strict(), Field(ge=0)]

MESH_TOL: Final = 1e-9  # of a mesh's size: a vertex this near to where a symmetry takes another one counts as it
FEW: Final = 32  # so many vertices show that a map is no symmetry, before all are looked at
MOST_FOLD: Final = 12  # meshes are tried for turns of up to a twelfth
RATIO_PLACES: Final = 10  # decimals by which ratios of a mesh's sizes differ, finer than MESH_TOL
THIN: Final = 1e-6  # of the cube of its reach: a mesh that encloses less has no centre of volume


class Mesh(FlatSided):
    """Triangles over vertices; its local box is that of its vertices."""

    is_convex = False

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
    def _box(self) -> Box:
        return Box(frozen(self.points.min(axis=0)), frozen(self.points.max(axis=0)))

    @property
    def own_volume(self) -> float:
        """The volume that its triangles enclose, by the divergence theorem."""
        a, b, c = np.moveaxis(self.points[self.corners], 1, 0)
        return abs(float(np.einsum("ij,ij->", a, np.cross(b, c)))) / 6

    def local_box(self, up: int) -> Box:
        """Return the box of its vertices."""
        return self._box

    def corner_points(self, up: int) -> Array:
        """Return (n, 3) its vertices."""
        return self.points

    def converted(self, change: ConventionTransform) -> Self:
        """Return it with its vertices in the other basis; triangles turn round where that mirrors."""
        places = change.point(self.points).tolist()
        turned = self.corners[:, (0, 2, 1)].tolist() if change.hand < 0 else self.triangles
        return type(self)(vertices=tuple(map(tuple, places)), triangles=tuple(map(tuple, turned)))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its triangles."""
        return self.points, self.corners

    def centroid(self, up: int) -> Array:
        """Return the centre of what it encloses, by the divergence theorem; its middle if it encloses nothing."""
        faces = self.points[self.corners] - self.middle
        shares = np.einsum("ij,ij->i", faces[:, 0], np.cross(faces[:, 1], faces[:, 2]))
        whole = float(shares.sum())
        reach = float(np.abs(self.points - self.middle).max())
        if abs(whole) <= THIN * reach**3:
            return self.middle
        return np.asarray(self.middle + (shares[:, None] * faces.sum(axis=1)).sum(axis=0) / (4 * whole))

    def middle_of_symmetry(self, up: int) -> Array:
        """Return the mean of the places of its vertices."""
        return self.middle

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes that take every vertex to a vertex."""
        return self._exchanges

    @cached_property
    def _exchanges(self) -> list[Array]:
        tree = KDTree((self.points - self.middle) / self.half_extents(0))
        return [q for q in signed_exchanges((0, 1, 2)) if _keeps(tree, q)]

    def turns_at(self, scale: Array) -> list[Array]:
        """Return the rotations about its axes, by up to a twelfth of a turn, that map its vertices onto one another.

        Parameters
        ----------
        scale : (3,) array
            Factors of its own axes. Only their ratios count.

        Returns
        -------
        list of (3, 3) array
            For its normal shape.
        """
        own_from_normal = self.half_extents(0) * scale / scale.max()
        ratios = tuple((scale / scale.max()).round(RATIO_PLACES).tolist())

        def find() -> list[Array]:
            tree = KDTree((self.points - self.middle) * scale / scale.max() / own_from_normal.max())
            return [turn for turn in _TURNS if _keeps(tree, turn)]

        turns = self._turns_by_ratios.get(ratios, find)
        return [turn * own_from_normal / own_from_normal[:, None] for turn in turns]

    @cached_property
    def _turns_by_ratios(self) -> LruCache[tuple[float, ...], list[Array]]:
        return LruCache(10)


_TURNS: Final = [
    np.asarray(Rotation.from_rotvec(np.eye(3)[axis] * 2 * math.pi * k / n).as_matrix())
    for axis in range(3)
    for n in range(3, MOST_FOLD + 1)
    for k in range(1, n)
    if math.gcd(k, n) == 1 and n != 4  # quarters are exchanges of axes
]


def _keeps(tree: KDTree, q: Array) -> bool:
    points = np.asarray(tree.data)
    few = points[:: max(1, len(points) // FEW)]
    return all(float(np.max(tree.query(some @ q.T)[0])) <= 10 * MESH_TOL for some in (few, points))
