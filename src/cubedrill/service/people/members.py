"""Members of a class: add, set one-time passwords, move, remove, erase."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from cubedrill.formats.roster import SIGN_IN, Entry, RosterError, checked, read_roster
from cubedrill.service.access import class_for, class_to_change
from cubedrill.service.errors import RefusedError
from cubedrill.service.people import accounts
from cubedrill.service.people.classes import note, only_taught_by
from cubedrill.service.people.responses import (
    AddedPeopleResponse,
    Does,
    Role,
    RosterResponse,
    RosterRowResponse,
    SlipResponse,
)
from cubedrill.store.people import accounts as people
from cubedrill.store.people import classes
from cubedrill.store.tables import Invitation, Membership, Person


@dataclass(frozen=True)
class Sent:
    """A list of people: files with their names, or rows as they were typed; chosen: which class of the files."""

    files: Sequence[tuple[str, bytes]] = ()
    typed: Sequence[Entry] = ()
    chosen: str = ""


@dataclass(frozen=True)
class _Row:
    """A row, its effect, and the known person it means, if any. changed: whether name or e-mail address change."""

    entry: Entry
    does: Does
    why: str = ""
    known: Person | None = None
    changed: bool = False


def preview(db: Session, person: Person, class_id: int, sent: Sent) -> RosterResponse:
    """Return what a list of people would do, row by row; nothing is done. Raises RefusedError "unreadable-roster"."""
    class_for(db, person, class_id)
    rows, options, notes = _rows(db, person, class_id, sent)
    return RosterResponse(rows=tuple(map(_shown, rows)), classes=options, notes=notes)


def bring_in(db: Session, person: Person, class_id: int, sent: Sent, now: datetime) -> AddedPeopleResponse:
    """Do what a list of people says, but for the rows that are refused; return the slips of who is new."""
    class_to_change(db, person, class_id)
    people.add_in_turn(db)
    rows, _options, _notes = _rows(db, person, class_id, sent)
    slips = [slip for row in rows if (slip := _done(db, person, class_id, row, now)) is not None]
    return AddedPeopleResponse(rows=tuple(map(_shown, rows)), slips=tuple(slips))


def _rows(
    db: Session, person: Person, class_id: int, sent: Sent
) -> tuple[list[_Row], tuple[str, ...], tuple[str, ...]]:
    """Return the effect of each row, the classes to choose from, and notes."""
    try:
        roster = read_roster(sent.files, sent.chosen) if sent.files else None
    except RosterError as error:
        raise RefusedError("unreadable-roster", why=str(error)) from None
    entries = (*(roster.entries if roster else ()), *checked(sent.typed))
    rows = _meant(db, person, class_id, entries)
    return rows, roster.classes if roster else (), roster.notes if roster else ()


def _meant(db: Session, person: Person, class_id: int, entries: Sequence[Entry]) -> list[_Row]:
    by_id = people.people_by_outside_id(db, {e.outside_id for e in entries if e.outside_id})
    by_name = people.people_by_sign_in_of(db, {e.sign_in for e in entries if e.sign_in})
    members = {each.person_id: each for each in classes.members_of(db, class_id)}
    by_own_name = {m.person.name.casefold(): m.person for m in members.values()}
    known = [by_name.get(e.sign_in) or by_id.get(e.outside_id) for e in entries]
    mine = only_taught_by(db, person, [each.id for each in known if each is not None])
    stems = {_stem(e.name) for e in entries if not e.sign_in}
    free = _Free(people.sign_ins_beginning(db, stems) | {e.sign_in for e in entries if e.sign_in})
    rows = []
    for entry, found in zip(entries, known, strict=True):
        if entry.why:
            rows.append(_Row(entry, "refused", entry.why))
        elif found is None and not entry.sign_in and entry.name.casefold() in by_own_name:
            same = by_own_name[entry.name.casefold()]
            why = f"{same.name} is already in the class as {same.sign_in}. If this is another person, give a username."
            rows.append(_Row(replace(entry, sign_in=same.sign_in), "refused", why))
        elif found is None:
            rows.append(_Row(entry if entry.sign_in else replace(entry, sign_in=free.name_for(entry.name)), "new"))
        else:
            rows.append(_of_known(entry, found, members.get(found.id), found.id in mine))
    return rows


def _of_known(entry: Entry, known: Person, membership: Membership | None, mine: bool) -> _Row:
    """Return the effect of a row for a person who has an account."""
    entry = replace(entry, sign_in=known.sign_in)
    same = entry.name.casefold() == known.name.casefold()
    if not same and not mine:
        return _Row(entry, "refused", f"The username {known.sign_in} is taken. Choose another.")
    changes = [
        f"{what} was {old or 'none'}"
        for what, old, new in (("name", known.name, entry.name), ("e-mail", known.email or "", entry.email))
        if mine and new and old != new
    ]
    why = "; ".join(changes)
    is_in = membership is not None and membership.left_at is None
    if entry.role == "instructor" and not (membership is not None and is_in and membership.role == "instructor"):
        asked = "; ".join(("asked to teach this class, must accept", *changes))
        return _Row(entry, "invited", asked, known, bool(changes))
    if membership is None:
        return _Row(entry, "joins", why, known, bool(changes))
    if not is_in:
        return _Row(entry, "back", why, known, bool(changes))
    return _Row(entry, "changed" if changes else "known", why, known, bool(changes))


class _Free:
    """Makes sign-ins of names, none that is taken."""

    def __init__(self, taken: set[str]) -> None:
        self._taken = taken

    def name_for(self, name: str) -> str:
        stem = _stem(name)
        numbered = (f"{stem}{number}" for number in range(2, len(self._taken) + 3))
        found = next(each for each in (stem, *numbered) if each not in self._taken)
        self._taken.add(found)
        return found


def _stem(name: str) -> str:
    """Return a sign-in made of a name: `mira.quayle`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    stem = ".".join(re.findall(r"[a-z0-9]+", plain))[:60]
    return stem if SIGN_IN.fullmatch(stem) else "student"


def _done(db: Session, person: Person, class_id: int, row: _Row, now: datetime) -> SlipResponse | None:
    """Do what a row says; return the slip of somebody new."""
    entry, known = row.entry, row.known
    match row.does:
        case "new":
            made = Person(
                sign_in=entry.sign_in, name=entry.name, email=entry.email or None, outside_id=entry.outside_id or None,
                password_hash="",
            )  # fmt: skip
            slip_password = accounts.give_one_time(made, now)
            db.add(made)
            db.flush()
            db.add(Membership(class_id=class_id, person_id=made.id, role=entry.role))
            note(db, person, "added", class_id, person=made.id, role=entry.role)
            return _slip(made, slip_password)
        case "joins" if known is not None:
            db.add(Membership(class_id=class_id, person_id=known.id, role="student"))
            note(db, person, "added", class_id, person=known.id, role="student")
        case "back" if known is not None:
            membership = db.get_one(Membership, (class_id, known.id))
            membership.left_at, membership.role = None, "student"
            note(db, person, "added again", class_id, person=known.id)
        case "invited" if known is not None:
            invite(db, person, class_id, known.id)
        case _:
            pass
    if known is not None and row.changed:
        known.name, known.email = entry.name, entry.email or known.email
        note(db, person, "renamed", class_id, person=known.id)
    if known is not None and row.does != "refused" and entry.outside_id and known.outside_id is None:
        known.outside_id = entry.outside_id
    return None


def _shown(row: _Row) -> RosterRowResponse:
    e = row.entry
    return RosterRowResponse(
        where=e.where, name=e.name, sign_in=e.sign_in, email=e.email, role=e.role, does=row.does, why=row.why
    )


def _slip(person: Person, password: str) -> SlipResponse:
    assert person.one_time_until is not None  # noqa: S101 - it was given a moment ago
    return SlipResponse(
        person=person.id, name=person.name, sign_in=person.sign_in, password=password, until=person.one_time_until
    )


def new_slips(
    db: Session, person: Person, class_id: int, ids: Iterable[int], now: datetime
) -> tuple[SlipResponse, ...]:
    """Give people of a class new one-time passwords, and end their sessions; return the slips.

    Raises RefusedError "not-found", or "not-only-yours" for somebody who is in other instructors' classes too.
    """
    slips = []
    for person_id in ids:
        other = _acted_for(db, person, class_id, person_id)
        password = accounts.give_one_time(other, now)
        people.delete_others(db, other.id, "")
        note(db, person, "one-time password given", class_id, person=other.id)
        slips.append(_slip(other, password))
    return tuple(slips)


def set_role(db: Session, person: Person, class_id: int, person_id: int, role: Role) -> None:
    """Make somebody a student of a class, or ask them to teach it; they become an instructor after accepting.

    Raises RefusedError "not-found" or "last-instructor".
    """
    class_to_change(db, person, class_id)
    membership = _membership(db, class_id, person_id)
    if membership.role == role:
        return
    if role == "instructor":
        invite(db, person, class_id, person_id)
        return
    _require_another(db, membership)
    membership.role = role
    note(db, person, "role changed", class_id, person=person_id, role=role)


def invite(db: Session, person: Person, class_id: int, person_id: int) -> None:
    """Ask somebody to teach a class; asked again, the request stays as it is."""
    if classes.invitation(db, class_id, person_id) is None:
        db.add(Invitation(class_id=class_id, person_id=person_id, by_id=person.id))
        note(db, person, "asked to teach", class_id, person=person_id)


def accept_invitation(db: Session, person: Person, class_id: int, now: datetime) -> None:
    """Become an instructor of a class that one is asked to teach; raise RefusedError "not-invited"."""
    db.delete(_invitation(db, class_id, person.id))
    membership = db.get(Membership, (class_id, person.id))
    if membership is None:
        db.add(Membership(class_id=class_id, person_id=person.id, role="instructor", since=now))
    else:
        membership.role, membership.left_at = "instructor", None
    note(db, person, "accepted to teach", class_id, person=person.id)


def decline_invitation(db: Session, person: Person, class_id: int) -> None:
    """Decline to teach a class; raise RefusedError "not-invited"."""
    db.delete(_invitation(db, class_id, person.id))
    note(db, person, "declined to teach", class_id, person=person.id)


def withdraw_invitation(db: Session, person: Person, class_id: int, person_id: int) -> None:
    """Take back the request to somebody to teach a class of one's own; raise RefusedError "not-invited"."""
    class_for(db, person, class_id)
    db.delete(_invitation(db, class_id, person_id))
    note(db, person, "request withdrawn", class_id, person=person_id)


def _invitation(db: Session, class_id: int, person_id: int) -> Invitation:
    found = classes.invitation(db, class_id, person_id)
    if found is None:
        raise RefusedError("not-invited")
    return found


def let_go(db: Session, person: Person, class_id: int, person_id: int, now: datetime) -> None:
    """Remove somebody from a class; the work stays. Raises RefusedError "not-found" or "last-instructor"."""
    class_for(db, person, class_id)
    membership = _membership(db, class_id, person_id)
    if membership.role == "instructor":
        _require_another(db, membership)
    _leave(db, membership, now)
    note(db, person, "removed", class_id, person=person_id)


def _leave(db: Session, membership: Membership, now: datetime) -> None:
    """End a membership, and a request to teach the class with it."""
    membership.left_at = now
    asked = classes.invitation(db, membership.class_id, membership.person_id)
    if asked is not None:
        db.delete(asked)
    db.flush()


def move(db: Session, person: Person, whom: tuple[int, int], to: int, now: datetime) -> None:
    """Move a student to another class of the same instructor; the work stays. whom: class and person."""
    class_id, person_id = whom
    here, there = class_for(db, person, class_id), class_to_change(db, person, to)
    membership = _membership(db, class_id, person_id)
    if membership.role != "student":
        raise RefusedError("not-found")
    _leave(db, membership, now)
    existing = db.get(Membership, (to, person_id))
    if existing is None:
        db.add(Membership(class_id=to, person_id=person_id, role="student", since=now))
    else:
        existing.left_at, existing.role = None, "student"  # whatever the role was before
    note(db, person, "moved out", class_id, person=person_id, other=there.name)
    note(db, person, "moved in", to, person=person_id, other=here.name)


def erase(db: Session, person: Person, class_id: int, person_id: int, name: str) -> None:
    """Erase name and work of somebody who has left, for good; name: as it stands, typed once more.

    Raises RefusedError "not-found", "not-only-yours" or "name-differs".
    """
    other = _acted_for(db, person, class_id, person_id, left=True)
    if name.strip() != other.name:
        raise RefusedError("name-differs")
    people.erase(db, other.id)
    note(db, person, "erased", class_id, person=person_id)


def _acted_for(db: Session, person: Person, class_id: int, person_id: int, *, left: bool = False) -> Person:
    """Return a member whose account the instructor may manage: one who is in no class of others."""
    class_for(db, person, class_id)
    membership = db.get(Membership, (class_id, person_id))
    if membership is None or (membership.left_at is not None) != left or membership.person.erased_at is not None:
        raise RefusedError("not-found")
    if person_id not in only_taught_by(db, person, [person_id]):
        raise RefusedError("not-only-yours", name=membership.person.name)
    return membership.person


def _membership(db: Session, class_id: int, person_id: int) -> Membership:
    membership = db.get(Membership, (class_id, person_id))
    if membership is None or membership.left_at is not None:
        raise RefusedError("not-found")
    return membership


def _require_another(db: Session, membership: Membership) -> None:
    others = [
        each
        for each in classes.members_of(db, membership.class_id)
        if each.role == "instructor" and each.left_at is None and each.person_id != membership.person_id
    ]
    if not others:
        raise RefusedError("last-instructor", name=membership.person.name)


def add_instructor(db: Session, name: str, sign_in: str, email: str, now: datetime) -> SlipResponse:
    """Add a person who may create classes, for the administrator; return the slip.

    Raises RefusedError "unreadable-roster" where name, sign-in or e-mail cannot be, "sign-in-taken".
    """
    entry = next(iter(checked([Entry(where="", name=name.strip(), sign_in=sign_in.strip().lower(), email=email)])))
    if entry.why or not entry.sign_in:
        raise RefusedError("unreadable-roster", why=entry.why or "The username is missing. Add it.")
    people.add_in_turn(db)
    if people.person_by_sign_in(db, entry.sign_in) is not None:
        raise RefusedError("sign-in-taken", sign_in=entry.sign_in)
    made = Person(sign_in=entry.sign_in, name=entry.name, email=email or None, password_hash="", makes_classes=True)
    password = accounts.give_one_time(made, now)
    db.add(made)
    db.flush()
    return _slip(made, password)
