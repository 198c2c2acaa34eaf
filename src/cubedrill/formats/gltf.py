"""glTF 2.0, as JSON or binary. Source: Khronos glTF 2.0 specification; KHR_mesh_quantization.

Nothing outside the file is followed: data lies in the binary part or in data URIs. Every size is proved against what
there is before anything is made of it.
"""

from __future__ import annotations

import base64
import binascii
import json
import struct
from collections.abc import Sequence
from typing import Annotated, Any, Final

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import is_skewed, parent_from_parts, parts_of, rotation_from_quaternion
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.values import Array, Indices
from cubedrill.formats.colours import hex_of, linear_of
from cubedrill.formats.imported import Gathering, Imported, Surface, as_float64
from cubedrill.formats.limits import MOST_TRIANGLES, MOST_VERTICES, UnreadableError, too_many
from cubedrill.formats.own import KEY, own_of, shape_of, written_of
from cubedrill.formats.places import place_of, sentence_of

MAGIC: Final = b"glTF"
JSON_CHUNK, BINARY_CHUNK = 0x4E4F534A, 0x004E4942
OWN: Final = Conventions(up="y", handedness="right", length="m")
KNOWN: Final = {"KHR_mesh_quantization"}

Index = Annotated[int, Field(ge=0)]
COMPONENTS: Final = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
WIDTHS: Final = {"SCALAR": 1, "VEC3": 3}
POINTS, LINES, TRIANGLES, STRIP, FAN = {0}, {1, 2, 3}, 4, 5, 6


class _Part(BaseModel):
    model_config = ConfigDict(extra="ignore", frozen=True, allow_inf_nan=False)


class _Asset(_Part):
    version: str


class _Buffer(_Part):
    byteLength: Index  # noqa: N815 - the names are the format's
    uri: str | None = None


class _View(_Part):
    buffer: Index
    byteOffset: Index = 0  # noqa: N815
    byteLength: Index  # noqa: N815
    byteStride: Annotated[int, Field(ge=4, le=252)] | None = None  # noqa: N815


class _SparseIndices(_Part):
    bufferView: Index  # noqa: N815
    byteOffset: Index = 0  # noqa: N815
    componentType: int  # noqa: N815


class _SparseValues(_Part):
    bufferView: Index  # noqa: N815
    byteOffset: Index = 0  # noqa: N815


class _Sparse(_Part):
    count: Index
    indices: _SparseIndices
    values: _SparseValues


class _Accessor(_Part):
    bufferView: Index | None = None  # noqa: N815
    byteOffset: Index = 0  # noqa: N815
    componentType: int  # noqa: N815
    normalized: bool = False
    count: Index
    type: str
    sparse: _Sparse | None = None


class _Primitive(_Part):
    attributes: dict[str, Index]
    indices: Index | None = None
    material: Index | None = None
    mode: int = TRIANGLES
    targets: list[object] = []


class _Mesh(_Part):
    name: str = ""
    primitives: list[_Primitive]


class _Metallic(_Part):
    baseColorFactor: tuple[float, float, float, float] = (1, 1, 1, 1)  # noqa: N815


class _Material(_Part):
    pbrMetallicRoughness: _Metallic = _Metallic()  # noqa: N815


class _Node(_Part):
    name: str = ""
    children: list[Index] = []
    matrix: Annotated[tuple[float, ...], Field(min_length=16, max_length=16)] | None = None
    translation: tuple[float, float, float] = (0, 0, 0)
    rotation: tuple[float, float, float, float] = (0, 0, 0, 1)
    scale: tuple[float, float, float] = (1, 1, 1)
    mesh: Index | None = None
    skin: Index | None = None
    camera: Index | None = None
    extras: object = None


class _Scene(_Part):
    nodes: list[Index] = []


class _Document(_Part):
    asset: _Asset
    extensionsRequired: list[str] = []  # noqa: N815
    scene: Index | None = None
    scenes: list[_Scene] = []
    nodes: list[_Node] = []
    meshes: list[_Mesh] = []
    materials: list[_Material] = []
    accessors: list[_Accessor] = []
    bufferViews: list[_View] = []  # noqa: N815
    buffers: list[_Buffer] = []
    animations: list[object] = []


_DOCUMENT: Final = TypeAdapter(_Document)


def is_gltf(content: bytes) -> bool:
    """Tell whether it is a file of this kind: binary, or JSON with an `asset`, which none of ours has."""
    return is_binary(content) or (content.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{" and _has_asset(content))


def is_binary(content: bytes) -> bool:
    """Tell whether it begins as a binary file does."""
    return content.startswith(MAGIC)


def _has_asset(content: bytes) -> bool:
    if b'"asset"' not in content:  # thousands of our own files are asked too
        return False
    try:
        document = json.loads(content)
    except (ValueError, RecursionError):
        return False
    return isinstance(document.get("asset"), dict)


def read(content: bytes) -> Imported:
    """Read a scene; raise UnreadableError where that cannot be done."""
    text, binary = _parts(content) if is_binary(content) else (content, None)
    try:
        document = _DOCUMENT.validate_json(text)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = place_of(first["loc"], json.loads(text)) if first["loc"] else ""
        raise UnreadableError(
            f"at {place}: {sentence_of(first['msg'])}" if place else sentence_of(first["msg"])
        ) from None
    return _Reader(document, binary).scene()


def _parts(content: bytes) -> tuple[bytes, bytes | None]:
    """Return the JSON and the binary part of a binary file."""
    if len(content) < 12 or struct.unpack_from("<I", content, 4)[0] != 2:
        raise UnreadableError("it is binary glTF of another version than 2; export it again as glTF 2.0.")
    chunks: dict[int, bytes] = {}
    place = 12
    while place + 8 <= len(content):
        length, kind = struct.unpack_from("<II", content, place)
        if place + 8 + length > len(content):
            raise UnreadableError("it is incomplete; copy the whole file.")
        chunks.setdefault(kind, content[place + 8 : place + 8 + length])
        place += 8 + length
    if JSON_CHUNK not in chunks:
        raise UnreadableError("it has no JSON part; export the file again.")
    return chunks[JSON_CHUNK], chunks.get(BINARY_CHUNK)


class _Reader:
    def __init__(self, document: _Document, binary: bytes | None) -> None:
        self.document = document
        self.binary = binary
        self.found = Gathering()
        self.buffers: dict[int, bytes] = {}
        self.points: dict[int, Array] = {}

    def scene(self) -> Imported:
        if not self.document.asset.version.startswith("2."):
            raise UnreadableError(f"it is glTF {self.document.asset.version[:20]}; export it again as glTF 2.0.")
        for name in self.document.extensionsRequired:
            if name not in KNOWN:
                raise UnreadableError(f"it needs the extension {name[:60]}; export it again with compression off.")
        if self.document.animations:
            self.found.note("Animation is not imported; objects have their rest positions.")
        seen: set[int] = set()
        todo: list[tuple[int, str | None]] = [(root, None) for root in reversed(self._roots())]
        while todo:
            number, parent = todo.pop()
            node = self._item(self.document.nodes, number, "nodes")
            if number in seen:
                raise UnreadableError(f"its node {number} is in two others, or in itself; export the file again.")
            seen.add(number)
            own = self._add(node, number, parent)
            todo += [(child, own) for child in reversed(node.children)]
        return self.found.done(up=OWN.up, handedness=OWN.handedness, length=OWN.length)

    def _roots(self) -> Sequence[int]:
        if self.document.scenes:
            if len(self.document.scenes) > 1:
                self.found.note("The file has several scenes; its default scene was imported.")
            shown: _Scene = self._item(self.document.scenes, self.document.scene or 0, "scenes")
            return shown.nodes
        inner = {child for node in self.document.nodes for child in node.children}
        return [number for number in range(len(self.document.nodes)) if number not in inner]

    def _add(self, node: _Node, number: int, parent: str | None) -> str:
        name = node.name or (
            self._item(self.document.meshes, node.mesh, "meshes").name if node.mesh is not None else ""
        )
        name = name or f"node {number}"
        if node.camera is not None:
            self.found.left_out("cameras", name)
        if node.skin is not None:
            self.found.note("Bones are not imported; meshes have their rest shape.")
        surface, look = self._surface(node.mesh, name) if node.mesh is not None else (None, {})
        own = own_of(node.extras.get(KEY) if isinstance(node.extras, dict) else None)
        shape = shape_of(own, surface, OWN.up_index, name, self.found)
        return self.found.add(name, parent, _place(node, name), shape, **{**look, **own.facts})

    def _surface(self, number: int, name: str) -> tuple[Surface | None, dict[str, object]]:
        mesh = self._item(self.document.meshes, number, "meshes")
        parts = [part for one in mesh.primitives if (part := self._primitive(one, name)) is not None]
        if any(one.targets for one in mesh.primitives):
            self.found.note("Morph targets are not imported; meshes have their rest shape.")
        materials = {one.material for one in mesh.primitives if one.material is not None}
        if len(materials) > 1:
            self.found.note(f"{name} has several colours; the first is used.")
        look: dict[str, object] = {}
        if materials:
            first = next(one.material for one in mesh.primitives if one.material is not None)
            *colour, opacity = self._item(
                self.document.materials, first, "materials"
            ).pbrMetallicRoughness.baseColorFactor
            look = {"colour": hex_of(np.array(colour)), "opacity": min(max(opacity, 0.0), 1.0)}
        return (Surface.joined(parts) if parts else None), look

    def _primitive(self, primitive: _Primitive, name: str) -> Surface | None:
        if primitive.mode in POINTS | LINES:
            self.found.left_out("points and lines", name)
            return None
        if primitive.mode not in (TRIANGLES, STRIP, FAN) or "POSITION" not in primitive.attributes:
            raise UnreadableError(f"{name} has a mesh of an unknown kind; export it as triangles.")
        number = primitive.attributes["POSITION"]
        if number not in self.points:
            self.points[number] = as_float64(self._values(number, "VEC3", MOST_VERTICES, "vertices"))
        points = self.points[number]
        if primitive.indices is None:
            order: Indices = np.arange(len(points), dtype=np.intp)
        else:
            order = self._values(primitive.indices, "SCALAR", 3 * MOST_TRIANGLES, "corners").astype(np.intp).ravel()
        return Surface(points, _triangles(order, primitive.mode))

    def _values(self, number: int, kind: str, most: int, what: str) -> NDArray[np.generic]:
        """Return the values (count, width) of an accessor, those of normalised integers as shares."""
        accessor = self._item(self.document.accessors, number, "accessors")
        if accessor.type != kind or accessor.componentType not in COMPONENTS:
            raise UnreadableError(f"its accessor {number} is not of kind {kind}; export the file again.")
        if accessor.count > most:
            raise too_many(what, most)
        width, dtype = WIDTHS[kind], np.dtype(COMPONENTS[accessor.componentType])
        if accessor.bufferView is None:
            values: NDArray[Any] = np.zeros((accessor.count, width), dtype)
        else:
            values = self._strided(accessor.bufferView, accessor.byteOffset, accessor.count, width, dtype)
        if accessor.sparse is not None:
            values = self._with_sparse(values, accessor.sparse, dtype)
        if accessor.normalized and dtype.kind in "iu":
            values = np.maximum(values / np.iinfo(dtype).max, -1.0)
        return values

    def _strided(
        self, view_number: int, offset: int, count: int, width: int, dtype: np.dtype[np.generic]
    ) -> NDArray[np.generic]:
        view = self._item(self.document.bufferViews, view_number, "bufferViews")
        data = self._buffer(view.buffer)
        item = width * dtype.itemsize
        stride = view.byteStride or item
        needed = offset + (count - 1) * stride + item if count else 0
        if view.byteOffset + view.byteLength > len(data) or needed > view.byteLength or stride < item:
            raise UnreadableError(f"its bufferView {view_number} is shorter than what it should hold; export it again.")
        start = view.byteOffset + offset
        return (
            np.ndarray((count, width), dtype, data, start, (stride, dtype.itemsize))
            if count
            else np.zeros((0, width), dtype)
        )

    def _with_sparse(
        self, values: NDArray[np.generic], sparse: _Sparse, dtype: np.dtype[np.generic]
    ) -> NDArray[np.generic]:
        if sparse.indices.componentType not in (5121, 5123, 5125) or sparse.count > len(values):
            raise UnreadableError("its sparse accessor is broken; export the file again.")
        index_type = np.dtype(COMPONENTS[sparse.indices.componentType])
        at = self._strided(sparse.indices.bufferView, sparse.indices.byteOffset, sparse.count, 1, index_type).ravel()
        new = self._strided(sparse.values.bufferView, sparse.values.byteOffset, sparse.count, values.shape[1], dtype)
        if sparse.count and int(at.max()) >= len(values):
            raise UnreadableError("its sparse accessor names a value that is not there; export the file again.")
        changed = values.copy()
        changed[at] = new
        return changed

    def _buffer(self, number: int) -> bytes:
        if number not in self.buffers:
            buffer = self._item(self.document.buffers, number, "buffers")
            self.buffers[number] = _decoded(buffer, number, self.binary)
        return self.buffers[number]

    @staticmethod
    def _item(items: Sequence[Any], number: int, what: str) -> Any:
        if number >= len(items):
            raise UnreadableError(f"it names {what}[{number}], which is not there; export the file again.")
        return items[number]


def _decoded(buffer: _Buffer, number: int, binary: bytes | None) -> bytes:
    """Return the bytes of a buffer, at least as many as it announces."""
    data = binary if buffer.uri is None and number == 0 else None
    if buffer.uri is not None:
        head, comma, body = buffer.uri.partition(",")
        if not (head.startswith("data:") and head.endswith(";base64") and comma):
            raise UnreadableError("its data lies in another file; export it as one file (.glb, or with data embedded).")
        try:
            data = base64.b64decode(body, validate=True)
        except binascii.Error:
            raise UnreadableError("its embedded data is broken; export the file again.") from None
    if data is None or len(data) < buffer.byteLength:
        raise UnreadableError("data that it names is not in it; export it as one file (.glb, or with data embedded).")
    return data


def _triangles(order: Indices, mode: int) -> Indices:
    """Return (m, 3) corners of triangles, of a strip or of a fan."""
    if mode == TRIANGLES:
        return order[: len(order) // 3 * 3].reshape(-1, 3)
    if len(order) < 3:
        return np.zeros((0, 3), np.intp)
    if mode == FAN:
        return np.column_stack((np.full(len(order) - 2, order[0]), order[1:-1], order[2:]))
    corners = np.column_stack((order[:-2], order[1:-1], order[2:]))
    corners[1::2] = corners[1::2][:, [1, 0, 2]]  # every other one of a strip runs the other way round
    return corners


def _place(node: _Node, name: str) -> Array:
    if node.matrix is not None:
        return np.array(node.matrix, dtype=np.float64).reshape(4, 4, order="F")
    try:
        rotation = rotation_from_quaternion(np.array(node.rotation, dtype=np.float64), name)
    except CoreError as error:
        raise UnreadableError(error.text[:1].lower() + error.text[1:]) from None
    return parent_from_parts(
        np.array(node.translation, dtype=np.float64), rotation, np.array(node.scale, dtype=np.float64)
    )


# Writing


def write(scene: Scene, binary: bool = True) -> bytes:
    """Return a scene as one file, in the format's own axes and metres; what the format cannot hold stands in extras."""
    return _Writer(scene).file(binary)


class _Writer:
    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        self.change = ConventionTransform(scene.conventions, OWN)
        self.data = bytearray()
        self.accessors: list[dict[str, object]] = []
        self.views: list[dict[str, object]] = []
        self.meshes: list[dict[str, object]] = []
        self.materials: list[dict[str, object]] = []
        self.looks: dict[tuple[str, float], int] = {}

    def file(self, binary: bool) -> bytes:
        items = list(self.scene.objects.values())
        numbers = {item.id: number for number, item in enumerate(items)}
        nodes = [self._node(item) for item in items]
        for item, node in zip(items, nodes, strict=True):
            if children := [numbers[child] for child in self.scene.children(item.id)]:
                node["children"] = children
        document: dict[str, object] = {
            "asset": {"version": "2.0", "generator": "Cube Drill"},
            "scene": 0,
            "scenes": [{"nodes": [numbers[item.id] for item in items if item.parent is None]}],
            "nodes": nodes,
        }
        lists = {
            "meshes": self.meshes,
            "materials": self.materials,
            "accessors": self.accessors,
            "bufferViews": self.views,
        }
        document |= {name: value for name, value in lists.items() if value}
        if self.data:
            document["buffers"] = [{"byteLength": len(self.data)}]
        return _binary(document, bytes(self.data)) if binary else _embedded(document, bytes(self.data))

    def _node(self, item: SceneObject) -> dict[str, object]:
        node: dict[str, object] = {"name": item.name, **_written_place(self.change.matrix(item.parent_from_local))}
        if item.solid is not None:
            node["mesh"] = self._mesh(item, item.solid.converted(self.change))
        return {**node, "extras": {KEY: written_of(item, self.change)}}

    def _mesh(self, item: SceneObject, solid: Solid) -> int:
        points, corners = solid.triangulated(OWN.up_index)
        short = points.astype("<f4")
        ends = {"min": short.min(axis=0).tolist(), "max": short.max(axis=0).tolist()}
        position = self._accessor(short.tobytes(), 5126, len(short), "VEC3", 34962, **ends)
        order = np.asarray(corners, dtype="<u4").ravel()
        primitive = {
            "attributes": {"POSITION": position},
            "indices": self._accessor(order.tobytes(), 5125, len(order), "SCALAR", 34963),
            "material": self._material(item.colour, item.opacity),
        }
        self.meshes.append({"name": item.name, "primitives": [primitive]})
        return len(self.meshes) - 1

    def _accessor(self, data: bytes, component: int, count: int, kind: str, use: int, **more: object) -> int:
        self.views.append({"buffer": 0, "byteOffset": len(self.data), "byteLength": len(data), "target": use})
        self.data += data
        self.accessors.append(
            {"bufferView": len(self.views) - 1, "componentType": component, "count": count, "type": kind, **more}
        )
        return len(self.accessors) - 1

    def _material(self, colour: str, opacity: float) -> int:
        look = (colour, opacity)
        if look not in self.looks:
            material: dict[str, object] = {
                "pbrMetallicRoughness": {
                    "baseColorFactor": [*linear_of(colour).tolist(), opacity],
                    "metallicFactor": 0.0,
                }
            }
            if opacity < 1:
                material["alphaMode"] = "BLEND"
            self.looks[look] = len(self.materials)
            self.materials.append(material)
        return self.looks[look]


def _written_place(matrix: Array) -> dict[str, object]:
    """A node's place: nothing where it is none, its parts where they are the same to the last digit, else a matrix."""
    if np.array_equal(matrix, np.eye(4)):
        return {}
    if np.array_equal(matrix[:3, :3], np.eye(3)):
        return {"translation": matrix[:3, 3].tolist()}
    if not is_skewed(matrix):
        parts = parts_of(matrix)
        if np.array_equal(np.diag(parts.scale), matrix[:3, :3]):
            return {"translation": matrix[:3, 3].tolist(), "scale": parts.scale.tolist()}
    return {"matrix": matrix.ravel(order="F").tolist()}


def _embedded(document: dict[str, Any], data: bytes) -> bytes:
    if data:
        document["buffers"][0]["uri"] = "data:application/octet-stream;base64," + base64.b64encode(data).decode()
    return json.dumps(document, ensure_ascii=False, indent=1).encode()


def _binary(document: dict[str, object], data: bytes) -> bytes:
    text = json.dumps(document, ensure_ascii=False, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    data += b"\0" * (-len(data) % 4)
    chunks = struct.pack("<II", len(text), JSON_CHUNK) + text
    if data:
        chunks += struct.pack("<II", len(data), BINARY_CHUNK) + data
    return MAGIC + struct.pack("<II", 2, 12 + len(chunks)) + chunks
