"""The scene that any file is read into: objects as our own files give them, what it says of its axes, and notes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Final

import numpy as np

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import Mesh, Solid
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.values import Array, Indices, Value
from cubedrill.formats.limits import (
    MOST_DEPTH,
    MOST_NAMES,
    MOST_NODES,
    MOST_TRIANGLES,
    MOST_VERTICES,
    UnreadableError,
    too_many,
)

NAMED: Final = 3  # so many of what was left out are named; the others are counted
LARGEST: Final = 1e150  # a coordinate or factor beyond it is none that a scene has


class Imported(Value):
    """A scene as a file has it, before anything is asked or matched.

    said: those of our conventions that the file says, by their names there. notes: what was left out, changed or
    guessed, a sentence each.
    """

    objects: tuple[ObjectSpec, ...]
    said: dict[str, str]
    notes: tuple[str, ...]

    def conventions(self, chosen: Conventions) -> Conventions:
        """Return the conventions of its numbers: as the file says, and where it does not, as chosen."""
        return Conventions.model_validate({**chosen.model_dump(), **self.said})


@dataclass(frozen=True)
class Surface:
    """Vertices (n, 3) and triangles (m, 3) as indices of them, in an object's own coordinates."""

    points: Array
    corners: Indices

    @staticmethod
    def joined(parts: Sequence[Surface]) -> Surface:
        """Return several as one; vertices that they share by identity are kept once."""
        firsts: dict[int, int] = {}
        points: list[Array] = []
        corners: list[Indices] = []
        count = 0
        for part in parts:
            if id(part.points) not in firsts:
                firsts[id(part.points)] = count
                points.append(part.points)
                count += len(part.points)
            corners.append(part.corners + firsts[id(part.points)])
        return Surface(np.concatenate(points), np.concatenate(corners))


class Gathering:
    """What is gathered while a file is read. Every bound is held here, so that no reader can forget one."""

    def __init__(self) -> None:
        self._objects: dict[str, ObjectSpec] = {}
        self._depths: dict[str, int] = {}
        self._vertices = 0
        self._triangles = 0
        self._notes: dict[str, None] = {}
        self._left_out: dict[str, list[str]] = {}

    def add(
        self,
        name: str,
        parent: str | None,
        parent_from_local: Array,
        shape: Surface | Solid | None = None,
        **facts: Any,
    ) -> str:
        """Add an object and return its id, made of its name; facts: what else an object of ours has.

        Raises UnreadableError at a bound, or for numbers that no place in a scene has.
        """
        if len(self._objects) >= MOST_NODES:
            raise too_many("objects", MOST_NODES)
        name = cleaned(name)
        own = self._free_id(str(facts.pop("id", name)))
        self._depths[own] = 0 if parent is None else self._depths[parent] + 1
        if self._depths[own] > MOST_DEPTH:
            raise UnreadableError(f"its objects are nested more than {MOST_DEPTH} deep; take some out of their groups.")
        matrix = np.asarray(parent_from_local, dtype=np.float64)
        require_numbers(matrix, f"the place of {name}")
        given = {key: value for key, value in facts.items() if value is not None}
        solid = self._mesh(shape, name) if isinstance(shape, Surface) else shape
        if solid is not None:
            solid = solid.model_copy(update={"kind": solid.kind})  # said, so that it is written where only that is
        placed = tuple(matrix.ravel(order="F").tolist())
        self._objects[own] = ObjectSpec(id=own, name=name, parent=parent, matrix=placed, solid=solid, **given)
        return own

    def note(self, sentence: str) -> None:
        """Say something that was changed or guessed; the same is said once."""
        self._notes[sentence] = None

    def left_out(self, kind: str, name: str) -> None:
        """Say that something is not in the scene; kind: what it is called, as one of many: "lights"."""
        self._left_out.setdefault(kind, []).append(cleaned(name))

    def done(self, **said: str) -> Imported:
        """Return the scene. Raises UnreadableError where there is nothing in it."""
        if not any(item.solid is not None for item in self._objects.values()):
            raise UnreadableError("it has no object with a shape; export the objects with their meshes.")
        lost = (f"Left out: {_listed(kind, names)}." for kind, names in self._left_out.items())
        return Imported(objects=tuple(self._objects.values()), said=said, notes=(*self._notes, *lost))

    def _mesh(self, surface: Surface, name: str) -> Mesh | None:
        self._vertices += len(surface.points)
        self._triangles += len(surface.corners)
        if self._vertices > MOST_VERTICES:
            raise too_many("vertices", MOST_VERTICES)
        if self._triangles > MOST_TRIANGLES:
            raise too_many("triangles", MOST_TRIANGLES)
        require_numbers(surface.points, f"a vertex of {name}")
        if not len(surface.corners):
            return None
        if int(surface.corners.min()) < 0 or int(surface.corners.max()) >= len(surface.points):
            raise UnreadableError(f"{name} has a triangle whose corner is not there; export the file again.")
        return Mesh(
            vertices=tuple(map(tuple, surface.points.tolist())), triangles=tuple(map(tuple, surface.corners.tolist()))
        )

    def _free_id(self, wanted: str) -> str:
        own, number = wanted, 1
        while own in self._objects:
            number += 1
            tail = f" {number}"
            own = wanted[: MOST_NAMES - len(tail)] + tail
        return own


def cleaned(name: str) -> str:
    """Return a name as our files have them: one line, not empty, not too long, nothing that is no character."""
    kept = "".join(letter if letter.isprintable() else " " for letter in name).strip()
    return kept[:MOST_NAMES].encode("utf-8", "replace").decode() or "object"


def require_numbers(values: Array, what: str) -> None:
    """Raise UnreadableError unless all are numbers that a scene can have."""
    if not np.isfinite(values).all() or (values.size and float(np.abs(values).max()) > LARGEST):
        raise UnreadableError(f"{what} has a number that is none, or is too large; export the file again.")


def fan(corners: Iterable[int]) -> list[tuple[int, int, int]]:
    """Return the triangles of a polygon, all from its first corner."""
    first, *others = corners
    return [(first, one, other) for one, other in pairwise(others)]


def _listed(kind: str, names: Sequence[str]) -> str:
    more = len(names) - NAMED
    return f"{kind} ({', '.join(names[:NAMED])}{f' and {more} more' if more > 0 else ''})"
