"""Mistakes made with a whole file or sheet: the other up axis, mirrored, another unit, another order of angles."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import partial
from typing import Final, get_args

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.choices import Length
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform, EulerOrder
from cubedrill.core.geometry.transform import affine, parent_from_parts, parts_of
from cubedrill.core.judging.causes.common import FileMistake, Words
from cubedrill.core.scene.reading import angles_of, second_triple
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array

NO_TURN: Final = 1e-12  # rad: an angle below this is rounding


def _under(scene: Scene, motion_world: Array) -> Scene:
    """Return the scene with a motion (4, 4) of the whole world: all that has no parent moves."""
    roots = [item.id for item in scene.objects.values() if item.parent is None]
    return scene.with_objects([scene.placed(i, motion_world @ scene[i].parent_from_local) for i in roots])


def other_up(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Y and Z taken for each other as the way up: a quarter turn about X, either way.

    The whole world lies on its side, or the numbers of each object are those along the other axes.
    """
    for turn in quarter_turns():
        motion = affine(turn, np.zeros(3))
        yield "", _under(scene, motion)
        yield "", _each(scene, partial(_along_other_axes, motion))


def quarter_turns() -> Iterator[Array]:
    """Yield the quarter turns (3, 3) about X, either way."""
    for way in (1.0, -1.0):
        yield np.array(((1.0, 0.0, 0.0), (0.0, 0.0, -way), (0.0, way, 0.0)))


def mirrored(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """One axis of the world the other way round: as solids inside out, and as numbers typed without the mirroring."""
    for axis in range(3):
        mirror = np.eye(4)
        mirror[axis, axis] = -1.0
        yield f" along {'XYZ'[axis]}", _under(scene, mirror)
        yield f" along {'XYZ'[axis]}", _each(scene, partial(_along_other_axes, mirror))


def _along_other_axes(other_from_own: Array, placed: Array) -> Array:
    return np.asarray(other_from_own @ placed @ other_from_own.T)


def _each(scene: Scene, change: Callable[[Array], Array]) -> Scene:
    return scene.with_objects([scene.placed(i, change(scene[i].parent_from_local)) for i in scene.objects])


def other_unit(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """Yield the scene with all lengths in another unit, or only positions if only those were typed."""
    for detail, factor in other_lengths(scene.conventions):
        yield detail, _under(scene, np.diag([factor, factor, factor, 1.0]))
        yield detail, _each(scene, partial(_moved_out, factor))


def other_lengths(own: Conventions) -> Iterator[tuple[str, float]]:
    """By which factor lengths are off in each other unit, either way, and which two units those are."""
    for unit in get_args(Length):
        if unit != own.length:
            ratio = ConventionTransform(own, own.model_copy(update={"length": unit})).ratio
            yield f" ({own.length} and {unit} confused)", ratio
            yield f" ({own.length} and {unit} confused)", 1 / ratio


def _moved_out(factor: float, placed: Array) -> Array:
    moved = placed.copy()
    moved[:3, 3] *= factor
    return moved


def other_euler(scene: Scene) -> Iterator[tuple[str, Scene]]:
    """The same three angles put together in another order: each in its own place in the list, or about its own letter.

    By letters only between orders that have all three; in one such as ZXZ a letter stands twice and another is lacking.
    """
    own = scene.conventions.euler
    for order in get_args(EulerOrder):
        if order == own:
            continue
        ways: list[tuple[int, ...]] = [(0, 1, 2)]
        if sorted(own.upper()) == sorted(order.upper()):
            ways.append(tuple(own.upper().index(letter) for letter in order.upper()))
        for way in dict.fromkeys(ways):
            for other in (False, True):
                yield f" ({order})", _each(scene, partial(_reordered, own, order, way, other))


def _reordered(own: EulerOrder, order: EulerOrder, way: tuple[int, ...], other: bool, placed: Array) -> Array:
    """The angles read in one order, put together in another; way: where each of the other order's angles is read.

    Of the two triples that are the same turn, nobody knows which was typed: the one with fewer angles, or with smaller
    ones, or the other where that has as few. What is the same turn in both orders stays as it is, to the last bit.
    """
    parts = parts_of(placed)
    angles = angles_of(parts.rotation, own)
    likely, unlikely = sorted(
        (angles, second_triple(angles, own)), key=lambda triple: (_given(triple), triple @ triple)
    )
    typed = (unlikely if other and _given(unlikely) == _given(likely) else likely)[list(way)]
    letters = {(own[way[i]].upper(), order[i].upper()) for i in range(3) if _turns(typed[i])}
    if _given(typed) < 2 and all(one == another for one, another in letters):
        return placed
    turned = Rotation.from_euler(order, typed).as_matrix()
    return parent_from_parts(parts.translation, turned, parts.scale)


def _given(triple: Array) -> int:
    return sum(map(_turns, triple.tolist()))


def _turns(angle_rad: float) -> bool:
    return abs(math.remainder(angle_rad, 2 * math.pi)) > NO_TURN


FILES: Final = (
    FileMistake(
        "file-other-up", 0.6,
        Words("has the wrong up axis", "Check which axis is up in the whole file."),
        other_up,
    ),
    FileMistake(
        "file-mirrored", 0.4,
        Words("is mirrored{detail}", "Check the handedness of the whole file."),
        mirrored,
    ),
    FileMistake(
        "file-other-unit", 0.6,
        Words("is in the wrong unit{detail}", "Check the unit of the whole file."),
        other_unit,
    ),
    FileMistake(
        "file-euler-order", 0.5,
        Words("has its angles in the wrong Euler order{detail}", "Check the order of the angles."),
        other_euler,
    ),
)  # fmt: skip
