"""Files: work submitted as one, and scenes removed as one."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Final
from urllib.parse import quote

from fastapi import APIRouter, Body, Depends, Query, Response
from pydantic import AfterValidator, Field, StringConstraints

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import LARGEST_ID, AssignmentId, FileId, PlanId, SubmissionId
from cubedrill.api.routes.work.bench import SubmittedResponse
from cubedrill.core.geometry.choices import Handedness, Length, Up
from cubedrill.core.judging.submission import Choices
from cubedrill.core.values import Value
from cubedrill.formats.conversion import WRITTEN
from cubedrill.formats.imported import cleaned
from cubedrill.service.downloads import Download, ExportFormat
from cubedrill.service.plans import scenes as plan_scenes
from cubedrill.service.plans.responses import ImportedSceneResponse
from cubedrill.service.work import files, scenes
from cubedrill.service.work.responses import FileResponse

BYTES: Final = "application/octet-stream"

router = APIRouter(tags=["files"])
FileName = Annotated[str, StringConstraints(min_length=1, max_length=500), AfterValidator(cleaned)]
Content = Annotated[bytes, Body(media_type=BYTES)]


class Bytes(Response):
    """A file."""

    media_type = BYTES


class Chosen(Value):
    """Conventions of a scene, where the file does not say its own."""

    up: Up | None = None
    handedness: Handedness | None = None
    length: Length | None = None

    def said(self) -> dict[str, str]:
        """Return the chosen conventions by name."""
        said: dict[str, str] = self.model_dump(exclude_none=True)
        return said


def _chosen(up: Up | None = None, handedness: Handedness | None = None, length: Length | None = None) -> dict[str, str]:
    return Chosen(up=up, handedness=handedness, length=length).said()


AnyChosen = Annotated[dict[str, str], Depends(_chosen)]


class SubmitFile(Value):
    """The conventions that a file does not state, and its matching, as far as chosen."""

    conventions: Chosen = Chosen()
    matches: Choices = Field(default_factory=dict)


def _end(kind: str) -> str:
    if kind not in WRITTEN:
        raise ValueError(f"unknown file format; use one of {', '.join(WRITTEN)}")
    return kind


KindOfFile = Annotated[str, Query(max_length=20), AfterValidator(_end)]


def _export(kind: KindOfFile, chosen: AnyChosen) -> ExportFormat:
    return ExportFormat(kind, chosen)


Export = Annotated[ExportFormat, Depends(_export)]


def _sent(name: Annotated[FileName, Query()], order: Annotated[int, Query(ge=0, le=LARGEST_ID)] = 0) -> tuple[str, int]:
    return name, order


Sent = Annotated[tuple[str, int], Depends(_sent)]


@router.post("/assignments/{assignment}/files", status_code=201)
def post_file(
    assignment: AssignmentId, sent: Sent, body: Content, person: PersonWhoChanges, db: Database
) -> FileResponse:
    """Send a file with my work; it is kept until another one comes or it is submitted.

    order: grows with each file that I send, so that one that comes late does not replace a later one.
    """
    return files.take_file(db, person, assignment, files.SentFile(sent[0], body, sent[1]))


@router.get("/assignments/{assignment}/files/{file}")
def get_file(
    assignment: AssignmentId, file: FileId, chosen: AnyChosen, person: CurrentPerson, db: Database
) -> FileResponse:
    """Return the contents of my file, in the chosen conventions if the file has none."""
    return files.look_at_file(db, person, assignment, file, chosen)


@router.post("/assignments/{assignment}/files/{file}/submissions", status_code=201)
def post_file_submission(
    assignment: AssignmentId, file: FileId, body: SubmitFile, person: PersonWhoChanges, db: Database
) -> SubmittedResponse:
    """Submit a file that I sent; the same work twice is one submission."""
    choices = body.conventions.said(), body.matches
    return SubmittedResponse(submission=files.submit_file(db, person, (assignment, file), choices, datetime.now(UTC)))


@router.get("/assignments/{assignment}/scenes/{which}", response_class=Bytes)
def get_scene(
    assignment: AssignmentId, which: scenes.Own, export: Export, person: CurrentPerson, db: Database
) -> Response:
    """Return the start, the target or my own work as a file of any kind."""
    return sent(scenes.take_assignment(db, person, assignment, which, export))


@router.get("/submissions/{submission}/scene", response_class=Bytes)
def get_submission_scene(submission: SubmissionId, export: Export, person: CurrentPerson, db: Database) -> Response:
    """Download a submission as a file of any kind."""
    return sent(scenes.take_submission(db, person, submission, export))


@router.get("/submissions/{submission}/file", response_class=Bytes)
def get_submission_file(submission: SubmissionId, person: CurrentPerson, db: Database) -> Response:
    """Return the file that a submission came as, as it came."""
    file = files.file_of(db, person, submission)
    return sent(Download(file.name, file.content))


@router.get("/plans/{plan}/scenes/{which}", response_class=Bytes)
def get_plan_scene(
    plan: PlanId, which: plan_scenes.Given, export: Export, person: CurrentPerson, db: Database
) -> Response:
    """Download the start or the target of a plan as a file of any kind."""
    return sent(plan_scenes.take_plan(db, person, plan, which, export))


@router.post("/plans/files", status_code=201)
def post_plan_file(
    name: Annotated[FileName, Query()], body: Content, person: PersonWhoChanges, db: Database
) -> ImportedSceneResponse:
    """Make a plan with what is in a scene file."""
    return plan_scenes.bring_scene(db, person, name, body)


def sent(download: Download) -> Response:
    """Return a file that the browser saves and never shows (RFC 6266)."""
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(download.name)}"}
    return Bytes(download.content, headers=headers)
