"""Align and drop: bring the sides of boxes to those of others, or down onto what is below."""

from __future__ import annotations

from typing import ClassVar, Final, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.language import terms
from cubedrill.core.language.part import Choice
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject
from cubedrill.core.scene.spaces import Space, converted_space, frame_of, within
from cubedrill.core.steps.common import ObjectsStep, acted_on, hanging_on
from cubedrill.core.values import Array, Identifier, Number

Side = Literal["min", "centre", "max"]

_SIDE: Final = Choice({"min": "min", "centre": ("centre", "center", "middle"), "max": "max"})

TOUCH_TOL: Final = 1e-9  # scene lengths: boxes that overlap by less do not stand over each other


class Align(ObjectsStep):
    """Move each object so that, per axis given, a side or the centre of its box meets that of the reference's box."""

    says: ClassVar = Sayings(
        Phrase(
            "Align {objects} with/to {to}: {sides}< of/in {space}>",
            objects=terms.OBJECTS,
            to=terms.REFERENCE,
            sides=terms.PerAxis(_SIDE, True, None, fields=("x", "y", "z")),
            space=terms.SPACE,
        )
    )
    op: Literal["align"]
    space: Space = "world"
    to: Identifier
    x: Side | None = None
    y: Side | None = None
    z: Side | None = None

    @model_validator(mode="after")
    def _some_axis(self) -> Self:
        if self.sides == (None, None, None):
            raise ValueError("give at least one of 'x', 'y' and 'z': 'min', 'centre' or 'max'")
        return self

    @property
    def sides(self) -> tuple[Side | None, Side | None, Side | None]:
        """The sides to align, by axis."""
        return (self.x, self.y, self.z)

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after an alignment. Boxes are those before the step, along each object's own frame.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "no-box", or the error of the space.

        Notes
        -----
        `to` is an object, or ``selection`` for the boxes of all selected objects.
        """
        ids = acted_on(scene, self.objects)
        references = ids if self.to == "selection" else [scene[self.to].id]
        return scene.with_objects([self._aligned(scene, i, references) for i in ids])

    def _aligned(self, scene: Scene, object_id: str, references: list[str]) -> SceneObject:
        axes = frame_of(scene, self.space, object_id).world_from_axes
        axes_from_world = IDENTITY.copy()
        axes_from_world[:3, :3] = axes.T
        own = scene.require_box(object_id, axes_from_world)
        wanted = scene.box_around(references, axes_from_world)
        displacement = [
            0.0 if side is None else _at(wanted, side, axis) - _at(own, side, axis)
            for axis, side in enumerate(self.sides)
        ]
        return scene.moved_by(object_id, axes @ np.array(displacement))

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, (*self.objects, self.to), self.space)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same alignment in other conventions; where an axis turns round, min and max change places."""
        inside = within(self.space, change)
        after: dict[str, Side | None] = {"x": None, "y": None, "z": None}
        turned_round: dict[Side, Side] = {"min": "max", "centre": "centre", "max": "min"}
        for letter, side in zip("xyz", self.sides, strict=True):
            target, sign = inside.axis(letter)
            after[target] = turned_round[side] if side and sign < 0 else side
        return self.model_copy(update={**after, "space": converted_space(self.space, change)})


def _at(box: Box, side: Side, axis: int) -> float:
    ends: dict[Side, Array] = {"min": box.least, "centre": box.centre, "max": box.most}
    return float(ends[side][axis])


class Drop(ObjectsStep):
    """Move each object along up until its lowest point is at the ground, or on the highest solid below it."""

    says: ClassVar = Sayings(
        Phrase(
            "Drop {objects} onto/on {onto}[, {clearance} clear of it]",
            objects=terms.OBJECTS,
            onto=Choice({"ground": ("the ground", "ground"), "below": "what is below"}),
            clearance=terms.LENGTH,
        )
    )
    op: Literal["drop"]
    onto: Literal["ground", "below"] = "ground"
    clearance: Number = 0.0

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after a drop, by the world boxes before the step.

        Raises
        ------
        CoreError
            "unknown-object", "locked" or "no-box".

        Notes
        -----
        A solid is below the object if it is neither selected nor a descendant of a selected object, overlaps the
        object across by more than `TOUCH_TOL`, and its top is at most that far above the object's lowest point.
        Without such a solid, the object drops to the ground.
        """
        ids = acted_on(scene, self.objects)
        tops = self._supports(scene, ids) if self.onto == "below" else []
        up = scene.conventions.up_index
        after = []
        for object_id in ids:
            box = scene.require_box(object_id, IDENTITY)
            displacement = np.zeros(3)
            displacement[up] = _height_below(box, tops, up) + self.clearance - box.least[up]
            after.append(scene.moved_by(object_id, displacement))
        return scene.with_objects(after)

    def _supports(self, scene: Scene, ids: list[str]) -> list[Box]:
        moving = {*self.objects, *(below for i in ids for below in scene.descendants(i))}
        others = (item.id for item in scene.objects.values() if item.solid is not None and item.id not in moving)
        return [scene.require_box(other, IDENTITY) for other in others]

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects: what is below is looked for."""
        del scene

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same drop in other conventions."""
        return self.model_copy(update={"clearance": change.length(self.clearance)})


def _height_below(box: Box, supports: list[Box], up: int) -> float:
    across = [axis for axis in range(3) if axis != up]
    heights = [
        float(other.most[up])
        for other in supports
        if other.most[up] <= box.least[up] + TOUCH_TOL
        and all(min(box.most[a], other.most[a]) - max(box.least[a], other.least[a]) > TOUCH_TOL for a in across)
    ]
    return max(heights, default=0.0)
