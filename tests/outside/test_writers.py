"""Files written by pycollada and pygltflib are read as their source says; what we write, pycollada reads the same.

Both are open-source libraries that know nothing of this product. pycollada keeps numbers in 32 bits.
"""

import io

import collada
import numpy as np
import pygltflib
import pytest
from collada import asset, geometry, scene, source
from scipy.optimize import linear_sum_assignment

from cubedrill.core.geometry.transform import mapped
from cubedrill.demo.load import HERE
from cubedrill.formats.conversion import converted_scene
from cubedrill.formats.documents import read_exercise
from cubedrill.formats.kinds import WRITERS, read

pytestmark = pytest.mark.filterwarnings("ignore:the matrix subclass:PendingDeprecationWarning")  # of pycollada

IN_32_BITS = 2e-6  # of numbers up to ten, multiplied out over a chain of three
BOX = np.array([[x, y, z] for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)], dtype=float)
SIDES = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
TRIANGLES = np.array([(a, *pair) for a, b, c, d in SIDES for pair in ((b, c), (c, d))])
CHAIN = ("Quay", "Crate", "Lid")  # each in the one before


def worlds_of(objects):
    """The world matrix of each object of a file, by name; an object comes after the one that it is in."""
    worlds = {None: np.eye(4)}
    for item in objects:
        worlds[item.id] = worlds[item.parent] @ item.to_object().parent_from_local
    return worlds


def unit(direction):
    return direction / np.linalg.norm(direction)


def random_ops(rng):
    """Operations of Collada in an order that it allows, each any number of times."""
    makers = [
        lambda: scene.TranslateTransform(*rng.uniform(-5, 5, 3)),
        lambda: scene.RotateTransform(*unit(rng.normal(size=3)), rng.uniform(-360, 360)),
        lambda: scene.ScaleTransform(*rng.uniform(0.5, 2, 3)),
        lambda: scene.MatrixTransform(np.vstack((rng.uniform(-1, 1, (3, 4)), (0, 0, 0, 1))).ravel().astype(np.float32)),
    ]
    return [makers[i]() for i in rng.integers(0, len(makers), 4)]


def polygons(geom, kind, inputs):
    match kind:
        case "polylist":
            return geom.createPolylist(np.ravel(SIDES), np.full(len(SIDES), 4), inputs, "m")
        case "polygons":
            return geom.createPolygons([np.array(side) for side in SIDES], inputs, "m")
        case "triangles":
            return geom.createTriangleSet(TRIANGLES.ravel(), inputs, "m")


@pytest.mark.parametrize("kind", ["polylist", "polygons", "triangles"])
@pytest.mark.parametrize(
    ("up", "unit", "metres"), [("Y", "meter", 1), ("Z", "centimeter", 0.01), ("Z", "inch", 0.0254)]
)
def test_pycollada_files_are_read(kind, up, unit, metres):
    rng = np.random.default_rng(len(kind) + len(unit))
    document = collada.Collada()
    document.assetInfo.upaxis = getattr(asset.UP_AXIS, f"{up}_UP")
    document.assetInfo.unitname, document.assetInfo.unitmeter = unit, metres
    points = BOX * rng.uniform(1, 3, 3)
    inner, worlds = [], {}
    for name in reversed(CHAIN):
        floats = source.FloatSource(f"{name}-v", points.ravel(), ("X", "Y", "Z"))
        geom = geometry.Geometry(document, f"{name}-g", name, [floats])
        inputs = source.InputList()
        inputs.addInput(0, "VERTEX", f"#{name}-v")
        geom.primitives.append(polygons(geom, kind, inputs))
        document.geometries.append(geom)
        inner = [scene.Node(name, children=[scene.GeometryNode(geom, []), *inner], transforms=random_ops(rng))]
    node, world = inner[0], np.eye(4)
    for name in CHAIN:
        world = world @ node.matrix.astype(float)
        worlds[name] = world
        node = next((child for child in node.children if isinstance(child, scene.Node)), None)
    document.scenes.append(scene.Scene("s", inner))
    document.scene = document.scenes[0]
    content = io.BytesIO()
    document.write(content)
    imported = read(content.getvalue())
    assert imported.said == {
        "up": up.lower(),
        "handedness": "right",
        "length": {1: "m", 0.01: "cm", 0.0254: "in"}[metres],
    }
    assert [item.name for item in imported.objects] == list(CHAIN)
    read_worlds = worlds_of(imported.objects)
    for item in imported.objects:
        wanted, size = worlds[item.name], np.abs(worlds[item.name]).max()
        assert read_worlds[item.id] == pytest.approx(wanted, abs=IN_32_BITS * size)
        assert item.solid.points == pytest.approx(points, abs=1e-6)
        assert len(item.solid.corners) == len(TRIANGLES)


@pytest.mark.parametrize("file", sorted((HERE / "exercises").glob("*.json")), ids=lambda file: file.stem)
def test_pycollada_reads_what_we_write_as_it_stands_in_the_world(file):
    target = read_exercise(file).target_scene()
    target = converted_scene(target, target.conventions.model_copy(update={"handedness": "right"}))  # as Collada is
    document = collada.Collada(io.BytesIO(WRITERS[".dae"](target)))
    found = [
        prim.vertex[np.unique(prim.vertex_index)]
        for geom in document.scene.objects("geometry")
        for prim in geom.primitives()
    ]
    wanted = []
    for item in (item for item in target.objects.values() if item.solid is not None):
        points, _ = item.solid.triangulated(target.conventions.up_index)
        wanted.append(mapped(target.world_from_local(item.id), points))
    assert len(found) == len(wanted)
    apart = np.abs(ends_of(found)[:, None] - ends_of(wanted)).max(axis=-1)
    assert (
        apart[linear_sum_assignment(apart)].max() < IN_32_BITS * np.abs(ends_of(wanted)).max()
    )  # each where one of ours is


def ends_of(surfaces):
    """Where each begins and ends along the axes, (n, 6)."""
    return np.array([(*points.min(axis=0), *points.max(axis=0)) for points in surfaces], dtype=float)


@pytest.mark.parametrize("packed", [True, False])
@pytest.mark.parametrize("index", [pygltflib.UNSIGNED_BYTE, pygltflib.UNSIGNED_SHORT, pygltflib.UNSIGNED_INT])
def test_pygltflib_files_are_read(packed, index, tmp_path):
    rng = np.random.default_rng(index)
    points = (BOX * rng.uniform(1, 3, 3)).astype(np.float32)
    order = TRIANGLES.ravel().astype(
        {pygltflib.UNSIGNED_BYTE: "<u1", pygltflib.UNSIGNED_SHORT: "<u2"}.get(index, "<u4")
    )
    content = order.tobytes() + points.tobytes()
    matrix = np.vstack((rng.uniform(-1, 1, (3, 4)), (0, 0, 0, 1)))
    nodes = [
        pygltflib.Node(name="Quay", mesh=0, translation=[1, 2, 3], scale=[1, 2, 0.5], children=[1],
                       rotation=unit(rng.normal(size=4)).tolist()),
        pygltflib.Node(name="Crate", mesh=0, matrix=matrix.ravel(order="F").tolist(), children=[2]),
        pygltflib.Node(name="Lid", translation=[0, 1, 0]),
    ]  # fmt: skip
    view, attribute = pygltflib.BufferView, pygltflib.Attributes(POSITION=1)
    document = pygltflib.GLTF2(
        scene=0, scenes=[pygltflib.Scene(nodes=[0])], nodes=nodes,
        meshes=[pygltflib.Mesh(primitives=[pygltflib.Primitive(attributes=attribute, indices=0)])],
        accessors=[
            pygltflib.Accessor(bufferView=0, componentType=index, count=order.size, type="SCALAR"),
            pygltflib.Accessor(bufferView=1, componentType=pygltflib.FLOAT, count=len(points), type="VEC3",
                               min=points.min(axis=0).tolist(), max=points.max(axis=0).tolist()),
        ],
        bufferViews=[view(buffer=0, byteOffset=0, byteLength=order.nbytes),
                     view(buffer=0, byteOffset=order.nbytes, byteLength=points.nbytes)],
        buffers=[pygltflib.Buffer(byteLength=len(content))],
    )  # fmt: skip
    document.set_binary_blob(content)
    if not packed:
        document.convert_buffers(pygltflib.BufferFormat.DATAURI)
    file = tmp_path / ("scene.glb" if packed else "scene.gltf")
    document.save(file)
    imported = read(file.read_bytes())
    assert [item.name for item in imported.objects] == list(CHAIN)
    worlds = worlds_of(imported.objects)
    assert worlds["Crate"] == pytest.approx(worlds["Quay"] @ matrix, abs=1e-12)
    assert worlds["Quay"][:3, 3].tolist() == [1, 2, 3]
    assert np.linalg.norm(worlds["Quay"][:3, :3], axis=0) == pytest.approx([1, 2, 0.5])
    assert [item.solid is None for item in imported.objects] == [False, False, True]
    assert imported.objects[0].solid.points == pytest.approx(points, abs=1e-7)
    assert imported.objects[0].solid.corners.tolist() == TRIANGLES.tolist()
