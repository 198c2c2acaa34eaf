"""A witness for checks: one plain function a kind, written from the page on checking alone, on scenes as files give them.

Nothing of the product is used. What it finds is how many tolerances something is off, and the points that leaves.
"""

from __future__ import annotations

import math

import numpy as np

from tests.outside import brute

SQUARE = 1e-6  # largest dot product of unit columns that still counts as square
UP_COLUMN = {"y": 1, "z": 2}


class World:
    """A scene as a file gives it, with the place of every object worked out."""

    def __init__(self, objects: list[dict], up: str, hand: str = "right") -> None:
        self.items = {item["id"]: item for item in objects}
        self.up, self.hand = UP_COLUMN[up], hand

    def placed(self, name: str) -> np.ndarray:
        """World matrix of an object: its own under its parent's."""
        item = self.items[name]
        own = np.eye(4)
        own[:3, :3] = turned(item.get("rotation", (0, 0, 0, 1))) * item.get("scale", (1, 1, 1))
        own[:3, 3] = item.get("translation", (0, 0, 0))
        if "matrix" in item:
            own = np.array(item["matrix"], dtype=float).reshape(4, 4).T
        return own if item.get("parent") is None else self.placed(item["parent"]) @ own

    def axes(self, name: str) -> np.ndarray:
        """The rotation read from a world matrix."""
        linear = self.placed(name)[:3, :3]
        columns = linear / np.linalg.norm(linear, axis=0)
        if np.abs(columns.T @ columns - np.eye(3)).max() > SQUARE:
            left, _, right = np.linalg.svd(linear)
            columns = left @ right
        return columns * [np.sign(np.linalg.det(linear)), 1, 1]

    def point(self, given) -> np.ndarray:
        """A point in the world: numbers, or a place on an object."""
        if isinstance(given, list | tuple):
            return np.array(given, dtype=float)
        return self.spot(given["object"], given.get("at", "pivot"))

    def spot(self, name: str, at: str) -> np.ndarray:
        """A named place on an object with a solid, in the world."""
        item = self.items[name]
        if at == "pivot":
            local = np.array(item.get("pivot", (0, 0, 0)), dtype=float)
        else:
            low, high = self.box(item["solid"])
            signs = [(f"+{letter}" in at) - (f"-{letter}" in at) for letter in "xyz"]
            local = (low + high) / 2 + np.array(signs) * (high - low) / 2
        return self.placed(name)[:3, :3] @ local + self.placed(name)[:3, 3]

    def box(self, solid: dict) -> tuple[np.ndarray, np.ndarray]:
        """Least and largest coordinates of a solid in its own."""
        kind = solid["kind"]
        if kind == "mesh":
            vertices = np.array(solid["vertices"], dtype=float)
            return vertices.min(axis=0), vertices.max(axis=0)
        if kind in ("cuboid", "wedge", "pyramid"):
            size = np.array(solid["size"], dtype=float)
        elif kind == "plate":
            size = np.insert(np.array(solid["size"], dtype=float), self.up, 0)
        else:
            size = np.full(3, float(solid["diameter"]))
            size[self.up] = {"sphere": solid["diameter"], "ring": solid.get("thickness")}.get(kind) or solid["height"]
        return -size / 2, size / 2

    def frame(self, space, name: str) -> tuple[np.ndarray, np.ndarray]:
        """Three directions as columns, and an origin."""
        parent = self.items[name].get("parent")
        if space == "world" or (space == "parent" and parent is None):
            return np.eye(3), np.zeros(3)
        if space == "parent":
            return self.axes(parent), self.placed(parent)[:3, 3]
        if space == "local":
            return self.axes(name), self.spot(name, "pivot")
        if "object" in space:
            return self.axes(space["object"]), self.spot(space["object"], "pivot")
        if "view" in space:
            right = unit(space["view"]["right"])
            up = unit(square(np.array(space["view"]["up"], dtype=float), right))
            toward = np.cross(right, up) * (1 if self.hand == "right" else -1)
            return np.column_stack((right, up, toward)), np.zeros(3)
        start, end = (self.point(point) for point in space["line"])
        along = unit(end - start)
        upright = square(np.eye(3)[self.up], along)
        upright = unit(upright if np.linalg.norm(upright) > 1e-9 else square(np.eye(3)[0], along))
        columns = [along, None, None]
        columns[self.up] = upright
        columns[3 - self.up] = np.cross(along, upright) if self.up == 1 else np.cross(upright, along)
        return np.column_stack(columns), start


def turned(quaternion) -> np.ndarray:
    """Matrix of a quaternion [x, y, z, w]. Source: from memory."""
    x, y, z, w = quaternion
    return np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )


def unit(vector) -> np.ndarray:
    return np.array(vector, dtype=float) / np.linalg.norm(vector)


def square(vector: np.ndarray, direction: np.ndarray) -> np.ndarray:
    return vector - (vector @ direction) * direction


def frames(space, name: str, target: World, submitted: World):
    """Each scene's own; of `local` the target's for both."""
    wanted = target.frame(space, name)
    return wanted, wanted if space == "local" else submitted.frame(space, name)


def off_position(check: dict, name: str, target: World, submitted: World, radians: float) -> list[float]:
    del radians
    at, letters = check.get("point", "pivot"), check.get("axes", "xyz")
    found = []
    for (axes, origin), scene in zip(
        frames(check.get("space", "world"), name, target, submitted), (target, submitted), strict=True
    ):
        along = axes.T @ (scene.spot(name, at) - origin)
        found.append(along[["xyz".index(letter) for letter in letters]])
    apart = found[1] - found[0]
    return [float(np.linalg.norm(apart))] if check.get("measure") == "distance" else list(np.abs(apart))


def off_rotation(check: dict, name: str, target: World, submitted: World, radians: float) -> list[float]:
    (wanted, _), (found, _) = frames(check.get("space", "world"), name, target, submitted)
    if "axis" in check:
        column, sign = "xyz".index(check["axis"][1]), 1 if check["axis"][0] == "+" else -1
        a, b = (
            sign * axes.T @ scene.placed(name)[:3, column] for axes, scene in ((wanted, target), (found, submitted))
        )
        return [math.atan2(np.linalg.norm(np.cross(a, b)), a @ b) / radians]
    turns = [axes.T @ scene.axes(name) for axes, scene in ((wanted, target), (found, submitted))]
    between = turns[1] @ turns[0].T
    sine = np.linalg.norm([between[2, 1] - between[1, 2], between[0, 2] - between[2, 0], between[1, 0] - between[0, 1]])
    return [math.atan2(sine / 2, (np.trace(between) - 1) / 2) / radians]


def off_size(check: dict, name: str, target: World, submitted: World, radians: float) -> list[float]:
    del radians
    wanted, found = (
        (scene.box(scene.items[name]["solid"])[1] - scene.box(scene.items[name]["solid"])[0])
        * np.linalg.norm(scene.placed(name)[:3, :3], axis=0)
        for scene in (target, submitted)
    )
    off = []
    for letter in check.get("axes", "xyz"):
        i = "xyz".index(letter)
        if check.get("measure") == "length":
            off.append(abs(found[i] - wanted[i]))
        elif wanted[i] == 0:
            off.append(0.0 if found[i] == 0 else math.inf)
        else:
            off.append(abs(found[i] / wanted[i] - 1))
    return off


def off_shape(check: dict, name: str, target: World, submitted: World, radians: float) -> list[float]:
    del check, radians
    kinds = [scene.items[name]["solid"]["kind"] for scene in (target, submitted)]
    if kinds[0] != kinds[1]:
        return [math.inf]
    if kinds[0] == "mesh":
        points = np.array(target.items[name]["solid"]["vertices"], dtype=float)
        apart = submitted.placed(name) - target.placed(name)
        return [float(np.linalg.norm(points @ apart[:3, :3].T + apart[:3, 3], axis=1).max())]
    lying = np.eye(4)  # the witness for shapes has up along Y
    if target.up == 2:
        lying[1:3, 1:3] = [[0, 1], [1, 0]]
    maps = []
    for scene in (target, submitted):
        low, high = scene.box(scene.items[name]["solid"])
        half = np.where(high > low, (high - low) / 2, 1.0)
        maps.append(scene.placed(name) @ np.diag([*half, 1.0]) @ lying)
    return [brute.farthest(kinds[0], *maps)]


def off_pivot(check: dict, name: str, target: World, submitted: World, radians: float) -> list[float]:
    del check, radians
    scale = np.linalg.norm(target.placed(name)[:3, :3], axis=0)
    pivots = [np.array(scene.items[name].get("pivot", (0, 0, 0)), dtype=float) * scale for scene in (target, submitted)]
    return [float(np.linalg.norm(pivots[0] - pivots[1]))]


OFF = {
    "position": off_position, "rotation": off_rotation, "size": off_size, "shape": off_shape, "pivot": off_pivot,
}  # fmt: skip
FAILS_MIRRORED = ("rotation", "size", "shape")


def points(check: dict, target: World, submitted: World, radians: float) -> float:
    """Points of a check: of several objects those of the worst."""
    names = [check["object"]] if isinstance(check["object"], str) else check["object"]
    return min(_points(check, name, target, submitted, radians) for name in names)


def _points(check: dict, name: str, target: World, submitted: World, radians: float) -> float:
    worth, zero_at = check.get("points", 1), check.get("zero_at", 1)
    hands = [np.linalg.det(scene.placed(name)[:3, :3]) for scene in (target, submitted)]
    if check["kind"] in FAILS_MIRRORED and hands[0] * hands[1] < 0:
        return 0.0
    off = OFF[check["kind"]](check, name, target, submitted, radians)
    tolerances = check["tolerance"] if isinstance(check["tolerance"], list) else [check["tolerance"]] * len(off)
    missed = max(one / tolerance for one, tolerance in zip(off, tolerances, strict=True))
    return worth if missed <= 1 else worth * (zero_at - missed) / (zero_at - 1) if missed < zero_at else 0.0
