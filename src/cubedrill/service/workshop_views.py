"""What the workshop answers with: plans, checks as they would judge, what is unsound, the library."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from cubedrill.core.authoring.plan import Card
from cubedrill.core.authoring.propose import Proposal
from cubedrill.core.authoring.soundness import Finding, Place
from cubedrill.core.judging.separate import Separation
from cubedrill.core.values import Value
from cubedrill.service.access import Right
from cubedrill.service.views import CheckView, DraftView, ExerciseView, StepView

Part = Literal["stage", "reference", "trial"]


class VersionView(Value):
    """A published version, and the classes that it is set for among those that the one who looks teaches."""

    id: int
    number: int
    published_at: datetime
    set_for: tuple[str, ...]


class SeenView(Value):
    """The revisions of a plan's parts that were looked at."""

    card: int
    stage: int
    reference: int


class PlanView(Value):
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
    versions: tuple[VersionView, ...]
    seen: SeenView


class SavedCardView(Value):
    """The revision that was made."""

    revision: int
    saved_at: datetime


class DeskView(Value):
    """A part of a plan at which steps are done."""

    exercise: ExerciseView
    draft: DraftView


class CheckedView(Value):
    """How checks would judge. results: of the reference itself; separation: none where there are no reference steps."""

    exercise: ExerciseView
    steps: tuple[StepView, ...]
    results: tuple[CheckView, ...]
    separation: Separation | None


class WayView(Value):
    """A way through the exercise, step by step, from its start."""

    steps: tuple[StepView, ...]


class ProposalsView(Value):
    """Checks proposed from the reference."""

    proposals: tuple[Proposal, ...]


class ClassView(Value):
    """A class that somebody teaches."""

    id: int
    name: str
    time_zone: str


class SoundnessView(Value):
    """Whether a plan is fit to be published.

    untouched: where nothing was done yet; changes: against the newest version; number: the one that it would get.
    """

    findings: tuple[Finding, ...]
    untouched: tuple[Place, ...]
    changes: tuple[str, ...]
    number: int
    seen: SeenView
    classes: tuple[ClassView, ...]


class PublishedView(Value):
    """What was published; assignment: where it was set for a class."""

    version: int
    number: int
    assignment: int | None


class ShareView(Value):
    """With whom a plan is shared: the instructors of a class, or a person; the other one is none."""

    class_id: int | None
    person: int | None
    name: str
    right: Right


class SharingView(Value):
    """With whom a plan is shared, and whom it could be shared with: classes that one teaches, and who teaches them."""

    shares: tuple[ShareView, ...]
    classes: tuple[ShareView, ...]
    people: tuple[ShareView, ...]


class PlanRowView(Value):
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


class ExerciseRowView(Value):
    """A published exercise in the library.

    trains: kinds of step, spaces and pivots of its reference. handed_in, passed: of students, wherever it is set in the
    classes of the one who looks.
    """

    exercise: str
    title: str
    trains: tuple[str, ...]
    versions: tuple[VersionView, ...]
    handed_in: int
    passed: int


class LibraryView(Value):
    """All plans and published exercises that somebody may see."""

    plans: tuple[PlanRowView, ...]
    exercises: tuple[ExerciseRowView, ...]


class CreatedView(Value):
    """The plan that was made."""

    plan: int


class BroughtView(CreatedView):
    """The plan that was made of a scene file; notes: what of it was left out, changed or guessed."""

    notes: tuple[str, ...]
