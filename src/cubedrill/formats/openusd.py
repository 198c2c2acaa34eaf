"""OpenUSD: text, binary and package, through its own library, in a process that may be killed.

Source: the OpenUSD documentation of UsdGeom (xformOps, gprims, stage metrics) and of Sdf (layers). The library is
imported when a file is read or written, and nowhere else: damaged binary files make it abort now and then.
"""

from __future__ import annotations

import re
import tempfile
from pathlib import Path
from typing import Any, Final

import numpy as np

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.solids import Cone, Cuboid, Cylinder, Solid, Sphere
from cubedrill.core.geometry.surface import DEFAULT_SIDES, lathe
from cubedrill.core.geometry.transform import affine
from cubedrill.core.judging.matching import folded
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.values import Array
from cubedrill.formats.colours import hex_of, linear_of
from cubedrill.formats.imported import Gathering, Imported, Surface, fan
from cubedrill.formats.limits import MOST_TRIANGLES, MOST_VERTICES, UnreadableError, too_many
from cubedrill.formats.own import KEY, json_of, own_of, shape_of
from cubedrill.formats.units import METRES, unit_of

BINARY: Final = b"PXR-USDC"
PACKAGE: Final = b"PK\x03\x04"
TEXT: Final = b"#usda"
WHOLE: Final = "scene"  # what a file of ours says of the prim that all others are in
SHAPE: Final = "shape"  # and of one that is the shape of the one it is in: none with a shape may hold others
ELSEWHERE: Final = "it refers to other files, which are not read; export it flattened, as one file."


def is_usd(content: bytes) -> bool:
    """Tell whether it begins as text, binary or package of this kind does."""
    return content.startswith((BINARY, TEXT)) or (content.startswith(PACKAGE) and b".usd" in content[:256])


def read(content: bytes) -> Imported:
    """Read a scene; raise UnreadableError where that cannot be done."""
    from pxr import Sdf, Tf, Usd  # noqa: PLC0415 - see above

    end = ".usdz" if content.startswith(PACKAGE) else ".usdc" if content.startswith(BINARY) else ".usda"
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / f"scene{end}"
        path.write_bytes(content)
        try:
            layer = Sdf.Layer.FindOrOpen(str(path))
            if layer is None:
                raise UnreadableError("its content is broken; export the file again.")
            if any(layer.GetCompositionAssetDependencies()):
                raise UnreadableError(ELSEWHERE)
            stage = Usd.Stage.Open(layer)
            return _Reader(stage).scene()
        except Tf.ErrorException:
            raise UnreadableError("its content is broken; export the file again.") from None


class _Reader:
    def __init__(self, stage: Any) -> None:
        from pxr import Usd, UsdGeom  # noqa: PLC0415

        self.stage = stage
        self.geom = UsdGeom
        self.found = Gathering()
        self.time = Usd.TimeCode.EarliestTime()
        self.up = 1 if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.y else 2
        self.ids: dict[object, str | None] = {}
        self.shapes: set[object] = set()  # paths of prims that are read as the shape of the one they are in
        self.scale = 1.0

    def scene(self) -> Imported:
        from pxr import Usd  # noqa: PLC0415

        said = self._metrics()
        if any(prim.HasAuthoredMetadata("clips") for prim in self.stage.TraverseAll()):
            raise UnreadableError(ELSEWHERE)
        self.ids[self.stage.GetPseudoRoot().GetPath()] = None
        for prim in self.stage.Traverse(Usd.TraverseInstanceProxies()):
            self._take(prim)
        return self.found.done(**said)

    def _metrics(self) -> dict[str, str]:
        """Return the stated axes and unit; a unit that is not stated is asked for, despite the standard's default."""
        said: dict[str, str] = {"handedness": "right"}
        if self.stage.HasAuthoredMetadata("upAxis"):
            said["up"] = "y" if self.up == 1 else "z"
        if self.geom.StageHasAuthoredMetersPerUnit(self.stage):
            said["length"], self.scale = unit_of(float(self.geom.GetStageMetersPerUnit(self.stage)), self.found)
        return said

    def _take(self, prim: Any) -> None:
        path, name = prim.GetPath(), prim.GetDisplayName() or prim.GetName()
        parent = self.ids.get(path.GetParentPath())
        if prim.IsInstanceProxy():
            self.found.note("Instances became separate objects.")
        if path in self.shapes or not self.geom.Xformable(prim) or prim.GetCustomDataByKey(KEY) == WHOLE:
            self.ids[path] = parent  # what only groups, without a place
            return
        if prim.GetTypeName() == "Camera" or prim.GetTypeName().endswith("Light"):
            self.found.left_out("cameras" if prim.GetTypeName() == "Camera" else "lights", name)
        if self.geom.Imageable(prim).ComputeVisibility(self.time) == self.geom.Tokens.invisible:
            self.found.left_out("hidden objects", name)
            self.ids[path] = parent
            return
        place, parent = self._place(prim, parent)
        shape, look = self._shape(self._shaped(prim), name)
        own = own_of(prim.GetCustomDataByKey(KEY))
        surface = shape if isinstance(shape, Surface) or shape is None else None
        known = shape_of(own, surface, self.up, name, self.found) if surface is not None or own.solid else shape
        self.ids[path] = self.found.add(name, parent, place, known, **{**look, **own.facts})

    def _shaped(self, prim: Any) -> Any:
        """Return the prim that has the shape of this one: itself, or the one in it that is there for that alone.

        Many programs write an object as a transform with its mesh in it, which is called after it and lies just there.
        """
        from pxr import Gf, Usd  # noqa: PLC0415

        if prim.IsA(self.geom.Gprim):
            return prim
        inside = prim.GetFilteredChildren(Usd.TraverseInstanceProxies())
        shapes = [child for child in inside if child.IsA(self.geom.Gprim)]
        ours = [child for child in shapes if child.GetCustomDataByKey(KEY) == SHAPE]
        if not ours and len(shapes) == 1 and folded(shapes[0].GetName()).startswith(folded(prim.GetName())):
            xform = self.geom.Xformable(shapes[0])
            if xform.GetLocalTransformation(self.time) == Gf.Matrix4d(1) and not xform.GetResetXformStack():
                ours = shapes
        if not ours:
            return prim
        self.shapes.add(ours[0].GetPath())
        return ours[0]

    def _place(self, prim: object, parent: str | None) -> tuple[Array, str | None]:
        """The place in its parent, and the parent: none where the prim says that it stands in the world itself."""
        xform = self.geom.Xformable(prim)
        if xform.GetResetXformStack():
            parent = None
        if xform.TransformMightBeTimeVarying():
            self.found.note("Animation is not imported; objects have their first positions.")
        matrix = np.array(xform.GetLocalTransformation(self.time), dtype=np.float64).T
        return (matrix if parent is not None else affine(self.scale * np.eye(3), np.zeros(3)) @ matrix), parent

    def _shape(self, prim: Any, name: str) -> tuple[Surface | Solid | None, dict[str, Any]]:
        kind = prim.GetTypeName()
        if kind == "Mesh":
            return self._mesh(self.geom.Mesh(prim), name), self._look(prim)
        if kind in GPRIMS:
            return GPRIMS[kind](self, prim), self._look(prim)
        if prim.IsA(self.geom.Gprim):
            self.found.left_out(f"shapes that are not read ({kind})", name)
        return None, {}

    def _mesh(self, mesh: Any, name: str) -> Surface | None:
        points = mesh.GetPointsAttr().Get(self.time)
        counts = mesh.GetFaceVertexCountsAttr().Get(self.time)
        order = mesh.GetFaceVertexIndicesAttr().Get(self.time)
        if points is None or counts is None or order is None:
            return None
        if len(points) > MOST_VERTICES:
            raise too_many("vertices", MOST_VERTICES)
        if len(order) > 3 * MOST_TRIANGLES:
            raise too_many("triangles", MOST_TRIANGLES)
        sides, corners = np.array(counts, dtype=np.int64), np.array(order, dtype=np.int64)
        if (sides < 0).any() or int(sides.sum()) != len(corners):
            raise UnreadableError(f"{name[:60]} has polygons whose corners do not add up; export the file again.")
        ends = np.cumsum(sides)
        triangles = [
            triangle
            for end, count in zip(ends.tolist(), sides.tolist(), strict=True)
            if count > 2
            for triangle in fan(corners[end - count : end].tolist())
        ]
        return Surface(np.array(points, dtype=np.float64).reshape(-1, 3), np.array(triangles, np.intp).reshape(-1, 3))

    def number(self, prim: Any, name: str) -> float:
        """Return an attribute; where it is not written, what the standard has it be."""
        return float(prim.GetAttribute(name).Get(self.time))

    def axis(self, prim: Any) -> int:
        """0, 1 or 2 for the axis that an axial solid stands along."""
        return "XYZ".index(str(prim.GetAttribute("axis").Get(self.time) or "Z"))

    def _look(self, prim: object) -> dict[str, object]:
        look: dict[str, object] = {}
        colours = self.geom.Gprim(prim).GetDisplayColorAttr().Get(self.time)
        if colours:
            look["colour"] = hex_of(np.array(colours[0], dtype=np.float64))
        opacities = self.geom.Gprim(prim).GetDisplayOpacityAttr().Get(self.time)
        if opacities:
            look["opacity"] = min(max(float(opacities[0]), 0.0), 1.0)
        return look


def _cube(reader: _Reader, prim: object) -> Solid:
    size = reader.number(prim, "size")
    return Cuboid(size=(size, size, size))


def _sphere(reader: _Reader, prim: object) -> Solid:
    return Sphere(diameter=2 * reader.number(prim, "radius"))


def _axial(kind: type[Cylinder | Cone]) -> object:
    def made(reader: _Reader, prim: object) -> Solid | Surface:
        """Return the solid where its axis is up; else a mesh of it that lies as it says."""
        solid = kind(diameter=2 * reader.number(prim, "radius"), height=reader.number(prim, "height"))
        axis = reader.axis(prim)
        if axis == reader.up:
            return solid
        points, corners = solid.triangulated(axis)
        return Surface(points, np.asarray(corners, dtype=np.intp))

    return made


def _two_radii(reader: _Reader, prim: Any) -> tuple[float, float]:
    """At the bottom and at the top; the older kind has one for both."""
    names = ("radiusBottom", "radiusTop") if prim.HasAttribute("radiusTop") else ("radius", "radius")
    bottom, top = (reader.number(prim, name) for name in names)
    return bottom, top


def _turned(reader: _Reader, prim: object, profile: list[tuple[float, float]]) -> Surface:
    points, corners = lathe(np.array(profile), reader.axis(prim), DEFAULT_SIDES)
    return Surface(points, corners)


def _tapered(reader: _Reader, prim: object) -> Solid | Surface:
    (bottom, top), half = _two_radii(reader, prim), reader.number(prim, "height") / 2
    if bottom == top and reader.axis(prim) == reader.up:
        return Cylinder(diameter=2 * top, height=2 * half)
    return _turned(reader, prim, [(0.0, -half), (bottom, -half), (top, half), (0.0, half)])


def _capsule(reader: _Reader, prim: object) -> Surface:
    """Return a tube between two balls, whose height is that of the tube: they go over into its side without an edge.

    So where it tapers, the balls are larger than its ends, and the wider one is more than half of a ball.
    """
    (bottom, top), height = _two_radii(reader, prim), reader.number(prim, "height")
    slope = (bottom - top) / height if height else 0.0
    stretch, lean = np.hypot(1, slope), np.arctan(slope)
    low, high = (
        [
            (radius * stretch * float(np.cos(a)), end - radius * slope + radius * stretch * float(np.sin(a)))
            for a in np.linspace(first, last, CAP_RINGS)
        ]
        for radius, end, first, last in (
            (bottom, -height / 2, -np.pi / 2, lean),
            (top, height / 2, lean, np.pi / 2),
        )
    )
    return _turned(reader, prim, [(0.0, low[0][1]), *low[1:], *high[:-1], (0.0, high[-1][1])])


CAP_RINGS: Final = DEFAULT_SIDES // 2
GPRIMS: Final[dict[str, Any]] = {
    "Cube": _cube, "Sphere": _sphere, "Cylinder": _axial(Cylinder), "Cone": _axial(Cone), "Cylinder_1": _tapered,
    "Capsule": _capsule, "Capsule_1": _capsule,
}  # fmt: skip


# Writing


def write(scene: Scene, end: str = ".usda") -> bytes:
    """Return a scene as OpenUSD, which is right-handed, with Y or Z up, in any unit."""
    from pxr import Usd, UsdGeom  # noqa: PLC0415

    conventions = scene.conventions.model_copy(update={"handedness": "right"})
    change = ConventionTransform(scene.conventions, conventions)
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / f"scene{end}"
        stage = Usd.Stage.CreateNew(str(path))
        UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y if conventions.up == "y" else UsdGeom.Tokens.z)
        UsdGeom.SetStageMetersPerUnit(stage, METRES[conventions.length])
        root = UsdGeom.Xform.Define(stage, "/Scene").GetPrim()
        stage.SetDefaultPrim(root)
        root.SetCustomDataByKey(KEY, WHOLE)
        paths: dict[str | None, object] = {None: root.GetPath()}
        for item in map(scene.__getitem__, scene.parents_first()):
            paths[item.id] = _written(stage, item, paths[item.parent], change, bool(scene.children(item.id)))
        stage.GetRootLayer().Save()
        return path.read_bytes()


def _written(stage: Any, item: SceneObject, parent: Any, change: ConventionTransform, holds_others: bool) -> Any:
    from pxr import Gf, UsdGeom, Vt  # noqa: PLC0415

    path = parent.AppendChild(_free_name(stage, parent, item.name))
    apart = item.solid is None or holds_others
    prim = (UsdGeom.Xform if apart else UsdGeom.Mesh).Define(stage, path)
    prim.GetPrim().SetDisplayName(item.name)
    prim.GetPrim().SetCustomDataByKey(KEY, json_of(item, change))
    matrix = Gf.Matrix4d(*change.matrix(item.parent_from_local).T.ravel().tolist())
    prim.AddTransformOp().Set(matrix)
    if item.solid is not None:
        if apart:
            prim = UsdGeom.Mesh.Define(stage, path.AppendChild("Shape"))
            prim.GetPrim().SetCustomDataByKey(KEY, SHAPE)
        points, corners = item.solid.converted(change).triangulated(change.target.up_index)
        prim.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(points.astype(np.float32)))
        prim.CreateFaceVertexCountsAttr(Vt.IntArray([3] * len(corners)))
        prim.CreateFaceVertexIndicesAttr(Vt.IntArray(np.ravel(corners).tolist()))
        prim.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.none)
        prim.CreateExtentAttr([Gf.Vec3f(*end) for end in (points.min(axis=0).tolist(), points.max(axis=0).tolist())])
        prim.CreateDisplayColorAttr([Gf.Vec3f(*linear_of(item.colour).tolist())])
        prim.CreateDisplayOpacityAttr([item.opacity])
    return path


def _free_name(stage: Any, parent: Any, name: str) -> str:
    """Return a name that the format allows, made from the object's name."""
    plain = re.sub(r"[^A-Za-z0-9_]", "_", name) or "object"
    plain = plain if not plain[0].isdigit() else f"_{plain}"
    number, free = 1, plain
    while stage.GetPrimAtPath(parent.AppendChild(free)):
        number += 1
        free = f"{plain}_{number}"
    return free
