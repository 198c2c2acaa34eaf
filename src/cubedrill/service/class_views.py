"""What the service answers with of classes and the people in them."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from cubedrill.core.values import Value

Role = Literal["student", "instructor"]
# What a row of a list would do: add a person, take a known one in, or back, ask her to teach, change her, or nothing.
Does = Literal["new", "joins", "back", "invited", "changed", "known", "refused"]


class SessionView(Value):
    """Where one is signed in. here: whether it is this browser."""

    id: str
    address: str
    browser: str
    began_at: datetime
    seen_at: datetime
    here: bool


class ClassRowView(Value):
    """A class that one teaches."""

    id: int
    name: str
    time_zone: str
    students: int
    exercises: int


class ClassesView(Value):
    """The classes that one teaches, and the time zones that there are."""

    classes: tuple[ClassRowView, ...]
    time_zones: tuple[str, ...]


class MemberView(Value):
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


class InvitedView(Value):
    """Somebody who is asked to teach a class and has not answered yet."""

    person: int
    name: str
    made_at: datetime


class JoinCodeView(Value):
    """A code by which students come in by themselves."""

    code: str
    ends_at: datetime


class ClassPageView(Value):
    """A class with its people. others: the other classes that one teaches, to which people can be moved."""

    id: int
    name: str
    time_zone: str
    members: tuple[MemberView, ...]
    invited: tuple[InvitedView, ...]
    codes: tuple[JoinCodeView, ...]
    others: tuple[ClassRowView, ...]


class RosterRowView(Value):
    """A row of a list and what it would do; why: what is refused, or what is changed."""

    where: str
    name: str
    sign_in: str
    email: str
    role: Role
    does: Does
    why: str


class RosterView(Value):
    """What a list of people would do. classes: of which one has to be chosen first; notes: what is not used."""

    rows: tuple[RosterRowView, ...]
    classes: tuple[str, ...]
    notes: tuple[str, ...]


class SlipView(Value):
    """Somebody's first password, to be handed to her: it is shown this once."""

    person: int
    name: str
    sign_in: str
    password: str
    until: datetime


class BroughtInView(Value):
    """What was done with a list, and the slips of who is new."""

    rows: tuple[RosterRowView, ...]
    slips: tuple[SlipView, ...]


class DoneView(Value):
    """Something that was done in a class."""

    id: int
    who: str
    text: str
    at: datetime


class DoneListView(Value):
    """What was done in a class, the newest first. more: whether there is more, before the last of these."""

    done: tuple[DoneView, ...]
    more: bool


class VersionChoice(Value):
    """A version of an exercise."""

    version: int
    number: int


class SettingView(Value):
    """How something is set. opens, due: as clocks of the class show them. versions: that could take its place."""

    assignment: int
    class_id: int
    class_name: str
    time_zone: str
    title: str
    version: int
    opens: datetime | None
    due: datetime | None
    tries: int | None
    counts: str
    told: str | None
    told_by_exercise: str
    told_when: str
    late_counts: bool
    drafts_shown: bool
    versions: tuple[VersionChoice, ...]


class CarriedView(Value):
    """What became of open drafts under another version: how many can be done as they are, and whose cannot."""

    carried: int
    broken: tuple[str, ...]
