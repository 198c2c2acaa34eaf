"""A plan: an exercise in progress, from which an exercise comes, and which an exercise can be opened as."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

import numpy as np
from pydantic import Field
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.transform import parent_from_parts, parts_of
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.exercise import Exercise, Rules
from cubedrill.core.scene.scene import Scene, SceneObject, scene_of
from cubedrill.core.scene.stage import DEFAULT_COLOUR, ORIGIN, ObjectSpec, PlotSpec, Stage
from cubedrill.core.steps import StepList
from cubedrill.core.steps.replay import State, replay
from cubedrill.core.values import Identifier, Share, Value, Vector, as_vector, vector

UNTITLED: Final = "Untitled"
EXACT: Final = 1e-12  # of the largest number of a map: so near, its parts say it as well as its numbers


class Base(Value):
    """The scene that the stage steps start with; it may be empty."""

    objects: Annotated[tuple[ObjectSpec, ...], Field(max_length=5000, fail_fast=True)] = ()
    marker: Vector = ORIGIN
    plot: PlotSpec | None = None


class Card(Value):
    """A plan without its steps. notes: for the author alone, never published."""

    title: Annotated[str, Field(max_length=200)] = ""
    brief: Annotated[str, Field(max_length=50_000)] = ""
    conventions: Conventions = Conventions()
    base: Base = Base()
    target: Stage | None = None
    rules: Rules = Rules()
    checks: Annotated[tuple[Check, ...], Field(max_length=1000, fail_fast=True)] = ()
    pass_mark: Share = 0.7
    notes: Annotated[str, Field(max_length=50_000)] = ""

    def as_given_in(self, before: Card) -> Card:
        """Return the card with what did not change since another one as that says it: what it left out stays so."""
        old_checks = {check.id: check for check in before.checks}
        said: dict[str, object] = {}
        for name in Card.model_fields:
            new, old = getattr(self, name), getattr(before, name)
            if new != old or name in before.model_fields_set:
                said[name] = old if new == old else new
        if "checks" in said:
            said["checks"] = tuple(old_checks[c.id] if c == old_checks.get(c.id) else c for c in self.checks)
        return Card.model_construct(_fields_set=set(said), **{**Card._defaults(), **said})

    @classmethod
    def _defaults(cls) -> dict[str, Any]:
        return {name: field.get_default() for name, field in cls.model_fields.items()}


class Plan(Card):
    """An exercise in progress; anything may still be missing.

    stage: steps from the base to the start. reference: steps from the start to the target; none where the exercise has
    a target alone.
    """

    format: Literal["cube-drill/plan"]
    version: Literal[1]
    id: Identifier
    stage: StepList = ()
    reference: StepList | None = ()

    def base_scene(self) -> Scene:
        """Return the scene that the stage steps begin with; raise CoreError where its tree or a matrix is unsound."""
        if not self.base.objects:
            return scene_of([], self.conventions, vector(self.base.marker), None)
        return self._base_stage().to_scene(self.conventions)

    def staged(self) -> list[State]:
        """Return the states of the stage steps, the base first; raise the CoreError of one that cannot be done."""
        return replay(self.base_scene(), self.stage)

    def start(self) -> Stage:
        """Return what is given, as an exercise has it: the base where no stage step was done, else where they lead.

        Raises the CoreError of a step that cannot be done, and ValidationError where nothing is there.
        """
        if not self.stage:
            return self._base_stage()
        return self._stage_of(self.staged()[-1].scene)

    def frozen_target(self) -> Stage:
        """Return where the reference leads, to be a target of its own that stays when steps change.

        Raises the CoreError of a step that cannot be done, and ValidationError where nothing is there.
        """
        return self._stage_of(replay(self.staged()[-1].scene, self.reference or ())[-1].scene)

    def in_the_making(self, kinds: tuple[str, ...] | None = None) -> Exercise:
        """Return what the bench shows of it while it is made: nothing is checked, and it may have nothing in it yet.

        kinds: of step that are offered; none: all.
        """
        base = Stage.model_construct(objects=self.base.objects, marker=self.base.marker, plot=self.base.plot)
        return Exercise.model_construct(
            format="cube-drill/exercise", version=1, id=self.id, title=self.title or UNTITLED, brief=self.brief,
            conventions=self.conventions, start=base, reference=None, target=None, rules=Rules(kinds=kinds), checks=(),
            pass_mark=self.pass_mark,
        )  # fmt: skip

    def exercise(self) -> Exercise:
        """Return the exercise as it would be published.

        Raises the CoreError of a step that cannot be done, and ValidationError where it has no title or nothing in it.
        """
        said = {name: getattr(self, name) for name in _SHARED if name in self.model_fields_set}
        reference: dict[str, object] = {} if self.reference is None else {"reference": {"steps": self.reference}}
        return Exercise.model_validate(
            {
                "format": "cube-drill/exercise",
                "version": 1,
                "id": self.id,
                "title": self.title,
                **said,
                "start": self.start(),
                **reference,
            }
        )

    def _stage_of(self, scene: Scene) -> Stage:
        as_given = {spec.id: spec for spec in self.base.objects}
        objects = tuple(_spec_of(item, as_given.get(item.id)) for item in scene.objects.values())
        return Stage(objects=objects, marker=as_vector(scene.marker), plot=self.base.plot)

    def _base_stage(self) -> Stage:
        return Stage.model_validate({name: getattr(self.base, name) for name in self.base.model_fields_set})


_SHARED = ("brief", "conventions", "target", "rules", "checks", "pass_mark")  # these stand in both as they are


def plan_of(exercise: Exercise) -> Plan:
    """Return an exercise opened as a plan; published unchanged it is the same exercise, to the last key."""
    said = {name: getattr(exercise, name) for name in _SHARED if name in exercise.model_fields_set}
    base = {name: getattr(exercise.start, name) for name in exercise.start.model_fields_set}
    return Plan(
        format="cube-drill/plan",
        version=1,
        id=exercise.id,
        title=exercise.title,
        base=Base.model_validate(base),
        reference=None if exercise.reference is None else exercise.reference.steps,
        **said,
    )


def _spec_of(item: SceneObject, given: ObjectSpec | None) -> ObjectSpec:
    """Return an object of a scene as a file gives it; as it was given where nothing of it changed."""
    if given is not None and _same(item, given.to_object()):
        return given
    said: dict[str, object] = {"id": item.id, **_place_of(item)}
    if item.name != item.id:
        said["name"] = item.name
    for name in ("solid", "parent"):
        if getattr(item, name) is not None:
            said[name] = getattr(item, name)
    for name, default in (("colour", DEFAULT_COLOUR), ("opacity", 1.0), ("locked", False)):
        if getattr(item, name) != default:
            said[name] = getattr(item, name)
    if item.pivot.any():
        said["pivot"] = as_vector(item.pivot)
    return ObjectSpec.model_validate(said)


def _place_of(item: SceneObject) -> dict[str, object]:
    """Return an object's placing as parts without those at their default, or as a matrix if parts cannot hold it."""
    parts = parts_of(item.parent_from_local)
    again = parent_from_parts(parts.translation, parts.rotation, parts.scale)
    largest = float(np.abs(item.parent_from_local).max())
    if parts.skewed or float(np.abs(again - item.parent_from_local).max()) > EXACT * largest:
        return {"matrix": tuple(item.parent_from_local.ravel(order="F").tolist())}
    said: dict[str, object] = {"translation": as_vector(parts.translation)}
    if not np.array_equal(parts.rotation, np.eye(3)):
        said["rotation"] = tuple(Rotation.from_matrix(parts.rotation).as_quat(canonical=True).tolist())
    if not np.array_equal(parts.scale, np.ones(3)):
        said["scale"] = as_vector(parts.scale)
    return said


def _same(one: SceneObject, other: SceneObject) -> bool:
    """Tell whether two objects say the same of everything."""
    plain = ("name", "solid", "parent", "colour", "opacity", "locked")
    arrays = ("parent_from_local", "pivot")
    return all(getattr(one, name) == getattr(other, name) for name in plain) and all(
        np.array_equal(getattr(one, name), getattr(other, name)) for name in arrays
    )
