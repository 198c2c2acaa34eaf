"""The workshop: the library, plans, their parts, publishing."""

from __future__ import annotations

from typing import Annotated, Self

from fastapi import APIRouter, Path, Response
from pydantic import Field, model_validator

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import LARGEST_ID, PlanId, RowId, VersionId
from cubedrill.api.routes.assignments import SettingsBody
from cubedrill.api.routes.work.editing import Svg, add_editor_routes
from cubedrill.core.authoring.new_conventions import Keep
from cubedrill.core.authoring.plan import Card
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.values import Count, Value
from cubedrill.service.access import Right
from cubedrill.service.marks.responses import JudgedResponse
from cubedrill.service.plans import library, publishing, sharing, trial
from cubedrill.service.plans import plan as workshop
from cubedrill.service.plans.responses import (
    CheckedResponse,
    CreatedResponse,
    LibraryResponse,
    Part,
    PlanPartResponse,
    PlanResponse,
    ProposalsResponse,
    PublishedResponse,
    SavedCardResponse,
    SeenResponse,
    SharingResponse,
    SoundnessResponse,
    WayResponse,
)
from cubedrill.service.work.editing import StepEditor

router = APIRouter(tags=["workshop"])


class CreatePlan(Value):
    """The origin of a new plan: a title, a version, a plan or an exercise. copy_of_it: as another exercise."""

    title: Annotated[str, Field(max_length=200)] = ""
    from_version: RowId | None = None
    from_plan: RowId | None = None
    exercise: Exercise | None = None
    copy_of_it: bool = False

    @model_validator(mode="after")
    def _one_origin(self) -> Self:
        if sum(each is not None for each in (self.from_version, self.from_plan, self.exercise)) > 1:
            raise ValueError("a plan begins as one thing: a version, a plan or an exercise")
        return self


class SaveCard(Value):
    """A card and the revision it was made on."""

    revision: Count
    card: Card


class ChangeConventions(Value):
    """Other conventions, what stays as it is, and the revisions that were looked at."""

    seen: SeenResponse
    conventions: Conventions
    keep: Keep


class FreezeTarget(Value):
    """The revisions that were looked at."""

    seen: SeenResponse


class Standing(Value):
    """Whether a plan is archived."""

    archived: bool


class ShareBody(Value):
    """One share of a plan: with the instructors of a class, or with a person, to view it or to edit it."""

    class_id: RowId | None = None
    person: RowId | None = None
    right: Right

    @model_validator(mode="after")
    def _with_one(self) -> Self:
        if (self.class_id is None) == (self.person is None):
            raise ValueError("a plan is shared with a class or with a person")
        return self


class SharingBody(Value):
    """With whom a plan is shared: these and nobody else."""

    shares: Annotated[tuple[ShareBody, ...], Field(max_length=200, fail_fast=True)]

    @model_validator(mode="after")
    def _once_each(self) -> Self:
        if len({(each.class_id, each.person) for each in self.shares}) < len(self.shares):
            raise ValueError("each class and each person has one share at most")
        return self


class TryChecks(Value):
    """Checks to be tried, saved or not; apart: whether to say which mistakes cannot be told apart."""

    checks: Annotated[tuple[Check, ...], Field(max_length=1000, fail_fast=True)]
    apart: bool = True


class OpenMistake(Value):
    """A mistake, by its place among the trials of the separation."""

    number: Count


class AssignTo(SettingsBody):
    """For which class, and how."""

    class_id: RowId


class PublishPlan(Value):
    """The revisions that were looked at, and the class to assign it to."""

    seen: SeenResponse
    assigned_to: AssignTo | None = None


@router.get("/plans")
def get_plans(person: CurrentPerson, db: Database) -> LibraryResponse:
    """Return all plans and published exercises that I may see."""
    return library.library_of(db, person)


@router.post("/plans", status_code=201)
def post_plan(body: CreatePlan, person: PersonWhoChanges, db: Database) -> CreatedResponse:
    """Make a plan: empty, or as a version, another plan or an exercise."""
    origin = workshop.Origin(body.title, body.from_version, body.from_plan, body.exercise, copy=body.copy_of_it)
    return workshop.create(db, person, origin)


@router.get("/plans/{plan}")
def get_plan(plan: PlanId, person: CurrentPerson, db: Database) -> PlanResponse:
    """Return a plan without its steps."""
    return workshop.open_plan(db, person, plan)


@router.put("/plans/{plan}/card")
def put_card(plan: PlanId, body: SaveCard, person: PersonWhoChanges, db: Database) -> SavedCardResponse:
    """Save what is said of a plan beside its steps; a stale revision is refused."""
    return workshop.save_card(db, person, plan, body.revision, body.card)


@router.put("/plans/{plan}/conventions")
def put_conventions(plan: PlanId, body: ChangeConventions, person: PersonWhoChanges, db: Database) -> PlanResponse:
    """Put a plan into other conventions, with the same picture or the same numbers."""
    return workshop.change_conventions(db, person, plan, body.seen, (body.conventions, body.keep))


@router.put("/plans/{plan}/target")
def put_target(plan: PlanId, body: FreezeTarget, person: PersonWhoChanges, db: Database) -> PlanResponse:
    """Make where the reference leads the plan's own target."""
    return workshop.freeze_target(db, person, plan, body.seen)


@router.put("/plans/{plan}/archive", status_code=204)
def put_standing(plan: PlanId, body: Standing, person: PersonWhoChanges, db: Database) -> None:
    """Archive a plan, or take it out again."""
    workshop.set_archived(db, person, plan, body.archived)


@router.get("/plans/{plan}/sharing")
def get_sharing(plan: PlanId, person: CurrentPerson, db: Database) -> SharingResponse:
    """With whom a plan of mine is shared, and whom I can share it with."""
    return sharing.sharing_of(db, person, plan)


@router.put("/plans/{plan}/sharing", status_code=204)
def put_sharing(plan: PlanId, body: SharingBody, person: PersonWhoChanges, db: Database) -> None:
    """Share a plan of mine with these and nobody else."""
    wanted = [sharing.Share(each.right, each.class_id, each.person) for each in body.shares]
    sharing.share(db, person, plan, wanted)


@router.post("/plans/{plan}/checks")
def post_checks(plan: PlanId, body: TryChecks, person: PersonWhoChanges, db: Database) -> CheckedResponse:
    """Judge the reference and every typical mistake by these checks. Nothing is saved."""
    return workshop.try_checks(db, person, plan, body.checks, body.apart)


@router.get("/plans/{plan}/proposals")
def get_proposals(plan: PlanId, person: CurrentPerson, db: Database) -> ProposalsResponse:
    """Return checks proposed from what the reference changes."""
    return workshop.proposed(db, person, plan)


@router.get("/plans/{plan}/soundness")
def get_soundness(plan: PlanId, person: CurrentPerson, db: Database) -> SoundnessResponse:
    """List what is unsound, and what publishing would change."""
    return publishing.soundness(db, person, plan)


@router.post("/plans/{plan}/versions", status_code=201)
def post_version(plan: PlanId, body: PublishPlan, person: PersonWhoChanges, db: Database) -> PublishedResponse:
    """Publish a plan as the next version, and set it for a class."""
    asked = body.assigned_to
    assigned_to = None if asked is None else (asked.class_id, asked.options())
    return publishing.publish(db, person, plan, body.seen, assigned_to)


@router.get("/plans/{plan}/document")
def get_document(plan: PlanId, person: CurrentPerson, db: Database) -> dict[str, object]:
    """Return the exercise file that a plan would be published as."""
    return publishing.document_of(db, person, plan)


@router.get("/versions/{version}/document")
def get_version(version: VersionId, person: CurrentPerson, db: Database) -> dict[str, object]:
    """Return a published version as an exercise file."""
    return library.version_document(db, person, version)[1]


@router.get("/versions/{version}/drawing", response_class=Svg)
def get_drawing(version: VersionId, person: CurrentPerson, db: Database) -> Response:
    """Return a small drawing of a published version: start and target."""
    svg = library.version_drawing(db, person, version)
    return Svg(svg, headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.post("/plans/{plan}/trial/result")
def post_trial(plan: PlanId, person: PersonWhoChanges, db: Database) -> JudgedResponse:
    """Judge my trial run as a student's submission. Nothing is saved."""
    return trial.tried(db, person, plan)


@router.post("/plans/{plan}/trial/mistake", status_code=204)
def post_mistake(plan: PlanId, body: OpenMistake, person: PersonWhoChanges, db: Database) -> None:
    """Put a typical mistake in as the steps of my trial."""
    trial.take_mistake(db, person, plan, body.number)


@router.get("/plans/{plan}/mistakes/{number}")
def get_mistake(
    plan: PlanId, number: Annotated[int, Path(ge=0, le=LARGEST_ID)], person: CurrentPerson, db: Database
) -> WayResponse:
    """Return the reference with a typical mistake in it, step by step."""
    return trial.mistaken(db, person, plan, number)


@router.get("/plans/{plan}/{part}")
def get_part(plan: PlanId, part: Part, person: CurrentPerson, db: Database) -> PlanPartResponse:
    """Return a part of a plan at which steps are done: its stage, its reference, or a trial of one's own."""
    return workshop.open_part(db, person, plan, part)


def _step_editor(plan: PlanId, part: Part, person: PersonWhoChanges, db: Database) -> StepEditor:
    return workshop.step_editor_of(db, person, plan, part)


add_editor_routes(router, "/plans/{plan}/{part}", _step_editor)
