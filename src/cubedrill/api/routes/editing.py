"""Routes for editing steps: save, look, preview, text, measure; the same for students and for plans."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Depends, Response
from pydantic import Field

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.scene.measuring import Asked
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


def add_desk_routes(router: APIRouter, place: str, desk_of: Callable[..., StepEditor]) -> None:
    """Add what can be done at a desk; desk_of: the dependency that finds it from the path and who asks."""
    at = Annotated[StepEditor, Depends(desk_of)]

    @router.put(place + "/draft")
    def put_draft(desk: at, body: SaveDraft) -> DraftResponse:
        """Save my steps; a stale revision is refused with the newer draft in the answer."""
        return editing.save(desk, body.revision, body, body.known)

    @router.post(place + "/look")
    def post_look(desk: at, body: DraftSteps) -> LookResponse:
        """The scene after some steps: checks and numbers. Nothing is saved."""
        return editing.look(desk, body)

    @router.post(place + "/preview")
    def post_preview(desk: at, body: DraftSteps) -> PreviewResponse:
        """Preview the last of these steps. Nothing is saved."""
        return editing.preview(desk, body)

    @router.post(place + "/say")
    def post_say(desk: at, body: SayBody) -> SaidResponse:
        """A line of text read as a step in the scene after these steps. Nothing is saved."""
        return text.say(desk, body, (body.line, body.view))

    @router.post(place + "/text")
    def post_text(desk: at, body: DraftSteps) -> TextResponse:
        """These steps as text."""
        return text.written(desk, body)

    @router.post(place + "/lines")
    def post_lines(desk: at, body: LinesBody) -> LinesResponse:
        """A text read as steps, line by line. Nothing is saved."""
        return text.lines_of(desk, body.text)

    @router.post(place + "/measures")
    def post_measures(desk: at, body: MeasuresBody) -> MeasuresResponse:
        """Measure in the scene after these steps. Nothing is saved."""
        return measures.measures(desk, body, body.asked)
