"""The spaces that the axes of a step or a check belong to, and points named in a scene."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Final, Literal, assert_never

import numpy as np
from pydantic import AfterValidator, Discriminator, Tag

from cubedrill.core.errors import CoreError
from cubedrill.core.scene import Scene
from cubedrill.core.solids import is_feature
from cubedrill.core.transform import mapped, parts_of
from cubedrill.core.values import Array, Identifier, Value, Vector

ZERO_LENGTH_TOL: Final = 1e-12  # a given vector shorter than this has no direction
FLAT_TOL: Final = 1e-9  # the projection of a unit direction shorter than this has none


def _place_name(name: str) -> str:
    if name != "pivot" and not is_feature(name):
        raise ValueError("a place on an object is 'pivot', 'centre', or signs such as '+x', '+x-y', '+x+y-z'")
    return name


PlaceName = Annotated[str, AfterValidator(_place_name)]


class FeaturePoint(Value):
    """A place on an object: its pivot, its box's centre, a face, an edge middle or a corner."""

    object: Identifier
    at: PlaceName = "pivot"


def _point_kind(value: Any) -> str:
    return "place" if isinstance(value, dict | FeaturePoint) else "numbers"


Point = Annotated[Annotated[Vector, Tag("numbers")] | Annotated[FeaturePoint, Tag("place")], Discriminator(_point_kind)]


class ViewDirections(Value):
    """Where right and up of the camera pointed, in world."""

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


def _space_kind(value: Any) -> str:
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
        """(3,) a world point in this frame, in scene lengths."""
        return np.asarray(self.world_from_axes.T @ (point_world - self.origin_world))


def place_world(scene: Scene, object_id: str, at: str) -> Array:
    """(3,) where a named place of an object is in the world; raise CoreError "unknown-object" or "no-box"."""
    item = scene[object_id]
    if at == "pivot":
        return scene.pivot_world(object_id)
    box = scene.local_box(object_id)
    if box is None:
        raise CoreError("no-box", object=object_id, name=item.name)
    return mapped(scene.world_from_local(object_id), box.feature(at))


def point_world(scene: Scene, point: Point) -> Array:
    """(3,) where a given point is in the world."""
    if isinstance(point, FeaturePoint):
        return place_world(scene, point.object, point.at)
    return np.array(point)


def axes_of(scene: Scene, object_id: str) -> Array:
    """(3, 3) an object's own unit directions in world, as columns."""
    return parts_of(scene.world_from_local(object_id)).rotation


def frame_of(scene: Scene, space: Space, object_id: str) -> Frame:
    """Return the frame of a space as it stands for one object.

    For `parent` the origin is the parent's own and lengths are scene lengths; a step that needs the parent's
    coordinates, its scale included, takes them from the matrix. Raises CoreError "line-zero" or "view-parallel".
    """
    match space:
        case "world":
            return Frame(np.eye(3), np.zeros(3))
        case "parent":
            parent = scene[object_id].parent
            axes = np.eye(3) if parent is None else axes_of(scene, parent)
            return Frame(axes, scene.world_from_parent(object_id)[:3, 3])
        case "local":
            return Frame(axes_of(scene, object_id), scene.pivot_world(object_id))
        case ViewSpace():
            return Frame(_view_axes(scene, space.view), np.zeros(3))
        case ObjectSpace():
            return Frame(axes_of(scene, space.object), scene.pivot_world(space.object))
        case LineSpace():
            first, second = (point_world(scene, point) for point in space.line)
            return Frame(_line_axes(first, second, scene.conventions.up_index), first)
        case _:
            assert_never(space)


def _view_axes(scene: Scene, view: ViewDirections) -> Array:
    right = _unit(np.array(view.right), "view-parallel")
    up = _unit(np.array(view.up), "view-parallel")
    up = up - (up @ right) * right
    if np.linalg.norm(up) < FLAT_TOL:
        raise CoreError("view-parallel")
    up = up / np.linalg.norm(up)
    sign = 1 if scene.conventions.handedness == "right" else -1
    return np.column_stack((right, up, sign * np.cross(right, up)))


def _line_axes(first: Array, second: Array, up_index: int) -> Array:
    """X along the line; the up letter's column is world up made square to it; the third completes the triple."""
    along = _unit(second - first, "line-zero")
    up = np.eye(3)[up_index]
    upright = up - (up @ along) * along
    if np.linalg.norm(upright) < FLAT_TOL:
        sideways = np.eye(3)[0]
        upright = sideways - (sideways @ along) * along
    upright = upright / np.linalg.norm(upright)
    third = np.cross(along, upright) if up_index == 1 else np.cross(upright, along)
    columns = (along, upright, third) if up_index == 1 else (along, third, upright)
    return np.column_stack(columns)


def _unit(direction: Array, code: str) -> Array:
    length = float(np.linalg.norm(direction))
    if not length >= ZERO_LENGTH_TOL:
        raise CoreError(code)
    return np.asarray(direction / length)
