"""Routes of assignments: what is assigned to a class, and with which options."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import Field, NaiveDatetime, StringConstraints

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import AssignmentId, ClassId, Id
from cubedrill.api.routes.people.classes import CreatedId, Text
from cubedrill.core.judging.late import Counts, LateKind
from cubedrill.core.values import Number, Value
from cubedrill.formats.roster import MOST_ROWS
from cubedrill.service.assignments import copying, exceptions, settings
from cubedrill.service.assignments.responses import CarriedResponse, CopyPlanResponse, SettingsResponse

router = APIRouter(tags=["setting"])
MOST_TRIES = 1000
FirstDay = Annotated[date, Query(ge=date(2000, 1, 1), le=date(2200, 1, 1))]
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


class ExceptionBody(Value):
    """An exception for some students at an assignment; an empty one removes theirs.

    due: in the class's time zone. reason: for instructors only.
    """

    people: Annotated[tuple[Id, ...], Field(min_length=1, max_length=MOST_ROWS, fail_fast=True)]
    due: NaiveDatetime | None = None
    attempts: Annotated[int, Field(ge=1, le=MOST_TRIES)] | None = None
    excused: bool = False
    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=1000, pattern=r"^[^\x00]*$")] = ""


class CopyRowBody(Value):
    """An assignment to copy, by which version, and its dates in the class's time zone."""

    assignment: Id
    version: Id
    opens: NaiveDatetime | None = None
    due: NaiveDatetime


class CopyBody(Value):
    """A class as a copy of another one."""

    name: Annotated[Text, StringConstraints(min_length=1)]
    rows: Annotated[tuple[CopyRowBody, ...], Field(max_length=1000, fail_fast=True)]


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


@router.put("/assignments/{assignment}/exceptions", status_code=204)
def put_exceptions(assignment: AssignmentId, body: ExceptionBody, person: PersonWhoChanges, db: Database) -> None:
    """Set what differs for some students at an assignment."""
    options = exceptions.ExceptionOptions(body.due, body.attempts, body.excused, body.reason)
    exceptions.set_exceptions(db, person, assignment, body.people, options)


@router.get("/classes/{class}/copy")
def get_copy(class_id: ClassId, first_day: FirstDay, person: CurrentPerson, db: Database) -> CopyPlanResponse:
    """Return how a class would be copied so that its first date is in the week from a day on."""
    return copying.copy_plan(db, person, class_id, first_day)


@router.post("/classes/{class}/copy", status_code=201)
def post_copy(class_id: ClassId, body: CopyBody, person: PersonWhoChanges, db: Database) -> CreatedId:
    """Copy assignments of a class into a new one."""
    rows = [copying.CopyRow(row.assignment, row.version, row.due, row.opens) for row in body.rows]
    return CreatedId(id=copying.copy_class(db, person, class_id, body.name, rows))


@router.put("/assignments/{assignment}/version")
def put_version(
    assignment: AssignmentId, body: ReplaceVersion, person: PersonWhoChanges, db: Database
) -> CarriedResponse:
    """Replace the assigned version with another one."""
    return settings.replace_version(db, person, assignment, body.version)
