"""Bounds of a step list: how much it may make, and on how many objects it may act in all."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.solids import Mesh
from cubedrill.core.scene.scene import Scene, SceneObject

MOST_MADE: Final = 1000  # objects
MOST_VERTICES: Final = 1_000_000  # of the meshes among them
MOST_ACTED_ON: Final = 100_000  # objects, each counted with every step: 2,000 steps on 50 objects each


def require_few(items: Iterable[SceneObject], copies: int = 1) -> None:
    """Raise an error if this many copies of the objects are more than a list may create.

    Raises
    ------
    CoreError
        "too-many-made".
    """
    objects = vertices = 0
    for item in items:
        objects += copies
        vertices += copies * (len(item.solid.points) if isinstance(item.solid, Mesh) else 0)
        if objects > MOST_MADE or vertices > MOST_VERTICES:
            raise CoreError("too-many-made", objects=f"{MOST_MADE:,}", vertices=f"{MOST_VERTICES:,}")


class Bounds:
    """Counts what the steps of a list come to."""

    def __init__(self) -> None:
        self._made: list[SceneObject] = []
        self._acted_on = 0

    def count(self, before: Scene, after: Scene, acts_on: int) -> None:
        """Count a step; raise CoreError "too-many-made" or "too-much-work" where it is too much."""
        self._acted_on += acts_on
        if self._acted_on > MOST_ACTED_ON:
            raise CoreError("too-much-work", most=f"{MOST_ACTED_ON:,}")
        if len(after.objects) > len(before.objects):
            self._made += [item for i, item in after.objects.items() if i not in before.objects]
            require_few(self._made)
