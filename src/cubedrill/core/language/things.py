"""Write and read solids and whole objects in sentences of steps that add them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Any, Final, get_args

from cubedrill.core.geometry.solids import Mesh, Solid
from cubedrill.core.language import terms
from cubedrill.core.language.numerals import read_length
from cubedrill.core.language.part import By, Choice, Part, Writing, conventions_of
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Expected, Reader

_KINDS: Final = {model.model_fields["kind"].default: model for model in get_args(get_args(Solid)[0])}
_MEASURES: Final = {kind: [f for f in model.model_fields if f != "kind"] for kind, model in _KINDS.items()}
_BY: Final = re.compile(r"by(?!\w)|×", re.IGNORECASE)


class SolidPart(Part):
    """A solid by its kind and its sizes: `cuboid 1 by 2 by 3 m`, `tube diameter 2 m, bore 1 m, height 3 m`."""

    def write(self, value: Any, to: Writing) -> str:
        """Write a solid; a mesh is told in full only where the sentence is exact."""
        if isinstance(value, Mesh):
            return _written_mesh(value, to)
        measures = [(name, getattr(value, name)) for name in _MEASURES[value.kind]]
        return f"{value.kind} {', '.join(_written_measure(name, size, to) for name, size in measures)}"

    def read(self, reader: Reader) -> object:
        """Read a solid."""
        kind = reader.words(*_KINDS, offered=_KINDS)
        if kind == "mesh":
            return _read_mesh(reader)
        found: dict[str, object] = {"kind": kind}
        for name in _MEASURES[kind]:
            reader.attempt(lambda r: r.words(","))
            found[name] = (
                _read_sides(reader, 2 if kind == "plate" else 3) if name == "size" else _read_one(reader, name)
            )
        return found


def _written_measure(name: str, size: Any, to: Writing) -> str:
    if name == "size":
        return f"{' by '.join(to.number(side) for side in size)} {to.conventions.length}"
    return f"{name} {to.length(size)}"


def _read_one(reader: Reader, name: str) -> float:
    reader.words(name)
    return read_length(reader, conventions_of(reader.scene))


def _read_sides(reader: Reader, many: int) -> list[float]:
    """Read `1 by 2 by 3 m`; a unit at the end holds for those before it that have none."""
    conventions = conventions_of(reader.scene)
    sides: list[float] = []
    while len(sides) < many:
        if sides:
            reader.match(_BY, Expected("by"))
        sides.append(read_length(reader, conventions))
    return sides


def _rows(rows: Iterable[Sequence[float]], to: Writing) -> str:
    return ", ".join(terms.write_numbers(row, to) for row in rows)


def _written_mesh(mesh: Mesh, to: Writing) -> str:
    if not to.exact:
        return f"mesh of {len(mesh.vertices)} vertices"
    triangles = f" triangles {_rows(mesh.triangles, to)}" if mesh.triangles else ""
    return f"mesh vertices {_rows(mesh.vertices, to)}{triangles}"


def _read_mesh(reader: Reader) -> object:
    reader.words("vertices")
    vertices = terms.read_list(reader, terms.read_numbers)
    triangles = reader.attempt(_read_triangles) or []
    return {"kind": "mesh", "vertices": vertices, "triangles": triangles}


def _read_triangles(reader: Reader) -> list[list[int]]:
    reader.words("triangles")
    return [[int(index) for index in row] for row in terms.read_list(reader, terms.read_numbers)]


def _tuple_of(many: int) -> By:
    return By(terms.write_numbers, lambda reader: terms.read_numbers(reader, many))


_SOLID: Final = terms.Either((Choice({None: "assembly"}), SolidPart()))
_PARTS: Final[dict[str, Part]] = {
    "id": terms.NEW_ID,
    "name": terms.NEW_NAME,
    "solid": _SOLID,
    "parent": terms.OBJECT,
    "translation": terms.VECTOR,
    "rotation": _tuple_of(4),
    "scale": terms.VECTOR,
    "matrix": _tuple_of(16),
    "pivot": terms.VECTOR,
    "colour": terms.COLOUR,
    "opacity": terms.NUMBER,
    "locked": Choice({True: "locked"}),
}
_NAMES: Final = ("{name} («id {id}, »{solid})", "{id} («unnamed, »{solid})")
_PLACES: Final = (
    " at {translation}[ turned {rotation}][ sized {scale}]",
    " by the matrix {matrix}",
    "< at the marker>[ turned {rotation}][ sized {scale}]",
)
_LOOK: Final = "[, pivot {pivot}][, colour {colour}][, opacity {opacity}][, {locked}]"

_OBJECT: Final = Sayings(
    *(Phrase(f"{name}[ in {{parent}}]{place}«{_LOOK}»", **_PARTS) for name in _NAMES for place in _PLACES)
)

NEW_OBJECT: Final = By(_OBJECT.write, _OBJECT.read)
