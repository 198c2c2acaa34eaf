"""Routes of assignments: what is assigned to a class, and with which options."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field, NaiveDatetime

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import AssignmentId, ClassId, Id
from cubedrill.api.routes.classes import Made
from cubedrill.core.values import Value
from cubedrill.service.assignments import settings
from cubedrill.service.assignments.responses import CarriedResponse, SettingResponse

router = APIRouter(tags=["setting"])
MOST_TRIES = 1000


class SettingBody(Value):
    """The options of an assignment. opens, due: in the class's time zone.

    tries: none: without end. counts: which of them. told: how much students are told, none: as the exercise says.
    """

    opens: NaiveDatetime | None = None
    due: NaiveDatetime
    tries: Annotated[int, Field(ge=1, le=MOST_TRIES)] | None = None
    counts: settings.Counts = "best"
    told: settings.FeedbackLevel | None = None
    told_when: settings.FeedbackTime = "at once"
    late_counts: bool = True
    drafts_shown: bool = False

    def as_set(self) -> settings.AssignmentOptions:
        """Return what the service works with."""
        return settings.AssignmentOptions(**{name: getattr(self, name) for name in SettingBody.model_fields})


class SetBody(SettingBody):
    """A version, and how it is set."""

    version: Id


class TakeVersion(Value):
    """The version that takes the place of the one that is set."""

    version: Id


@router.post("/classes/{class}/assignments", status_code=201)
def post_assignment(class_id: ClassId, body: SetBody, person: PersonWhoChanges, db: Database) -> Made:
    """Set a version for a class."""
    return Made(id=settings.set_for_class(db, person, class_id, body.version, body.as_set()))


@router.get("/assignments/{assignment}/setting")
def get_setting(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SettingResponse:
    """Return the options of an assignment."""
    return settings.setting_of(db, person, assignment)


@router.put("/assignments/{assignment}/setting", status_code=204)
def put_setting(assignment: AssignmentId, body: SettingBody, person: PersonWhoChanges, db: Database) -> None:
    """Change how something is set."""
    settings.change_setting(db, person, assignment, body.as_set())


@router.put("/assignments/{assignment}/version")
def put_version(assignment: AssignmentId, body: TakeVersion, person: PersonWhoChanges, db: Database) -> CarriedResponse:
    """Put another version of the exercise in the place of the one that is set."""
    return settings.take_version(db, person, assignment, body.version)
