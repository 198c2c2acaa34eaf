"""The tables. Submissions, reports, reviews, exercise versions and events are never changed: a trigger refuses
it. One function alone erases, with all of somebody's work in it.

shape: which one a row's document has (see `store/documents.py`).
"""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ColumnElement,
    DateTime,
    Double,
    ForeignKey,
    Identity,
    Index,
    MetaData,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.late import LatePolicy
from cubedrill.store.documents import DRAFT


class Base(DeclarativeBase):
    """Base of all tables; constraint names are fixed, so that migrations can name them."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {  # noqa: RUF012 - SQLAlchemy reads it so
        datetime: DateTime(timezone=True),
        dict[str, object]: JSONB,
        list[Any]: JSONB,
        dict[str, Any]: JSONB,
        int: BigInteger,
    }


class Person(Base):
    """Somebody who can sign in.

    outside_id: of the same person in the school's own lists. one_time_until: the password is one that was given, which
    opens nothing but the choice of one's own, and ends then. makes_classes: as whoever runs the installation decided.
    """

    __tablename__ = "person"

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    sign_in: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str]
    password_hash: Mapped[str]
    email: Mapped[str | None]
    outside_id: Mapped[str | None] = mapped_column(index=True)
    one_time_until: Mapped[datetime | None]
    makes_classes: Mapped[bool] = mapped_column(server_default=text("false"))
    erased_at: Mapped[datetime | None]


class Classroom(Base):
    """A class of students with its instructors.

    time_zone: of its dates, as the IANA database names it. archived_at: since then nothing in it can be changed.
    """

    __tablename__ = "class"

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    name: Mapped[str]
    time_zone: Mapped[str] = mapped_column(server_default=text("'UTC'"))
    archived_at: Mapped[datetime | None]


class Membership(Base):
    """The role of a person in a class: `student` or `instructor`. left_at: since then only the work remains."""

    __tablename__ = "membership"

    class_id: Mapped[int] = mapped_column(ForeignKey("class.id"), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    role: Mapped[str]
    since: Mapped[datetime] = mapped_column(server_default=func.now())
    left_at: Mapped[datetime | None]

    person: Mapped[Person] = relationship()


class Invitation(Base):
    """A request to teach a class, until it is accepted or declined. by_id: who asked."""

    __tablename__ = "invitation"

    class_id: Mapped[int] = mapped_column(ForeignKey("class.id"), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    by_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())

    classroom: Mapped[Classroom] = relationship()
    person: Mapped[Person] = relationship(foreign_keys=[person_id])
    by: Mapped[Person] = relationship(foreign_keys=[by_id])


class JoinCode(Base):
    """A code by which students join a class by themselves, until it ends."""

    __tablename__ = "join_code"

    code: Mapped[str] = mapped_column(primary_key=True)
    class_id: Mapped[int] = mapped_column(ForeignKey("class.id"), index=True)
    ends_at: Mapped[datetime]

    classroom: Mapped[Classroom] = relationship()


class ExerciseVersion(Base):
    """A published exercise file; the number grows with each change.

    publisher_id: none of what came with the product.
    """

    __tablename__ = "exercise_version"
    __table_args__ = (UniqueConstraint("exercise", "number"),)

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    exercise: Mapped[str]
    number: Mapped[int]
    document: Mapped[dict[str, object]] = mapped_column(deferred=True)  # large, and read once a version
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    published_at: Mapped[datetime] = mapped_column(server_default=func.now())
    publisher_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class Assignment(Base):
    """An exercise version assigned to a class. Before it opens, students see only its title and the opening date.

    attempts: the number allowed, or none for no limit. counts: `best` or `last`. feedback: the level, or none for that
    of the exercise. feedback_when: `at once` or `after due`. late, late_per_day, late_floor: what late work costs, see
    `LatePolicy`. drafts_shown: whether instructors see unfinished work. weight: in the total.
    """

    __tablename__ = "assignment"
    __table_args__ = (UniqueConstraint("class_id", "exercise_version_id"),)

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    class_id: Mapped[int] = mapped_column(ForeignKey("class.id"))
    exercise_version_id: Mapped[int] = mapped_column(ForeignKey("exercise_version.id"))
    opens_at: Mapped[datetime | None]
    due_at: Mapped[datetime]
    attempts: Mapped[int | None]
    counts: Mapped[str] = mapped_column(server_default=text("'best'"))
    feedback: Mapped[str | None]
    feedback_when: Mapped[str] = mapped_column(server_default=text("'at once'"))
    late: Mapped[str] = mapped_column(server_default=text("'no cost'"))
    late_per_day: Mapped[float] = mapped_column(Double, server_default=text("0"))
    late_floor: Mapped[float] = mapped_column(Double, server_default=text("0"))
    drafts_shown: Mapped[bool] = mapped_column(server_default=text("false"))
    weight: Mapped[float] = mapped_column(Double, server_default=text("1"))

    classroom: Mapped[Classroom] = relationship()
    exercise_version: Mapped[ExerciseVersion] = relationship()

    @property
    def late_policy(self) -> LatePolicy:
        """The cost of late work."""
        return LatePolicy.model_validate({"kind": self.late, "per_day": self.late_per_day, "floor": self.late_floor})


class AssignmentException(Base):
    """An exception for one student at an assignment; a column without a value is the same as for the class.

    attempts: the number allowed. reason: for instructors only. by_id: who made it.
    """

    __tablename__ = "assignment_exception"

    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    due_at: Mapped[datetime | None]
    attempts: Mapped[int | None]
    excused: Mapped[bool] = mapped_column(server_default=text("false"))
    reason: Mapped[str] = mapped_column(server_default=text("''"))
    by_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class StoredDraft:
    """A step list in progress, with a revision that grows."""

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    document: Mapped[dict[str, object]]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    revision: Mapped[int]
    saved_at: Mapped[datetime] = mapped_column(server_default=func.now())
    begun_at: Mapped[datetime] = mapped_column(server_default=func.now())

    @property
    def draft(self) -> DraftSteps:
        """The step list."""
        return DRAFT.read(self.document, self.shape)

    @classmethod
    def steps_counting(cls) -> ColumnElement[int]:
        """Return the SQL expression for how many steps count."""
        cursor: ColumnElement[int] = cls.document["cursor"].as_integer()
        return cursor


class Draft(StoredDraft, Base):
    """A student's work on an assignment. in_place: how many of its checks (checks) pass as it was saved last."""

    __tablename__ = "draft"
    __table_args__ = (UniqueConstraint("assignment_id", "person_id"),)

    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"))
    in_place: Mapped[int | None]
    checks: Mapped[int | None]


class StoredPlan(Base):
    """An exercise in progress: all of it but its steps, saved as a whole each time.

    exercise: the id that its versions have.
    """

    __tablename__ = "plan"

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    exercise: Mapped[str]
    document: Mapped[dict[str, object]]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    archived: Mapped[bool] = mapped_column(server_default=text("false"))
    revision: Mapped[int]
    saved_at: Mapped[datetime] = mapped_column(server_default=func.now())

    owner: Mapped[Person] = relationship()


class PlanShare(Base):
    """A plan opened to the instructors of a class, or to one person. right: `view` or `edit`."""

    __tablename__ = "plan_share"
    __table_args__ = (
        UniqueConstraint("plan_id", "class_id"),
        UniqueConstraint("plan_id", "person_id"),
        CheckConstraint("num_nonnulls(class_id, person_id) = 1", name="with_one"),
    )

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("plan.id"))
    class_id: Mapped[int | None] = mapped_column(ForeignKey("class.id"), index=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    right: Mapped[str]


class PlanSteps(StoredDraft, Base):
    """Steps of a plan; part: `stage` and `reference` are the plan's (kept under its owner), `trial` somebody's own."""

    __tablename__ = "plan_steps"
    __table_args__ = (UniqueConstraint("plan_id", "part", "person_id"),)

    plan_id: Mapped[int] = mapped_column(ForeignKey("plan.id"))
    part: Mapped[str]


class SheetDraft(Base):
    """A student's sheet of typed values for one assignment, saved as a whole each time."""

    __tablename__ = "sheet_draft"
    __table_args__ = (UniqueConstraint("assignment_id", "person_id"),)

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    document: Mapped[dict[str, object]]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    revision: Mapped[int]
    saved_at: Mapped[datetime] = mapped_column(server_default=func.now())


class UploadedFile(Base):
    """A file as a student sent it; kept for good once it is submitted.

    name: on the student's machine. imported: the scene that was read from it, as JSON, if it is another program's, by
    the readers of this version. sent_order: grows with each file that the browser sends.
    """

    __tablename__ = "uploaded_file"
    __table_args__ = (Index(None, "assignment_id", "person_id"),)

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    name: Mapped[str]
    content: Mapped[bytes] = mapped_column(deferred=True)
    imported: Mapped[bytes | None] = mapped_column(deferred=True)
    reader_version: Mapped[int]
    sent_order: Mapped[int] = mapped_column(server_default=text("0"))
    sent_at: Mapped[datetime] = mapped_column(server_default=func.now())


class StoredSubmission(Base):
    """A submission as it was made, and the version of the exercise that it is for.

    file_id: of the file that it came as.

    One a draft revision of its kind and a version, so that submitting twice makes one.
    """

    __tablename__ = "submission"
    __table_args__ = (
        UniqueConstraint("assignment_id", "person_id", "kind", "draft_revision", "exercise_version_id"),
        UniqueConstraint("assignment_id", "person_id", "number"),
    )

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"))
    exercise_version_id: Mapped[int] = mapped_column(ForeignKey("exercise_version.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    number: Mapped[int]
    kind: Mapped[str] = mapped_column(server_default=text("'steps'"))
    draft_revision: Mapped[int]
    file_id: Mapped[int | None] = mapped_column(ForeignKey("uploaded_file.id"), index=True)
    document: Mapped[dict[str, object]]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    submitted_at: Mapped[datetime] = mapped_column(server_default=func.now())

    assignment: Mapped[Assignment] = relationship()
    exercise_version: Mapped[ExerciseVersion] = relationship()
    person: Mapped[Person] = relationship()
    reports: Mapped[list[StoredReport]] = relationship(order_by="StoredReport.id", viewonly=True)
    mark: Mapped[Mark | None] = relationship(viewonly=True)
    file: Mapped[UploadedFile | None] = relationship(viewonly=True)
    reviews: Mapped[list[Review]] = relationship(order_by="Review.id", viewonly=True)


class StoredReport(Base):
    """The verdict that one version of the rules gave on a submission, by one version of the exercise.

    explained: whether it says why it missed; where that takes longer, it comes as one more report with the verdict.
    """

    __tablename__ = "report"
    __table_args__ = (
        UniqueConstraint(
            "submission_id", "exercise_version_id", "rules_version", "explained", name="uq_report_one_of_a_kind"
        ),
    )

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    submission_id: Mapped[int] = mapped_column(ForeignKey("submission.id"))
    exercise_version_id: Mapped[int] = mapped_column(ForeignKey("exercise_version.id"))
    rules_version: Mapped[str]
    explained: Mapped[bool] = mapped_column(server_default=text("true"))
    document: Mapped[dict[str, object]]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())

    exercise_version: Mapped[ExerciseVersion] = relationship(viewonly=True)


class Mark(Base):
    """The current mark of a submission, computed from its newest report and its reviews, for lists.

    of: the points that there are. to_come: at most so many more, for what an instructor has yet to judge. causes: why
    it missed (code, object, text), the likeliest first. explained: whether that is known. checks: for each its id,
    verdict, points, how many tolerances it is off, its miss, and points set by hand, if any.
    """

    __tablename__ = "mark"
    __table_args__ = (
        Index(None, "assignment_id", "person_id"),
        Index(None, "submission_id", postgresql_where=text("not explained")),
    )

    submission_id: Mapped[int] = mapped_column(ForeignKey("submission.id"), primary_key=True)
    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    points: Mapped[float] = mapped_column(Double)
    of: Mapped[float] = mapped_column(Double)
    score: Mapped[float | None] = mapped_column(Double)
    passed: Mapped[bool]
    changed: Mapped[bool]
    to_come: Mapped[float] = mapped_column(Double, server_default=text("0"))
    causes: Mapped[list[Any]]
    checks: Mapped[list[Any]]
    explained: Mapped[bool]


class Review(Base):
    """A review of a submission: points for a check with a reason, or a remark on the whole or on a place in it.

    place: what a remark is on, and the view in which it was written; none for a remark on the whole.
    """

    __tablename__ = "review"

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    submission_id: Mapped[int] = mapped_column(ForeignKey("submission.id"), index=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    check_id: Mapped[str | None]
    points: Mapped[float | None] = mapped_column(Double)
    text: Mapped[str]
    place: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())

    person: Mapped[Person] = relationship()


class ReviewedSubmission(Base):
    """An instructor has opened a submission."""

    __tablename__ = "reviewed_submission"

    submission_id: Mapped[int] = mapped_column(ForeignKey("submission.id"), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))


class Recheck(Base):
    """Everything submitted for one assignment, re-checked by a version of its exercise and the rules of this release.

    state: `working`, `done`, `cancelled`, or `taken` once marks were applied from it. total: of submissions.
    """

    __tablename__ = "recheck"

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    assignment_id: Mapped[int] = mapped_column(ForeignKey("assignment.id"), index=True)
    exercise_version_id: Mapped[int] = mapped_column(ForeignKey("exercise_version.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"))
    asked_at: Mapped[datetime] = mapped_column(server_default=func.now())
    state: Mapped[str] = mapped_column(server_default=text("'working'"))
    total: Mapped[int]

    assignment: Mapped[Assignment] = relationship()
    exercise_version: Mapped[ExerciseVersion] = relationship()


class Rechecked(Base):
    """The result of judging a submission again.

    passed: by what would count. changed: checks whose verdict or points are others. why: it could not be judged so.
    taken_at: since then it counts.
    """

    __tablename__ = "rechecked"

    recheck_id: Mapped[int] = mapped_column(ForeignKey("recheck.id"), primary_key=True)
    submission_id: Mapped[int] = mapped_column(ForeignKey("submission.id"), primary_key=True, index=True)
    document: Mapped[dict[str, object] | None]
    shape: Mapped[int] = mapped_column(server_default=text("1"))
    points: Mapped[float | None] = mapped_column(Double)
    of: Mapped[float | None] = mapped_column(Double)
    passed: Mapped[bool]
    changed: Mapped[list[Any]]
    why: Mapped[str] = mapped_column(server_default=text("''"))
    taken_at: Mapped[datetime | None]

    submission: Mapped[StoredSubmission] = relationship()


class CalendarFeed(Base):
    """The private address of somebody's calendar. token: its secret part, which is shown to its owner again."""

    __tablename__ = "calendar_feed"

    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), primary_key=True)
    token: Mapped[str] = mapped_column(unique=True)


class JobFailure(Base):
    """Why a job failed last; the queue's own tables do not say it. job_id: of `procrastinate_jobs`."""

    __tablename__ = "job_failure"

    job_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    why: Mapped[str]
    failed_at: Mapped[datetime] = mapped_column(server_default=func.now())


class SignedIn(Base):
    """A session of somebody signed in; the browser holds the token, the table only its hash.

    browser: what it says of itself.
    """

    __tablename__ = "signed_in"

    token_hash: Mapped[str] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    csrf_token: Mapped[str]
    expires_at: Mapped[datetime]
    seen_at: Mapped[datetime] = mapped_column(server_default=func.now())
    began_at: Mapped[datetime] = mapped_column(server_default=func.now())
    address: Mapped[str] = mapped_column(server_default=text("''"))
    browser: Mapped[str] = mapped_column(server_default=text("''"))

    person: Mapped[Person] = relationship()


class SignInFailure(Base):
    """A wrong name or password, kept to slow guessing down."""

    __tablename__ = "sign_in_failure"
    __table_args__ = (Index(None, "address", "failed_at"), Index(None, "sign_in", "failed_at"))

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    sign_in: Mapped[str]
    address: Mapped[str]
    failed_at: Mapped[datetime]


class Event(Base):
    """An event: who did what, and when; no person if a sign-in failed. class_id: of the class that it is about."""

    __tablename__ = "event"
    __table_args__ = (Index(None, "class_id", "id"),)

    id: Mapped[int] = mapped_column(Identity(always=True), primary_key=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    kind: Mapped[str]
    facts: Mapped[dict[str, Any]]
    class_id: Mapped[int | None] = mapped_column(ForeignKey("class.id"))
    happened_at: Mapped[datetime] = mapped_column(server_default=func.now())
