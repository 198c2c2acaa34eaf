"""Responses about the bench, the sheet and imported files."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.submission import Row, Rows
from cubedrill.core.scene.queries import Unit
from cubedrill.core.steps import Step
from cubedrill.core.values import Identifier, Value
from cubedrill.service.marks.responses import WorkResponse
from cubedrill.service.responses import (
    DraftResponse,
    ExerciseResponse,
    MatchResponse,
    ObjectResponse,
    PoseResponse,
    RefusedStepResponse,
    StateResponse,
    Vec3,
)
from cubedrill.store.documents import Cell


class LookResponse(Value):
    """The scene after a list of steps that was only looked at; or the step that cannot be done."""

    state: StateResponse
    refused: RefusedStepResponse | None


class SaidResponse(Value):
    """A line of text read as a step; or why it cannot be read, from which character on, and how it could go on.

    at: counted from 0. completions: whole lines.
    """

    step: Step | None
    sentence: str
    why: str
    at: int
    completions: tuple[str, ...]


class TextResponse(Value):
    """Steps as text, a sentence a line."""

    text: str


class LineResponse(Value):
    """A line of a text: the step that it says, or why it cannot be read or done; neither where it is blank.

    at: from which character on it cannot be read, counted from 0.
    """

    number: int
    text: str
    step: Step | None
    why: str
    at: int


class LinesResponse(Value):
    """A text read line by line."""

    lines: tuple[LineResponse, ...]


class AmountResponse(Value):
    """One measured number, in the exercise's units."""

    what: str
    value: float
    unit: Unit


class MeasuredResponse(Value):
    """Measured amounts; points: the two ends of a distance in world. why: what could not be measured."""

    amounts: tuple[AmountResponse, ...]
    points: tuple[Vec3, Vec3] | None
    why: str


class MeasuresResponse(Value):
    """Measured amounts of each requested thing or pair, in that order."""

    measured: tuple[MeasuredResponse, ...]


class BenchResponse(Value):
    """All that the bench needs."""

    assignment: int
    due_at: datetime
    attempts_left: int | None
    exercise: ExerciseResponse
    draft: DraftResponse
    work: WorkResponse


class SheetSent(Value):
    """A sheet in progress, as it is sent. cells: what is typed in each field; rows: what is complete."""

    conventions: Conventions
    cells: Annotated[dict[Identifier, dict[Identifier, Cell]], Field(max_length=5000, default_factory=dict)]
    rows: Rows = ()


class SheetResponse(Value):
    """The exercise with a student's sheet. cells: what stands in each field, by object and column, as it was typed."""

    assignment: int
    due_at: datetime
    exercise: ExerciseResponse
    revision: int
    saved_at: datetime
    conventions: Conventions
    cells: dict[str, dict[str, str]]
    rows: tuple[Row, ...]


class FileResponse(Value):
    """A file as it would be submitted.

    conventions: of its scene, as it says or as they were chosen or guessed; asked: those that it does not say. notes:
    what was left out, changed or guessed. objects, placed: what is in it, in the exercise's axes; matches: what of it
    is what.
    """

    assignment: int
    due_at: datetime
    exercise: ExerciseResponse
    file: int
    name: str
    kind: str
    conventions: dict[str, str]
    asked: tuple[str, ...]
    notes: tuple[str, ...]
    objects: tuple[ObjectResponse, ...]
    placed: dict[str, PoseResponse]
    matches: tuple[MatchResponse, ...]
