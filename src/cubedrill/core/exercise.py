"""What an author sets: start scene, reference steps or target, checks. The values of an exercise file."""

from __future__ import annotations

from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, StringConstraints, model_validator

from cubedrill.core.checks import Check
from cubedrill.core.conventions import Conventions
from cubedrill.core.errors import CoreError
from cubedrill.core.replay import replay
from cubedrill.core.scene import Scene, SceneObject, scene_of
from cubedrill.core.solids import Box, Solid
from cubedrill.core.steps import StepList
from cubedrill.core.transform import parent_from_parts, require_affine, rotation_from_quaternion
from cubedrill.core.values import Array, Identifier, Number, Value, Vector, vector

DEFAULT_COLOUR = "#9a8f7a"

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Quaternion = tuple[Number, Number, Number, Number]
Matrix16 = Annotated[tuple[Number, ...], Field(min_length=16, max_length=16)]
Share = Annotated[Number, Field(ge=0, le=1)]


class ObjectSpec(Value):
    """An object as a file gives it: translation, rotation [x, y, z, w] and scale, or a matrix column by column."""

    id: Identifier
    name: Identifier | None = None
    solid: Solid | None = None
    parent: Identifier | None = None
    translation: Vector | None = None
    rotation: Quaternion | None = None
    scale: Vector | None = None
    matrix: Matrix16 | None = None
    pivot: Vector = (0.0, 0.0, 0.0)
    colour: Colour = DEFAULT_COLOUR
    opacity: Share = 1.0
    locked: bool = False

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if self.matrix is not None and (self.translation or self.rotation or self.scale):
            raise ValueError("an object has either a matrix, or translation, rotation and scale")
        return self

    def to_object(self) -> SceneObject:
        """Return the scene object; raise CoreError where its matrix cannot be used."""
        return SceneObject(
            id=self.id,
            name=self.name or self.id,
            solid=self.solid,
            parent=self.parent,
            parent_from_local=require_affine(self._parent_from_local(), self.id),
            pivot=vector(self.pivot),
            colour=self.colour,
            opacity=self.opacity,
            locked=self.locked,
        )

    def _parent_from_local(self) -> Array:
        if self.matrix is not None:
            return np.array(self.matrix).reshape(4, 4, order="F")
        rotation = rotation_from_quaternion(np.array(self.rotation or (0, 0, 0, 1), dtype=np.float64), self.id)
        return parent_from_parts(vector(self.translation or (0, 0, 0)), rotation, vector(self.scale or (1, 1, 1)))


class PlotSpec(Value):
    """The box that the scene must stay inside, in world coordinates."""

    min: Vector
    max: Vector

    @model_validator(mode="after")
    def _not_empty(self) -> Self:
        if any(low >= high for low, high in zip(self.min, self.max, strict=True)):
            raise ValueError("each min of a plot must be below its max")
        return self


class Stage(Value):
    """A scene as a file gives it; objects stand in any order."""

    objects: Annotated[tuple[ObjectSpec, ...], Field(min_length=1, max_length=5000)]
    marker: Vector = (0.0, 0.0, 0.0)
    plot: PlotSpec | None = None

    def to_scene(self, conventions: Conventions) -> Scene:
        """Return the scene; raise CoreError where its tree or a matrix is unsound."""
        plot = Box(vector(self.plot.min), vector(self.plot.max)) if self.plot else None
        return scene_of([spec.to_object() for spec in self.objects], conventions, vector(self.marker), plot)


class Reference(Value):
    """The steps that lead from the start to the target."""

    steps: StepList = ()


class Rules(Value):
    """Rules for the way there; none is known yet, so any key is refused."""


class Exercise(Value):
    """One exercise: what is given, what to reach, how exactly."""

    format: Literal["cube-drill/exercise"]
    version: Literal[1]
    id: Identifier
    title: Identifier
    brief: Annotated[str, Field(max_length=50_000)] = ""
    conventions: Conventions = Conventions()
    start: Stage
    reference: Reference | None = None
    target: Stage | None = None
    rules: Rules = Rules()
    checks: Annotated[tuple[Check, ...], Field(max_length=1000)] = ()
    pass_mark: Share = 0.7

    @model_validator(mode="after")
    def _ids_differ(self) -> Self:
        ids = [check.id for check in self.checks]
        if len(set(ids)) < len(ids):
            raise ValueError("each check needs an id of its own")
        return self

    def start_scene(self) -> Scene:
        """Return the scene as given."""
        return self.start.to_scene(self.conventions)

    def target_scene(self) -> Scene:
        """Return the scene to reach: the target, or what the reference steps lead to.

        Raises CoreError "no-reference" where the exercise has neither.
        """
        if self.target is not None:
            return self.target.to_scene(self.conventions)
        if self.reference is None:
            raise CoreError("no-reference")
        return replay(self.start_scene(), self.reference.steps)[-1].scene


def require_sound(exercise: Exercise) -> None:
    """Raise CoreError where the start, the reference or a check cannot be carried out."""
    target = exercise.target_scene()
    for check in exercise.checks:
        for object_id in check.objects:
            if object_id not in target.objects:
                raise CoreError("check-object", check=check.id, object=object_id)
