"""Readings of a scene: translation, angles, scale, pivot and box of each object."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import EulerOrder
from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject
from cubedrill.core.values import Array

LOCK_TOL: Final = 1e-7  # rad from gimbal lock within which the first and third axes count as one line (as SciPy does)
TURN: Final = 2 * math.pi


@dataclass(frozen=True, eq=False)
class Reading:
    """One object in numbers. Translation, rotation [x, y, z, w], scale and euler are in its parent."""

    item: SceneObject
    world_from_local: Array
    parent: str | None
    translation: Array
    rotation: Array
    scale: Array
    euler_rad: Array
    skewed: bool
    pivot_world: Array
    world_box: Box | None


def read_scene(
    scene: Scene, angles_rad: Mapping[str, Array], before: Mapping[str, Reading] | None = None
) -> dict[str, Reading]:
    """Return all objects in numbers.

    Parameters
    ----------
    scene : Scene
    angles_rad : mapping
        The angles (3,) shown for each object.
    before : Readings, optional
        The readings of an earlier state. Those of unchanged objects are used again.

    Raises
    ------
    CoreError
        "too-large".
    """
    known = before or {}
    with np.errstate(all="ignore"):
        return {i: _reading(scene, scene[i], angles_rad[i], known.get(i)) for i in scene.objects}


def _reading(scene: Scene, item: SceneObject, angles_rad: Array, before: Reading | None) -> Reading:
    if (
        before is not None
        and before.item is item  # and so its angles, which change with nothing else
        and before.world_from_local is scene.world_from_local(item.id)
        and item.solid is not None  # the box of an assembly goes by what is in it
    ):
        return before
    return _read(scene, item, angles_rad)


def angles_at_start(scene: Scene) -> dict[str, Array]:
    """Return the angles (3,) in rad of every object: the triples that SciPy gives."""
    order = scene.conventions.euler
    return {i: angles_of(parts_of(item.parent_from_local).rotation, order) for i, item in scene.objects.items()}


def angles_after(
    before: Scene, after: Scene, shown: Mapping[str, Array], typed: Mapping[str, Array]
) -> dict[str, Array]:
    """Return the angles (3,) in rad after a step: nearest to the typed ones, or to those shown before it.

    An object whose own map did not change keeps its angles; a new one gets the triple that SciPy gives.
    """
    angles: dict[str, Array] = {}
    for object_id, item in after.objects.items():
        near = typed.get(object_id, shown.get(object_id))
        if object_id in typed or near is None or before[object_id].parent_from_local is not item.parent_from_local:
            rotation = parts_of(item.parent_from_local).rotation
            near = euler_nearest(rotation, after.conventions.euler, near)
        angles[object_id] = near
    return angles


def _read(scene: Scene, item: SceneObject, angles_rad: Array) -> Reading:
    object_id, parts = item.id, parts_of(item.parent_from_local)
    world_from_local, pivot_world = scene.world_from_local(object_id), scene.pivot_world(object_id)
    box = scene.box(object_id, IDENTITY)
    ends = (box.least, box.most) if box else ()
    if not all(np.isfinite(numbers).all() for numbers in (world_from_local, pivot_world, *ends)):
        raise CoreError("too-large", object=object_id, name=item.name)
    return Reading(
        item=item,
        world_from_local=world_from_local,
        parent=item.parent,
        translation=parts.translation,
        rotation=Rotation.from_matrix(parts.rotation).as_quat(canonical=True),
        scale=parts.scale,
        euler_rad=angles_rad,
        skewed=bool(parts.skewed),
        pivot_world=pivot_world,
        world_box=box,
    )


def euler_nearest(rotation: Array, order: EulerOrder, before: Array | None) -> Array:
    """Return the Euler angles of a rotation that are nearest to those shown before.

    Parameters
    ----------
    rotation : (3, 3) array
    order : str
        An order of axes as in `EulerOrder`.
    before : (3,) array, optional
        In radians. SciPy's angles are returned without it.

    Returns
    -------
    (3,) array
        In radians.

    Notes
    -----
    Nearest means the smallest sum of squared differences over both triples that give the rotation, and over whole
    turns. In gimbal lock the third angle keeps its value, 0 at first.
    Source: Diebel, "Representing Attitude" (2006), section 5.6, for the second triple of each order.
    """
    angles = angles_of(rotation, order)
    if before is None:
        return angles
    if _is_locked(angles[1], order):
        return _locked_euler(rotation, order, before)
    candidates = [_whole_turns_nearest(triple, before) for triple in (angles, second_triple(angles, order))]
    return min(candidates, key=lambda triple: float(np.sum((triple - before) ** 2)))


def angles_of(rotation: Array, order: EulerOrder) -> Array:
    """Return the Euler angles of a rotation, as SciPy gives them.

    Parameters
    ----------
    rotation : (3, 3) array
    order : str
        An order of axes as in `EulerOrder`.

    Returns
    -------
    (3,) array
        In radians.
    """
    return np.asarray(Rotation.from_matrix(rotation).as_euler(order, suppress_warnings=True))


def _is_proper(order: EulerOrder) -> bool:
    """Tell whether first and third axis have the same letter."""
    return order[0] == order[2]


def _is_locked(middle_rad: float, order: EulerOrder) -> bool:
    distance = math.sin(middle_rad) if _is_proper(order) else math.cos(middle_rad)
    return abs(distance) < LOCK_TOL


def _locked_euler(rotation: Array, order: EulerOrder, before: Array) -> Array:
    """Take the third turn off, read the rest (SciPy then gives 0 for the third), and put it back."""
    third = Rotation.from_euler(order[2], before[2]).inv().as_matrix()
    rest = rotation @ third if order.isupper() else third @ rotation
    angles = angles_of(rest, order)
    return _whole_turns_nearest(np.array([angles[0], angles[1], before[2]]), before)


def second_triple(angles: Array, order: EulerOrder) -> Array:
    """Return the other Euler angles in rad that give the same rotation, (3,)."""
    first, middle, third = angles
    return np.array([first + math.pi, -middle if _is_proper(order) else math.pi - middle, third + math.pi])


def _whole_turns_nearest(angles: Array, before: Array) -> Array:
    return np.asarray(angles - TURN * np.round((angles - before) / TURN))
