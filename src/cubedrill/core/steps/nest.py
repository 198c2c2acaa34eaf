"""Nest and assemble: who is whose child."""

from __future__ import annotations

from dataclasses import replace
from functools import reduce
from typing import ClassVar, Literal, Self

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import inverse, mapped
from cubedrill.core.language import terms
from cubedrill.core.language.part import Choice, Part, Writing
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject
from cubedrill.core.scene.stage import DEFAULT_COLOUR
from cubedrill.core.steps.common import ObjectsStep, acted_on, hanging_on, with_id
from cubedrill.core.values import Identifier, frozen


class _Inside(Part):
    """The object that others are put in: `in A`."""

    def write(self, value: object, to: Writing) -> str:
        """Write the object."""
        return f"in {terms.OBJECT.write(value, to)}"

    def read(self, reader: Reader) -> object:
        """Read the object."""
        reader.words("in")
        return terms.OBJECT.read(reader)


class Nest(ObjectsStep):
    """Give objects another parent, or none, keeping their place in the world or their local numbers."""

    says: ClassVar = Sayings(
        Phrase(
            "Nest {objects} {parent}<, keeping its {keep}>",
            objects=terms.OBJECTS,
            parent=terms.Either((Choice({None: "out of everything"}), _Inside())),
            keep=Choice({"world": "place in the world", "local": "local numbers"}),
        )
    )
    op: Literal["nest"]
    parent: Identifier | None
    keep: Literal["world", "local"] = "world"

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after nesting; raise CoreError "unknown-object", "locked", "parent-loop"."""
        ids = acted_on(scene, self.objects)
        if self.parent is not None:
            inside = {scene[self.parent].id, *scene.ancestors(self.parent)}
            for object_id in ids:
                if object_id in inside:
                    raise CoreError("parent-loop", object=object_id)
        return scene.with_objects([self._nested(scene, i) for i in ids])

    def _nested(self, scene: Scene, object_id: str) -> SceneObject:
        if self.keep == "local" or scene[object_id].parent == self.parent:
            return replace(scene[object_id], parent=self.parent)
        return scene.under(object_id, self.parent)

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects if self.parent is None else (*self.objects, self.parent))

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step: it has no numbers."""
        del change
        return self


class Assemble(ObjectsStep):
    """Put objects together in a new assembly at the identity of their nearest common parent."""

    on_copies: ClassVar[bool] = False
    says: ClassVar = Sayings(
        Phrase("Assemble {objects} as {name}« (id {id})»", objects=terms.OBJECTS, name=terms.NEW_NAME, id=terms.NEW_ID),
        Phrase("Assemble {objects} as {id}« (unnamed)»", objects=terms.OBJECTS, id=terms.NEW_ID),
    )
    op: Literal["assemble"]
    id: Identifier
    name: Identifier | None = None

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the assembly. Its pivot is at the centre of the world box of the selected objects.

        Raises
        ------
        CoreError
            "unknown-object", "locked" or "id-taken".

        Notes
        -----
        Objects without a box are skipped. If none has a box, the pivot is at the mean of their pivots.
        """
        ids = acted_on(scene, self.objects)
        if self.id in scene.objects:
            raise CoreError("id-taken", object=self.id)
        parent = _nearest_common_parent(scene, ids)
        world_from_parent = IDENTITY if parent is None else scene.world_from_local(parent)
        boxes = [box for i in ids if (box := scene.box(i, IDENTITY)) is not None]
        if boxes:
            middle_world = reduce(Box.with_box, boxes).centre
        else:
            middle_world = np.mean([scene.pivot_world(i) for i in ids], axis=0)
        pivot = mapped(inverse(world_from_parent), middle_world)
        assembly = SceneObject(
            self.id, self.name or self.id, None, parent, IDENTITY, frozen(pivot), DEFAULT_COLOUR, 1.0, False
        )
        wider = scene.with_objects([assembly])
        return wider.with_objects([_put_in(wider, i, assembly) for i in ids])

    @classmethod
    def completed(cls, found: dict[str, object], scene: Scene | None) -> dict[str, object]:
        """Return what a sentence said, with an id made of the name where it has none."""
        return with_id(found, () if scene is None else scene.objects)

    @property
    def makes(self) -> tuple[str, ...]:
        """The id of the assembly."""
        return (self.id,)

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects, where the parent that they have in common may be any."""
        del scene

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step: it has no numbers."""
        del change
        return self


def _put_in(scene: Scene, object_id: str, assembly: SceneObject) -> SceneObject:
    if scene[object_id].parent == assembly.parent:
        return replace(scene[object_id], parent=assembly.id)  # the assembly is at its identity: no numbers change
    return scene.under(object_id, assembly.id)


def _nearest_common_parent(scene: Scene, ids: list[str]) -> str | None:
    """Return the deepest object that is above all of these."""
    others = [set(scene.ancestors(object_id)) for object_id in ids[1:]]
    above = (a for a in scene.ancestors(ids[0]) if all(a in other for other in others))
    return next(above, None)
