"""The values of an exercise file: start scene, reference steps or target, checks."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Final, Literal, Self, get_args

from pydantic import AfterValidator, Field, model_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks import Check
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps import OPS, Step, StepList
from cubedrill.core.steps.replay import replay
from cubedrill.core.values import Identifier, Share, Value


def _known_op(op: str) -> str:
    if op not in OPS:
        raise ValueError(f"a kind of step is one of {', '.join(OPS)}")
    return op


Op = Annotated[str, AfterValidator(_known_op), Field(json_schema_extra={"enum": list(OPS)})]


class ReferenceSteps(Value):
    """The steps that lead from the start to the target."""

    steps: StepList = ()


ViewName = Literal["free", "front", "side", "top"]
VIEWS: Final[tuple[ViewName, ...]] = get_args(ViewName)


class Rules(Value):
    """Rules for the way there.

    kinds: of step that may be used, by `op`; none: all. gaps: whether the bench shows what is still missing while the
    student works; outline: whether it draws the target; views: those that it has, the first one largest; none: all.
    measure: whether it measures. told: what the student is told of a submission: the mark alone, which
    checks were missed, a hint where to look too, or the cause with the reference.
    """

    kinds: Annotated[tuple[Op, ...], Field(min_length=1, max_length=100, fail_fast=True)] | None = None
    gaps: Literal["shown", "hidden"] = "shown"
    outline: Literal["shown", "hidden"] = "shown"
    views: Annotated[tuple[ViewName, ...], Field(min_length=1, max_length=4, fail_fast=True)] | None = None
    measure: Literal["shown", "hidden"] = "shown"
    told: Literal["nothing", "check", "hint", "cause"] = "cause"


class Exercise(Value):
    """One exercise: what is given, what to reach, how exactly."""

    format: Literal["cube-drill/exercise"]
    version: Literal[1]
    id: Identifier
    title: Identifier
    brief: Annotated[str, Field(max_length=50_000)] = ""
    conventions: Conventions = Conventions()
    start: Stage
    reference: ReferenceSteps | None = None
    target: Stage | None = None
    rules: Rules = Rules()
    checks: Annotated[tuple[Check, ...], Field(max_length=1000, fail_fast=True)] = ()
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
        """Return the scene to reach: the target, or the result of the reference steps.

        Returns
        -------
        Scene

        Raises
        ------
        CoreError
            "no-reference" if the exercise has neither, or the error of a reference step.
        """
        if self.target is not None:
            return self.target.to_scene(self.conventions)
        if self.reference is None:
            raise CoreError("no-reference")
        return replay(self.start_scene(), self.reference.steps)[-1].scene


def require_offered(rules: Rules, steps: Iterable[Step]) -> None:
    """Raise an error at the first step of a kind that the rules do not offer.

    Raises
    ------
    CoreError
        "kind-not-offered", with the number of the step.
    """
    for number, step in enumerate(steps, start=1):
        if rules.kinds is not None and step.op not in rules.kinds:
            raise CoreError("kind-not-offered", op=step.op, offered=", ".join(rules.kinds)).at_step(number)


def require_sound(exercise: Exercise) -> None:
    """Raise an error if the start, the reference or a check cannot be carried out.

    Raises
    ------
    CoreError
        The error of the first part that fails.
    """
    target = exercise.target_scene()
    require_offered(exercise.rules, exercise.reference.steps if exercise.reference else ())
    for check in exercise.checks:
        for object_id in check.looks_at:
            if object_id not in target.objects:
                raise CoreError("check-object", check=check.id, object=object_id)
