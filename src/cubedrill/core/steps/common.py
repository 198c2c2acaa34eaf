"""Shared parts of steps: the base class, the objects a step acts on, and axes."""

from __future__ import annotations

import itertools
import math
import re
from abc import ABC, abstractmethod
from collections.abc import Container, Iterable, Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, Self, get_args

import numpy as np
from pydantic import BeforeValidator, Field

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import AXES, Axis, Conventions, ConventionTransform
from cubedrill.core.geometry.directions import FLAT_TOL, square_to, unit
from cubedrill.core.geometry.transform import turn
from cubedrill.core.language.part import Writing
from cubedrill.core.language.phrase import Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import AXIS_COLUMNS, Pivot, Point, Space, objects_named
from cubedrill.core.values import Array, Identifier, Number, Value, Vector, as_vector

Entry = Literal["typed", "dragged", "nudged"]
Unneeded = Annotated[tuple[Identifier, ...], Field(max_length=1000, fail_fast=True)]
Chosen = Annotated[Unneeded, Field(min_length=1)]
SignedAxis = Literal["+x", "-x", "+y", "-y", "+z", "-z"]


def _readable_axis(value: object) -> object:
    if isinstance(value, str) and value not in AXES:
        raise ValueError("an axis is 'x', 'y', 'z', or three numbers")
    return value


AnyAxis = Annotated[Axis | Vector, BeforeValidator(_readable_axis)]


class StepBase(Value, ABC):
    """A step: data that say one change of a scene, what can be done with it, and what it tells of itself.

    says: the ways to say it, by which its sentence is written and read. unsaid: fields that mean nothing.
    """

    says: ClassVar[Sayings]
    unsaid: ClassVar[tuple[str, ...]] = ()
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

    def sentence(self, scene: Scene | None, *, exact: bool = False) -> str:
        """Return the step in words.

        Parameters
        ----------
        scene : Scene, optional
            The scene before the step. Without it, names are ids.
        exact : bool
            Whether to write every field, and numbers in the shortest form that reads back the same, so that
            `read_step` returns the same step.

        Returns
        -------
        str
        """
        return self.said(Writing(scene, exact))

    def said(self, to: Writing) -> str:
        """Return the step in words, written as asked."""
        entry = f" ({_each(to.on_copies)}{self.entry})" if to.exact and self.entry else ""
        return self.says.write(self, to, but=("op", "entry", *self.unsaid)) + entry

    @classmethod
    def read(cls, reader: Reader) -> dict[str, object]:
        """Read the sentence of a step of this kind, as files hold it; raise StuckError where it does not stand here."""
        found = cls.completed(cls.says.read(reader), reader.scene)
        entries = {f"({_each(reader.on_copies)}{word})": word for word in get_args(Entry)}
        entry = reader.attempt(lambda r: r.words(*entries, offered=()))
        named = {cls.model_fields[field].alias or field: value for field, value in found.items()}
        return {"op": op_of(cls), **named, **({"entry": entries[entry]} if entry else {})}

    @classmethod
    def completed(cls, found: dict[str, object], scene: Scene | None) -> dict[str, object]:
        """Return what a sentence said, with what may be left out of it, such as the ids of what it makes."""
        del scene
        return found

    @abstractmethod
    def converted(self, change: ConventionTransform) -> Self:
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
        """Return (3,) each, length 1 in world: the lines that it goes along or about; none where it goes to a place."""
        del scene, object_id
        return None


def _each(on_copies: bool) -> str:
    """Return what tells how the step between copies was given from how the whole was."""
    return "each " if on_copies else ""


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


def op_of(kind: type[StepBase]) -> str:
    """Return what a kind of step is called in files."""
    return str(get_args(kind.model_fields["op"].annotation)[0])


def free_id(name: str, taken: Container[str]) -> str:
    """Return an id made of a name, that nothing has yet."""
    stem = re.sub(r"[^\w]+", "-", name.casefold()).strip("-") or "object"
    if stem not in taken:
        return stem
    return next(f"{stem}-{n}" for n in itertools.count(2) if f"{stem}-{n}" not in taken)


def with_id(found: dict[str, Any], taken: Container[str]) -> dict[str, Any]:
    """Return what was said of a new thing, with an id where it said none: its name, or one made of it."""
    if "id" in found or "name" not in found:
        return found
    if found["name"] not in taken:
        return {"id": found["name"], **{key: value for key, value in found.items() if key != "name"}}
    return {"id": free_id(found["name"], taken), **found}


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
    """Return the objects that a transform acts on: each once, and none below another selected one.

    Raises
    ------
    CoreError
        "unknown-object", or "locked" if a locked object would change.
    """
    left = topmost(scene, ids)
    unlocked(scene, left)
    return left


def axis_unit(axis: Axis | Vector) -> Array:
    """Return an axis along a space's directions, with length 1.

    Returns
    -------
    (3,) array

    Raises
    ------
    CoreError
        "axis-zero".
    """
    if isinstance(axis, str):
        return np.asarray(AXIS_COLUMNS["xyz".index(axis)])
    return unit(np.array(axis), "axis-zero")


def signed_unit(axis: str) -> Array:
    """Return (3,) an own axis such as `+z`."""
    return np.asarray(AXIS_COLUMNS["xyz".index(axis[1])] * (1.0 if axis[0] == "+" else -1.0))


def converted_turn(axis: Axis | Vector, angle: float, change: ConventionTransform) -> tuple[Axis | Vector, float]:
    """Return an axis along a space's directions, and the angle about it, in other conventions."""
    if isinstance(axis, str):
        letter, sign = change.axis(axis)
        return letter, sign * change.turn(angle)
    return as_vector(change.direction(np.array(axis))), change.turn(angle)


def converted_partial(values: Sequence[Number | None], change: ConventionTransform, *, signed: bool) -> object:
    """Return lengths along the axes, some of which may be missing, in other conventions.

    Parameters
    ----------
    signed : bool
        Whether the values are positions. Otherwise they are sizes.
    """
    after: list[float | None] = [None, None, None]
    for letter, value in zip("xyz", values, strict=True):
        target, sign = change.axis(letter)
        if value is not None:
            after["xyz".index(target)] = change.length(value) * (sign if signed else 1)
    return tuple(after)


def angles_rad(angles: Vector, conventions: Conventions) -> Array:
    """Return (3,) typed angles in rad."""
    return np.asarray(np.array(angles) * conventions.radians_per_unit)


def own_axis_world(scene: Scene, object_id: str, axis: str) -> Array:
    """Return the image (3,) of an own axis in the world, length 1."""
    image = scene.world_from_local(object_id)[:3, :3] @ signed_unit(axis)
    return np.asarray(image / np.linalg.norm(image))


def least_turn(now: Array, wanted: Array, up_index: int) -> Array:
    """Return the smallest (3, 3) turn from one unit direction to another.

    Straight back it is half a turn, about world up made square to the direction, or about world X made square to it
    where the direction is along up.
    """
    normal = np.cross(now, wanted)
    size = math.hypot(*normal.tolist())
    if size >= FLAT_TOL:
        return turn(normal / size, math.atan2(size, float(now @ wanted)))
    if now @ wanted > 0:
        return np.eye(3) + _cross_matrix(normal)  # the turn by so small an angle, to second order
    try:
        axis = square_to(AXIS_COLUMNS[up_index], now, "aim-along-axis", name="")
    except CoreError:
        axis = square_to(AXIS_COLUMNS[0], now, "aim-along-axis", name="")
    return turn(axis, math.pi)


def _cross_matrix(vector: Array) -> Array:
    """Return the map (3, 3) v ↦ vector × v."""
    return np.asarray(np.cross(vector, AXIS_COLUMNS).T)
