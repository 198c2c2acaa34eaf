"""A small drawing of a scene, as patches that lie on each other: enough to know an exercise by."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Final

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array, Value

# Views: right and up on paper, and toward the eye, each in right, up, toward the viewer.
OBLIQUE: Final = np.array(((0.86, 0.0, -0.51), (-0.2, 0.92, -0.34), (0.47, 0.39, 0.79)))
FRONT: Final = np.eye(3)
SIDE: Final = np.array(((0.0, 0.0, -1.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)))  # from the right
TOP: Final = np.array(((1.0, 0.0, 0.0), (0.0, 0.0, -1.0), (0.0, 1.0, 0.0)))
LIGHT: Final = np.array((0.25, 0.9, 0.36))
DARKEST: Final = 0.62  # of the colour, on what the light does not meet
SIDES: Final = 12  # of what is round
MOST_FACES: Final = 16  # what has more is round, and drawn as one outline
PLACES: Final = 3


class Patch(Value):
    """A piece of a solid as it is seen, x to the right and y down, what can be moved within 0 to 1."""

    colour: str
    opacity: float
    points: tuple[tuple[float, float], ...]


def sketched(scenes: Sequence[Scene], view: Array = OBLIQUE) -> tuple[tuple[Patch, ...], ...]:
    """Return the patches of each scene, farthest first, all in one frame, so that movement between scenes shows.

    Locked objects lie behind all others, and the frame is fitted to the others.

    Parameters
    ----------
    scenes : sequence of Scene
    view : (3, 3) array
        OBLIQUE, FRONT, SIDE or TOP.
    """
    seen = [
        {i: _seen(scene, i, item.solid, view) for i, item in scene.objects.items() if item.solid} for scene in scenes
    ]
    free = [
        triangles
        for scene, drawn in zip(scenes, seen, strict=True)
        for i, triangles in drawn.items()
        if not scene[i].locked
    ]
    corners = [triangles[:, :, :2].reshape(-1, 2) for triangles in free or [t for each in seen for t in each.values()]]
    if not corners:
        return tuple(() for _ in scenes)
    ends = np.concatenate(corners)
    least, most = ends.min(axis=0), ends.max(axis=0)
    frame = (least + most) / 2, float(max((most - least).max(), 1e-9)) * 1.2
    return tuple(_drawn(scene, drawn, view, *frame) for scene, drawn in zip(scenes, seen, strict=True))


def _drawn(scene: Scene, seen: Mapping[str, Array], view: Array, middle: Array, size: float) -> tuple[Patch, ...]:
    items = [scene[i] for i in seen]
    order = sorted(items, key=lambda item: (not item.locked, float(seen[item.id][:, :, 2].mean())))
    return tuple(
        Patch(
            colour=_shaded(item.colour, light),
            opacity=item.opacity,
            points=tuple((x, y) for x, y in np.round((outline - middle) / size + 0.5, PLACES).tolist()),
        )
        for item in order
        for outline, light in _patches(seen[item.id], view)
    )


def _seen(scene: Scene, object_id: str, solid: Solid, view: Array) -> Array:
    """Return the corners (n, 3, 3) of an object's triangles: right and down on paper, and toward the eye."""
    points, corners = solid.triangulated(scene.conventions.up_index, SIDES)
    picture = mapped(scene.world_from_local(object_id), points) @ scene.conventions.picture_from_world.T
    paper = picture @ view.T * np.array((1.0, -1.0, 1.0))
    return np.asarray(paper[corners])


def _patches(triangles: Array, view: Array) -> Iterator[tuple[Array, float]]:
    """Yield the outlines of what is seen of a solid, each with how bright it is."""
    if len(triangles) > MOST_FACES:
        yield _outline(triangles[:, :, :2].reshape(-1, 2)), (1 + DARKEST) / 2
        return
    for triangle in triangles[np.argsort(triangles[:, :, 2].mean(axis=1))]:
        # Square to it, from right, down, toward the eye back to right, up, toward the viewer.
        normal = np.cross(triangle[1] - triangle[0], triangle[2] - triangle[0]) * np.array((1.0, -1.0, 1.0)) @ view
        length = float(np.linalg.norm(normal))
        if length > 0:
            yield triangle[:, :2], DARKEST + (1 - DARKEST) * abs(float(normal @ LIGHT)) / length


def _outline(points: Array) -> Array:
    """Return the corners (n, 2) of the hull of points, in order; what is seen from its edge is its two ends."""
    try:
        return np.asarray(points[ConvexHull(points).vertices])
    except QhullError:
        order = np.argsort(points @ np.ptp(points, axis=0))
        return np.asarray(points[order[[0, -1]]])


def _shaded(colour: str, light: float) -> str:
    parts = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    return "#" + "".join(f"{round(part * light):02x}" for part in parts)
