"""Every writer with every signed exchange of axes: 24 turns and 24 mirrors, read back by another library.

Readers: trimesh (glTF, OBJ, STL, PLY), usd-core (OpenUSD), pycollada (Collada), the csv module.
"""

from __future__ import annotations

import csv
import io
import itertools

import collada
import numpy as np
import pytest
import trimesh
from pxr import Usd, UsdGeom

from cubedrill.formats.conversion import written
from tests.core.build import scene

pytestmark = pytest.mark.filterwarnings("ignore:the matrix subclass:PendingDeprecationWarning")  # of pycollada

WEDGE = {"kind": "wedge", "size": [1.0, 2.0, 3.0]}
# Right angle at −X −Y, thin edge at +X −Y: the corners as maths.md has them, in the solid's own coordinates.
CORNERS = np.array([[x, y, z] for x, y in ((-0.5, -1.0), (0.5, -1.0), (-0.5, 1.0)) for z in (-1.5, 1.5)])
MAPS = [
    np.array([[sign if axis == row else 0.0 for axis in range(3)] for row, sign in zip(order, signs, strict=True)]).T
    for order in itertools.permutations(range(3))
    for signs in itertools.product((1.0, -1.0), repeat=3)
]
PLACES = [np.array([10.0 * (n % 7), -3.0 * (n // 7), 7.0 * (n % 5) - n]) for n in range(48)]


def matrix(n):
    whole = np.eye(4)
    whole[:3, :3], whole[:3, 3] = MAPS[n], PLACES[n]
    return whole


def made():
    """48 wedges, each under another map; every third one in the one before it."""
    items = []
    for n in range(48):
        parent = f"w{n - 1}" if n % 3 == 2 else None
        own = np.linalg.inv(matrix(n - 1)) @ matrix(n) if parent else matrix(n)
        items.append({"id": f"w{n}", "solid": WEDGE, "parent": parent, "matrix": own.ravel(order="F").tolist()})
    return scene(*items)


def expected(n):
    return CORNERS @ MAPS[n].T + PLACES[n]


def same_points(found, wanted, tolerance=1e-5):
    """Tell whether two sets of points are the same, whatever their order and however often each is there."""
    apart = np.linalg.norm(np.asarray(found)[:, None] - wanted[None], axis=2)
    return bool(apart.min(axis=1).max() < tolerance and apart.min(axis=0).max() < tolerance)


def of_trimesh(content, kind):
    loaded = trimesh.load(io.BytesIO(content), file_type=kind, process=False)
    if isinstance(loaded, trimesh.Trimesh):
        return {None: loaded.vertices}
    found = {}
    for name in loaded.graph.nodes_geometry:
        world, geometry = loaded.graph[name]
        points = loaded.geometry[geometry].vertices
        found[name.split("_")[0] if name not in loaded.geometry else name] = points @ world[:3, :3].T + world[:3, 3]
    return found


def of_usd(path):
    stage = Usd.Stage.Open(str(path))
    cache = UsdGeom.XformCache()
    found = {}
    for prim in stage.Traverse():
        if prim.IsA(UsdGeom.Mesh):
            world = np.array(cache.GetLocalToWorldTransform(prim)).T
            points = np.array(UsdGeom.Mesh(prim).GetPointsAttr().Get())
            above = prim if prim.GetName().startswith("w") else prim.GetParent()
            found[above.GetName()] = points @ world[:3, :3].T + world[:3, 3]
    return found


def of_collada(content):
    file = collada.Collada(io.BytesIO(content))
    points = [
        np.asarray(g.vertex)[np.asarray(g.vertex_index).ravel()]
        for bound in file.scene.objects("geometry")
        for g in bound.primitives()
    ]
    return points


@pytest.mark.parametrize("end", [".glb", ".gltf"])
def test_kinds_with_names_hold_every_map(end):
    found = of_trimesh(written(made(), end), end[1:])
    for n in range(48):
        assert same_points(found[f"w{n}"], expected(n)), (end, MAPS[n].tolist())


@pytest.mark.parametrize("end", [".stl", ".ply", ".obj"])
def test_kinds_whose_places_are_in_the_vertices_hold_every_map(end):
    points = np.concatenate(list(of_trimesh(written(made(), end), end[1:]).values()))
    assert same_points(points, np.concatenate([expected(n) for n in range(48)]), 1e-4)


@pytest.mark.parametrize("end", [".usda", ".usdc"])
def test_open_usd_holds_every_map(end, tmp_path):
    (tmp_path / f"scene{end}").write_bytes(written(made(), end))
    found = of_usd(tmp_path / f"scene{end}")
    for n in range(48):
        assert same_points(found[f"w{n}"], expected(n)), MAPS[n].tolist()


def test_collada_holds_every_map():
    points = of_collada(written(made(), ".dae"))
    assert len(points) == 48
    for n in range(48):
        assert any(same_points(each, expected(n), 1e-4) for each in points), MAPS[n].tolist()


def test_a_table_of_transforms_holds_every_map():
    lines = {line["object"]: line for line in csv.DictReader(io.StringIO(written(made(), ".csv").decode("utf-8-sig")))}
    for n in range(48):
        found = [[float(lines[f"w{n}"][f"m{row}{column}"]) for column in range(1, 5)] for row in range(1, 4)]
        assert lines[f"w{n}"]["space"] == "world"
        assert np.array(found) == pytest.approx(matrix(n)[:3], abs=1e-12)


def test_all_signed_exchanges_are_there():
    assert len({m.tobytes() for m in MAPS}) == 48
    assert sum(np.linalg.det(m) < 0 for m in MAPS) == 24
