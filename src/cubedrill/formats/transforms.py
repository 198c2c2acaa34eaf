"""CSV of transforms: a line an object under a line of headings; read as typed values, written as matrices."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence
from typing import Any, Final, get_args

from pydantic import ValidationError

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.submission import Row
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Value
from cubedrill.formats.limits import MOST_NODES, UnreadableError, too_many
from cubedrill.formats.places import sentence_of
from cubedrill.formats.table import guarded, unguarded

ENDING: Final = ".csv"
SEPARATORS: Final = (";", "\t", ",")
MATRIX: Final = tuple(f"m{row}{column}" for row in (1, 2, 3) for column in (1, 2, 3, 4))
GROUPS: Final[dict[str, tuple[str, ...]]] = {
    "translation": ("x", "y", "z"),
    "euler": ("angle 1", "angle 2", "angle 3"),
    "rotation": ("qx", "qy", "qz", "qw"),
    "scale": ("scale x", "scale y", "scale z"),
    "matrix": MATRIX,
}
# Columns that say the same in each line: our conventions by what they are called there; the order is of the angles.
SAID: Final = {"up": "up", "handedness": "handedness", "length": "length", "angle": "angle", "order": "euler"}
UNITS: Final = {"translation": "length", "euler": "angle"}  # what a unit in brackets behind a column's name says
NUMBERS: Final = frozenset(name for names in GROUPS.values() for name in names)
KNOWN: Final = frozenset({"object", "space", *SAID, *NUMBERS})
COLUMNS: Final = "object, space, x to z, angle 1 to 3, order, qx to qw, scale x to z, m11 to m34, and the conventions"
CALLED: Final = {"name": "object", "unit": "length"}
HEADING: Final = re.compile(r"\s*(?P<name>[^\[(]*?)\s*(?:[\[(]\s*(?P<unit>\w+)\s*[\])])?\s*")


class Transforms(Value):
    """Typed values of objects by their names, in conventions of which some are said."""

    rows: tuple[Row, ...]
    said: dict[str, str]
    notes: tuple[str, ...]


def is_transforms(content: bytes) -> bool:
    """Tell by its first line whether a file is a table of objects."""
    first = content[:10_000].splitlines()[:1]
    text = first[0].decode("utf-8-sig", "replace") if first else ""
    return any(_names([text.partition(each)[0]]) == ["object"] for each in SEPARATORS if each in text)


def read(content: bytes) -> Transforms:
    """Read a table of transforms; raise UnreadableError in one sentence that names the line and the column."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    separator = max(SEPARATORS, key=text.partition("\n")[0].count)
    try:
        lines = list(csv.reader(io.StringIO(text), delimiter=separator, strict=True))
    except csv.Error:
        raise UnreadableError("it is not a readable table; save it as CSV again.") from None
    columns, said = _columns(lines[0])
    notes = [f"Its columns are separated by {_word(separator)}."] if separator != "," else []
    filled = [(number, line) for number, line in enumerate(lines[1:], start=2) if any(cell.strip() for cell in line)]
    if len(filled) > MOST_NODES:
        raise too_many("objects", MOST_NODES)
    rows, commas = [], False
    for number, line in filled:
        cells = _cells(columns, line, number)
        _say(said, cells, number)
        numbers = {name: _number(cells[name], separator, (number, name)) for name in NUMBERS & cells.keys()}
        commas = commas or any("," in cells[name] for name in numbers)
        rows.append(_row(cells, numbers, number))
    if commas:
        notes.append("Its numbers have decimal commas.")
    names = [row.object for row in rows]
    twice = next((name for name in names if names.count(name) > 1), None) if len(set(names)) < len(names) else None
    if twice is not None:
        raise UnreadableError(f"{twice} has two lines; keep one of them.")
    if not rows:
        raise UnreadableError("it has no line with an object; write a line for each.")
    return Transforms(rows=tuple(rows), said=said, notes=tuple(notes))


def write(scene: Scene) -> bytes:
    """Write where each object is in the world, as the rows of its matrix; solids are not written."""
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    table.writerow(["object", "space", *MATRIX, "up", "handedness", "length"])
    said = [getattr(scene.conventions, name) for name in ("up", "handedness", "length")]
    for item in scene.objects.values():
        matrix = scene.world_from_local(item.id)[:3].ravel().tolist()
        table.writerow([guarded(item.name), "world", *map(repr, matrix), *said])
    return text.getvalue().encode()


def _names(headings: Sequence[str]) -> list[str]:
    found = (HEADING.fullmatch(heading) for heading in headings)
    names = (" ".join(each["name"].lower().split()) if each else "" for each in found)
    return [CALLED.get(name, name) for name in names]


def _columns(headings: Sequence[str]) -> tuple[list[str], dict[str, str]]:
    """Return the meaning of each column, and the units in the headings."""
    names, said = _names(headings), dict[str, str]()
    for name, heading in zip(names, headings, strict=True):
        if name not in KNOWN or names.count(name) > 1:
            words = "appears twice; keep one of them" if name in KNOWN else f"is not known; there are {COLUMNS}"
            raise UnreadableError(f"line 1: the column '{heading.strip()}' {words}.")
        found = HEADING.fullmatch(heading)
        group = next((UNITS[each] for each in UNITS if name in GROUPS[each]), None)
        if found and found["unit"] and group:
            _agree(said, group, found["unit"].lower(), 1)
    return names, said


def _cells(columns: Sequence[str], line: Sequence[str], number: int) -> dict[str, str]:
    if len(line) > len(columns) and any(cell.strip() for cell in line[len(columns) :]):
        raise UnreadableError(f"line {number} has more cells than line 1 has columns; put text in quotes.")
    return {name: cell.strip() for name, cell in zip(columns, line, strict=False) if cell.strip()}


def _say(said: dict[str, str], cells: Mapping[str, str], number: int) -> None:
    for column, convention in SAID.items():
        if column in cells:
            value = cells[column] if convention == "euler" else cells[column].lower()
            _agree(said, convention, value, number)


def _agree(said: dict[str, str], convention: str, value: str, number: int) -> None:
    choices = get_args(Conventions.model_fields[convention].annotation)
    if value not in choices:
        raise UnreadableError(f"line {number}: {convention} is '{value}', but is one of {', '.join(choices)}.")
    if said.setdefault(convention, value) != value:
        raise UnreadableError(f"line {number}: {convention} is {value}, but {said[convention]} before; keep to one.")


def _number(cell: str, separator: str, place: tuple[int, str]) -> float:
    text = cell.replace("−", "-")
    if separator != "," and "." not in text:
        text = text.replace(",", ".")
    if not re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?", text):
        raise UnreadableError(f"line {place[0]}, {place[1]}: '{cell}' is not a number; write one such as 1.5.")
    return float(text)


def _row(cells: Mapping[str, str], numbers: Mapping[str, float], number: int) -> Row:
    given: dict[str, Any] = {}
    for group, names in GROUPS.items():
        there = [name for name in names if name in numbers]
        if there and len(there) < len(names):
            missing = next(name for name in names if name not in numbers)
            raise UnreadableError(f"line {number}: {missing} is missing; give all of {', '.join(names)} or none.")
        if there:
            given[group] = [numbers[name] for name in names]
    if "matrix" in given:
        rows = [given["matrix"][i : i + 4] for i in (0, 4, 8)] + [[0.0, 0.0, 0.0, 1.0]]
        given["matrix"] = [row[k] for k in range(4) for row in rows]
    if "object" not in cells:
        raise UnreadableError(f"line {number}: the object has no name; name it as in the exercise.")
    try:
        return Row.model_validate({"object": unguarded(cells["object"]), **_space(cells), **given})
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise UnreadableError(f"line {number}: {sentence_of(first['msg'])}") from None


def _space(cells: Mapping[str, str]) -> dict[str, str]:
    return {"space": cells["space"].lower()} if "space" in cells else {}


def _word(separator: str) -> str:
    return {";": "semicolons", "\t": "tabs"}[separator]
