"""Routes of assignments: what is assigned to a class, and with which options."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field, NaiveDatetime

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import AssignmentId, ClassId, Id
from cubedrill.api.routes.people.classes import CreatedId
from cubedrill.core.judging.late import Counts, LateKind
from cubedrill.core.values import Number, Value
from cubedrill.service.assignments import settings
from cubedrill.service.assignments.responses import CarriedResponse, SettingsResponse

router = APIRouter(tags=["setting"])
MOST_TRIES = 1000
LateShare = Annotated[Number, Field(ge=0, le=10)]  # of the mark; the service says what is wrong beyond 1


class SettingsBody(Value):
    """The options of an assignment. opens, due: in the class's time zone.

    attempts: None: no limit. feedback: None: as the exercise says.
    """

    opens: NaiveDatetime | None = None
    due: NaiveDatetime
    attempts: Annotated[int, Field(ge=1, le=MOST_TRIES)] | None = None
    counts: Counts = "best"
    feedback: settings.FeedbackLevel | None = None
    feedback_when: settings.FeedbackTime = "at once"
    late: LateKind = "no cost"
    late_per_day: LateShare = 0.1
    late_floor: LateShare = 0.0
    drafts_shown: bool = False

    def options(self) -> settings.AssignmentOptions:
        """Return what the service works with."""
        return settings.AssignmentOptions(**{name: getattr(self, name) for name in SettingsBody.model_fields})


class AssignBody(SettingsBody):
    """A version, and the options of its assignment."""

    version: Id


class ReplaceVersion(Value):
    """The version that replaces the assigned one."""

    version: Id


@router.post("/classes/{class}/assignments", status_code=201)
def post_assignment(class_id: ClassId, body: AssignBody, person: PersonWhoChanges, db: Database) -> CreatedId:
    """Assign a version to a class."""
    return CreatedId(id=settings.assign_to_class(db, person, class_id, body.version, body.options()))


@router.get("/assignments/{assignment}/settings")
def get_settings(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SettingsResponse:
    """Return the options of an assignment."""
    return settings.settings_of(db, person, assignment)


@router.put("/assignments/{assignment}/settings", status_code=204)
def put_settings(assignment: AssignmentId, body: SettingsBody, person: PersonWhoChanges, db: Database) -> None:
    """Change the options of an assignment."""
    settings.change_settings(db, person, assignment, body.options())


@router.put("/assignments/{assignment}/version")
def put_version(
    assignment: AssignmentId, body: ReplaceVersion, person: PersonWhoChanges, db: Database
) -> CarriedResponse:
    """Replace the assigned version with another one."""
    return settings.replace_version(db, person, assignment, body.version)
