"""What the step families share: the base of every step, whom a step acts on, and axes."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import BeforeValidator, Field

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import AXES, Axis, Change, Conventions
from cubedrill.core.geometry.transform import unit
from cubedrill.core.scene import wording
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import AXIS_COLUMNS, Pivot, Point, Space, objects_named
from cubedrill.core.values import Array, Identifier, Number, Value, Vector, as_vector

Entry = Literal["typed", "dragged", "nudged"]
Unneeded = Annotated[tuple[Identifier, ...], Field(max_length=1000, fail_fast=True)]
Chosen = Annotated[Unneeded, Field(min_length=1)]
SignedAxis = Literal["+x", "-x", "+y", "-y", "+z", "-z"]


def _readable_axis(value: Any) -> Any:
    if isinstance(value, str) and value not in AXES:
        raise ValueError("an axis is 'x', 'y', 'z', or three numbers")
    return value


AnyAxis = Annotated[Axis | Vector, BeforeValidator(_readable_axis)]


class StepBase(Value, ABC):
    """A step: data that say one change of a scene, what can be done with it, and what it tells of itself."""

    op: str
    entry: Entry | None = None

    @property
    def acts_on(self) -> tuple[str, ...]:
        """The ids of the objects that it acts on, each once."""
        return ()

    @property
    def makes(self) -> tuple[str, ...]:
        """The ids of the objects that it makes."""
        return ()

    @property
    def touches(self) -> tuple[str, ...]:
        """The ids of the objects that it changes or makes; what is in them follows."""
        return (*self.acts_on, *self.makes)

    @abstractmethod
    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on, those it acts on too; none where it may hang on all."""

    @abstractmethod
    def apply(self, scene: Scene) -> Scene:
        """Return the scene after this step; raise CoreError where it cannot be done."""

    @abstractmethod
    def sentence(self, scene: Scene) -> str:
        """Return the step in words; scene: as it stands before the step."""

    @abstractmethod
    def converted(self, change: Change) -> Self:
        """Return the same step in other conventions."""

    def typed_angles_rad(self, scene: Scene) -> Mapping[str, Array]:
        """Return the Euler angles (3,) that this step sets, by object, in the order of the conventions."""
        del scene
        return {}

    @property
    def values(self) -> tuple[float, ...]:
        """The numbers that a student gives with it."""
        return ()

    @property
    def axes_of(self) -> Space | None:
        """The space along whose axes it goes; none for a kind that goes along no axis."""
        return None

    @property
    def turns_about(self) -> Pivot | None:
        """The pivot that it turns or scales about; none for a kind without one."""
        return None

    def lines(self, scene: Scene, object_id: str) -> list[Array] | None:
        """(3,) each, length 1 in world: the lines that it goes along or about; none where it goes to a place."""
        del scene, object_id
        return None


class ObjectsStep(StepBase):
    """A step that acts on objects.

    on_copies: whether it can be done between two copies.
    """

    on_copies: ClassVar[bool] = True
    objects: Chosen

    @property
    def acts_on(self) -> tuple[str, ...]:
        """The ids of the objects that it acts on, each once."""
        return tuple(dict.fromkeys(self.objects))

    def who(self, scene: Scene) -> str:
        """Return the names of the objects it acts on."""
        return wording.names(scene, self.acts_on)


def hanging_on(scene: Scene, ids: Iterable[str], *given_by: Space | Pivot | Point | None) -> frozenset[str] | None:
    """Return what an outcome hangs on that is given by objects, spaces, pivots and points; none where it may be all.

    What is named, all that it is in, and, of an assembly, all that is in it, since its box goes by that. The marker may
    hang on any.
    """
    if "marker" in given_by:
        return None
    named = {*ids, *(i for part in given_by for i in objects_named(part))} & scene.objects.keys()
    above = {a for i in named for a in scene.ancestors(i)}
    below = {d for i in named if scene[i].solid is None for d in scene.descendants(i)}
    return frozenset(named | above | below)


def chosen(scene: Scene, ids: Sequence[str]) -> list[str]:
    """Return the objects listed, each once; raise CoreError "unknown-object"."""
    once = list(dict.fromkeys(ids))
    for object_id in once:
        scene[object_id]
    return once


def topmost(scene: Scene, ids: Sequence[str]) -> list[str]:
    """Return the objects listed, each once, without those below another of them."""
    once = chosen(scene, ids)
    if len(once) == 1:
        return once
    among = set(once)
    return [object_id for object_id in once if among.isdisjoint(scene.ancestors(object_id))]


def unlocked(scene: Scene, ids: Sequence[str]) -> Sequence[str]:
    """Return the ids; raise CoreError "locked" where a locked object would be changed."""
    for object_id in ids:
        if scene[object_id].locked:
            raise CoreError("locked", object=object_id, name=scene[object_id].name)
    return ids


def acted_on(scene: Scene, ids: Sequence[str]) -> list[str]:
    """Return the objects that a transform acts on: each once, and none below another chosen one.

    Raises CoreError "unknown-object", or "locked" where a locked object would be changed.
    """
    left = topmost(scene, ids)
    unlocked(scene, left)
    return left


def axis_unit(axis: Axis | Vector) -> Array:
    """(3,) an axis along a space's directions, length 1. Raises CoreError "axis-zero"."""
    if isinstance(axis, str):
        return np.asarray(AXIS_COLUMNS["xyz".index(axis)])
    return unit(np.array(axis), "axis-zero")


def signed_unit(axis: str) -> Array:
    """(3,) an own axis such as `+z`."""
    return np.asarray(AXIS_COLUMNS["xyz".index(axis[1])] * (1.0 if axis[0] == "+" else -1.0))


def converted_turn(axis: Axis | Vector, angle: float, change: Change) -> tuple[Axis | Vector, float]:
    """Return an axis along a space's directions, and the angle about it, in other conventions."""
    if isinstance(axis, str):
        letter, sign = change.axis(axis)
        return letter, sign * change.turn(angle)
    return as_vector(change.direction(np.array(axis))), change.turn(angle)


def converted_partial(values: Sequence[Number | None], change: Change, *, signed: bool) -> Any:
    """Return lengths an axis, of which some may be missing; signed: places rather than sizes."""
    after: list[float | None] = [None, None, None]
    for letter, value in zip("xyz", values, strict=True):
        target, sign = change.axis(letter)
        if value is not None:
            after["xyz".index(target)] = change.length(value) * (sign if signed else 1)
    return tuple(after)


def angles_rad(angles: Vector, conventions: Conventions) -> Array:
    """(3,) typed angles in rad."""
    return np.asarray(np.array(angles) * conventions.radians_per_unit)
