"""Measure one thing or between two: the amounts, and the points to draw."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from cubedrill.core.scene import measure
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.scene.spaces import FeatureName, Frame, Point, Space, frame_of, point_world
from cubedrill.core.values import Array, Identifier, Value

Unit = Literal["length", "angle", "area", "volume"]


class Thing(Value):
    """Something to measure: an object as a whole, or a point on it."""

    object: Identifier
    at: FeatureName | None = None


class Asked(Value):
    """One thing to be measured, or two to be measured between.

    space: along whose axes boxes lie and ways are told; origin: where coordinates begin, that of the space if none.
    """

    first: Thing
    second: Thing | None = None
    space: Space = "world"
    origin: Point | None = None


@dataclass(frozen=True)
class Amount:
    """One measured number, in the exercise's units."""

    what: str
    value: float
    unit: Unit


@dataclass(frozen=True)
class Measured:
    """Measured amounts; points (2, 3): the ends of a distance in world, or None."""

    amounts: tuple[Amount, ...]
    points: Array | None = None


def measured(scene: Scene, asked: Asked) -> Measured:
    """Measure one thing, or between two.

    Distances are those of the closest points, exact as `measure.closest` and `measure.distance_between` say. Raises
    CoreError "unknown-object" or "no-box", or what the space raises.
    """
    first, second = asked.first, asked.second
    frame = frame_of(scene, asked.space, scene[first.object].id)
    if asked.origin is not None:
        frame = Frame(frame.world_from_axes, point_world(scene, asked.origin))
    if second is None:
        return Measured(tuple(_of_one(scene, first, frame)))
    if first.at is None and second.at is None:
        found = measure.closest(scene, first.object, second.object)
        amounts = [Amount("distance", found.distance, "length")]
        if found.distance == 0:
            amounts.append(Amount("overlap", measure.overlap(scene, first.object, second.object), "length"))
    else:
        features = [measure.feature_of(scene, thing.object, thing.at or "centre") for thing in (first, second)]
        found = measure.distance_between(*features)
        amounts = [Amount("distance", found.distance, "length")]
        angle = measure.angle_between(*features)
        if angle is not None:
            amounts.append(Amount("angle", angle / scene.conventions.radians_per_unit, "angle"))
    points = np.array((found.first, found.second))
    along = zip("XYZ", ((points[1] - points[0]) @ frame.world_from_axes).tolist(), strict=True)
    amounts += [Amount(f"along {axis}", value, "length") for axis, value in along]
    return Measured(tuple(amounts), points)


def _of_one(scene: Scene, thing: Thing, frame: Frame) -> Iterator[Amount]:
    if thing.at is not None:
        yield from _of_place(scene, thing.object, thing.at, frame)
        return
    for axis, size in zip("XYZ", measure.own_sizes(scene, thing.object).tolist(), strict=True):
        yield Amount(f"own size {axis}", size, "length")
    if scene[thing.object].solid is not None:
        yield Amount("area", measure.area(scene, thing.object), "area")
        yield Amount("volume", measure.volume(scene, thing.object), "volume")
    axes_from_world = IDENTITY.copy()
    axes_from_world[:3, :3] = frame.world_from_axes.T
    box = scene.require_box(thing.object, axes_from_world)
    for axis, size in zip("XYZ", box.size.tolist(), strict=True):
        yield Amount(f"box size {axis}", size, "length")
    sides = measure.from_origin(box, frame.origin_world @ frame.world_from_axes)
    for name, values in (("near side", sides.near), ("middle", sides.middle), ("far side", sides.far)):
        for axis, value in zip("XYZ", values.tolist(), strict=True):
            yield Amount(f"{name} at {axis}", value, "length")


def _of_place(scene: Scene, object_id: str, at: str, frame: Frame) -> Iterator[Amount]:
    feature = measure.feature_of(scene, object_id, at)
    for axis, value in zip("XYZ", frame.coordinates(feature.middle).tolist(), strict=True):
        yield Amount(f"at {axis}", value, "length")
    if len(feature.spans) == 1:
        yield Amount("length", 2 * float(np.linalg.norm(feature.spans[0])), "length")
    if len(feature.spans) == 2:
        yield Amount("area", 4 * float(np.linalg.norm(np.cross(*feature.spans))), "area")
