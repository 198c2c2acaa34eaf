"""Collada 1.4 and 1.5: a tree of nodes, their transforms in the order of the document, meshes and their instances.

Source: COLLADA 1.5.0 specification (Khronos, 2008), chapters 5 (core elements) and 8 (physics left out). The parser
of the standard library builds the tree; a document type, on which every known attack of entities hangs, is refused.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from typing import Any, Final
from xml.etree.ElementTree import Element, ParseError, TreeBuilder, XMLParser
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import affine, turn
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.values import Array, Indices
from cubedrill.formats.colours import as_hex, shown_of
from cubedrill.formats.imported import Gathering, Imported, Surface, fan
from cubedrill.formats.limits import MOST_DEPTH, MOST_TRIANGLES, MOST_VERTICES, UnreadableError, too_many
from cubedrill.formats.own import KEY, json_of, own_of, shape_of
from cubedrill.formats.units import METRES, unit_of

MOST_ELEMENTS: Final = 200_000
AXES: Final = {"Y_UP": "y", "Z_UP": "z"}
POLYGONS: Final = {"triangles", "polylist", "polygons", "tristrips", "trifans"}
LEFT_OUT: Final = {"instance_camera": "cameras", "instance_light": "lights"}
SPACE: Final = "http://www.collada.org/2005/11/COLLADASchema"


def is_collada(content: bytes) -> bool:
    """Tell whether its outermost element is that of this format."""
    return re.search(rb"<COLLADA[\s>]", content[:4096]) is not None


class _Builder(TreeBuilder):
    """Builds the tree without the names' space, and counts what it is given."""

    def __init__(self) -> None:
        super().__init__()
        self.depth = self.elements = 0

    def start(self, tag: object, attrs: dict[object, Any]) -> Element:
        self.depth += 1
        self.elements += 1
        if self.depth > 2 * MOST_DEPTH or self.elements > MOST_ELEMENTS:
            raise UnreadableError("it has too many elements, or they are nested too deep; submit less in one file.")
        return super().start(str(tag).rpartition("}")[2], attrs)

    def end(self, tag: object) -> Element:
        self.depth -= 1
        return super().end(str(tag).rpartition("}")[2])

    def doctype(self, *_said: object) -> None:
        raise UnreadableError("it has a document type declaration, which is not allowed; export the file again.")


def read(content: bytes) -> Imported:
    """Read a scene; raise UnreadableError where that cannot be done."""
    if re.search(rb"<!(DOCTYPE|ENTITY)", content, re.IGNORECASE):
        raise UnreadableError("it has a document type declaration, which is not allowed; export the file again.")
    parser = XMLParser(target=_Builder())  # noqa: S314 - without a document type there is nothing to expand
    try:
        parser.feed(content)
        root: Element = parser.close()
    except (ParseError, ValueError, LookupError) as error:
        raise UnreadableError(f"its XML is broken ({str(error)[:80]}); export the file again.") from None
    return _Reader(root).scene()


class _Reader:
    def __init__(self, root: Element) -> None:
        self.root = root
        self.by_id = {item.attrib["id"]: item for item in root.iter() if item.attrib.get("id")}
        self.found = Gathering()
        self.up = 1
        self.surfaces: dict[str, tuple[Surface | None, list[str]]] = {}

    def scene(self) -> Imported:
        said, scale = self._asset()
        instance = self.root.find("scene/instance_visual_scene")
        shown = self.root.find("library_visual_scenes/visual_scene") if instance is None else self._named(instance)
        if shown is None:
            raise UnreadableError("it has no scene; export the file again.")
        if self.root.find("library_animations/animation") is not None:
            self.found.note("Animation is not imported; objects have their rest positions.")
        self.up = 1 if said["up"] == "y" else 2
        for node in shown.findall("node"):
            self._node(node, None, affine(scale * np.eye(3), np.zeros(3)), ())
        return self.found.done(**said)

    def _asset(self) -> tuple[dict[str, str], float]:
        """Return the stated axes and unit, and the factor for its numbers."""
        asset = self.root.find("asset")
        axis = "" if asset is None else (asset.findtext("up_axis") or "").strip()
        if axis == "X_UP":
            raise UnreadableError("its X axis points up; export it again with Y or Z up.")
        unit = None if asset is None else asset.find("unit")
        said: dict[str, str] = {"up": AXES.get(axis, "y"), "handedness": "right"}
        metres = 1.0 if unit is None else _numbers(unit.attrib.get("meter", "1"), "its unit")[0]
        said["length"], scale = unit_of(metres, self.found)
        return said, scale

    def _node(self, node: Element, parent: str | None, before: Array, within: tuple[str, ...]) -> None:
        """Add a node with all that is in it; within: ids of the nodes whose instances this is in."""
        name = node.attrib.get("name") or node.attrib.get("id") or "node"
        for tag, kind in LEFT_OUT.items():
            if node.find(tag) is not None:
                self.found.left_out(kind, name)
        own = own_of(_said_by_us(node))
        meshes = [*node.findall("instance_geometry"), *node.findall("instance_controller")]
        shape, look = self._shape(meshes[0], name) if meshes else (None, {})
        known = shape_of(own, shape, self.up, name, self.found)
        object_id = self.found.add(name, parent, before @ _place(node, name), known, **{**look, **own.facts})
        for more in meshes[1:]:
            shape, look = self._shape(more, name)
            self.found.add(name, object_id, np.eye(4), shape, **look)
        for inner in node.findall("node"):
            self._node(inner, object_id, np.eye(4), within)
        for instance in node.findall("instance_node"):
            self._instance(instance, object_id, within)

    def _instance(self, instance: Element, parent: str, within: tuple[str, ...]) -> None:
        url = instance.attrib.get("url", "")
        if url in within or len(within) > MOST_DEPTH:
            raise UnreadableError("a node is an instance of itself; export the file again.")
        self.found.note("Instances became separate objects.")
        self._node(self._named(instance), parent, np.eye(4), (*within, url))

    def _named(self, reference: Element | str) -> Element:
        """Return the element that a reference within the file names."""
        url = reference if isinstance(reference, str) else reference.attrib.get("url", "")
        if not url.startswith("#"):
            raise UnreadableError("it refers to another file, which is not read; export it as one file.")
        found = self.by_id.get(url[1:])
        if found is None:
            raise UnreadableError(f"it names {url[:60]}, which is not in it; export the file again.")
        return found

    def _shape(self, instance: Element, name: str) -> tuple[Surface | None, dict[str, object]]:
        geometry = self._named(instance)
        if geometry.tag == "controller":
            self.found.note("Bones are not imported; meshes have their rest shape.")
            skin = geometry.find("skin")
            if skin is None:
                self.found.left_out("morphing shapes", name)
                return None, {}
            geometry = self._named(skin.attrib.get("source", ""))
        key = geometry.attrib.get("id", "")
        if key not in self.surfaces:
            self.surfaces[key] = self._surface(geometry, name)
        surface, materials = self.surfaces[key]
        if len(materials) > 1:
            self.found.note(f"{name[:60]} has several colours; the first is used.")
        return surface, self._look(instance, materials[0]) if materials else {}

    def _surface(self, geometry: Element, name: str) -> tuple[Surface | None, list[str]]:
        """Return the surface of a geometry, and the names of its materials."""
        mesh = geometry.find("mesh")
        if mesh is None:
            self.found.left_out("curves and other shapes that are not meshes", name)
            return None, []
        parts: list[Indices] = []
        points: Array | None = None
        materials: list[str] = []
        for group in mesh:
            if group.tag in ("lines", "linestrips"):
                self.found.left_out("points and lines", name)
            if group.tag not in POLYGONS:
                continue
            points = self._points(group) if points is None else points
            parts.append(_triangles(group))
            if sum(map(len, parts)) > MOST_TRIANGLES:
                raise too_many("triangles", MOST_TRIANGLES)
            if (material := group.attrib.get("material")) and material not in materials:
                materials.append(material)
        if points is None:
            return None, []
        return Surface(points, np.concatenate(parts)), materials

    def _points(self, group: Element) -> Array:
        vertices = next((one for one in group.findall("input") if one.attrib.get("semantic") == "VERTEX"), None)
        if vertices is None:
            raise UnreadableError("a mesh has no vertices; export the file again.")
        inputs = self._named(vertices.attrib.get("source", "")).findall("input")
        position = next((one for one in inputs if one.attrib.get("semantic") == "POSITION"), None)
        if position is None:
            raise UnreadableError("a mesh has no vertices; export the file again.")
        source = self._named(position.attrib.get("source", ""))
        accessor = source.find("technique_common/accessor")
        stride = 3 if accessor is None else _whole(accessor.attrib.get("stride", "1"))
        offset = 0 if accessor is None else _whole(accessor.attrib.get("offset", "0"))
        numbers = _numbers(source.findtext("float_array") or "", "its vertices")[offset:]
        if stride < 3:
            raise UnreadableError("its vertices have fewer than three numbers each; export the file again.")
        whole = len(numbers) // stride
        if whole > MOST_VERTICES:
            raise too_many("vertices", MOST_VERTICES)
        return np.array(numbers[: whole * stride], dtype=np.float64).reshape(-1, stride)[:, :3]

    def _look(self, instance: Element, symbol: str) -> dict[str, object]:
        """Colour and opacity of the material that a symbol stands for; nothing where it is not plain."""
        for bound in instance.iter("instance_material"):
            if bound.attrib.get("symbol") != symbol:
                continue
            effect = self._named(bound.attrib.get("target", "")).find("instance_effect")
            written = None if effect is None else self._named(effect).find(".//diffuse/color")
            if written is None:
                return {}
            red, green, blue, *rest = (*_numbers(written.text or "", "a colour"), 1.0, 1.0, 1.0)[:4]
            return {"colour": as_hex(np.array((red, green, blue))), "opacity": min(max(rest[0], 0.0), 1.0)}
        return {}


def _said_by_us(node: Element) -> str | None:
    for technique in node.findall("extra/technique"):
        if technique.attrib.get("profile") == KEY:
            return technique.findtext("object")
    return None


def _place(node: Element, name: str) -> Array:
    """Return the node's transforms, multiplied in the order in which they stand, (4, 4)."""
    place = np.eye(4)
    for part in node:
        if part.tag == "skew":
            raise UnreadableError(f"{name[:60]} has a skew; export it again with transforms as matrices.")
        if part.tag in TRANSFORMS:
            count, made = TRANSFORMS[part.tag]
            numbers = _numbers(part.text or "", f"the place of {name[:60]}")
            if len(numbers) != count:
                raise UnreadableError(f"a {part.tag} of {name[:60]} has not {count} numbers; export the file again.")
            place = place @ made(np.array(numbers))
    return place


def _rotate(numbers: Array) -> Array:
    length = float(np.linalg.norm(numbers[:3]))
    if length < 1e-12:
        return np.eye(4)
    return affine(turn(numbers[:3] / length, math.radians(numbers[3])), np.zeros(3))


def _look_at(numbers: Array) -> Array:
    """Return the matrix of a *lookat*: eye, interest and up; the own −Z points at the interest."""
    eye, interest, up = numbers.reshape(3, 3)
    back = eye - interest
    right = np.cross(up, back)
    lengths = np.linalg.norm(back), np.linalg.norm(right)
    if min(lengths) < 1e-12:
        raise UnreadableError("a lookat looks nowhere; export it again with transforms as matrices.")
    back, right = back / lengths[0], right / lengths[1]
    return affine(np.column_stack((right, np.cross(back, right), back)), eye)


TRANSFORMS: Final[dict[str, tuple[int, Callable[[Array], Array]]]] = {
    "matrix": (16, lambda numbers: numbers.reshape(4, 4)),
    "translate": (3, lambda numbers: affine(np.eye(3), numbers)),
    "rotate": (4, _rotate),
    "scale": (3, lambda numbers: affine(np.diag(numbers), np.zeros(3))),
    "lookat": (9, _look_at),
}


def _triangles(group: Element) -> Indices:
    """Return (m, 3) corners of a group of polygons, as places in its list of vertices."""
    inputs = group.findall("input")
    offsets = {one.attrib.get("semantic"): _whole(one.attrib.get("offset", "0")) for one in inputs}
    stride, offset = max(offsets.values(), default=0) + 1, offsets.get("VERTEX", 0)
    lists = [_indices(part.text or "")[offset::stride] for part in group.iter("p")]
    match group.tag:
        case "triangles":
            corners = [(run[at], run[at + 1], run[at + 2]) for run in lists for at in range(0, len(run) - 2, 3)]
        case "polylist":
            corners = _of_counts(lists[0] if lists else [], _indices(group.findtext("vcount") or ""))
        case "tristrips":
            corners = [
                (run[at + at % 2], run[at + 1 - at % 2], run[at + 2]) for run in lists for at in range(len(run) - 2)
            ]
        case _:  # polygons and fans
            corners = [triangle for run in lists if len(run) > 2 for triangle in fan(run)]
    return np.array(corners, dtype=np.intp).reshape(-1, 3)


def _of_counts(run: list[int], counts: list[int]) -> list[tuple[int, int, int]]:
    if sum(counts) != len(run):
        raise UnreadableError("the corners of its polygons are not as many as it announces; export the file again.")
    corners: list[tuple[int, int, int]] = []
    at = 0
    for count in counts:
        if count > 2:
            corners += fan(run[at : at + count])
        at += count
    return corners


def _indices(text: str) -> list[int]:
    return [_whole(word) for word in text.split()]


def _whole(word: str) -> int:
    if not word.strip().isdecimal() or len(word) > 12:
        raise UnreadableError("it has a word in place of a whole number; export the file again.")
    return int(word)


def _numbers(text: str, what: str) -> list[float]:
    try:
        return [float(word) for word in text.split()] or [math.nan]
    except ValueError:
        raise UnreadableError(f"{what} has a word in place of a number; export the file again.") from None


# Writing


def write(scene: Scene) -> bytes:
    """Return a scene as Collada 1.4.1, which is right-handed, with Y or Z up, in any unit."""
    conventions = scene.conventions.model_copy(update={"handedness": "right"})
    change = ConventionTransform(scene.conventions, conventions)
    items = [item for item in scene.objects.values() if item.solid is not None]
    numbers = {item.id: number for number, item in enumerate(scene.objects.values())}
    looks = list(dict.fromkeys((item.colour, item.opacity) for item in items))
    roots = (item for item in scene.objects.values() if item.parent is None)
    return "\n".join(
        [
            '<?xml version="1.0" encoding="utf-8"?>',
            f'<COLLADA xmlns="{SPACE}" version="1.4.1">',
            "<asset><created>2000-01-01T00:00:00Z</created><modified>2000-01-01T00:00:00Z</modified>",
            f'<unit name={quoteattr(conventions.length)} meter="{METRES[conventions.length]!r}"/>',
            f"<up_axis>{conventions.up.upper()}_UP</up_axis></asset>",
            *_library("effects", [_effect(number, *look) for number, look in enumerate(looks)]),
            *_library("materials", [_material(number) for number in range(len(looks))]),
            *_library("geometries", [_geometry(item, numbers[item.id], change) for item in items]),
            '<library_visual_scenes><visual_scene id="scene">',
            *(line for root in roots for line in _written_node(scene, root, change, numbers, looks)),
            "</visual_scene></library_visual_scenes>",
            '<scene><instance_visual_scene url="#scene"/></scene>',
            "</COLLADA>\n",
        ]
    ).encode()


def _library(name: str, items: list[str]) -> list[str]:
    return [f"<library_{name}>", *items, f"</library_{name}>"] if items else []


def _effect(number: int, colour: str, opacity: float) -> str:
    shown = " ".join(repr(each) for each in (*shown_of(colour).tolist(), opacity))
    return (
        f'<effect id="effect-{number}"><profile_COMMON><technique sid="common"><lambert><diffuse>'
        f"<color>{shown}</color></diffuse></lambert></technique></profile_COMMON></effect>"
    )


def _material(number: int) -> str:
    return f'<material id="material-{number}"><instance_effect url="#effect-{number}"/></material>'


def _geometry(item: SceneObject, number: int, change: ConventionTransform) -> str:
    assert item.solid is not None  # noqa: S101 - only such are asked for
    points, corners = item.solid.converted(change).triangulated(change.target.up_index)
    own = f"mesh-{number}"
    return (
        f'<geometry id="{own}" name={quoteattr(item.name)}><mesh><source id="{own}-p">'
        f'<float_array id="{own}-a" count="{points.size}">{" ".join(map(repr, points.ravel().tolist()))}</float_array>'
        f'<technique_common><accessor source="#{own}-a" count="{len(points)}" stride="3">'
        '<param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/>'
        f'</accessor></technique_common></source><vertices id="{own}-v"><input semantic="POSITION" source="#{own}-p"/>'
        f'</vertices><triangles count="{len(corners)}" material="look"><input semantic="VERTEX" source="#{own}-v" '
        f'offset="0"/><p>{" ".join(map(str, np.ravel(corners).tolist()))}</p></triangles></mesh></geometry>'
    )


def _written_node(
    scene: Scene,
    item: SceneObject,
    change: ConventionTransform,
    numbers: dict[str, int],
    looks: list[tuple[str, float]],
) -> Iterator[str]:
    matrix = change.matrix(item.parent_from_local).ravel().tolist()
    yield f'<node id="node-{numbers[item.id]}" name={quoteattr(item.name)} type="NODE">'
    yield f"<matrix>{' '.join(map(repr, matrix))}</matrix>"
    if item.solid is not None:
        look = looks.index((item.colour, item.opacity))
        yield (
            f'<instance_geometry url="#mesh-{numbers[item.id]}"><bind_material><technique_common>'
            f'<instance_material symbol="look" target="#material-{look}"/></technique_common></bind_material>'
            "</instance_geometry>"
        )
    for child in scene.children(item.id):
        yield from _written_node(scene, scene[child], change, numbers, looks)
    own = escape(json_of(item, change))
    yield f'<extra><technique profile="{KEY}"><object>{own}</object></technique></extra></node>'
