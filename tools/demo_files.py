"""Files that students of the demo submit, as programs of theirs would write them: python -m tools.demo_files

Written by libraries that are not ours where there is one for the kind: trimesh and OpenUSD's own. Some are right; in
the others is a mistake that is made when a scene is exported.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Mapping
from pathlib import Path

import numpy as np
import trimesh
from numpy.typing import NDArray
from pxr import Gf, Sdf, Usd, UsdGeom, Vt

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.scene import Scene
from cubedrill.demo.load import HERE
from cubedrill.formats import collada
from cubedrill.formats.conversion import converted_scene
from cubedrill.formats.documents import read_exercise

Matrix = NDArray[np.float64]
Places = Mapping[str, Matrix]
SUBMISSIONS = HERE / "submissions"


def target(exercise: str, **conventions: str) -> Scene:
    """The right scene of an exercise of the demo, in conventions of a student's program."""
    scene = read_exercise(HERE / "exercises" / f"{exercise}.json").target_scene()
    return converted_scene(scene, Conventions.model_validate(conventions)) if conventions else scene


def meshes(scene: Scene) -> dict[str, trimesh.Trimesh]:
    """The solids of a scene in their own coordinates, by the names of their objects."""
    up = scene.conventions.up_index
    found = {}
    for item in scene.objects.values():
        if item.solid is not None:
            points, corners = item.solid.triangulated(up)
            found[item.name] = trimesh.Trimesh(points, corners, process=False)
    return found


def places(scene: Scene) -> dict[str, Matrix]:
    """Where the objects of a scene are in the world, by their names."""
    return {item.name: scene.world_from_local(item.id) for item in scene.objects.values()}


def by_trimesh(shapes: Mapping[str, trimesh.Trimesh], world: Places, kind: str) -> bytes:
    """A scene without a tree, each object in its place."""
    scene = trimesh.Scene()
    for name, shape in shapes.items():
        scene.add_geometry(shape, node_name=name, geom_name=name, transform=world[name])
    written = scene.export(file_type=kind)
    return written if isinstance(written, bytes) else written.encode()


def baked(scene: Scene) -> dict[str, trimesh.Trimesh]:
    """The solids of a scene with their places in their vertices."""
    world = places(scene)
    return {name: shape.copy().apply_transform(world[name]) for name, shape in meshes(scene).items()}


def by_openusd(scene: Scene, world: Places, up: str, metres: float) -> bytes:
    """A scene as a layer of OpenUSD in text, without a tree."""
    layer = Sdf.Layer.CreateAnonymous(".usda")
    stage = Usd.Stage.Open(layer)
    UsdGeom.SetStageUpAxis(stage, up.upper())
    UsdGeom.SetStageMetersPerUnit(stage, metres)
    for number, (name, shape) in enumerate(meshes(scene).items()):
        mesh = UsdGeom.Mesh.Define(stage, f"/object_{number}")
        mesh.GetPrim().SetDisplayName(name)
        mesh.AddTransformOp().Set(Gf.Matrix4d(*world[name].T.ravel().tolist()))
        mesh.CreatePointsAttr(Vt.Vec3fArray.FromNumpy(shape.vertices.astype(np.float32)))
        mesh.CreateFaceVertexCountsAttr([3] * len(shape.faces))
        mesh.CreateFaceVertexIndicesAttr(shape.faces.ravel().tolist())
        mesh.CreateSubdivisionSchemeAttr("none")
    return layer.ExportToString().encode()


def crane_right() -> bytes:
    """The crane as glTF, as it should be."""
    scene = target("slewing-crane")
    return by_trimesh(meshes(scene), places(scene), "glb")


def crane_without_parents() -> bytes:
    """The crane as Collada, its tree lost and the numbers in it kept. There is no other writer of Collada here."""
    scene = target("slewing-crane")
    roots = [scene.placed(i, item.parent_from_local) for i, item in scene.objects.items()]
    apart = scene.with_objects([scene.under(root.id, None) for root in roots])
    lost = [apart.placed(i, scene[i].parent_from_local) for i in scene.objects]
    return collada.write(apart.with_objects(lost))


def gate_right() -> bytes:
    """The gate as OpenUSD, Z up and in centimetres."""
    scene = target("lock-gate", up="z", length="cm")
    return by_openusd(scene, places(scene), "z", 0.01)


def trailer_on_its_side() -> bytes:
    """The trailer as OpenUSD, its places with another axis up than its rotations."""
    scene = target("trailer-to-the-kerb")
    world = {name: matrix.copy() for name, matrix in places(scene).items()}
    for matrix in world.values():
        matrix[:3, 3] = matrix[[0, 2, 1], 3] * (1, -1, 1)
    return by_openusd(scene, world, scene.conventions.up, 1.0)


def gangway_right() -> bytes:
    """The gangway as OBJ, all places in the vertices, Z up."""
    scene = target("gangway", up="z")
    return by_trimesh(baked(scene), {name: np.eye(4) for name in places(scene)}, "obj")


def winch_twice() -> bytes:
    """The winch as glTF, its places in the vertices and beside them."""
    scene = target("deck-winch", up="y", length="m")  # as glTF always is
    return by_trimesh(baked(scene), places(scene), "glb")


def buoy_in_one_piece() -> bytes:
    """The buoy as STL, in millimetres: one mesh without names."""
    scene = target("stretched-buoy", length="mm")
    written = trimesh.util.concatenate(list(baked(scene).values())).export(file_type="stl")
    return bytes(written)


def shed_in_numbers() -> bytes:
    """The shed as a table with semicolons and decimal commas, in centimetres."""
    scene = target("double-shed", length="cm")
    text = io.StringIO()
    table = csv.writer(text, delimiter=";", lineterminator="\r\n")
    rows = [f"m{row}{column}" for row in (1, 2, 3) for column in (1, 2, 3, 4)]
    table.writerow(["Object", *rows, "up", "length"])
    for name, matrix in places(scene).items():
        numbers = [f"{number:.6f}".replace(".", ",") for number in matrix[:3].ravel()]
        table.writerow([name, *numbers, scene.conventions.up, scene.conventions.length])
    return text.getvalue().encode()


FILES: Mapping[str, Callable[[], bytes]] = {
    "slewing-crane/ansel.glb": crane_right,
    "slewing-crane/theo.dae": crane_without_parents,
    "lock-gate/halim.usda": gate_right,
    "trailer-to-the-kerb/oona.usda": trailer_on_its_side,
    "gangway/ansel.obj": gangway_right,
    "deck-winch/oona.glb": winch_twice,
    "stretched-buoy/ansel.stl": buoy_in_one_piece,
    "double-shed/petra.csv": shed_in_numbers,
}


def main() -> None:
    """Write them all."""
    for name, made in FILES.items():
        path: Path = SUBMISSIONS / name
        path.write_bytes(made())


if __name__ == "__main__":
    main()
