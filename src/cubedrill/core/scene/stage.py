"""A scene as a file gives it: objects, marker, plot. Checked here once and turned into a scene."""

from __future__ import annotations

from typing import Annotated, Self

import numpy as np
from pydantic import Field, model_validator
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import parent_from_parts, require_affine, rotation_from_quaternion
from cubedrill.core.scene.scene import Scene, SceneObject, scene_of
from cubedrill.core.values import (
    Array,
    Colour,
    Identifier,
    Matrix16,
    Quaternion,
    Share,
    Value,
    Vector,
    as_vector,
    vector,
)

DEFAULT_COLOUR = "#9a8f7a"
ORIGIN: Vector = (0.0, 0.0, 0.0)


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
    pivot: Vector = ORIGIN
    colour: Colour = DEFAULT_COLOUR
    opacity: Share = 1.0
    locked: bool = False

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if self.matrix is not None and (self.translation or self.rotation or self.scale):
            raise ValueError("an object has either a matrix, or translation, rotation and scale")
        return self

    @property
    def has_place(self) -> bool:
        """Tell whether it says where it is."""
        return self.translation is not None or self.matrix is not None

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
        return parent_from_parts(vector(self.translation or ORIGIN), rotation, vector(self.scale or (1, 1, 1)))

    def converted(self, change: ConventionTransform) -> ObjectSpec:
        """Return the same object in other conventions; its matrix stands for itself."""
        place = {
            "translation": None if self.translation is None else as_vector(change.point(vector(self.translation))),
            "rotation": None if self.rotation is None else self._turned(change),
            "scale": None if self.scale is None else as_vector(change.sizes(vector(self.scale))),
        }
        matrix = None
        if self.matrix is not None:
            matrix = tuple(change.matrix(self._parent_from_local()).ravel(order="F").tolist())
        solid = None if self.solid is None else self.solid.converted(change)
        pivot = as_vector(change.point(vector(self.pivot)))
        return self.model_copy(update={**place, "matrix": matrix, "solid": solid, "pivot": pivot})

    def _turned(self, change: ConventionTransform) -> Quaternion:
        rotation = rotation_from_quaternion(np.array(self.rotation), self.id)
        x, y, z, w = Rotation.from_matrix(change.rotation(rotation)).as_quat(canonical=True).tolist()
        return (x, y, z, w)


class PlotSpec(Value):
    """The box that the scene must stay inside, in world coordinates."""

    min: Vector
    max: Vector

    @model_validator(mode="after")
    def _not_empty(self) -> Self:
        if any(low >= high for low, high in zip(self.min, self.max, strict=True)):
            raise ValueError("each min of a plot must be below its max")
        return self

    def converted(self, change: ConventionTransform) -> PlotSpec:
        """Return the same box in other conventions."""
        ends = change.point(np.array((self.min, self.max)))
        return PlotSpec(min=as_vector(ends.min(axis=0)), max=as_vector(ends.max(axis=0)))


class Stage(Value):
    """A scene as a file gives it; objects stand in any order."""

    objects: Annotated[tuple[ObjectSpec, ...], Field(min_length=1, max_length=5000, fail_fast=True)]
    marker: Vector = ORIGIN
    plot: PlotSpec | None = None

    def to_scene(self, conventions: Conventions) -> Scene:
        """Return the scene; raise CoreError where its tree or a matrix is unsound."""
        plot = Box(vector(self.plot.min), vector(self.plot.max)) if self.plot else None
        return scene_of([spec.to_object() for spec in self.objects], conventions, vector(self.marker), plot)

    def converted(self, change: ConventionTransform) -> Stage:
        """Return the same stage in other conventions."""
        return Stage(
            objects=tuple(spec.converted(change) for spec in self.objects),
            marker=as_vector(change.point(vector(self.marker))),
            plot=self.plot.converted(change) if self.plot else None,
        )
