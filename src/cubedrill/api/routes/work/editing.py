"""Routes for editing steps: save, look, preview, text, measure; the same for students and for plans."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Depends, Response
from pydantic import Field

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.scene.queries import Asked
from cubedrill.core.scene.spaces import ViewDirections
from cubedrill.core.values import Count, Value
from cubedrill.service.responses import DraftResponse, PreviewResponse
from cubedrill.service.work import editing, measures, text
from cubedrill.service.work.editing import StepEditor
from cubedrill.service.work.responses import LinesResponse, LookResponse, MeasuresResponse, SaidResponse, TextResponse


class Svg(Response):
    """A drawing."""

    media_type = "image/svg+xml"


class SayBody(DraftSteps):
    """A line to be read in the scene after some steps; view: where right and up of the camera point."""

    line: Annotated[str, Field(max_length=20_000)]
    view: ViewDirections | None = None


class MeasuresBody(DraftSteps):
    """A draft, and what to measure in the scene at its cursor."""

    asked: Annotated[tuple[Asked, ...], Field(max_length=50, fail_fast=True)]


class LinesBody(Value):
    """A text, a sentence a line."""

    text: Annotated[str, Field(max_length=2_000_000)]


class SaveDraft(DraftSteps):
    """A draft, the revision that it was made on, and how many leading steps need no answer."""

    revision: Count
    known: Count = 0


def add_editor_routes(router: APIRouter, place: str, step_editor_of: Callable[..., StepEditor]) -> None:
    """Add the routes of a step editor; step_editor_of: the dependency that finds it for a path and a person."""
    at = Annotated[StepEditor, Depends(step_editor_of)]

    @router.put(place + "/draft")
    def put_draft(editor: at, body: SaveDraft) -> DraftResponse:
        """Save my steps; a stale revision is refused with the newer draft in the answer."""
        return editing.save(editor, body.revision, body, body.known)

    @router.post(place + "/look")
    def post_look(editor: at, body: DraftSteps) -> LookResponse:
        """Return the scene after some steps: checks and numbers. Nothing is saved."""
        return editing.look(editor, body)

    @router.post(place + "/preview")
    def post_preview(editor: at, body: DraftSteps) -> PreviewResponse:
        """Preview the last of these steps. Nothing is saved."""
        return editing.preview(editor, body)

    @router.post(place + "/say")
    def post_say(editor: at, body: SayBody) -> SaidResponse:
        """Return a line of text read as a step in the scene after these steps. Nothing is saved."""
        return text.say(editor, body, (body.line, body.view))

    @router.post(place + "/text")
    def post_text(editor: at, body: DraftSteps) -> TextResponse:
        """Return these steps as text."""
        return text.written(editor, body)

    @router.post(place + "/lines")
    def post_lines(editor: at, body: LinesBody) -> LinesResponse:
        """Return a text read as steps, line by line. Nothing is saved."""
        return text.lines_of(editor, body.text)

    @router.post(place + "/measures")
    def post_measures(editor: at, body: MeasuresBody) -> MeasuresResponse:
        """Measure in the scene after these steps. Nothing is saved."""
        return measures.measures(editor, body, body.asked)
