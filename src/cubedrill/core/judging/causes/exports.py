"""Mistakes made when a program writes a scene: places counted twice, some numbers in other axes, what holds it lost."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

import numpy as np

from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.judging.causes.common import FileMistake, Words
from cubedrill.core.judging.causes.files import other_lengths, quarter_turns
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array

WorldOf = Callable[[Scene, str], Array]  # (4, 4) where an object comes to in the world


def _everywhere(scene: Scene, world_of: WorldOf) -> Scene:
    """Return the scene with each object where it comes to, whatever it is in."""
    changed = scene
    for object_id in scene.parents_first():
        changed = changed.with_objects([changed.placed_in_world(object_id, world_of(scene, object_id))])
    return changed


def baked_twice(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with positions in the vertices and in the transforms: W′ = W · W."""

    def twice(scene: Scene, object_id: str) -> Array:
        world_from_local = scene.world_from_local(object_id)
        return world_from_local @ world_from_local

    yield "", _everywhere(scene, twice)


def centre_for_pivot(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with the centre of each solid in place of its pivot; children stay."""
    yield "", _everywhere(scene, _centred)


def _centred(scene: Scene, object_id: str) -> Array:
    world_from_local, box = scene.world_from_local(object_id), scene.local_box(object_id)
    if box is None:
        return world_from_local
    moved = world_from_local.copy()
    moved[:3, 3] += scene.pivot_world(object_id) - mapped(world_from_local, box.centre)
    return moved


def up_of_turns(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with the other up axis in rotations, but not in positions."""
    for turn in quarter_turns():
        for back in (np.eye(3), turn.T):
            yield "", _everywhere(scene, partial(_of_parts, turn, back, np.eye(3)))


def up_of_places(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with the other up axis in positions, but not in rotations."""
    for turn in quarter_turns():
        yield "", _everywhere(scene, partial(_of_parts, np.eye(3), np.eye(3), turn))


def _of_parts(linear: Array, back: Array, place: Array, scene: Scene, object_id: str) -> Array:
    world_from_local = scene.world_from_local(object_id)
    return affine(linear @ world_from_local[:3, :3] @ back, place @ world_from_local[:3, 3])


def unit_of_sizes(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with vertices in another unit, but not positions."""
    for detail, factor in other_lengths(scene.conventions):
        yield detail, _everywhere(scene, partial(_of_parts, np.eye(3) * factor, np.eye(3), np.eye(3)))


def parent_lost(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Take each object's numbers in its parent as numbers in the world."""
    yield "", _everywhere(scene, lambda scene, object_id: scene[object_id].parent_from_local)


def parent_twice(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with world numbers kept under parents, so that parents count twice."""

    def twice(scene: Scene, object_id: str) -> Array:
        parent = scene[object_id].parent
        world_from_local = scene.world_from_local(object_id)
        return world_from_local if parent is None else scene.world_from_local(parent) @ world_from_local

    yield "", _everywhere(scene, twice)


def _mistake(
    code: str, common: float, words: tuple[str, str], alter: Callable[[Scene], Iterator[tuple[str, Scene]]]
) -> FileMistake:
    return FileMistake(code, common, Words(*words), alter, exported=True)


EXPORTS: Final = (
    _mistake("file-baked-twice", 0.4, (
        "has each position twice: in the vertices and in the transform",
        "Check how positions were exported: in the vertices or in the transform.",
    ), baked_twice),
    _mistake("file-centre-for-pivot", 0.4, (
        "has the centre of each object in place of its pivot",
        "Check which point of an object was exported as its origin.",
    ), centre_for_pivot),
    _mistake("file-up-of-turns", 0.3, (
        "has rotations with the other up axis, but correct positions",
        "Check the up axis of rotations and positions.",
    ), up_of_turns),
    _mistake("file-up-of-places", 0.3, (
        "has positions with the other up axis, but correct rotations",
        "Check the up axis of rotations and positions.",
    ), up_of_places),
    _mistake("file-unit-of-sizes", 0.4, (
        "has its sizes in another unit{detail}, but not its positions",
        "Check the unit of sizes and positions.",
    ), unit_of_sizes),
    _mistake("file-parent-lost", 0.4, (
        "ignores parents: local numbers were read as world numbers",
        "Check how child objects were exported.",
    ), parent_lost),
    _mistake("file-parent-twice", 0.3, (
        "applies parents twice: world numbers were kept for child objects",
        "Check how child objects were exported.",
    ), parent_twice),
)  # fmt: skip
