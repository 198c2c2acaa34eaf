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
    """The scene with each object where it comes to, whatever it is in."""
    changed = scene
    for object_id in scene.parents_first():
        changed = changed.with_objects([changed.placed_in_world(object_id, world_of(scene, object_id))])
    return changed


def baked_twice(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Places put into the vertices, and kept beside them: W′ = W · W."""

    def twice(scene: Scene, object_id: str) -> Array:
        world_from_local = scene.world_from_local(object_id)
        return world_from_local @ world_from_local

    yield "", _everywhere(scene, twice)


def centre_for_pivot(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """The middle of each solid where its pivot should be; what is in it stays."""
    yield "", _everywhere(scene, _centred)


def _centred(scene: Scene, object_id: str) -> Array:
    world_from_local, box = scene.world_from_local(object_id), scene.local_box(object_id)
    if box is None:
        return world_from_local
    moved = world_from_local.copy()
    moved[:3, 3] += scene.pivot_world(object_id) - mapped(world_from_local, box.centre)
    return moved


def up_of_turns(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """The other axis up in how each object is turned, and not in where it is."""
    for turn in quarter_turns():
        for back in (np.eye(3), turn.T):
            yield "", _everywhere(scene, partial(_of_parts, turn, back, np.eye(3)))


def up_of_places(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """The other axis up in where each object is, and not in how it is turned."""
    for turn in quarter_turns():
        yield "", _everywhere(scene, partial(_of_parts, np.eye(3), np.eye(3), turn))


def _of_parts(linear: Array, back: Array, place: Array, scene: Scene, object_id: str) -> Array:
    world_from_local = scene.world_from_local(object_id)
    return affine(linear @ world_from_local[:3, :3] @ back, place @ world_from_local[:3, 3])


def unit_of_sizes(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """The vertices in another unit, and not where each object is."""
    for detail, factor in other_lengths(scene.conventions):
        yield detail, _everywhere(scene, partial(_of_parts, np.eye(3) * factor, np.eye(3), np.eye(3)))


def parent_lost(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Take each object's numbers in its parent as numbers in the world."""
    yield "", _everywhere(scene, lambda scene, object_id: scene[object_id].parent_from_local)


def parent_twice(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Numbers in the world kept inside of what the object is in, which then counts twice."""

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
        "has each position twice, in the vertices and beside them",
        "Check how places were exported: into the vertices, or beside them.",
    ), baked_twice),
    _mistake("file-centre-for-pivot", 0.4, (
        "has the centre of each object where its pivot should be",
        "Check which point of an object was exported as its origin.",
    ), centre_for_pivot),
    _mistake("file-up-of-turns", 0.3, (
        "has the other axis up in its rotations, but not in its positions",
        "Check which axis is up, for rotations and for places.",
    ), up_of_turns),
    _mistake("file-up-of-places", 0.3, (
        "has the other axis up in its positions, but not in its rotations",
        "Check which axis is up, for rotations and for places.",
    ), up_of_places),
    _mistake("file-unit-of-sizes", 0.4, (
        "has its sizes in another unit{detail}, but not its positions",
        "Check the unit of the sizes and of the places.",
    ), unit_of_sizes),
    _mistake("file-parent-lost", 0.4, (
        "ignores parents, so that local numbers count as world numbers",
        "Check how objects that are in others were exported.",
    ), parent_lost),
    _mistake("file-parent-twice", 0.3, (
        "counts parents twice, since world numbers were kept inside them",
        "Check how objects that are in others were exported.",
    ), parent_twice),
)  # fmt: skip
