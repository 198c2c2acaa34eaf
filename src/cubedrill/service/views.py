"""What the service answers with: values for screens, made from core values in `service/shown.py`."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from cubedrill.core.conventions import Conventions
from cubedrill.core.solids import Solid
from cubedrill.core.steps import Step
from cubedrill.core.values import Value
from cubedrill.core.verdict import CheckResult, Report

Vec3 = tuple[float, float, float]
Matrix16 = tuple[float, ...]  # column by column
WorkState = Literal["not started", "started", "handed in"]


class PersonView(Value):
    """Somebody signed in. csrf_token: to be sent back with every change."""

    name: str
    sign_in: str
    csrf_token: str


class WorkView(Value):
    """How far a student is with what is set."""

    state: WorkState
    tries: int
    best_score: float | None
    passed: bool
    newest_submission: int | None


class SetExerciseView(Value):
    """A row of a student's start page."""

    assignment: int
    title: str
    class_name: str
    due_at: datetime
    work: WorkView


class TaughtExerciseView(Value):
    """A row of an instructor's start page."""

    assignment: int
    title: str
    class_name: str
    due_at: datetime
    students: int
    handed_in: int
    passed: int


class HomeView(Value):
    """The start page: what is set for a person, and what she has set."""

    to_do: tuple[SetExerciseView, ...]
    taught: tuple[TaughtExerciseView, ...]


class PoseView(Value):
    """Where an object is."""

    world_from_local: Matrix16
    pivot_world: Vec3


class ObjectView(Value):
    """An object of the start scene."""

    id: str
    name: str
    solid: Solid | None
    parent: str | None
    pivot: Vec3
    colour: str
    opacity: float
    locked: bool
    start: PoseView


class HaloView(Value):
    """A tolerance drawn to scale: a block in which the object lies when the check passes and it is not turned."""

    check: str
    object: str
    world_from_axes: tuple[float, ...]
    centre_world: Vec3
    half_sizes: Vec3


class ExerciseView(Value):
    """All that a screen needs to draw an exercise.

    picture_from_world: 9 numbers column by column, from the exercise's axes to right, up, toward the viewer.
    """

    id: str
    title: str
    brief: str
    conventions: Conventions
    picture_from_world: tuple[float, ...]
    objects: tuple[ObjectView, ...]
    target: dict[str, PoseView]
    halos: tuple[HaloView, ...]


class StepView(Value):
    """A step in words, with where it took each object that it changed."""

    step: Step
    sentence: str
    changed: dict[str, PoseView]


class DraftView(Value):
    """A student's work: all steps, how many of them count, and the checks as they stand there."""

    revision: int
    cursor: int
    saved_at: datetime
    steps: tuple[StepView, ...]
    gaps: tuple[CheckResult, ...]


class BenchView(Value):
    """All that the bench needs."""

    assignment: int
    due_at: datetime
    exercise: ExerciseView
    draft: DraftView
    work: WorkView


class ResultView(Value):
    """A checked submission."""

    submission: int
    assignment: int
    number: int
    student: str
    own: bool
    handed_in_at: datetime
    late: bool
    exercise: ExerciseView
    steps: tuple[StepView, ...]
    report: Report
    pass_mark: float


class StudentRowView(Value):
    """A student's row of the submissions page."""

    student: str
    work: WorkView
    handed_in_at: datetime | None
    late: bool


class SubmissionsView(Value):
    """What a class handed in for an exercise."""

    assignment: int
    title: str
    class_name: str
    due_at: datetime
    rows: tuple[StudentRowView, ...]
