"""Duplicate: copies of objects, each made from the one before, with a step done in between."""

from __future__ import annotations

import itertools
from collections.abc import Container, Mapping, Sequence
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import Field, Strict, ValidationError, WithJsonSchema, field_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.language import terms
from cubedrill.core.language.part import Part, Writing
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.language.terms import THE_COPY
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps.bounds import require_few
from cubedrill.core.steps.common import ObjectsStep, free_id, op_of, topmost
from cubedrill.core.values import Array, Identifier

StepWithoutObjects = Annotated[
    dict[str, object],
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


class _OnCopies(Part):
    """A step that is done on each copy: `move the copy by 2 m along X of World`."""

    def write(self, value: Any, to: Writing) -> str:
        """Write the step."""
        said = _between(value, THE_COPY).said(replace(to, on_copies=True))
        return f"{said[:1].lower()}{said[1:]}"

    def read(self, reader: Reader) -> object:
        """Read a step of any kind that can be done on copies."""
        before, reader.on_copies = reader.on_copies, True
        try:
            found = reader.farthest_of([kind.read for kind in _kinds().values()])
            return {key: value for key, value in found.items() if key != "objects"}
        finally:
            reader.on_copies = before


class Duplicate(ObjectsStep):
    """Copy objects; with `between`, copy 1 is the original with it done once, and copy k + 1 is made from copy k."""

    on_copies: ClassVar[bool] = False
    says: ClassVar = Sayings(
        Phrase(
            "Duplicate {objects}[ {copies} times/time]« (ids {ids})»[, each time: {between}]",
            objects=terms.OBJECTS,
            copies=terms.COUNT,
            ids=terms.NEW_IDS,
            between=_OnCopies(),
        )
    )
    op: Literal["duplicate"]
    ids: Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=1000, fail_fast=True)]
    copies: Annotated[int, Strict(), Field(ge=1, le=1000)] = 1
    between: StepWithoutObjects | None = None

    @field_validator("between")
    @classmethod
    def _is_a_step(cls, between: dict[str, object] | None) -> dict[str, object] | None:
        if between is not None:
            if "objects" in between:
                raise ValueError("the step between copies has no 'objects'; it acts on each new copy")
            try:
                return _written(_between(between, THE_COPY))
            except ValidationError as error:
                first = error.errors(include_url=False)[0]
                place = ".".join(str(part) for part in first["loc"])
                raise ValueError(f"{place}: {first['msg']}" if place else first["msg"]) from None
        return between

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the copies after all existing objects.

        Raises
        ------
        CoreError
            "unknown-object", "copy-ids", "id-taken", or the error of the step between copies.

        Notes
        -----
        `ids` name the copies one after the other, within a copy in the order of the copied objects. A descendant d of
        an object copied to N becomes ``N/d``.
        """
        originals = topmost(scene, self.objects)
        require_few((scene[i] for o in originals for i in (o, *scene.descendants(o))), self.copies)
        named = {i: i for i in scene.objects}  # what an object, or the one it was copied from, was called before
        for ids in self._ids_by_copy(originals):
            scene, made_from = _with_copies(scene, originals, ids, named)
            between = self.between_on(ids)
            if between is not None:
                scene = between.apply(scene)
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
        between = self.between_on(self.ids)
        return {} if between is None else between.typed_angles_rad(self.apply(scene))

    def between_on(self, ids: Sequence[str]) -> ObjectsStep | None:
        """Return the step between copies as it would be done on these objects; none where there is none."""
        return None if self.between is None else _between(self.between, ids)

    def with_between(self, step: ObjectsStep) -> Self:
        """Return the same copies with another step between them, whatever objects that says."""
        return self.model_copy(update={"between": _written(step)})

    @property
    def makes(self) -> tuple[str, ...]:
        """The ids of the copies."""
        return self.ids

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects: ids and names may be taken."""
        del scene

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step in other conventions."""
        between = self.between_on(THE_COPY)
        return self if between is None else self.with_between(between.converted(change))

    @classmethod
    def completed(cls, found: dict[str, Any], scene: Scene | None) -> dict[str, Any]:
        """Return what a sentence said, with ids made of the originals' where it has none."""
        if "ids" in found or scene is None:
            return found
        taken, ids = set(scene.objects), []
        for original in topmost(scene, found["objects"]) * found.get("copies", 1):
            ids.append(free_id(original, taken))
            taken.add(ids[-1])
        return {**found, "ids": ids}


def _written(step: ObjectsStep) -> dict[str, object]:
    """Return a step without its objects as files hold it, what holds anyway left out: one step, one way to write it."""
    return step.model_dump(mode="json", exclude={"objects"}, exclude_defaults=True)


def _kinds() -> dict[str, type[ObjectsStep]]:
    """Return the kinds of step that can be done on copies, by what they are called in files."""
    return {op_of(kind): kind for kind in ObjectsStep.__subclasses__() if kind.on_copies}


def _between(step: Mapping[str, object], ids: Sequence[str]) -> ObjectsStep:
    """Return the step between copies, done on these; any kind that acts on objects and says that it can be."""
    kinds, op = _kinds(), step.get("op")
    if not isinstance(op, str) or op not in kinds:
        raise ValueError(f"op: a step between copies is one of {', '.join(sorted(kinds))}")
    return kinds[op].model_validate({**step, "objects": tuple(ids)})


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
