"""The parts that sentences share: objects, points, pivots, spaces, axes and amounts along them."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Final

from cubedrill.core.language import names
from cubedrill.core.language.numerals import read_angle, read_length, read_plain
from cubedrill.core.language.part import By, Choice, Part, Writing, conventions_of, described
from cubedrill.core.language.reader import Expected, Reader
from cubedrill.core.scene.spaces import FeaturePoint, LineSpace, ObjectSpace, ViewSpace
from cubedrill.core.scene.wording import axis_name, feature_name, listed

THE_COPY: Final = ("the copy",)  # stands for the copies while a step between them is read, written and checked
AXES: Final = "xyz"

_COMMA: Final = re.compile(r",?\s*and(?!\w)|,", re.IGNORECASE)
_LETTER: Final = re.compile(r"(?:the\s+)?(?:axis\s+)?([xyz])(?!\w)", re.IGNORECASE)
_SIGNED: Final = re.compile(r"[-+−]\s*[xyz](?!\w)", re.IGNORECASE)
_SIGNS: Final = re.compile(r"(?:[-+−]\s*[xyz]\s*){1,3}(?!\w)", re.IGNORECASE)
_FEATURE: Final = re.compile(r"(?:the\s+)?(?:(face|edge(?:\s+middle)?|corner)\s*)?(?=[-+−])", re.IGNORECASE)
_COLOUR: Final = re.compile(r"#[0-9a-f]{6}(?!\w)", re.IGNORECASE)
_OPEN, _CLOSE, _THEN = (re.compile(pattern) for pattern in (r"\(", r"\)", ";"))
_ARROW: Final = re.compile(r"→|->|to(?!\w)", re.IGNORECASE)


def _write_objects(ids: Sequence[str], to: Writing) -> str:
    if to.on_copies:
        return THE_COPY[0]
    return listed([names.written_name(to.scene, i) for i in ids])


def _read_objects(reader: Reader) -> list[str]:
    if reader.on_copies:
        reader.words(*THE_COPY)
        return list(THE_COPY)
    ids = names.read_names(reader)
    reader.own = ids[-1]
    return ids


OBJECTS: Final = By(_write_objects, _read_objects)
ALL_SELECTED: Final = "the selection"


def _read_reference(reader: Reader) -> str:
    if reader.attempt(lambda r: r.words(ALL_SELECTED)) or reader.attempt(lambda r: r.words("all chosen")):
        return "selection"
    return names.read_name(reader)


REFERENCE: Final = By(
    lambda value, to: ALL_SELECTED if value == "selection" else names.written_name(to.scene, value), _read_reference
)
OBJECT: Final = By(lambda value, to: names.written_name(to.scene, value), names.read_name)
NEW_NAME: Final = By(lambda value, _: names.written_new(value), names.read_new)
NEW_ID: Final = By(lambda value, _: names.written_id(value), names.read_id)


def read_list(reader: Reader, read_one: Callable[[Reader], Any]) -> list[Any]:
    """Read one or more, joined by commas or `and`."""
    found = [read_one(reader)]

    def further(reader: Reader) -> object:
        reader.match(_COMMA, Expected("and"))
        return read_one(reader)

    while (more := reader.attempt(further)) is not None:
        found.append(more)
    return found


NEW_IDS: Final = By(
    lambda value, _: ", ".join(names.written_id(i) for i in value), lambda reader: read_list(reader, names.read_id)
)


def write_numbers(values: Sequence[float], to: Writing) -> str:
    """Write numbers as `(1; 2; 3)`."""
    return f"({'; '.join(to.number(value) for value in values)})"


def read_numbers(reader: Reader, many: int = 3) -> list[float]:
    """Read `(1; 2; 3)`."""
    reader.match(_OPEN, described("numbers such as (1; 2; 3)"))
    values = []
    for place in range(many):
        values.append(read_plain(reader))
        last = place == many - 1
        reader.match(_CLOSE if last else _THEN, Expected(")" if last else ";"))
    return values


VECTOR: Final = By(write_numbers, read_numbers)
COLOUR: Final = By(
    lambda value, _: str(value),
    lambda reader: reader.match(_COLOUR, described("a colour such as #2e7d6b")),
)
NUMBER: Final = By(lambda value, to: to.number(value), read_plain)
LENGTH: Final = By(lambda value, to: to.length(value), lambda reader: read_length(reader, conventions_of(reader.scene)))
ANGLE: Final = By(lambda value, to: to.angle(value), lambda reader: read_angle(reader, conventions_of(reader.scene)))


def _read_count(reader: Reader) -> int:
    return int(reader.match(re.compile(r"\d+(?![\w.,])"), described("how many")))


COUNT: Final = By(lambda value, _: str(value), _read_count)


def _read_letter(reader: Reader) -> str:
    return reader.match(_LETTER, *(Expected(letter) for letter in "XYZ"))[-1].lower()


def _write_axis(value: Any, to: Writing) -> str:
    return axis_name(value) if isinstance(value, str) else write_numbers(value, to)


LETTER: Final = By(_write_axis, _read_letter)
AXIS: Final = By(_write_axis, lambda reader: reader.either((_read_letter, read_numbers)))


def _plain(signs: str) -> str:
    """Return signs as files hold them, in the order of the axes."""
    found = re.findall(r"[-+][xyz]", re.sub(r"\s", "", signs).replace("−", "-").lower())
    return "".join(sorted(found, key=lambda sign: sign[1]))


SIGNED_AXIS: Final = By(
    _write_axis,
    lambda reader: _plain(reader.match(_SIGNED, *(Expected(f"{sign}{letter}") for letter in "XYZ" for sign in "+−"))),
)


_MIDDLE: Final = Choice({"pivot": ("pivot", "the pivot"), "centre": ("centre", "the centre", "center", "the center")})


def _read_feature(reader: Reader) -> str:
    """Read `pivot`, `centre`, `face +X` or `corner +X+Y+Z`."""
    word = reader.attempt(_MIDDLE.read)
    if word is not None:
        return str(word)
    if not reader.has(_FEATURE):
        reader.stuck(Expected("pivot"), Expected("centre"), *(Expected(w) for w in ("face", "edge middle", "corner")))
    signs = _plain(reader.match(_SIGNS, described("signs such as +X−Y")))
    if len({sign for sign in signs if sign in AXES}) < len(signs) // 2:
        reader.stuck(complaint="each axis stands in a place once, such as corner −X +Y +Z")
    return signs


def _read_place(reader: Reader) -> dict[str, str]:
    at = _read_feature(reader)
    reader.words("of", "on")
    return {"object": names.read_name(reader), "at": at}


def _read_own_place(reader: Reader) -> dict[str, str]:
    """Read a place without a name: it is on the object that the step acts on."""
    at = _read_feature(reader)
    if reader.own is None:
        reader.stuck(Expected("of"))
    return {"object": reader.own, "at": at}


def _write_point(value: Any, to: Writing) -> str:
    if isinstance(value, FeaturePoint):
        return f"{feature_name(value.at)} of {names.written_name(to.scene, value.object)}"
    return write_numbers(value, to)


def read_point(reader: Reader) -> object:
    """Read a place on an object, or three numbers in world."""
    return reader.either((read_numbers, _read_place, _read_own_place))


POINT: Final = By(_write_point, read_point)

_PIVOT_WORD: Final = Choice(
    {
        "own": ("its pivot", "their pivots", "its own pivot", "pivot", "the pivot"),
        "box": ("the centre of its box", "the center of its box", "the middle of its box", "its centre", "its box"),
        "selection": (
            "the middle of the selection",
            "middle of the selection",
            "the selection",
            "selection",
            "the middle of the selection",
        ),
        "origin": ("the origin", "origin"),
        "marker": ("the marker", "marker"),
    }
)


@dataclass(frozen=True)
class Pivots(Part):
    """A pivot: some of its words, or a point."""

    words: Choice = _PIVOT_WORD

    def write(self, value: object, to: Writing) -> str:
        """Write a pivot."""
        return self.words.write(value, to) if isinstance(value, str) else _write_point(value, to)

    def read(self, reader: Reader) -> object:
        """Read a pivot; `pivot of A` is a place, `its pivot` a word."""
        return reader.either((read_numbers, _read_place, self.words.read, _read_own_place))


PIVOT: Final = Pivots()
PLACE_OF_MARKER: Final = Pivots(Choice({"origin": _PIVOT_WORD.words["origin"]}))

_SPACE_WORD: Final = Choice(
    {
        "world": ("World", "the world"),
        "parent": ("Parent", "its parent", "the parent"),
        "local": ("Local", "its own axes"),
    }
)


def _write_space(value: object, to: Writing) -> str:
    match value:
        case ViewSpace():
            right, up = (write_numbers(direction, to) for direction in (value.view.right, value.view.up))
            return f"View with right {right} and up {up}" if to.exact else "View"
        case ObjectSpace():
            return f"the axes of {names.written_name(to.scene, value.object)}"
        case LineSpace():
            first, second = (_write_point(point, to) for point in value.line)
            return f"the line from {first} to {second}"
        case _:
            return _SPACE_WORD.write(value, to)


def _read_view(reader: Reader) -> object:
    reader.words("View", "the view")
    directions = reader.attempt(_read_directions)
    if directions is not None:
        return directions
    if reader.view is None:
        reader.stuck(Expected("with right"))
    return {"view": {"right": list(reader.view.right), "up": list(reader.view.up)}}


def _read_directions(reader: Reader) -> object:
    reader.words("with right")
    right = read_numbers(reader)
    reader.words("and up")
    return {"view": {"right": right, "up": read_numbers(reader)}}


def _read_line(reader: Reader) -> object:
    reader.words("the line from", "line from")
    first = read_point(reader)
    reader.words("to")
    return {"line": [first, read_point(reader)]}


def _read_axes_of(reader: Reader) -> object:
    reader.attempt(lambda r: r.words("the axes of", "axes of"))
    return {"object": names.read_name(reader)}


SPACE: Final = By(_write_space, lambda reader: reader.either((_SPACE_WORD.read, _read_view, _read_line, _read_axes_of)))


def read_line(reader: Reader) -> list[object]:
    """Read `A → B`."""
    first = read_point(reader)
    reader.match(_ARROW, Expected("→"))
    return [first, read_point(reader)]


LINE: Final = By(lambda value, to: " → ".join(_write_point(point, to) for point in value), read_line)


@dataclass(frozen=True)
class PerAxis(Part):
    """An amount an axis: `2 m along X and 1 m along Z`, or `X 2 m and Z 1 m`.

    amount: how each is written and read. axis_first: which of the two is written; both are read. nothing: what is
    written where no axis has its own, none for the first axis's amount. left_out: the value of an axis without one.
    fields: those that hold the amounts, where each has its own.
    """

    amount: Part
    axis_first: bool
    left_out: float | None
    nothing: str | None = None
    fields: tuple[str, ...] = ()

    def write(self, value: Any, to: Writing) -> str:
        """Write the amounts that are not the one left out."""
        amounts = list(zip("XYZ", value, strict=True))
        shown = [(axis, amount) for axis, amount in amounts if amount is not None and amount != self.left_out]
        if not shown and self.nothing is not None:
            return self.nothing
        return listed([self._one(axis, amount, to) for axis, amount in shown or amounts[:1]])

    def _one(self, axis: str, amount: float, to: Writing) -> str:
        said = self.amount.write(amount, to)
        return f"{axis} {said}" if self.axis_first else f"{said} along {axis}"

    def read(self, reader: Reader) -> object:
        """Read amounts in any order, each axis once."""
        nothing = self.nothing
        if nothing is not None and reader.attempt(lambda r: r.words(nothing)) is not None:
            return [self.left_out] * 3
        values: list[float | None] = [self.left_out] * 3
        given: set[str] = set()
        for axis, amount in read_list(reader, self._read_one):
            if axis in given:
                reader.stuck(complaint=f"axis {axis.upper()} has its amount already; give each axis one")
            given.add(axis)
            values[AXES.index(axis)] = amount
        return values

    def _read_one(self, reader: Reader) -> tuple[str, float]:
        return reader.either((self._read_axis_first, self._read_amount_first))

    def _read_axis_first(self, reader: Reader) -> tuple[str, float]:
        axis = _read_letter(reader)
        reader.has(_TO)
        return axis, self.amount.read(reader)

    def _read_amount_first(self, reader: Reader) -> tuple[str, float]:
        amount = self.amount.read(reader)
        reader.has(_ALONG)
        return _read_letter(reader), amount


_TO: Final = re.compile(r"to(?!\w)|=", re.IGNORECASE)
_ALONG: Final = re.compile(r"(?:along|on|about)(?!\w)", re.IGNORECASE)


class Angles(Part):
    """Three angles by the letters of the Euler order: `X 10°, Y 20° and Z 30°`."""

    def write(self, value: Any, to: Writing) -> str:
        """Write the angles in the order of the conventions."""
        letters = to.conventions.euler.upper()
        return listed([f"{letter} {to.angle(angle)}" for letter, angle in zip(letters, value, strict=True)])

    def read(self, reader: Reader) -> Any:
        """Read three angles, each by the next of its letter that has none."""
        letters = conventions_of(reader.scene).euler.lower()
        angles: list[float | None] = [None] * 3
        for letter, angle in read_list(reader, self._read_one):
            free = [i for i in range(3) if letters[i] == letter and angles[i] is None]
            if not free:
                reader.stuck(complaint=f"{letter.upper()} is not wanted here; the order of angles is {letters.upper()}")
            angles[free[0]] = angle
        if None in angles:
            reader.stuck(Expected(letters[angles.index(None)].upper()))
        return angles

    def _read_one(self, reader: Reader) -> tuple[str, float]:
        letter = _read_letter(reader)
        reader.has(_TO)
        return letter, read_angle(reader, conventions_of(reader.scene))


class OnAllAxes(Part):
    """One factor for all three axes."""

    def fits(self, value: Any) -> bool:
        """Tell whether the three are one."""
        return value is not None and len(set(value)) == 1

    def write(self, value: Any, to: Writing) -> str:
        """Write the factor."""
        return to.number(value[0])

    def read(self, reader: Reader) -> object:
        """Read the factor."""
        return [read_plain(reader)] * 3


@dataclass(frozen=True)
class Either(Part):
    """One of several parts: the first that fits is written, the first that stands there is read."""

    parts: tuple[Part, ...]

    def fits(self, value: object) -> bool:
        """Tell whether one of them can write it."""
        return any(part.fits(value) for part in self.parts)

    def write(self, value: object, to: Writing) -> str:
        """Write a value by the first that fits."""
        return next(part for part in self.parts if part.fits(value)).write(value, to)

    def read(self, reader: Reader) -> object:
        """Read by the first that can."""
        return reader.either([part.read for part in self.parts])
