"""The words for numbers, spaces and points in the core's sentences."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import assert_never

from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import FeaturePoint, LineSpace, ObjectSpace, Pivot, Point, Space, ViewSpace

DIGITS = 6  # significant figures in a sentence: below what a student types, above what rounding leaves


def number(value: float) -> str:
    """Write a number with at most DIGITS significant figures and a real minus sign."""
    text = f"{value:.{DIGITS}g}"
    return "0" if text == "-0" else text.replace("-", "−")


def rounded(value: float, tolerance: float) -> str:
    """Write a measured number as finely as its tolerance can tell: to a hundredth of it or better."""
    places = 2 - math.floor(math.log10(tolerance)) if tolerance > 0 else DIGITS
    return number(round(value, places))


def numbers(values: Sequence[float]) -> str:
    """Write several numbers as `(1; 2; 3)`."""
    return f"({'; '.join(number(value) for value in values)})"


def listed(words: Sequence[str]) -> str:
    """Write `a`, `a and b`, or `a, b and c`."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def names(scene: Scene, ids: Sequence[str]) -> str:
    """Write the names of objects; an id that the scene does not know stands for itself."""
    return listed([scene.objects[i].name if i in scene.objects else i for i in ids])


def space_name(scene: Scene, space: Space) -> str:
    """Write a space as the step sentence does."""
    match space:
        case "world" | "parent" | "local":
            return space.capitalize()
        case ViewSpace():
            return "View"
        case ObjectSpace():
            return f"the axes of {names(scene, [space.object])}"
        case LineSpace():
            first, second = (point_name(scene, point) for point in space.line)
            return f"the line from {first} to {second}"
        case _:
            assert_never(space)


def point_name(scene: Scene, point: Point) -> str:
    """Return a point as text: a place on an object, or three numbers."""
    if isinstance(point, FeaturePoint):
        return f"{feature_name(point.at)} of {names(scene, [point.object])}"
    return numbers(point)


def pivot_name(scene: Scene, pivot: Pivot) -> str:
    """Write a pivot as the step sentence does."""
    words = {
        "own": "its pivot",
        "box": "the centre of its box",
        "selection": "the middle of the selection",
        "origin": "the origin",
        "marker": "the marker",
    }
    return words[pivot] if isinstance(pivot, str) else point_name(scene, pivot)


def axis_name(axis: str | Sequence[float]) -> str:
    """Return an axis as text: its letter, or a direction."""
    return axis.replace("-", "−").upper() if isinstance(axis, str) else numbers(axis)


def feature_name(at: str) -> str:
    """Write a place on an object: pivot, centre, or a face, edge middle or corner by its signs."""
    if at in ("pivot", "centre"):
        return at
    signs = at.replace("-", "−").upper()
    return f"{('face', 'edge middle', 'corner')[len(at) // 2 - 1]} {signs}"
