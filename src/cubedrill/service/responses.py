"""Responses that several rooms share: exercises, scenes, steps, checks, drafts."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.judging.exercise import ViewName
from cubedrill.core.judging.matching import How
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.steps import Step
from cubedrill.core.values import Value

Vec3 = tuple[float, float, float]
Matrix16 = tuple[float, ...]  # column by column


class PersonResponse(Value):
    """The person who is signed in.

    csrf_token: sent back with every change. must_choose: a new password is needed before anything else. teaches:
    whether this person may make classes and exercises.
    """

    name: str
    sign_in: str
    csrf_token: str
    must_choose: bool
    teaches: bool


class PoseResponse(Value):
    """The placing of an object."""

    world_from_local: Matrix16
    pivot_world: Vec3


class BoxResponse(Value):
    """A box along some axes: its least and largest coordinates."""

    least: Vec3
    most: Vec3


class ObjectResponse(Value):
    """An object as it is drawn and named; local_box: of its own solid, in its own coordinates."""

    id: str
    name: str
    solid: Solid | None
    parent: str | None
    pivot: Vec3
    colour: str
    opacity: float
    locked: bool
    local_box: BoxResponse | None


class HaloResponse(Value):
    """A tolerance drawn to scale: a block in which the object lies when the check passes and it is not turned."""

    check: str
    object: str
    world_from_axes: tuple[float, ...]
    centre_world: Vec3
    half_sizes: Vec3


class ExerciseResponse(Value):
    """All that a screen needs to draw an exercise.

    picture_from_world: 9 numbers column by column, from the exercise's axes to right, up, toward the viewer. plot: in
    world. kinds: of step that may be used. views: that the bench has, the first one largest.
    """

    id: str
    title: str
    brief: str
    conventions: Conventions
    picture_from_world: tuple[float, ...]
    objects: tuple[ObjectResponse, ...]
    start: dict[str, PoseResponse]
    marker: Vec3
    plot: BoxResponse | None
    target: dict[str, PoseResponse]
    target_objects: tuple[ObjectResponse, ...]
    halos: tuple[HaloResponse, ...]
    gaps_shown: bool
    measuring: bool
    kinds: tuple[str, ...]
    views: tuple[ViewName, ...]


class StepObjectResponse(ObjectResponse):
    """An object that a step made or changed.

    solid_of: an object of the scene before it that has the same solid, which is then not sent once more.
    """

    solid_of: str | None


class StepResponse(Value):
    """A step in words, with where it took each object that it changed.

    objects: those that it made or changed beside their place; gone: ids of those that it removed. marker: where
    it put the marker. skewed: objects that it left skewed.
    """

    step: Step
    on: bool
    sentence: str
    changed: dict[str, PoseResponse]
    objects: tuple[StepObjectResponse, ...]
    gone: tuple[str, ...]
    marker: Vec3 | None
    skewed: tuple[str, ...]


class PlaceResponse(Value):
    """An object's numbers in one space: where its pivot is, its angles in the exercise's order and unit, its scale."""

    position: Vec3
    angles: Vec3
    scale: Vec3
    skewed: bool


class ReadingResponse(Value):
    """An object in numbers; size along its own axes and world_box are none where it has no solid in it."""

    world: PlaceResponse
    parent: PlaceResponse
    size: Vec3 | None
    world_box: BoxResponse | None


class MatchResponse(Value):
    """An object of the exercise, the handed-in or added one that was taken for it, and by what; none where none was."""

    target: str
    name: str
    submitted: str | None
    by: How | None


class StateResponse(Value):
    """The scene after some steps: the checks as they stand, and every object in numbers.

    matches: for each object of the target that has to be made, what was taken for it; none where gaps are not shown.
    """

    gaps: tuple[CheckResult, ...]
    readings: dict[str, ReadingResponse]
    matches: tuple[MatchResponse, ...]


class RefusedStepResponse(Value):
    """The first step of a list that cannot be done, and why; counted from 1."""

    step: int
    code: str
    text: str


class PreviewResponse(Value):
    """The preview of the last step of a list; None if it, or one before it, cannot be replayed."""

    step: StepResponse | None
    refused: RefusedStepResponse | None


class RestResponse(Value):
    """A step that was not replayed, since it or one before it cannot be done."""

    step: Step
    on: bool


class DraftResponse(Value):
    """A student's work: its steps, how many of them count, and the scene as it stands there.

    steps: from the one at place `first` (counted from 0) on, as far as they can be replayed; the sender has the ones
    before. rest: what follows the first step that cannot be done, as it was sent.
    """

    revision: int
    cursor: int
    saved_at: datetime
    first: int
    steps: tuple[StepResponse, ...]
    refused: RefusedStepResponse | None
    rest: tuple[RestResponse, ...]
    matches: dict[str, str | None]
    state: StateResponse
