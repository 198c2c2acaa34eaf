"""Responses about accounts and classes."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from cubedrill.core.values import Value

Role = Literal["student", "instructor"]
# The effect of a row: add a person, a known or a former one, ask one to teach, change one, or nothing.
Does = Literal["new", "joins", "back", "invited", "changed", "known", "refused"]


class SessionResponse(Value):
    """A session. here: whether it is this browser's."""

    id: str
    address: str
    browser: str
    began_at: datetime
    seen_at: datetime
    here: bool


class ClassRowResponse(Value):
    """A class that one teaches."""

    id: int
    name: str
    time_zone: str
    students: int
    exercises: int
    archived: bool


class ClassesResponse(Value):
    """The classes that one teaches, and the time zones that there are."""

    classes: tuple[ClassRowResponse, ...]
    time_zones: tuple[str, ...]


class MemberResponse(Value):
    """Somebody in a class. waits: has a one-time password still. mine: in no class but those of who looks."""

    person: int
    name: str
    sign_in: str
    email: str
    role: Role
    since: datetime
    left_at: datetime | None
    seen_at: datetime | None
    waits: bool
    mine: bool


class InvitedResponse(Value):
    """Somebody who is asked to teach a class and has not answered yet."""

    person: int
    name: str
    made_at: datetime


class JoinCodeResponse(Value):
    """A code by which students come in by themselves."""

    code: str
    ends_at: datetime


class ClassPageResponse(Value):
    """A class with its people. others: the other classes that one teaches, to which people can be moved."""

    id: int
    name: str
    time_zone: str
    archived: bool
    members: tuple[MemberResponse, ...]
    invited: tuple[InvitedResponse, ...]
    codes: tuple[JoinCodeResponse, ...]
    others: tuple[ClassRowResponse, ...]


class RosterRowResponse(Value):
    """A row of a list and what it would do; why: what is refused, or what is changed."""

    where: str
    name: str
    sign_in: str
    email: str
    role: Role
    does: Does
    why: str


class RosterResponse(Value):
    """The preview of a class list. classes: to choose from first; notes: what is not used."""

    rows: tuple[RosterRowResponse, ...]
    classes: tuple[str, ...]
    notes: tuple[str, ...]


class SlipResponse(Value):
    """A one-time password on a slip; it is shown only once."""

    person: int
    name: str
    sign_in: str
    password: str
    until: datetime


class AddedPeopleResponse(Value):
    """The result of importing a class list, with the slips of new people."""

    rows: tuple[RosterRowResponse, ...]
    slips: tuple[SlipResponse, ...]


class ActivityRowResponse(Value):
    """Something that was done in a class."""

    id: int
    who: str
    text: str
    at: datetime


class ActivityResponse(Value):
    """The activity in a class, the newest first. more: whether there are older entries."""

    class_id: int
    class_name: str
    rows: tuple[ActivityRowResponse, ...]
    more: bool
