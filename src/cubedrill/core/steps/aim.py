"""Aim and swing: turn so that an own axis points somewhere, or that one line comes over another."""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar, Final, Literal, Self

import numpy as np
from pydantic import Discriminator, Field, Tag

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Axis, ConventionTransform
from cubedrill.core.geometry.directions import square_to, unit
from cubedrill.core.geometry.transform import about, turn
from cubedrill.core.language import terms
from cubedrill.core.language.part import Part, Writing
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.scene.spaces import (
    AXIS_COLUMNS,
    FeaturePoint,
    Frame,
    Pivot,
    Point,
    Space,
    converted_pivot,
    converted_point,
    converted_space,
    frame_of,
    pivots_world,
    point_world,
    within,
)
from cubedrill.core.steps.common import (
    AnyAxis,
    ObjectsStep,
    SignedAxis,
    acted_on,
    axis_unit,
    converted_turn,
    hanging_on,
    least_turn,
    own_axis_world,
    signed_unit,
)
from cubedrill.core.values import Array, Value, Vector, as_vector


class Direction(Value):
    """A direction along the axes of the step's space."""

    direction: Vector


def _aim_kind(value: object) -> str:
    if isinstance(value, Direction) or (isinstance(value, dict) and "direction" in value):
        return "direction"
    return "place" if isinstance(value, dict | FeaturePoint) else "numbers"


Goal = Annotated[
    Annotated[Vector, Tag("numbers")] | Annotated[FeaturePoint, Tag("place")] | Annotated[Direction, Tag("direction")],
    Discriminator(_aim_kind),
]


class _AtPoint(Part):
    """A point to aim at."""

    def fits(self, value: object) -> bool:
        """Tell whether it is a point."""
        return not isinstance(value, Direction)

    def write(self, value: object, to: Writing) -> str:
        """Write the point."""
        return terms.POINT.write(value, to)

    def read(self, reader: Reader) -> object:
        """Read the point."""
        return terms.POINT.read(reader)


class _Along(Part):
    """A direction to aim along."""

    def fits(self, value: object) -> bool:
        """Tell whether it is a direction."""
        return isinstance(value, Direction)

    def write(self, value: Any, to: Writing) -> str:
        """Write the direction."""
        return terms.VECTOR.write(value.direction, to)

    def read(self, reader: Reader) -> object:
        """Read numbers, or an axis with its sign."""
        sign = reader.attempt(terms.SIGNED_AXIS.read)
        return {"direction": terms.VECTOR.read(reader) if sign is None else signed_unit(sign).tolist()}


_AT_POINT: Final = _AtPoint()
_PARTS: Final = {
    "axis": terms.SIGNED_AXIS,
    "objects": terms.OBJECTS,
    "about": terms.LETTER,
    "space": terms.SPACE,
}


class Aim(ObjectsStep):
    """Turn objects about their own pivots so that an own axis points at a point or along a direction."""

    says: ClassVar = Sayings(
        Phrase("Aim/Point {axis} of {objects} at {at}[, only about {about}< of/in {space}>]", **_PARTS, at=_AT_POINT),
        Phrase("Aim/Point {axis} of {objects} at {at}< in {space}>", **_PARTS, at=_AT_POINT),
        Phrase("Aim/Point {axis} of {objects} along {at}< of/in {space}>[, only about {about}]", **_PARTS, at=_Along()),
    )
    op: Literal["aim"]
    space: Space = "world"
    axis: SignedAxis
    at: Goal
    about: Axis | None = None

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after aiming.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "aim-own-pivot", "direction-zero", "aim-along-axis", or the error of the
            space.

        Notes
        -----
        The object's axis is its image W e, normalised. With `about`, the object only rotates about that axis of the
        space, and both directions are projected onto its plane. Without it, the axis comes onto the direction, and
        the object's up axis as near to the world's as that allows (or by the smallest rotation, see `_free_turn`).
        """
        return scene.with_objects([self._aimed(scene, i) for i in acted_on(scene, self.objects)])

    def _aimed(self, scene: Scene, object_id: str) -> SceneObject:
        pivot_world = scene.pivot_world(object_id)
        frame = frame_of(scene, self.space, object_id)
        wanted = self._direction_world(scene, object_id, frame, pivot_world)
        now = own_axis_world(scene, object_id, self.axis)
        if self.about is None:
            rotation = self._free_turn(scene, object_id, now, wanted)
        else:
            normal = frame.world_from_axes @ axis_unit(self.about)
            facts = {"object": object_id, "name": scene[object_id].name}
            flat = [square_to(direction, normal, "aim-along-axis", **facts) for direction in (now, wanted)]
            rotation = turn(normal, signed_angle(normal, *flat))
        return scene.placed_by(object_id, about(rotation, pivot_world))

    def _direction_world(self, scene: Scene, object_id: str, frame: Frame, pivot_world: Array) -> Array:
        if isinstance(self.at, Direction):
            return frame.world_from_axes @ unit(np.array(self.at.direction), "direction-zero")
        toward = point_world(scene, self.at) - pivot_world
        return unit(toward, "aim-own-pivot", object=object_id, name=scene[object_id].name)

    def _free_turn(self, scene: Scene, object_id: str, now: Array, wanted: Array) -> Array:
        """(3, 3) the turn that brings `now` onto `wanted` and the own up axis as near to world up as that leaves.

        Where the direction is along up, or the axis aimed is the own up axis, the least turn instead.
        """
        up_letter = scene.conventions.up
        up = AXIS_COLUMNS[scene.conventions.up_index]
        if self.axis[1] != up_letter:
            own_up = own_axis_world(scene, object_id, f"+{up_letter}")
            try:
                return np.asarray(_frame_along(wanted, up) @ _frame_along(now, own_up).T)
            except CoreError:
                pass  # the direction is along up: no turn about it brings the own up axis any nearer
        return least_turn(now, wanted, scene.conventions.up_index)

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.space, None if isinstance(self.at, Direction) else self.at)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same aim in other conventions."""
        inside = within(self.space, change)
        at: Direction | Point
        if isinstance(self.at, Direction):
            at = Direction(direction=as_vector(inside.direction(np.array(self.at.direction))))
        else:
            at = converted_point(self.at, change)
        about_axis = None if self.about is None else inside.axis(self.about)[0]
        space, axis = converted_space(self.space, change), change.signed_axis(self.axis)
        return self.model_copy(update={"axis": axis, "at": at, "about": about_axis, "space": space})


def _frame_along(first: Array, second: Array) -> Array:
    """Return (3, 3) square directions as columns: the first, the second made square to it, and their cross product."""
    flat = square_to(second, first, "aim-along-axis", name="")
    return np.column_stack((first, flat, np.cross(first, flat)))


def signed_angle(normal: Array, start: Array, end: Array) -> float:
    """Return the angle from one direction to another about a normal: atan2(n · (u × v), u · v).

    Parameters
    ----------
    normal, start, end : (3,) array

    Returns
    -------
    float
        In radians.

    Examples
    --------
    >>> round(math.degrees(signed_angle(np.array([0.0, 0, 1]), np.array([1.0, 0, 0]), np.array([0.0, 1, 0]))), 9)
    90.0
    """
    return math.atan2(float(normal @ np.cross(start, end)), float(start @ end))


class Swing(ObjectsStep):
    """Turn objects about an axis by the angle that brings the line A→B to C→D, seen along that axis."""

    says: ClassVar = Sayings(
        Phrase(
            "Swing {objects} about {axis}< of/in {space}>< through {pivot}>, from {start} to {to}",
            objects=terms.OBJECTS,
            axis=terms.AXIS,
            space=terms.SPACE,
            pivot=terms.PIVOT,
            start=terms.LINE,
            to=terms.LINE,
        )
    )
    op: Literal["swing"]
    space: Space = "world"
    axis: AnyAxis
    pivot: Pivot = "own"
    start: Annotated[tuple[Point, Point], Field(alias="from")]
    to: tuple[Point, Point]

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after a swing. All points are those before the step.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "axis-zero", "swing-coincide", "swing-along-axis", "no-box", or the error of
            the space.
        """
        ids = acted_on(scene, self.objects)
        centres = pivots_world(scene, self.pivot, ids)
        lines = [self._line(scene, "A → B", self.start), self._line(scene, "C → D", self.to)]
        return scene.with_objects([self._swung(scene, i, c, lines) for i, c in zip(ids, centres, strict=True)])

    def _line(self, scene: Scene, points: str, line: tuple[Point, Point]) -> Array:
        first, second = (point_world(scene, point) for point in line)
        return unit(second - first, "swing-coincide", points=points)

    def _swung(self, scene: Scene, object_id: str, centre_world: Array, lines: list[Array]) -> SceneObject:
        normal = frame_of(scene, self.space, object_id).world_from_axes @ axis_unit(self.axis)
        first, second = (
            square_to(line, normal, "swing-along-axis", points=points)
            for line, points in zip(lines, ("A → B", "C → D"), strict=True)
        )
        return scene.placed_by(object_id, about(turn(normal, signed_angle(normal, first, second)), centre_world))

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.space, self.pivot, *self.start, *self.to)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same swing in other conventions."""
        axis, _ = converted_turn(self.axis, 0.0, within(self.space, change))
        (a, b), (c, d) = ([converted_point(p, change) for p in line] for line in (self.start, self.to))
        space, pivot = converted_space(self.space, change), converted_pivot(self.pivot, change)
        return self.model_copy(update={"axis": axis, "space": space, "pivot": pivot, "start": (a, b), "to": (c, d)})
