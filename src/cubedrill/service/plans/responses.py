"""Responses about plans, soundness and the library."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from cubedrill.core.authoring.plan import Card
from cubedrill.core.authoring.propose import Proposal
from cubedrill.core.authoring.soundness import Finding, Place
from cubedrill.core.judging.separate import Separation
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.values import Value
from cubedrill.service.access import Right
from cubedrill.service.responses import DraftResponse, ExerciseResponse, HaloResponse, StepResponse

Part = Literal["stage", "reference", "trial"]


class VersionResponse(Value):
    """A published version, and the classes of the person that it is assigned to."""

    id: int
    number: int
    published_at: datetime
    assigned_to: tuple[str, ...]


class SeenResponse(Value):
    """The revisions of a plan's parts that were looked at."""

    card: int
    stage: int
    reference: int


class PlanResponse(Value):
    """A plan without its steps. exercise: the id that its versions have; stage, reference: how many steps count.

    may_edit: whether the viewer may change it.
    """

    plan: int
    exercise: str
    revision: int
    saved_at: datetime
    owner: str
    own: bool
    may_edit: bool
    archived: bool
    card: Card
    stage: int
    reference: int
    versions: tuple[VersionResponse, ...]
    seen: SeenResponse


class SavedCardResponse(Value):
    """The revision that was made."""

    revision: int
    saved_at: datetime


class PlanPartResponse(Value):
    """A part of a plan at which steps are done."""

    exercise: ExerciseResponse
    draft: DraftResponse


class CheckedResponse(Value):
    """Results of tried checks. results: of the reference itself; separation: None without reference steps.

    exercise, steps: what the checks are of, and the reference; None and empty while a tolerance is dragged.
    """

    exercise: ExerciseResponse | None
    steps: tuple[StepResponse, ...]
    halos: tuple[HaloResponse, ...]
    results: tuple[CheckResult, ...]
    separation: Separation | None


class WayResponse(Value):
    """A way through the exercise, step by step, from its start."""

    steps: tuple[StepResponse, ...]


class ProposalsResponse(Value):
    """Checks proposed from the reference."""

    proposals: tuple[Proposal, ...]


class ClassResponse(Value):
    """A class that somebody teaches."""

    id: int
    name: str
    time_zone: str


class SoundnessResponse(Value):
    """Whether a plan is fit to be published.

    untouched: where nothing was done yet; changes: against the newest version; number: the one that it would get.
    """

    findings: tuple[Finding, ...]
    untouched: tuple[Place, ...]
    changes: tuple[str, ...]
    number: int
    seen: SeenResponse
    classes: tuple[ClassResponse, ...]


class PublishedResponse(Value):
    """A published version; assignment: its id if it was assigned to a class."""

    version: int
    number: int
    assignment: int | None


class ShareResponse(Value):
    """With whom a plan is shared: the instructors of a class, or a person; the other one is none."""

    class_id: int | None
    person: int | None
    name: str
    right: Right


class SharingResponse(Value):
    """With whom a plan is shared, and whom it could be shared with: classes that one teaches, and who teaches them."""

    shares: tuple[ShareResponse, ...]
    classes: tuple[ShareResponse, ...]
    people: tuple[ShareResponse, ...]


class PlanRowResponse(Value):
    """A plan in the library. shared: with how many classes and people; may_edit: whether the viewer may change it."""

    plan: int
    title: str
    exercise: str
    owner: str
    own: bool
    may_edit: bool
    shared: int
    archived: bool
    saved_at: datetime
    stage: int
    reference: int
    checks: int


class ExerciseRowResponse(Value):
    """A published exercise in the library.

    trains: kinds of step, spaces and pivots of its reference. submitted, passed: of students, wherever it is set in the
    classes of the one who looks.
    """

    exercise: str
    title: str
    trains: tuple[str, ...]
    versions: tuple[VersionResponse, ...]
    submitted: int
    passed: int


class LibraryResponse(Value):
    """All plans and published exercises that somebody may see."""

    plans: tuple[PlanRowResponse, ...]
    exercises: tuple[ExerciseRowResponse, ...]


class CreatedResponse(Value):
    """The plan that was made."""

    plan: int


class ImportedSceneResponse(CreatedResponse):
    """The plan that was made of a scene file; notes: what of it was left out, changed or guessed."""

    notes: tuple[str, ...]
