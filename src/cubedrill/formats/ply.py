"""PLY, as text or binary: one mesh in the world.

Source: Greg Turk, "The PLY Polygon File Format" (1994), from memory.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Final

import numpy as np

from cubedrill.core.scene.scene import Scene
from cubedrill.formats.colours import as_hex
from cubedrill.formats.imported import Gathering, Imported, Surface, fan
from cubedrill.formats.limits import MOST_TRIANGLES, MOST_VERTICES, UnreadableError, too_many
from cubedrill.formats.written import said_of, world_surfaces

TYPES: Final = {
    "char": "i1", "uchar": "u1", "short": "i2", "ushort": "u2", "int": "i4", "uint": "u4",
    "float": "f4", "double": "f8",
    "int8": "i1", "uint8": "u1", "int16": "i2", "uint16": "u2", "int32": "i4", "uint32": "u4", "float32": "f4",
    "float64": "f8",
}  # fmt: skip
ORDERS: Final = {"ascii": "", "binary_little_endian": "<", "binary_big_endian": ">"}
HEAD_END: Final = b"end_header"
BROKEN: Final = "its header is broken; export the file again."
INCOMPLETE: Final = "it is incomplete; copy the whole file."


@dataclass
class _Property:
    name: str
    item: str  # of numpy, without the byte order
    counted_by: str | None = None  # for a list: the type of its length


@dataclass
class _Element:
    name: str
    count: int
    properties: list[_Property] = field(default_factory=list)


def is_ply(content: bytes) -> bool:
    """Tell whether it begins as the format wants it."""
    return content[:3] == b"ply" and content[3:4] in (b"\n", b"\r")


def read(content: bytes) -> Imported:
    """Read a scene of one mesh. Raises UnreadableError."""
    order, elements, body = _head(content)
    values = (_Text(body) if order == "" else _Binary(body, order)).read(elements)
    if "vertex" not in values or not {"x", "y", "z"} <= values["vertex"].keys():
        raise UnreadableError("it has no vertices with x, y and z; export the file again.")
    vertex = values["vertex"]
    points = np.column_stack([np.asarray(vertex[axis], dtype=np.float64) for axis in "xyz"])
    polygons = next((v for k, v in values.get("face", {}).items() if k in ("vertex_indices", "vertex_index")), [])
    triangles = [triangle for polygon in polygons if len(polygon) > 2 for triangle in fan(polygon)]
    if len(triangles) > MOST_TRIANGLES:
        raise too_many("triangles", MOST_TRIANGLES)
    found = Gathering()
    facts: dict[str, object] = {}
    if {"red", "green", "blue"} <= vertex.keys() and len(points):
        facts["colour"] = as_hex(np.array([float(np.mean(vertex[name])) / 255 for name in ("red", "green", "blue")]))
    found.add_whole("object", Surface(points, np.array(triangles, dtype=np.intp).reshape(-1, 3)), **facts)
    return found.done()


def _head(content: bytes) -> tuple[str, list[_Element], bytes]:
    end = content.find(HEAD_END)
    if end < 0 or end > 65536:
        raise UnreadableError(BROKEN)
    lines = [line.split() for line in content[:end].decode("latin-1").splitlines()]
    rest = content[end + len(HEAD_END) :]
    body = rest[2:] if rest.startswith(b"\r\n") else rest[1:]
    order, elements = None, list[_Element]()
    try:
        for words in lines[1:]:
            match words:
                case ["format", name, "1.0"]:
                    order = ORDERS[name]
                case ["element", name, count]:
                    elements.append(_Element(name, _counted(name, int(count))))
                case ["property", "list", counted, item, name]:
                    elements[-1].properties.append(_Property(name, TYPES[item], TYPES[counted]))
                case ["property", item, name]:
                    elements[-1].properties.append(_Property(name, TYPES[item]))
                case [] | ["comment" | "obj_info", *_]:
                    pass
                case _:
                    raise UnreadableError(BROKEN)
    except (KeyError, ValueError, IndexError):
        raise UnreadableError(BROKEN) from None
    if order is None:
        raise UnreadableError(BROKEN)
    return order, elements, body


def _counted(name: str, count: int) -> int:
    most = {"vertex": MOST_VERTICES, "face": MOST_TRIANGLES}.get(name, MOST_TRIANGLES)
    if count < 0:
        raise UnreadableError(BROKEN)
    if count > most:
        raise too_many({"vertex": "vertices", "face": "faces"}.get(name, "elements"), most)
    return count


Values = dict[str, dict[str, list[Any]]]  # by element, by property: a value or a list a row


class _Rows:
    """Shared by text and binary: rows of elements, one after the other."""

    def read(self, elements: list[_Element]) -> Values:
        found: Values = {}
        for element in elements:
            columns: dict[str, list[object]] = {each.name: [] for each in element.properties}
            for _ in range(element.count if element.properties else 0):
                for each in element.properties:
                    columns[each.name].append(self.value(each))
            found[element.name] = columns
        return found

    def value(self, each: _Property) -> object:
        if each.counted_by is None:
            return self.number(each.item)
        count = _whole(self.number(each.counted_by))
        if not 0 <= count <= self.left():
            raise UnreadableError(INCOMPLETE)
        numbers = [self.number(each.item) for _ in range(count)]
        return [_whole(number) for number in numbers] if each.item[0] in "iu" else numbers

    def number(self, item: str) -> float:
        raise NotImplementedError

    def left(self) -> int:
        """Return the largest possible count of numbers."""
        raise NotImplementedError


def _whole(number: float) -> int:
    if not number.is_integer():  # which neither what is infinite nor what is no number is
        raise UnreadableError(f"it has {number:g} in place of a whole number; export the file again.")
    return int(number)


class _Text(_Rows):
    def __init__(self, body: bytes) -> None:
        self.words = body.split()
        self.place = 0

    def number(self, item: str) -> float:
        del item  # a word says itself what it is
        if self.place >= len(self.words):
            raise UnreadableError(INCOMPLETE)
        self.place += 1
        try:
            return float(self.words[self.place - 1])
        except ValueError:
            raise UnreadableError("it has a word in place of a number; export the file again.") from None

    def left(self) -> int:
        return len(self.words) - self.place


class _Binary(_Rows):
    def __init__(self, body: bytes, order: str) -> None:
        self.body = body
        self.order = order
        self.place = 0
        self.types: dict[str, np.dtype[np.generic]] = {item: np.dtype(order + item) for item in TYPES.values()}

    def read(self, elements: list[_Element]) -> Values:
        """Return rows without lists are read at once."""
        found: Values = {}
        for element in elements:
            if any(each.counted_by for each in element.properties) or not element.properties:
                found |= super().read([element])
                continue
            row = np.dtype([(str(number), self.order + each.item) for number, each in enumerate(element.properties)])
            if element.count * row.itemsize > self.left():
                raise UnreadableError(INCOMPLETE)
            table = np.frombuffer(self.body, row, element.count, self.place)
            self.place += element.count * row.itemsize
            found[element.name] = {
                each.name: table[str(number)].tolist() for number, each in enumerate(element.properties)
            }
        return found

    def number(self, item: str) -> float:
        kind = self.types[item]
        if self.left() < kind.itemsize:
            raise UnreadableError(INCOMPLETE)
        value = np.frombuffer(self.body, kind, 1, self.place)[0]
        self.place += kind.itemsize
        return float(value)

    def left(self) -> int:
        return len(self.body) - self.place


def write(scene: Scene) -> bytes:
    """Return a scene as one mesh in the scene's own axes and unit; names, tree and colours are lost."""
    whole = Surface.joined([surface for _item, surface in world_surfaces(scene)])
    head = (
        f"ply\nformat ascii 1.0\ncomment Cube Drill\ncomment {said_of(scene)}\n"
        f"element vertex {len(whole.points)}\nproperty double x\nproperty double y\nproperty double z\n"
        f"element face {len(whole.corners)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    rows = [f"{x!r} {y!r} {z!r}" for x, y, z in whole.points.tolist()]
    rows += [f"3 {a} {b} {c}" for a, b, c in whole.corners.tolist()]
    return (head + "\n".join(rows) + "\n").encode()
