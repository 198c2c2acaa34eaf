"""Classes: made, renamed, opened to students by a code, and what was done in them."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from functools import cache
from typing import Final
from zoneinfo import available_timezones

from sqlalchemy.orm import Session

from cubedrill.service.access import class_for, class_to_change, require_instructor
from cubedrill.service.errors import RefusedError
from cubedrill.service.people import accounts
from cubedrill.service.people.activity import activity_sentence
from cubedrill.service.people.responses import (
    ActivityResponse,
    ActivityRowResponse,
    ClassesResponse,
    ClassPageResponse,
    ClassRowResponse,
    InvitedResponse,
    JoinCodeResponse,
    MemberResponse,
)
from cubedrill.service.responses import PersonResponse
from cubedrill.store import assignments
from cubedrill.store.news import live
from cubedrill.store.people import accounts as people
from cubedrill.store.people import classes
from cubedrill.store.tables import Classroom, Event, JoinCode, Membership, Person

CODE_LENGTH: Final = 7
DONE_AT_ONCE: Final = 100


@cache
def time_zones() -> tuple[str, ...]:
    """Return the time zones for a class: those of places, and UTC."""
    return ("UTC", *sorted(zone for zone in available_timezones() if "/" in zone and not zone.startswith("Etc/")))


def note(db: Session, by: Person, kind: str, class_id: int, /, **facts: object) -> None:
    """Write down what somebody did in a class, and tell viewers at it."""
    db.add(Event(person_id=by.id, kind=kind, class_id=class_id, facts=facts))
    live.tell_all_of(db, class_id)


def classes_of(db: Session, person: Person) -> ClassesResponse:
    """Return the classes that somebody teaches; raise RefusedError "wrong-role" for who neither teaches nor may."""
    require_instructor(db, person)
    return ClassesResponse(classes=_rows(db, person), time_zones=time_zones())


def make(db: Session, person: Person, name: str, time_zone: str) -> int:
    """Make a class with oneself as its instructor; return its id."""
    require_instructor(db, person)
    _require_zone(time_zone)
    made = Classroom(name=name, time_zone=time_zone)
    db.add(made)
    db.flush()
    db.add(Membership(class_id=made.id, person_id=person.id, role="instructor"))
    note(db, person, "class created", made.id, name=name)
    return made.id


def change(db: Session, person: Person, class_id: int, name: str, time_zone: str) -> None:
    """Give a class another name or time zone; dates that are set stay the moments that they are."""
    classroom = class_to_change(db, person, class_id)
    _require_zone(time_zone)
    note(db, person, "class changed", class_id, name=name, time_zone=time_zone, was=classroom.name)
    classroom.name, classroom.time_zone = name, time_zone


def set_archived(db: Session, person: Person, class_id: int, archived: bool, now: datetime) -> None:
    """Archive a class, which ends its join codes, or reopen it."""
    classroom = class_for(db, person, class_id)
    if (classroom.archived_at is not None) == archived:
        return
    classroom.archived_at = now if archived else None
    if archived:
        for code in classes.join_codes_of(db, class_id, now):
            db.delete(code)
    note(db, person, "class archived" if archived else "class reopened", class_id)


def class_view(db: Session, person: Person, class_id: int, now: datetime) -> ClassPageResponse:
    """Return a class with its people to an instructor of it."""
    classroom = class_for(db, person, class_id)
    members = classes.members_of(db, class_id)
    ids = [each.person_id for each in members]
    seen = people.last_seen(db, ids)
    mine = only_taught_by(db, person, ids)
    return ClassPageResponse(
        id=classroom.id,
        name=classroom.name,
        time_zone=classroom.time_zone,
        archived=classroom.archived_at is not None,
        members=tuple(
            MemberResponse(
                person=each.person_id, name=each.person.name, sign_in=each.person.sign_in,
                email=each.person.email or "",
                role="instructor" if each.role == "instructor" else "student", since=each.since, left_at=each.left_at,
                seen_at=seen.get(each.person_id), waits=each.person.one_time_until is not None,
                mine=each.person_id in mine,
            )
            for each in members if each.person.erased_at is None or each.left_at is None
        ),
        invited=tuple(
            InvitedResponse(person=each.person_id, name=each.person.name, made_at=each.made_at)
            for each in classes.invitations_of(db, class_id)
        ),
        codes=tuple(JoinCodeResponse(code=c.code, ends_at=c.ends_at) for c in classes.join_codes_of(db, class_id, now)),
        others=tuple(row for row in _rows(db, person) if row.id != class_id),
    )  # fmt: skip


def only_taught_by(db: Session, person: Person, ids: list[int]) -> set[int]:
    """Return the students whose accounts a person may manage: those in no other instructor's class."""
    taught = {each.id for each in classes.classes_taught(db, person.id)}
    found = classes.memberships_of(db, ids)
    above = people.makers_among(db, ids)
    return {
        person_id
        for person_id, theirs in found.items()
        if theirs
        and person_id not in above
        and all(each.class_id in taught and each.role == "student" for each in theirs)
    }


def open_by_code(db: Session, person: Person, class_id: int, minutes: int, now: datetime) -> JoinCodeResponse:
    """Make a code by which students join a class, for so many minutes."""
    class_to_change(db, person, class_id)
    letters = accounts.LETTERS.upper()
    code = "".join(secrets.choice(letters) for _ in range(CODE_LENGTH))
    made = JoinCode(code=code, class_id=class_id, ends_at=now + timedelta(minutes=minutes))
    db.add(made)
    note(db, person, "join code created", class_id, minutes=minutes)
    return JoinCodeResponse(code=made.code, ends_at=made.ends_at)


def end_code(db: Session, person: Person, class_id: int, code: str, now: datetime) -> None:
    """End a code of a class; raise RefusedError "no-such-code" where it has none such."""
    class_for(db, person, class_id)
    found = classes.join_code(db, code, now)
    if found is None or found.class_id != class_id:
        raise RefusedError("no-such-code")
    db.delete(found)
    note(db, person, "join code ended", class_id)


def join(db: Session, person: Person, code: str, at: accounts.From, now: datetime) -> int:
    """Join a class by its code, as a student, and return its id. Members keep their role."""
    found = _code(db, code, at, now)
    membership = db.get(Membership, (found.class_id, person.id))
    if membership is None:
        db.add(Membership(class_id=found.class_id, person_id=person.id, role="student", since=now))
    elif membership.left_at is None:
        return found.class_id
    else:
        membership.left_at, membership.role = None, "student"
    note(db, person, "joined", found.class_id, person=person.id)
    return found.class_id


def join_as_new(
    db: Session, code: str, who: tuple[str, str, str], at: accounts.From, now: datetime
) -> tuple[str, PersonResponse]:
    """Join a class by its code with a new account, and sign in. who: name, username and password.

    Raises RefusedError "no-such-code", "sign-in-taken" or "weak-password".
    """
    name, sign_in, password = who[0], who[1].lower(), who[2]
    _code(db, code, at, now)
    people.add_in_turn(db)
    if people.person_by_sign_in(db, sign_in) is not None:
        raise RefusedError("sign-in-taken", sign_in=sign_in)
    accounts.require_strong(password, name, sign_in)
    person = Person(sign_in=sign_in, name=name, password_hash=accounts.PASSWORDS.hash(password))
    db.add(person)
    db.flush()
    join(db, person, code, at, now)
    return accounts.begin_session(db, person, at, now)


def _code(db: Session, code: str, at: accounts.From, now: datetime) -> JoinCode:
    found = classes.join_code(db, code.upper().replace("-", "").replace(" ", ""), now)
    if found is None:
        accounts.tried_code(db, at.address, now)
        raise RefusedError("no-such-code")
    return found


def done_in(db: Session, person: Person, class_id: int, before: int | None) -> ActivityResponse:
    """Return the activity in a class to an instructor of it; before: the id of the last row that was shown."""
    classroom = class_for(db, person, class_id)
    rows = classes.events_of(db, class_id, before, DONE_AT_ONCE + 1)
    names = people.names_of(db, {i for event, _ in rows for i in (event.facts.get("person"),) if i is not None})
    return ActivityResponse(
        class_id=class_id,
        class_name=classroom.name,
        rows=tuple(
            ActivityRowResponse(id=event.id, who=who, text=activity_sentence(event, names), at=event.happened_at)
            for event, who in rows[:DONE_AT_ONCE]
        ),
        more=len(rows) > DONE_AT_ONCE,
    )


def _rows(db: Session, person: Person) -> tuple[ClassRowResponse, ...]:
    taught = classes.classes_taught(db, person.id)
    ids = [each.id for each in taught]
    students, exercises = classes.student_counts(db, ids), assignments.assignment_counts(db, ids)
    return tuple(
        ClassRowResponse(
            id=each.id, name=each.name, time_zone=each.time_zone, students=students.get(each.id, 0),
            exercises=exercises.get(each.id, 0), archived=each.archived_at is not None,
        )
        for each in taught
    )  # fmt: skip


def _require_zone(time_zone: str) -> None:
    if time_zone not in time_zones():
        raise RefusedError("no-such-zone", zone=time_zone[:40])
