"""Duplicate: copies of objects, each made from the one before, with a step done in between."""

from __future__ import annotations

import itertools
from collections.abc import Container, Mapping, Sequence
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Final, Literal, Self, get_args

from pydantic import Field, Strict, ValidationError, WithJsonSchema, field_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Change
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps.common import ObjectsStep, topmost
from cubedrill.core.values import Array, Identifier

_NOBODY: Final = ("the copy",)  # stands for the copies while a step without objects is checked

StepWithoutObjects = Annotated[
    dict[str, Any],
    WithJsonSchema(
        {
            "type": "object",
            "title": "StepWithoutObjects",
            "description": "A step that acts on objects, written without 'objects': it is done on each new copy.",
            "properties": {"op": {"type": "string"}},
            "required": ["op"],
            "additionalProperties": True,
        }
    ),
]


class Duplicate(ObjectsStep):
    """Copy objects; with `between`, copy 1 is the original with it done once, and copy k + 1 is made from copy k."""

    on_copies: ClassVar[bool] = False
    op: Literal["duplicate"]
    ids: Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=1000, fail_fast=True)]
    copies: Annotated[int, Strict(), Field(ge=1, le=1000)] = 1
    between: StepWithoutObjects | None = None

    @field_validator("between")
    @classmethod
    def _is_a_step(cls, between: dict[str, Any] | None) -> dict[str, Any] | None:
        if between is not None:
            if "objects" in between:
                raise ValueError("the step between copies has no 'objects'; it acts on each new copy")
            try:
                _between(between, _NOBODY)
            except ValidationError as error:
                first = error.errors(include_url=False)[0]
                place = ".".join(str(part) for part in first["loc"])
                raise ValueError(f"{place}: {first['msg']}" if place else first["msg"]) from None
        return between

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the copies, after all that was there.

        `ids` go copy by copy, within a copy in the order of the objects copied; a descendant d of an object copied
        to N becomes `N/d`. Raises CoreError "unknown-object", "copy-ids", "id-taken", or what the step between raises.
        """
        originals = topmost(scene, self.objects)
        named = {i: i for i in scene.objects}  # what an object, or the one it was copied from, was called before
        for ids in self._ids_by_copy(originals):
            scene, made_from = _with_copies(scene, originals, ids, named)
            if self.between is not None:
                scene = _between(self.between, ids).apply(scene)
                named |= {copy: named[source] for copy, source in made_from.items()}
                originals = list(ids)
        return scene

    def _ids_by_copy(self, originals: Sequence[str]) -> list[tuple[str, ...]]:
        count = len(originals)
        if len(self.ids) != count * self.copies:
            raise CoreError(
                "copy-ids",
                copies=f"{self.copies} {'copy' if self.copies == 1 else 'copies'}",
                objects=f"{count} {'object' if count == 1 else 'objects'}",
                wanted=count * self.copies,
                given=len(self.ids),
            )
        return [self.ids[i : i + count] for i in range(0, len(self.ids), count)]

    def typed_angles_rad(self, scene: Scene) -> Mapping[str, Array]:
        """Return the angles that a rotation `to` between the copies sets."""
        if self.between is None:
            return {}
        return _between(self.between, self.ids).typed_angles_rad(self.apply(scene))

    @property
    def makes(self) -> tuple[str, ...]:
        """The ids of the copies."""
        return self.ids

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects: ids and names may be taken."""
        del scene

    def sentence(self, scene: Scene) -> str:
        """Return the step in words."""
        times = "" if self.copies == 1 else f" {self.copies} times"
        if self.between is None:
            return f"Duplicate {self.who(scene)}{times}"
        between = _between(self.between, _NOBODY).sentence(scene)
        return f"Duplicate {self.who(scene)}{times}, each time: {between[:1].lower()}{between[1:]}"

    def converted(self, change: Change) -> Self:
        """Return the same step in other conventions."""
        if self.between is None:
            return self
        after = _between(self.between, _NOBODY).converted(change)
        written = after.model_dump(mode="json", exclude={"objects"}, exclude_unset=True)
        return self.model_copy(update={"between": written})


def _between(step: Mapping[str, Any], ids: Sequence[str]) -> ObjectsStep:
    """The step between copies, done on these; any kind that acts on objects and says that it can be."""
    every = {get_args(kind.model_fields["op"].annotation)[0]: kind for kind in ObjectsStep.__subclasses__()}
    kinds = {op: kind for op, kind in every.items() if kind.on_copies}
    if step.get("op") not in kinds:
        raise ValueError(f"op: a step between copies is one of {', '.join(sorted(kinds))}")
    return kinds[step["op"]].model_validate({**step, "objects": tuple(ids)})


def _with_copies(
    scene: Scene, originals: Sequence[str], ids: Sequence[str], named: Mapping[str, str]
) -> tuple[Scene, dict[str, str]]:
    """Return the scene with one copy of each original and of all that is below it, and what each was made from."""
    copies: dict[str, SceneObject] = {}
    made_from: dict[str, str] = {}
    for original, copy_id in zip(originals, ids, strict=True):
        new_ids = {original: copy_id, **{d: f"{copy_id}/{named[d]}" for d in scene.descendants(original)}}
        for source, target in new_ids.items():
            if target in scene.objects or target in copies:
                raise CoreError("id-taken", object=target)
            item = scene[source]
            parent = item.parent if source == original else new_ids[item.parent or original]
            copies[target] = replace(item, id=target, parent=parent)
            made_from[target] = source
        name = _free_name({item.name for item in (*scene.objects.values(), *copies.values())}, scene[original].name)
        copies[copy_id] = replace(copies[copy_id], name=name)
    return scene.with_objects(copies.values()), made_from


def _free_name(taken: Container[str], name: str) -> str:
    """Return the name with the first number that no object has yet: two of one name cannot be told apart in a list."""
    stem, _, last = name.rpartition(" ")
    stem = stem if stem and last.isdigit() else name
    return next(f"{stem} {n}" for n in itertools.count(2) if f"{stem} {n}" not in taken)
