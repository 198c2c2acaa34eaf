"""Numbers as people type them, arithmetic and units included, and as sentences write them."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import Final

from cubedrill.core.geometry.conventions import MILLIMETRES, Conventions
from cubedrill.core.language.reader import Expected, Reader
from cubedrill.core.scene import wording

CLEAN: Final = 15  # figures: 0.1 cm is 1 mm, and not what float64 makes of it
LONGEST: Final = 80  # characters of arithmetic
A_NUMBER: Final = Expected("a number", words=False)

_DEGREES: Final[Mapping[str, float]] = {
    "°": 1, "deg": 1, "degrees": 1, "rad": 180 / math.pi, "turn": 360, "turns": 360,
}  # fmt: skip

_RUN: Final = re.compile(r"[-+−\d.,()*/×\s]+(?:e[-+−]?\d+[-+−\d.,()*/×\s]*)*", re.IGNORECASE)
_TOKEN: Final = re.compile(r"\s*(?:(\d+(?:[.,]\d+|\.)?(?:e[-+]?\d+)?|[.,]\d+(?:e[-+]?\d+)?)|([-+*/()]))", re.IGNORECASE)
# A comma before three figures may be a decimal one or one between thousands; before a leading 0 only a decimal one.
_EITHER: Final = re.compile(r"[1-9]\d{0,2},\d{3}(?!\d)")
_UNIT: Final = re.compile(r"°|[^\W\d_]+(?!\w)")
# What follows inches; before anything else “in” is said of a space, as in “in local”.
_AFTER_INCHES: Final = re.compile(r"\s*(?:$|[,)]|(?:and|along|on|about|by|of|clear|off|in|[xyz])(?!\w))", re.IGNORECASE)
# Words that may follow a number and are no unit.
_AFTER_NUMBER: Final = re.compile(
    r"(?:along|on|about|around|round|and|of|in|the|axis|times?|keeping|to|by|clear|off|x|y|z|through|holding|with)(?!\w)",
    re.IGNORECASE,
)


def written(value: float, exact: bool) -> str:
    """Return a number as text with a real minus sign.

    Parameters
    ----------
    exact : bool
        Whether to write the shortest form that reads back as the same number. Otherwise six figures.

    Returns
    -------
    str
    """
    if not exact:
        return wording.number(value)
    return repr(float(value)).removesuffix(".0").replace("-", "−")


def read_number(reader: Reader) -> float:
    """Read the longest number here, arithmetic included."""
    reader.skip_blanks()
    run = _RUN.match(reader.text, reader.at, reader.at + LONGEST)
    longest = run[0].rstrip() if run else ""
    ambiguous = _EITHER.match(longest)
    if ambiguous:
        whole = ambiguous[0]
        reader.stuck(complaint=f"“{whole}” may be {whole.replace(',', '.')} or {whole.replace(',', '')}; type one")
    for length in range(len(longest), 0, -1):
        following = reader.text[reader.at + length : reader.at + length + 2]
        if re.match(r"[\d.]|,\d|e[-+−\d]", following, re.IGNORECASE):
            continue
        value = _value_of(longest[:length])
        if value is not None:
            reader.at += length
            return value
    reader.stuck(A_NUMBER)


def read_quantity(reader: Reader, units: Mapping[str, float], own: str) -> float:
    """Read a number with an optional unit, and return it in the exercise's own unit.

    Parameters
    ----------
    units : mapping
        The size of each unit.
    own : str
        The exercise's own unit.

    Returns
    -------
    float
    """
    value = read_number(reader)
    reader.skip_blanks()
    found = _UNIT.match(reader.text, reader.at)
    unit = found[0].casefold() if found else ""
    inches = unit == "in" and unit in units and _AFTER_INCHES.match(reader.text, reader.at + 2)
    if found is None or (_AFTER_NUMBER.match(unit) and not inches):
        return value
    if unit not in units:
        what = f"one of {', '.join(units)} is" if units else "this number has none"
        reader.stuck(complaint=f"“{found[0]}” is no unit here; {what}")
    reader.at = found.end()
    ratio = units[unit] / units[own]
    return value if ratio == 1 else float(f"{value * ratio:.{CLEAN}g}")


def read_length(reader: Reader, conventions: Conventions) -> float:
    """Read a length in any unit; return it in the exercise's."""
    return read_quantity(reader, MILLIMETRES, conventions.length)


def read_angle(reader: Reader, conventions: Conventions) -> float:
    """Read an angle in any unit; return it in the exercise's."""
    return read_quantity(reader, _DEGREES, conventions.angle)


def read_plain(reader: Reader) -> float:
    """Read a number that has no unit."""
    return read_quantity(reader, {}, "")


def _value_of(text: str) -> float | None:
    """Return the value of arithmetic such as `360/7` or `2*(1+0,5)`; none where it is no finite number."""
    plain = text.replace("−", "-").replace("×", "*").strip()
    tokens: list[str] = []
    at = 0
    while at < len(plain):
        found = _TOKEN.match(plain, at)
        if found is None or (tokens and found[1] and tokens[-1][-1].isdigit()):
            return None
        tokens.append((found[1] or found[2]).replace(",", "."))
        at = found.end()
    try:
        value = _sum(tokens)
    except (ValueError, IndexError, ZeroDivisionError, RecursionError):
        return None
    return None if tokens or not math.isfinite(value) else value


# Each reads from the front of the tokens and removes what it has read.
def _sum(tokens: list[str]) -> float:
    value = _product(tokens)
    while tokens and tokens[0] in "+-":
        value = value + _product(tokens) if tokens.pop(0) == "+" else value - _product(tokens)
    return value


def _product(tokens: list[str]) -> float:
    value = _signed(tokens)
    while tokens and tokens[0] in "*/":
        value = value * _signed(tokens) if tokens.pop(0) == "*" else value / _signed(tokens)
    return value


def _signed(firsts: list[str]) -> float:
    first = firsts.pop(0)
    if first in "+-":
        return _signed(firsts) if first == "+" else -_signed(firsts)
    if first == "(":
        value = _sum(firsts)
        if firsts.pop(0) != ")":
            raise ValueError
        return value
    return float(first)
