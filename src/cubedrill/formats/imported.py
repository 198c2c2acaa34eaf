"""The scene that any file is read into: objects as our own files give them, what it says of its axes, and notes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

import numpy as np
from numpy.typing import NDArray

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import Mesh, Solid
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.values import Array, Flags, Indices, Value
from cubedrill.formats.limits import (
    MOST_DEPTH,
    MOST_MESHES,
    MOST_NAMES,
    MOST_NODES,
    MOST_TRIANGLES,
    MOST_VERTICES,
    UnreadableError,
    too_many,
)

READER_VERSION: Final = 1  # grows when a reader reads the same file in another way: what it had read is read again
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

    def parts(self) -> list[Surface]:
        """Return what hangs together, a surface each; all as one where that is too many.

        By vertices what is closed then; the rest by places, since some programs write each face apart.
        """
        by_vertex = self._hanging_together(self.corners)
        closed = [part for part in by_vertex if part.is_closed]
        if len(closed) == len(by_vertex):
            return by_vertex
        rest = Surface.joined([part for part in by_vertex if not part.is_closed])
        parts = [*closed, *rest._hanging_together(welded(rest.points)[1][rest.corners])]
        return parts if len(parts) <= MOST_NODES else [self]

    @property
    def is_closed(self) -> bool:
        """Tell whether each edge has a face on either side."""
        edges = np.sort(np.concatenate((self.corners[:, :2], self.corners[:, 1:], self.corners[:, ::2])), axis=1)
        numbers = edges[:, 0] * len(self.points) + edges[:, 1]
        return bool((np.unique(numbers, return_counts=True)[1] == 2).all())

    def _hanging_together(self, at: Indices) -> list[Surface]:
        """Return the parts of which triangles have corners in common; at (m, 3): which corners are one and the same."""
        from scipy.sparse import coo_array  # noqa: PLC0415 - slow to import, and needed by few files
        from scipy.sparse.csgraph import connected_components  # noqa: PLC0415

        ends = np.concatenate((at[:, :2], at[:, 1:]))
        links = coo_array((np.ones(len(ends)), ends.T), shape=(len(self.points),) * 2)
        part_of = connected_components(links, directed=False)[1][at[:, 0]]
        _, firsts = np.unique(part_of, return_index=True)
        if len(firsts) == 1:
            return [self]
        return [self._only(part_of == part_of[first]) for first in np.sort(firsts)]  # in the order of the file

    def _only(self, kept: Flags) -> Surface:
        used, corners = np.unique(self.corners[kept], return_inverse=True)
        return Surface(self.points[used], corners.reshape(-1, 3))

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
    """Collect what a reader finds. All limits are enforced here, so that no reader can forget one."""

    def __init__(self) -> None:
        self._objects: dict[str, ObjectSpec] = {}
        self._depths: dict[str, int] = {}
        self._meshes = 0
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
        **facts: object,
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

    def add_whole(self, name: str, surface: Surface, **facts: object) -> None:
        """Add the one mesh that a kind of file can hold: each part that hangs together as an object of its own."""
        _require_sound(surface, name)
        parts = surface.parts()
        for number, part in enumerate(parts, start=1):
            self.add(name if len(parts) == 1 else f"part {number}", None, np.eye(4), part, **facts)
        if len(parts) > 1:
            self.note(f"The file holds one mesh; its {len(parts)} separate parts became objects.")

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
        self._meshes += 1
        if self._meshes > MOST_MESHES:
            raise too_many("meshes", MOST_MESHES)
        self._vertices += len(surface.points)
        self._triangles += len(surface.corners)
        if self._vertices > MOST_VERTICES:
            raise too_many("vertices", MOST_VERTICES)
        if self._triangles > MOST_TRIANGLES:
            raise too_many("triangles", MOST_TRIANGLES)
        _require_sound(surface, name)
        if not len(surface.corners):
            return None
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


def _require_sound(surface: Surface, name: str) -> None:
    """Raise UnreadableError unless all vertices are numbers, and all corners vertices."""
    require_numbers(surface.points, f"a vertex of {name}")
    if len(surface.corners) and not 0 <= int(surface.corners.min()) <= int(surface.corners.max()) < len(surface.points):
        raise UnreadableError(f"{name} has a triangle whose corner is not there; export the file again.")


def require_numbers(values: Array, what: str) -> None:
    """Raise an error unless all values are numbers that a scene can have.

    Raises
    ------
    UnreadableError
    """
    if not np.isfinite(values).all() or (values.size and float(np.abs(values).max()) > LARGEST):
        raise UnreadableError(f"{what} has a value that is not a number or is too large; export the file again.")


def welded(points: Array) -> tuple[Array, Indices]:
    """Return the places (k, 3) at which there are points (n, 3), each once, and for each point (n,) which it is."""
    order = np.lexsort(points.T[::-1])
    rows = points[order]
    is_new = np.concatenate(([True], (rows[1:] != rows[:-1]).any(axis=1))) if len(rows) else np.zeros(0, dtype=bool)
    place = np.zeros(len(points), dtype=np.intp)
    place[order] = np.cumsum(is_new) - 1
    return rows[is_new], place


def as_float64(values: NDArray[np.generic]) -> Array:
    """Return numbers as ours are; what is none stays none, and is refused where it is looked at."""
    with np.errstate(invalid="ignore"):
        return values.astype(np.float64)


def fan(corners: Iterable[int]) -> list[tuple[int, int, int]]:
    """Return the triangles of a polygon, all from its first corner."""
    first, *others = corners
    return [(first, one, other) for one, other in pairwise(others)]


def _listed(kind: str, names: Sequence[str]) -> str:
    more = len(names) - NAMED
    return f"{kind} ({', '.join(names[:NAMED])}{f' and {more} more' if more > 0 else ''})"
