"""What the service answers with: values for screens, made from core values in `service/shown.py`."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.judging.exercise import View
from cubedrill.core.judging.matching import How
from cubedrill.core.judging.submission import Row, Rows
from cubedrill.core.judging.verdict import Verdict
from cubedrill.core.scene.measuring import Unit
from cubedrill.core.steps import Step
from cubedrill.core.values import Identifier, Value
from cubedrill.store.shapes import Cell

Vec3 = tuple[float, float, float]
Matrix16 = tuple[float, ...]  # column by column
WorkState = Literal["not started", "started", "handed in"]


class PersonView(Value):
    """Somebody signed in. csrf_token: to be sent back with every change. must_choose: a password before all else."""

    name: str
    sign_in: str
    csrf_token: str
    must_choose: bool


class WorkView(Value):
    """How far a student is with what is set. score, passed, late: of the try that counts, as far as that is told."""

    state: WorkState
    tries: int
    score: float | None
    passed: bool
    late: bool
    newest_submission: int | None


class SetExerciseView(Value):
    """A row of a student's start page.

    opens_at: where that is still to come, and then there is no more than title and dates. tries_left: none: without
    end. told: whether marks are told yet.
    """

    assignment: int
    title: str
    class_name: str
    opens_at: datetime | None
    due_at: datetime
    tries_left: int | None
    told: bool
    work: WorkView


class TaughtExerciseView(Value):
    """A row of an instructor's start page.

    not_looked: how many newest submissions no instructor has opened; next_to_look: the one that waits longest. shared:
    the cause that most have, and how many do.
    """

    assignment: int
    title: str
    class_id: int
    class_name: str
    opens_at: datetime | None
    due_at: datetime
    students: int
    handed_in: int
    passed: int
    not_looked: int
    next_to_look: int | None
    shared: str
    shared_by: int


class TaughtClassView(Value):
    """A class that somebody teaches."""

    id: int
    name: str
    students: int


class NewsView(Value):
    """What changed for a student: `remark`, `mark`, `judged again` or `set anew`. text: the remark, or what changed."""

    what: str
    assignment: int
    submission: int | None
    title: str
    text: str
    at: datetime


class InvitationView(Value):
    """A class that somebody is asked to teach, by whom and when."""

    class_id: int
    class_name: str
    by: str
    made_at: datetime


class HomeView(Value):
    """The start page: what is set for a person, what changed for her, what she has set, and the classes she teaches.

    invitations: the classes that she is asked to teach.
    """

    teaches: bool
    invitations: tuple[InvitationView, ...]
    to_do: tuple[SetExerciseView, ...]
    news: tuple[NewsView, ...]
    taught: tuple[TaughtExerciseView, ...]
    classes: tuple[TaughtClassView, ...]


class PoseView(Value):
    """Where an object is."""

    world_from_local: Matrix16
    pivot_world: Vec3


class BoxView(Value):
    """A box along some axes: its least and largest coordinates."""

    least: Vec3
    most: Vec3


class ObjectView(Value):
    """An object as it is drawn and named; local_box: of its own solid, in its own coordinates."""

    id: str
    name: str
    solid: Solid | None
    parent: str | None
    pivot: Vec3
    colour: str
    opacity: float
    locked: bool
    local_box: BoxView | None


class HaloView(Value):
    """A tolerance drawn to scale: a block in which the object lies when the check passes and it is not turned."""

    check: str
    object: str
    world_from_axes: tuple[float, ...]
    centre_world: Vec3
    half_sizes: Vec3


class ExerciseView(Value):
    """All that a screen needs to draw an exercise.

    picture_from_world: 9 numbers column by column, from the exercise's axes to right, up, toward the viewer. plot: in
    world. kinds: of step that may be used. views: that the bench has, the first one largest.
    """

    id: str
    title: str
    brief: str
    conventions: Conventions
    picture_from_world: tuple[float, ...]
    objects: tuple[ObjectView, ...]
    start: dict[str, PoseView]
    marker: Vec3
    plot: BoxView | None
    target: dict[str, PoseView]
    target_objects: tuple[ObjectView, ...]
    halos: tuple[HaloView, ...]
    gaps_shown: bool
    measuring: bool
    kinds: tuple[str, ...]
    views: tuple[View, ...]


class StepObjectView(ObjectView):
    """An object that a step made or changed.

    solid_of: an object of the scene before it that has the same solid, which is then not sent once more.
    """

    solid_of: str | None


class StepView(Value):
    """A step in words, with where it took each object that it changed.

    objects: those that it made or changed beside their place; gone: ids of those that it removed. marker: where
    it put the marker. skewed: objects that it left skewed.
    """

    step: Step
    on: bool
    sentence: str
    changed: dict[str, PoseView]
    objects: tuple[StepObjectView, ...]
    gone: tuple[str, ...]
    marker: Vec3 | None
    skewed: tuple[str, ...]


class PlaceView(Value):
    """An object's numbers in one space: where its pivot is, its angles in the exercise's order and unit, its scale."""

    position: Vec3
    angles: Vec3
    scale: Vec3
    skewed: bool


class ReadingView(Value):
    """An object in numbers; size along its own axes and world_box are none where it has no solid in it."""

    world: PlaceView
    parent: PlaceView
    size: Vec3 | None
    world_box: BoxView | None


class CheckView(Value):
    """One thing tested: what was wanted, what was found, how far off, and what it is worth (see `CheckResult`)."""

    id: str
    kind: str
    object: str
    label: str
    space: str
    unit: str
    axes: tuple[str, ...]
    target: tuple[float, ...]
    submitted: tuple[float, ...] | None
    difference: tuple[float, ...] | float | None
    tolerance: tuple[float, ...] | float
    points: float
    of: float
    verdict: Verdict
    text: str
    wanted: str
    found: str


class MatchView(Value):
    """An object of the exercise, the handed-in or added one that was taken for it, and by what; none where none was."""

    target: str
    name: str
    submitted: str | None
    by: How | None


class StateView(Value):
    """The scene after some steps: the checks as they stand, and every object in numbers.

    matches: for each object of the target that has to be made, what was taken for it; none where gaps are not shown.
    """

    gaps: tuple[CheckView, ...]
    readings: dict[str, ReadingView]
    matches: tuple[MatchView, ...]


class RefusedStepView(Value):
    """The first step of a list that cannot be done, and why; counted from 1."""

    step: int
    code: str
    text: str


class LookView(Value):
    """The scene after a list of steps that was only looked at; or the step that cannot be done."""

    state: StateView
    refused: RefusedStepView | None


class PreviewView(Value):
    """What the last step of a list would do; none where it, or one before it, cannot be done."""

    step: StepView | None
    refused: RefusedStepView | None


class SaidView(Value):
    """A line of text read as a step; or why it cannot be read, from which character on, and how it could go on.

    at: counted from 0. completions: whole lines.
    """

    step: Step | None
    sentence: str
    why: str
    at: int
    completions: tuple[str, ...]


class TextView(Value):
    """Steps as text, a sentence a line."""

    text: str


class LineView(Value):
    """A line of a text: the step that it says, or why it cannot be read or done; neither where it is blank.

    at: from which character on it cannot be read, counted from 0.
    """

    number: int
    text: str
    step: Step | None
    why: str
    at: int


class LinesView(Value):
    """A text read line by line."""

    lines: tuple[LineView, ...]


class AmountView(Value):
    """One measured number, in the exercise's units."""

    what: str
    value: float
    unit: Unit


class MeasuredView(Value):
    """What was measured; points: the two ends of a distance in the world. why: what could not be measured, and why."""

    amounts: tuple[AmountView, ...]
    points: tuple[Vec3, Vec3] | None
    why: str


class MeasuresView(Value):
    """What was measured of each thing or pair that was asked for, in that order."""

    measured: tuple[MeasuredView, ...]


class RestView(Value):
    """A step that was not replayed, since it or one before it cannot be done."""

    step: Step
    on: bool


class DraftView(Value):
    """A student's work: its steps, how many of them count, and the scene as it stands there.

    steps: from the one at place `first` (counted from 0) on, as far as they can be replayed; the sender has the ones
    before. rest: what follows the first step that cannot be done, as it was sent.
    """

    revision: int
    cursor: int
    saved_at: datetime
    first: int
    steps: tuple[StepView, ...]
    refused: RefusedStepView | None
    rest: tuple[RestView, ...]
    matches: dict[str, str | None]
    state: StateView


class BenchView(Value):
    """All that the bench needs."""

    assignment: int
    due_at: datetime
    tries_left: int | None
    exercise: ExerciseView
    draft: DraftView
    work: WorkView


class SheetSent(Value):
    """A sheet in the making, as it is sent. cells: what is typed in each field; rows: what is complete."""

    conventions: Conventions
    cells: Annotated[dict[Identifier, dict[Identifier, Cell]], Field(max_length=5000, default_factory=dict)]
    rows: Rows = ()


class SheetView(Value):
    """The exercise with a student's sheet. cells: what stands in each field, by object and column, as it was typed."""

    assignment: int
    due_at: datetime
    exercise: ExerciseView
    revision: int
    saved_at: datetime
    conventions: Conventions
    cells: dict[str, dict[str, str]]
    rows: tuple[Row, ...]


class FileView(Value):
    """A file as it would be handed in.

    conventions: of its scene, as it says or as they were chosen or guessed; asked: those that it does not say. notes:
    what was left out, changed or guessed. objects, placed: what is in it, in the exercise's axes; matches: what of it
    is what.
    """

    assignment: int
    due_at: datetime
    exercise: ExerciseView
    file: int
    name: str
    kind: str
    conventions: dict[str, str]
    asked: tuple[str, ...]
    notes: tuple[str, ...]
    objects: tuple[ObjectView, ...]
    placed: dict[str, PoseView]
    matches: tuple[MatchView, ...]


class MarkView(Value):
    """The points that count. changed: whether an instructor set some of them."""

    points: float
    of: float
    score: float | None
    passed: bool
    changed: bool


class ChangeView(Value):
    """What an instructor said: points for a check (none takes it back) with a reason; without a check, a remark."""

    check: str | None
    points: float | None
    text: str
    by: str
    made_at: datetime


class CauseView(Value):
    """Why something was missed, as far as the viewer may know.

    step: of the reference, if that is shown. proof: what is known of it, in a sentence.
    """

    object: str
    text: str
    step: int | None
    code: str | None
    proof: str
    objects: tuple[str, ...]


class TryView(Value):
    """One of the times that a student handed something in for one exercise."""

    submission: int
    number: int
    handed_in_at: datetime
    mark: MarkView


class SinceView(Value):
    """Against the try before: labels of the checks that have more points now, and of those that have fewer."""

    number: int
    better: tuple[str, ...]
    worse: tuple[str, ...]


class TakenView(Value):
    """An object of the exercise, the handed-in one that was taken for it, and by what."""

    target: str
    submitted: str
    by: How


class ReportView(Value):
    """The program's verdict, as far as the one who looks is told; why is told apart."""

    rules_version: str
    score: float | None
    points: float
    of: float
    passed: bool
    checks: tuple[CheckView, ...]
    matches: tuple[TakenView, ...]


class JudgedView(Value):
    """Work as it was checked.

    in_file: names of a scene's objects by their ids in the file. report: the program's, as far as the one who looks is
    told; mark: with what an instructor changed. placed: where everything was handed in. reference: the right way, where
    it is shown. parted: the first own step that leaves it. cancelling: pairs of own steps that take each other back.
    """

    exercise: ExerciseView
    kind: str
    steps: tuple[StepView, ...]
    placed: dict[str, PoseView]
    report: ReportView
    causes: tuple[CauseView, ...]
    reference: tuple[StepView, ...] | None
    parted: int | None
    cancelling: tuple[tuple[int, int], ...]
    mark: MarkView
    in_file: dict[str, str]
    pass_mark: float


class ResultView(JudgedView):
    """A checked submission.

    told_at: until then the student is told nothing of it, and report and marks are empty. tries: all of this student
    for this exercise, the first one first. since: against the one before, where checks are told. explained: whether it
    is known why it missed. file: the name of the file that it came as; notes: what was left out, changed or guessed
    when that was read.
    """

    submission: int
    assignment: int
    number: int
    student: str
    own: bool
    handed_in_at: datetime
    late: bool
    late_counts: bool
    told_at: datetime | None
    tries: tuple[TryView, ...]
    since: SinceView | None
    points_set: dict[str, float]
    changes: tuple[ChangeView, ...]
    may_review: bool
    explained: bool
    file: str | None
    notes: tuple[str, ...]


class StudentRowView(Value):
    """A student's row of the submissions page.

    causes: why the newest submission missed, the likeliest first. looked: whether an instructor has opened it.
    """

    person: int
    student: str
    work: WorkView
    handed_in_at: datetime | None
    late: bool
    looked: bool
    causes: tuple[str, ...]


class SubmissionsView(Value):
    """What a class handed in for an exercise."""

    assignment: int
    title: str
    class_name: str
    due_at: datetime
    rows: tuple[StudentRowView, ...]
