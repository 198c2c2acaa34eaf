"""The spaces that the axes of a step or a check belong to, and points named in a scene."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Final, Literal, assert_never

import numpy as np
from pydantic import AfterValidator, Discriminator, Tag

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import is_feature
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.directions import square_to, unit
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.values import Array, Identifier, Value, Vector, as_vector, frozen

AXIS_COLUMNS: Final = frozen(np.eye(3))
ZERO: Final = frozen(np.zeros(3))


def _feature_name(name: str) -> str:
    if name != "pivot" and not is_feature(name):
        raise ValueError("a place on an object is 'pivot', 'centre', or signs such as '+x', '+x-y', '+x+y-z'")
    return name


FeatureName = Annotated[str, AfterValidator(_feature_name)]


class FeaturePoint(Value):
    """A place on an object: its pivot, its box's centre, a face, an edge middle or a corner."""

    object: Identifier
    at: FeatureName = "pivot"


def _point_kind(value: object) -> str:
    return "place" if isinstance(value, dict | FeaturePoint) else "numbers"


Point = Annotated[Annotated[Vector, Tag("numbers")] | Annotated[FeaturePoint, Tag("place")], Discriminator(_point_kind)]


Pivot = Annotated[
    Annotated[Literal["own", "box", "selection", "origin", "marker"], Tag("word")]
    | Annotated[Vector, Tag("numbers")]
    | Annotated[FeaturePoint, Tag("place")],
    Discriminator(lambda value: "word" if isinstance(value, str) else _point_kind(value)),
]


class ViewDirections(Value):
    """The camera's right and up directions in world."""

    right: Vector
    up: Vector


class ViewSpace(Value):
    """Right, up and toward the viewer of the camera at that moment."""

    view: ViewDirections


class ObjectSpace(Value):
    """Another object's axes, with its pivot as origin."""

    object: Identifier


class LineSpace(Value):
    """X along the line from the first point to the second."""

    line: tuple[Point, Point]


def _space_kind(value: object) -> str:
    keys = value if isinstance(value, dict) else type(value).model_fields if isinstance(value, Value) else ()
    return next((kind for kind in ("view", "object", "line") if kind in keys), "word")


Space = Annotated[
    Annotated[Literal["world", "parent", "local"], Tag("word")]
    | Annotated[ViewSpace, Tag("view")]
    | Annotated[ObjectSpace, Tag("object")]
    | Annotated[LineSpace, Tag("line")],
    Discriminator(_space_kind),
]


@dataclass(frozen=True)
class Frame:
    """Three unit directions of a space in world, as columns (3, 3), and its origin in world (3,)."""

    world_from_axes: Array
    origin_world: Array

    def coordinates(self, point_world: Array) -> Array:
        """Return (3,) a world point in this frame, in scene lengths."""
        return np.asarray((point_world - self.origin_world) @ self.world_from_axes)


def objects_named(part: Space | Pivot | Point | None) -> tuple[str, ...]:
    """Return the ids of the objects that a space, a pivot or a point is given by."""
    match part:
        case FeaturePoint() | ObjectSpace():
            return (part.object,)
        case LineSpace():
            return tuple(object_id for point in part.line for object_id in objects_named(point))
        case _:
            return ()


def feature_world(scene: Scene, object_id: str, at: str) -> Array:
    """Return (3,) where a named place of an object is in the world; raise CoreError "unknown-object" or "no-box"."""
    return mapped(scene.world_from_local(object_id), feature_local(scene, object_id, at))


def feature_local(scene: Scene, object_id: str, at: str) -> Array:
    """Return (3,) a named place of an object in its own coordinates; raise CoreError "unknown-object" or "no-box"."""
    return scene[object_id].pivot if at == "pivot" else scene.require_local_box(object_id).feature(at)


def point_world(scene: Scene, point: Point) -> Array:
    """Return (3,) where a given point is in the world."""
    if isinstance(point, FeaturePoint):
        return feature_world(scene, point.object, point.at)
    return np.array(point)


def pivots_world(scene: Scene, pivot: Pivot, ids: Sequence[str]) -> list[Array]:
    """Return the points that a step rotates or scales about.

    Parameters
    ----------
    pivot : Pivot
        ``own`` and ``box`` differ from object to object; for ``selection``, objects without a box are skipped.
    ids : sequence of str
        The objects that the step acts on.

    Returns
    -------
    mapping of str to (3,) array
        In world coordinates.

    Raises
    ------
    CoreError
        "no-box" if a box is needed and there is none.
    """
    match pivot:
        case "own":
            return [scene.pivot_world(object_id) for object_id in ids]
        case "box":
            return [feature_world(scene, object_id, "centre") for object_id in ids]
        case "selection":
            having = [object_id for object_id in ids if scene.box(object_id, IDENTITY) is not None]
            return [scene.box_around(having or ids, IDENTITY).centre] * len(ids)
        case "origin":
            return [ZERO] * len(ids)
        case "marker":
            return [scene.marker] * len(ids)
        case _:
            return [point_world(scene, pivot)] * len(ids)


def frame_of(scene: Scene, space: Space, object_id: str) -> Frame:
    """Return the frame of a space for one object.

    Parameters
    ----------
    scene : Scene
    space : Space
    object_id : str

    Returns
    -------
    Frame

    Raises
    ------
    CoreError
        "line-zero" or "view-parallel".

    Notes
    -----
    In ``parent`` the origin is the parent's own and lengths are scene lengths. A step that needs the parent's
    coordinates, including its scale, takes them from the matrix.
    """
    match space:
        case "world":
            return Frame(AXIS_COLUMNS, ZERO)
        case "parent":
            parent = scene[object_id].parent
            axes = AXIS_COLUMNS if parent is None else scene.axes_world(parent)
            return Frame(axes, scene.world_from_parent(object_id)[:3, 3])
        case "local":
            return Frame(scene.axes_world(object_id), scene.pivot_world(object_id))
        case ViewSpace():
            return Frame(_view_axes(scene, space.view), ZERO)
        case ObjectSpace():
            return Frame(scene.axes_world(space.object), scene.pivot_world(space.object))
        case LineSpace():
            first, second = (point_world(scene, point) for point in space.line)
            return Frame(_line_axes(first, second, scene.conventions.up_index), first)
        case _:
            assert_never(space)


def _view_axes(scene: Scene, view: ViewDirections) -> Array:
    right = unit(np.array(view.right), "view-parallel")
    up = square_to(unit(np.array(view.up), "view-parallel"), right, "view-parallel")
    sign = 1 if scene.conventions.handedness == "right" else -1
    return np.column_stack((right, up, sign * np.cross(right, up)))


def _line_axes(first: Array, second: Array, up_index: int) -> Array:
    """X along the line; the up letter's column is world up made square to it; the third completes the triple."""
    along = unit(second - first, "line-zero")
    upright = _upright(along, up_index)
    if up_index == 1:
        return np.column_stack((along, upright, np.cross(along, upright)))
    return np.column_stack((along, np.cross(upright, along), upright))


def _upright(along: Array, up_index: int) -> Array:
    """Return (3,) world up made square to a direction; world X made square to it where that is upright."""
    try:
        return square_to(AXIS_COLUMNS[up_index], along, "line-zero")
    except CoreError:
        return square_to(AXIS_COLUMNS[0], along, "line-zero")


def converted_point(point: Point, change: ConventionTransform) -> Point:
    """Return the same point in other conventions."""
    if isinstance(point, FeaturePoint):
        return FeaturePoint(object=point.object, at=change.feature(point.at))
    return as_vector(change.point(np.array(point)))


def converted_pivot(pivot: Pivot, change: ConventionTransform) -> Pivot:
    """Return the same pivot in other conventions."""
    return pivot if isinstance(pivot, str) else converted_point(pivot, change)


def converted_space(space: Space, change: ConventionTransform) -> Space:
    """Return the same space in other conventions."""
    match space:
        case ViewSpace():
            right, up = (as_vector(change.direction(np.array(d))) for d in (space.view.right, space.view.up))
            return ViewSpace(view=ViewDirections(right=right, up=up))
        case LineSpace():
            first, second = space.line
            return LineSpace(line=(converted_point(first, change), converted_point(second, change)))
        case _:
            return space


def within(space: Space, change: ConventionTransform) -> ConventionTransform:
    """Return the change that numbers along a space's axes go through.

    In a view X is right, Y up and Z toward the viewer in all conventions, so only units and the hand change there.
    """
    return replace(change, keeps_axes=True) if isinstance(space, ViewSpace) else change
