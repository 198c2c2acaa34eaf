"""Read class lists: a table with a header, or the users and enrollments of OneRoster.

OneRoster's names of files and fields: 1EdTech OneRoster 1.2 CSV binding, from memory.
"""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Final, Literal

Role = Literal["student", "instructor"]

MOST_ROWS: Final = 5000
LONGEST: Final = 200  # characters of a cell
SIGN_IN: Final = re.compile(r"[a-z0-9][a-z0-9._@+-]{0,98}")
EMAIL: Final = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")
# Headings as they are known here, without what is no letter.
KNOWN: Final[dict[str, tuple[str, ...]]] = {
    "name": ("name", "fullname"),
    "given": ("givenname", "firstname"),
    "family": ("familyname", "lastname", "surname"),
    "sign_in": ("signin", "username", "login"),
    "email": ("email", "emailaddress", "mail"),
    "outside_id": ("outsideid", "sourcedid", "id", "number", "studentid"),
    "role": ("role",),
}
ROLES: Final[dict[str, Role]] = {
    "student": "student",
    "teacher": "instructor",
    "instructor": "instructor",
    "": "student",
}


class RosterError(Exception):
    """A file that is no list of people; the text says why, and what to do."""


@dataclass(frozen=True)
class Entry:
    """A person in a file. where: the file and the line; why: the problem with the row, if any."""

    where: str
    name: str
    sign_in: str = ""
    email: str = ""
    outside_id: str = ""
    role: Role = "student"
    why: str = ""


@dataclass(frozen=True)
class Roster:
    """The contents of class lists: people, classes to choose from, and unused columns."""

    entries: tuple[Entry, ...]
    classes: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Table:
    name: str
    heads: tuple[str, ...]
    rows: tuple[tuple[int, Mapping[str, str]], ...]
    notes: tuple[str, ...] = field(default=())

    def has(self, *heads: str) -> bool:
        return all(head in self.heads for head in heads)


def read_roster(files: Sequence[tuple[str, bytes]], chosen: str = "") -> Roster:
    """Read the people of a class.

    Parameters
    ----------
    files : mapping
        File name to content: one CSV, or OneRoster's two.
    chosen : str, optional
        One of several OneRoster classes.

    Raises
    ------
    RosterError
        If a file is not such a list.
    """
    tables = [_table(name, content) for name, content in files]
    enrollments = next((table for table in tables if table.has("classsourcedid", "usersourcedid")), None)
    people = [table for table in tables if table is not enrollments]
    if not people:
        raise RosterError("No file lists people. Choose a file with a name column.")
    entries = tuple(checked(entry for table in people for entry in _entries(table)))
    notes = tuple(note for table in people for note in table.notes)
    if enrollments is None:
        return Roster(entries, notes=notes)
    return _of_class(entries, enrollments, chosen, notes)


def checked(entries: Iterable[Entry]) -> Iterator[Entry]:
    """Give each entry on, with what is wrong with it; the second of two that are the same is refused."""
    seen: dict[tuple[str, str], str] = {}
    for entry in entries:
        why = entry.why or _why_not(entry)
        for kind in ("sign_in", "outside_id", "email"):
            value = getattr(entry, kind)
            if value and not why and (before := seen.get((kind, value.lower()))):
                what = {"sign_in": "sign-in", "outside_id": "outside id", "email": "e-mail"}[kind]
                why = f"The {what} {value} is also in {before}. Remove one of them."
        if not why:
            seen.update(
                ((kind, getattr(entry, kind).lower()), entry.where) for kind in ("sign_in", "outside_id", "email")
            )
        yield replace(entry, why=why)


def _why_not(entry: Entry) -> str:
    if not entry.name:
        return "The name is missing. Add it."
    too_long = next((v for v in (entry.name, entry.email, entry.outside_id) if len(v) > LONGEST), None)
    if too_long is not None:
        return f"“{too_long[:20]}…” is longer than {LONGEST} characters. Shorten it."
    if any(ord(c) < 32 or ord(c) == 127 for value in (entry.name, entry.outside_id) for c in value):
        return "It contains a character that cannot be printed. Type it again."
    if entry.sign_in and not SIGN_IN.fullmatch(entry.sign_in):
        return (
            f"“{entry.sign_in[:40]}” is not a valid username. Use letters a to z, digits and . _ - + @, without spaces."
        )
    if entry.email and not EMAIL.fullmatch(entry.email):
        return f"“{entry.email[:40]}” is not an e-mail address. Correct it or leave it out."
    return ""


def _table(name: str, content: bytes) -> _Table:
    text = _decoded(content)
    first = next((line for line in text.splitlines() if line.strip()), "")
    if not first:
        raise RosterError(f"{name} is empty. Choose a file with a header and a row for each person.")
    delimiter = max(",;\t", key=first.count)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True))
    except csv.Error as error:
        raise RosterError(f"{name} is not a readable table ({error}). Save it as CSV again.") from None
    at, heads = next((number, row) for number, row in enumerate(lines, 1) if any(cell.strip() for cell in row))
    if len(lines) - at > MOST_ROWS:
        raise RosterError(f"{name} has more than {MOST_ROWS} rows. Use fewer at once.")
    keys, notes = _keys(name, heads)
    rows = (
        (number, {key: cell.strip() for key, cell in zip(keys, row, strict=False)})
        for number, row in enumerate(lines[at:], at + 1)
        if any(cell.strip() for cell in row)
    )
    return _Table(name, keys, tuple(rows), notes)


def _decoded(content: bytes) -> str:
    """Return the text of a file: UTF-8, with or without its mark, UTF-16, or what spreadsheets of western Europe write.

    Spreadsheets save UTF-16 as "Unicode text", with its mark first.
    """
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return content.decode("utf-16", errors="replace").replace("\x00", "")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


def _keys(name: str, heads: Sequence[str]) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the meaning of each column, and notes on unknown ones."""
    by_word = {word: key for key, words in KNOWN.items() for word in words}
    words = [re.sub(r"[^a-z]", "", head.lower()) for head in heads]
    one_roster = "sourcedid" in words
    keys = tuple(by_word.get(word, word) for word in words)
    twice = next((head for i, head in enumerate(heads) if keys[i] in KNOWN and keys[i] in keys[:i]), None)
    if twice is not None:
        raise RosterError(f"{name} has two columns for the same thing; the second is {twice}. Remove one.")
    unknown = [head for head, key in zip(heads, keys, strict=True) if key not in KNOWN and head.strip()]
    note = f"{name}: not used: {', '.join(unknown)}."
    if not one_roster and not {"name", "given", "family"} & set(keys):
        raise RosterError(f"{name} has no name column. Add a header with name, sign-in and e-mail.")
    return keys, (note,) if unknown and not one_roster else ()


def _entries(table: _Table) -> Iterator[Entry]:
    for number, row in table.rows:
        where = f"{table.name}, line {number}"
        whole = row.get("name") or " ".join(filter(None, (row.get("given", ""), row.get("family", ""))))
        role = ROLES.get(row.get("role", "").lower())
        yield Entry(
            where=where,
            name=" ".join(whole.split()) if whole.isprintable() else whole,
            sign_in=row.get("sign_in", "").lower(),
            email=row.get("email", ""),
            outside_id=row.get("outside_id", ""),
            role=role or "student",
            why=_why_of_status(row) if role else f"The role {row['role'][:40]} is neither student nor teacher.",
        )


def _why_of_status(row: Mapping[str, str]) -> str:
    if row.get("status", "").lower() == "tobedeleted":
        return "The file marks this person for deletion."
    if row.get("enableduser", "true").lower() == "false":
        return "The file marks this person as not enabled."
    return ""


def _of_class(entries: Sequence[Entry], enrollments: _Table, chosen: str, notes: tuple[str, ...]) -> Roster:
    """Return those who are enrolled in one class; where there are more, none until one is chosen."""
    active = [row for _number, row in enrollments.rows if not _why_of_status(row)]
    found = tuple(dict.fromkeys(row.get("classsourcedid", "") for row in active))
    if chosen not in found:
        if len(found) != 1:
            return Roster((), found, notes)
        chosen = found[0]
    roles = {
        row.get("usersourcedid", ""): row.get("role", "").lower() for row in active if row["classsourcedid"] == chosen
    }
    here = [
        replace(entry, role=ROLES.get(roles[entry.outside_id], "student"))
        if roles[entry.outside_id] in ROLES
        else replace(entry, why=f"The role {roles[entry.outside_id][:40]} is neither student nor teacher.")
        for entry in entries
        if entry.outside_id in roles
    ]
    missing = sorted(set(roles) - {entry.outside_id for entry in entries})
    lost = tuple(
        Entry(
            where=enrollments.name,
            name=user or "–",
            outside_id=user,
            why="The users file does not list this person.",
        )
        for user in missing
    )
    return Roster((*here, *lost), found, notes)
