"""Classes and the people in them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Path, Query
from pydantic import Base64Bytes, Field, StringConstraints

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import LARGEST_ID, ClassId, Id, PersonId
from cubedrill.core.values import Value
from cubedrill.formats.roster import LONGEST, MOST_ROWS, Entry
from cubedrill.service.people import classes, members
from cubedrill.service.people.responses import (
    ActivityResponse,
    AddedPeopleResponse,
    ClassesResponse,
    ClassPageResponse,
    JoinCodeResponse,
    Role,
    RosterResponse,
    SlipResponse,
)

router = APIRouter(prefix="/classes", tags=["classes"])
invitations = APIRouter(prefix="/invitations", tags=["classes"])

Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=LONGEST, pattern=r"^[^\x00-\x1f\x7f]*$")]
LONGEST_LESSON = 7 * 24 * 60  # minutes


class ClassBody(Value):
    """A class: what it is called, and the time zone in which its dates are meant."""

    name: Annotated[Text, StringConstraints(min_length=1)]
    time_zone: Text


class ArchiveBody(Value):
    """Whether a class is archived."""

    archived: bool


class CreatedId(Value):
    """The id of what was made."""

    id: int


class RosterFile(Value):
    """A file as it is."""

    name: Text
    content: Annotated[Base64Bytes, Field(max_length=2_000_000)]


class TypedRow(Value):
    """A typed person; a missing username is made from the name."""

    name: Text
    sign_in: Annotated[Text, StringConstraints(to_lower=True)] = ""
    email: Text = ""
    role: Role = "student"


class RosterBody(Value):
    """People to be added: files, or typed rows. chosen: which class of the files."""

    files: Annotated[tuple[RosterFile, ...], Field(max_length=5, fail_fast=True)] = ()
    typed: Annotated[tuple[TypedRow, ...], Field(max_length=MOST_ROWS, fail_fast=True)] = ()
    chosen: Text = ""

    def sent(self) -> members.Sent:
        """Return what the service works with."""
        return members.Sent(
            files=[(each.name, each.content) for each in self.files],
            typed=[
                Entry(where=f"row {number}", name=row.name, sign_in=row.sign_in, email=row.email, role=row.role)
                for number, row in enumerate(self.typed, 1)
            ],
            chosen=self.chosen,
        )


class CodeBody(Value):
    """For how many minutes a code opens a class."""

    minutes: Annotated[int, Field(ge=5, le=LONGEST_LESSON)]


class PeopleBody(Value):
    """People of a class."""

    people: Annotated[tuple[Id, ...], Field(min_length=1, max_length=MOST_ROWS, fail_fast=True)]


class RoleBody(Value):
    """A new role for a person."""

    role: Role


class MoveBody(Value):
    """The class that somebody is moved to."""

    to: Id


class EraseBody(Value):
    """The name of who is erased, typed once more."""

    name: Annotated[str, Field(max_length=LONGEST)]


@invitations.post("/{class}", status_code=204)
def accept(class_id: ClassId, person: PersonWhoChanges, db: Database) -> None:
    """Accept to teach a class that I am asked to teach."""
    members.accept_invitation(db, person, class_id, datetime.now(UTC))


@invitations.delete("/{class}", status_code=204)
def decline(class_id: ClassId, person: PersonWhoChanges, db: Database) -> None:
    """Decline to teach a class that I am asked to teach."""
    members.decline_invitation(db, person, class_id)


@router.get("")
def get_classes(person: CurrentPerson, db: Database) -> ClassesResponse:
    """Return the classes that I teach."""
    return classes.classes_of(db, person)


@router.post("", status_code=201)
def post_class(body: ClassBody, person: PersonWhoChanges, db: Database) -> CreatedId:
    """Make a class."""
    return CreatedId(id=classes.make(db, person, body.name, body.time_zone))


@router.get("/{class}")
def get_class(class_id: ClassId, person: CurrentPerson, db: Database) -> ClassPageResponse:
    """Return a class with its people."""
    return classes.class_view(db, person, class_id, datetime.now(UTC))


@router.put("/{class}", status_code=204)
def put_class(class_id: ClassId, body: ClassBody, person: PersonWhoChanges, db: Database) -> None:
    """Give a class another name or time zone."""
    classes.change(db, person, class_id, body.name, body.time_zone)


@router.put("/{class}/archive", status_code=204)
def put_archive(class_id: ClassId, body: ArchiveBody, person: PersonWhoChanges, db: Database) -> None:
    """Archive a class, or reopen it."""
    classes.set_archived(db, person, class_id, body.archived, datetime.now(UTC))


@router.get("/{class}/activity")
def get_done(
    class_id: ClassId,
    person: CurrentPerson,
    db: Database,
    before: Annotated[int | None, Query(ge=1, le=LARGEST_ID)] = None,
) -> ActivityResponse:
    """List the activity in a class."""
    return classes.done_in(db, person, class_id, before)


@router.post("/{class}/roster/preview")
def preview_roster(class_id: ClassId, body: RosterBody, person: PersonWhoChanges, db: Database) -> RosterResponse:
    """Preview what importing a list of people would do. Nothing is saved."""
    return members.preview(db, person, class_id, body.sent())


@router.post("/{class}/roster", status_code=201)
def post_roster(class_id: ClassId, body: RosterBody, person: PersonWhoChanges, db: Database) -> AddedPeopleResponse:
    """Add people; answers with the slips of who is new, this once."""
    return members.bring_in(db, person, class_id, body.sent(), datetime.now(UTC))


@router.post("/{class}/codes", status_code=201)
def post_code(class_id: ClassId, body: CodeBody, person: PersonWhoChanges, db: Database) -> JoinCodeResponse:
    """Make a code by which students come in by themselves."""
    return classes.open_by_code(db, person, class_id, body.minutes, datetime.now(UTC))


@router.delete("/{class}/codes/{code}", status_code=204)
def delete_code(
    class_id: ClassId, code: Annotated[str, Path(pattern="^[A-Z0-9]{1,20}$")], person: PersonWhoChanges, db: Database
) -> None:
    """End a code."""
    classes.end_code(db, person, class_id, code, datetime.now(UTC))


@router.post("/{class}/slips", status_code=201)
def post_slips(class_id: ClassId, body: PeopleBody, person: PersonWhoChanges, db: Database) -> list[SlipResponse]:
    """Give people new one-time passwords."""
    return list(members.new_slips(db, person, class_id, body.people, datetime.now(UTC)))


@router.put("/{class}/people/{person_id}/role", status_code=204)
def put_role(class_id: ClassId, person_id: PersonId, body: RoleBody, person: PersonWhoChanges, db: Database) -> None:
    """Make somebody a student of a class, or ask them to teach it."""
    members.set_role(db, person, class_id, person_id, body.role)


@router.post("/{class}/people/{person_id}/move", status_code=204)
def post_move(class_id: ClassId, person_id: PersonId, body: MoveBody, person: PersonWhoChanges, db: Database) -> None:
    """Move a student to another class of mine."""
    members.move(db, person, (class_id, person_id), body.to, datetime.now(UTC))


@router.delete("/{class}/invitations/{person_id}", status_code=204)
def delete_invitation(class_id: ClassId, person_id: PersonId, person: PersonWhoChanges, db: Database) -> None:
    """Take back my request to somebody to teach a class."""
    members.withdraw_invitation(db, person, class_id, person_id)


@router.delete("/{class}/people/{person_id}", status_code=204)
def delete_person(class_id: ClassId, person_id: PersonId, person: PersonWhoChanges, db: Database) -> None:
    """Remove somebody from a class; the work stays."""
    members.let_go(db, person, class_id, person_id, datetime.now(UTC))


@router.post("/{class}/people/{person_id}/erasure", status_code=204)
def post_erasure(
    class_id: ClassId, person_id: PersonId, body: EraseBody, person: PersonWhoChanges, db: Database
) -> None:
    """Erase name and work of somebody who has left, for good."""
    members.erase(db, person, class_id, person_id, body.name)
