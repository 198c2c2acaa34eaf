"""A batch: many sheets of one exercise laid upon each other, so that a check measures all of them in one go."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.geometry.transform import (
    LARGEST,
    LAST_ROW,
    SMALLEST,
    SURELY_INVERTIBLE,
    UNIT_QUATERNION_TOL,
    inverse,
    parts_of,
    rotation_of,
)
from cubedrill.core.judging.submission import Row, SheetSubmission, count_unsaid
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject
from cubedrill.core.scene.spaces import Frame, LineSpace, ObjectSpace, Space, frame_of
from cubedrill.core.values import Array, Flags

Said = TypeVar("Said")


@dataclass(frozen=True)
class Frames:
    """A space's frame in each sheet: `Frame` for many at once, (n, 3, 3) and (n, 3)."""

    world_from_axes: Array
    origin_world: Array

    def coordinates(self, points_world: Array) -> Array:
        """Return (n, 3) a world point of each sheet in its frame."""
        return np.asarray(np.vecmat(points_world - self.origin_world, self.world_from_axes))


@dataclass(frozen=True)
class SheetBatch:
    """The sheets' scenes, which differ in nothing but places: their tree, solids and pivots are those of `scene`.

    world_from_local: (n, 4, 4) an object, one map a sheet. sound: (n,) whether a sheet is one of them; the maps of one
    that is not say nothing, and it is to be judged alone. unsaid: as of a `LoadedSubmission` sheet.
    """

    scene: Scene
    world_from_local: Mapping[str, Array]
    sound: Flags
    unsaid: frozenset[tuple[str, str]]

    def frame(self, space: Space, object_id: str) -> Frame | Frames | None:
        """Return the frame of a space in each sheet; none for a space that is not worked out for many at once."""
        match space:
            case "parent":
                parent = self.scene[object_id].parent
                if parent is None:
                    return frame_of(self.scene, "world", object_id)
                maps = self.world_from_local[parent]
                return Frames(rotation_of(maps[:, :3, :3]), maps[:, :3, 3])
            case ObjectSpace(object=other):
                maps = self.world_from_local[other]
                return Frames(rotation_of(maps[:, :3, :3]), self.points(other, self.scene[other].pivot))
            case "local" | LineSpace():
                return None
            case _:
                return frame_of(self.scene, space, object_id)

    def mirrored(self, object_id: str) -> Flags:
        """Return (n,) in which sheets an object has a left-handed map to the world; worked out once for all checks."""
        if object_id not in self._mirrored:
            self._mirrored[object_id] = np.linalg.det(self.world_from_local[object_id][:, :3, :3]) < 0
        return self._mirrored[object_id]

    @cached_property
    def _mirrored(self) -> dict[str, Flags]:
        return {}

    def points(self, object_id: str, point_local: Array) -> Array:
        """Return (n, 3) where a point of an object, given in its own coordinates (3,), is in the world."""
        maps = self.world_from_local[object_id]
        return np.asarray(maps[:, :3, :3] @ point_local + maps[:, :3, 3])


def batch_of(start: Scene, target: Scene, sheets: Sequence[SheetSubmission]) -> SheetBatch:
    """Lay the sheets of one exercise upon each other, by the rules of `submission.handed`.

    Sheets that lack objects, name unknown ones, or hold numbers that no object can have are not sound.
    """
    by_object = [{row.object: row for row in sheet.rows} for sheet in sheets]
    made = target.objects.keys() - start.objects.keys()
    changed = [i for i in target.objects if i in start.objects and not _alike(start[i], target[i])]
    sound = np.array(
        [
            rows.keys() <= target.objects.keys()
            and all(i in rows and rows[i].gives_place for i in made)
            and all(i in rows and rows[i].gives_value for i in changed)
            for rows in by_object
        ],
        dtype=np.bool_,
    )
    changes = _changes(target.conventions, sheets)
    worlds: dict[str, Array] = {}
    with np.errstate(all="ignore"):  # what comes of numbers that no object can have is not sound
        for object_id in target.parents_first():
            own = start[object_id].parent_from_local if object_id in start.objects else None
            above = worlds.get(target[object_id].parent or "", IDENTITY)
            rows = [each.get(object_id) for each in by_object]
            laid, fine = _laid(rows, own, above, changes)
            sound &= fine
            world_from_local = laid
            if above is not IDENTITY:
                world_from_local = np.asarray(above @ laid)
                sound &= _surely_affine(world_from_local)
            world_from_local[~sound] = IDENTITY
            worlds[object_id] = world_from_local
    return SheetBatch(target, worlds, sound, count_unsaid(start, target))


def _alike(start: SceneObject, target: SceneObject) -> bool:
    """Tell whether an object that no row gives a value is as in the target but for its place."""
    ours, theirs = (
        (item.name, item.solid, item.parent, item.colour, item.opacity, item.locked) for item in (start, target)
    )
    return ours == theirs and np.array_equal(start.pivot, target.pivot)


@dataclass(frozen=True)
class _Changes:
    """Transforms from each sheet's conventions to the exercise's: `ConventionTransform` as a batch.

    basis (n, 3, 3), ratio (n,) and radians in one of its angle units (n,); orders: of its Euler angles. same: whether
    all sheets have the exercise's own axes and unit, so that no number changes.
    """

    basis: Array
    ratio: Array
    radians: Array
    orders: np.ndarray
    same: bool

    def __getitem__(self, which: Sequence[int] | np.ndarray) -> _Changes:
        return _Changes(self.basis[which], self.ratio[which], self.radians[which], self.orders[which], self.same)

    def linear(self, linear: Array) -> Array:
        """Return (n, 3, 3) rotations and other linear maps: B R B⁻¹."""
        return linear if self.same else np.asarray(self.basis @ linear @ self.basis.transpose(0, 2, 1))

    def points(self, points: Array) -> Array:
        """Return (n, 3) points, in the exercise's unit."""
        return points if self.same else np.asarray(self.ratio[:, None] * (self.basis @ points[:, :, None])[:, :, 0])

    def sizes(self, sizes: Array) -> Array:
        """Return (n, 3) factors an axis."""
        return sizes if self.same else np.asarray((np.abs(self.basis) @ sizes[:, :, None])[:, :, 0])

    def turns(self, angles: Array) -> Array:
        """Return the rotations (n, 3, 3) of Euler angles (n, 3)."""
        turned = np.zeros((len(angles), 3, 3))
        for order in np.unique(self.orders):
            which = self.orders == order
            angles_rad = angles[which] * self.radians[which, None]
            turned[which] = Rotation.from_euler(str(order), angles_rad).as_matrix()
        return self.linear(turned)


def _changes(target: Conventions, sheets: Sequence[SheetSubmission]) -> _Changes:
    kinds = {
        conventions: ConventionTransform(conventions, target)
        for conventions in {s.conventions or target for s in sheets}
    }
    each = [kinds[sheet.conventions or target] for sheet in sheets]
    return _Changes(
        np.array([change.basis for change in each]).reshape(-1, 3, 3),
        np.array([change.ratio for change in each]),
        np.array([change.source.radians_per_unit for change in each]),
        np.array([change.source.euler for change in each]),
        all((c.up, c.handedness, c.length) == (target.up, target.handedness, target.length) for c in kinds),
    )


def _laid(
    rows: Sequence[Row | None], own: Array | None, world_from_parent: Array, changes: _Changes
) -> tuple[Array, Flags]:
    """Return the maps (n, 4, 4) of one object to its parent, a sheet each, and (n,) which of them are sound.

    rows: what the sheets say of it. own (4, 4): its place where they say nothing; none where the start does not have
    it. world_from_parent: (n, 4, 4), or the IDENTITY without a parent.
    """
    laid = np.broadcast_to(IDENTITY if own is None else own, (len(rows), 4, 4)).copy()
    sound = np.ones(len(rows), dtype=np.bool_)
    which, written = _said(rows)
    if not which:
        return laid, sound
    before = laid[which]
    in_world = np.array([row.space == "world" and world_from_parent is not IDENTITY for row in written])
    above = np.broadcast_to(world_from_parent, laid.shape)[which][in_world]
    if own is not None:
        before[in_world] = above @ own
    given, sound[which] = _given(written, before, changes[which])
    given[in_world] = inverse(above) @ given[in_world]
    laid[which] = given
    return laid, sound & _surely_affine(laid)


def _given(rows: Sequence[Row], before: Array, changes: _Changes) -> tuple[Array, Flags]:
    """(n, 4, 4) the maps that rows say, in the exercise's conventions; what they leave out is as before (n, 4, 4)."""
    fine = np.ones(len(rows), dtype=np.bool_)
    translation, rotation, scale = np.zeros((len(rows), 3)), np.zeros((len(rows), 3, 3)), np.zeros((len(rows), 3))
    part = [i for i, row in enumerate(rows) if not (row.translation and (row.euler or row.rotation) and row.scale)]
    if part:
        read = parts_of(before[part])
        translation[part], rotation[part], scale[part] = read.translation, read.rotation, read.scale
    which, said = _said([row.translation for row in rows])
    if which:
        translation[which] = changes[which].points(np.array(said))
    which, said = _said([row.scale for row in rows])
    if which:
        scale[which] = changes[which].sizes(np.array(said))
    which, said = _said([row.euler for row in rows])
    if which:
        rotation[which] = changes[which].turns(np.array(said))
    which, quaternions = _said([row.rotation for row in rows])
    if which:
        rotation[which], fine[which] = _turned(np.array(quaternions), changes[which])
    given = np.zeros((len(rows), 4, 4))
    given[:, :3, :3] = rotation * scale[:, None, :]
    given[:, :3, 3] = translation
    given[:, 3, 3] = 1
    which, matrices = _said([row.matrix for row in rows])
    if which:
        maps = np.array(matrices).reshape(-1, 4, 4).transpose(0, 2, 1)
        given[which, :3, :3] = changes[which].linear(maps[:, :3, :3])
        given[which, :3, 3] = changes[which].points(maps[:, :3, 3])
        fine[which] = (maps[:, 3] == LAST_ROW).all(axis=1)
    return given, fine


def _turned(quaternions: Array, changes: _Changes) -> tuple[Array, Flags]:
    """Return the rotations (n, 3, 3) of quaternions (n, 4), and (n,) which of those are of unit length."""
    fine = np.abs(np.linalg.norm(quaternions, axis=1) - 1) <= UNIT_QUATERNION_TOL
    sound = np.where(fine[:, None], quaternions, (0.0, 0.0, 0.0, 1.0))
    return changes.linear(Rotation.from_quat(sound).as_matrix()), fine


def _surely_affine(maps: Array) -> Flags:
    """Return (n,) which of many maps (n, 4, 4) `require_affine` surely lets pass; of the others it may some."""
    linear = maps[:, :3, :3]
    size = np.linalg.norm(linear, axis=(1, 2))
    fine = (np.abs(maps).max(axis=(1, 2)) <= LARGEST) & (size >= SMALLEST)
    return np.asarray(fine & (np.abs(np.linalg.det(linear)) >= SURELY_INVERTIBLE * size**3))


def _said(values: Sequence[Said | None]) -> tuple[list[int], list[Said]]:
    """Return the places at which something is said, and what."""
    which = [i for i, value in enumerate(values) if value is not None]
    return which, [value for value in values if value is not None]
