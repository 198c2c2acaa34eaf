"""Replay against OpenUSD: random stacks of xformOps, as UsdGeom.Xformable multiplies them out."""

import numpy as np
import pytest
from pxr import Gf, Usd, UsdGeom

from tests.core.build import after, scene

# The steps are done in world about the origin, first the op that stands last: USD's ops read outermost first.
KINDS = ("translate", "rotateX", "rotateY", "rotateZ", "rotateXYZ", "rotateZYX", "orient", "scale", "pivoted turn")


def random_op(random: np.random.Generator, stage_prim: UsdGeom.Xformable, kind: str, suffix: str) -> list[dict]:
    """Add one xformOp (or a pivoted group) to a prim, and return the steps that do the same, in their order."""
    three = random.uniform(-3, 3, 3)
    if kind == "translate":
        stage_prim.AddTranslateOp(UsdGeom.XformOp.PrecisionDouble, suffix).Set(Gf.Vec3d(*three))
        return [{"op": "move", "by": three.tolist()}]
    if kind in ("rotateX", "rotateY", "rotateZ"):
        angle = float(random.uniform(-360, 360))
        getattr(stage_prim, f"AddR{kind[1:]}Op")(UsdGeom.XformOp.PrecisionDouble, suffix).Set(angle)
        return [turn(kind[-1].lower(), angle)]
    if kind in ("rotateXYZ", "rotateZYX"):
        angles = random.uniform(-180, 180, 3)
        getattr(stage_prim, f"AddR{kind[1:]}Op")(UsdGeom.XformOp.PrecisionDouble, suffix).Set(Gf.Vec3d(*angles))
        # The letters of the op name the axes from the first turn done to the last.
        return [turn(letter.lower(), float(angles["XYZ".index(letter)])) for letter in kind[-3:]]
    if kind == "orient":
        angle = float(random.uniform(-180, 180))
        rotation = Gf.Rotation(Gf.Vec3d(*three), angle)
        stage_prim.AddOrientOp(UsdGeom.XformOp.PrecisionDouble, suffix).Set(rotation.GetQuat())
        return [turn(three.tolist(), angle)]
    if kind == "scale":
        factors = random.uniform(0.4, 2, 3) * random.choice([-1, 1], 3)
        stage_prim.AddScaleOp(UsdGeom.XformOp.PrecisionDouble, suffix).Set(Gf.Vec3d(*factors))
        return [{"op": "scale", "by": factors.tolist(), "pivot": "origin"}]
    pivot = stage_prim.AddTranslateOp(UsdGeom.XformOp.PrecisionDouble, f"pivot{suffix}")
    pivot.Set(Gf.Vec3d(*three))
    angle = float(random.uniform(-360, 360))
    stage_prim.AddRotateYOp(UsdGeom.XformOp.PrecisionDouble, suffix).Set(angle)
    stage_prim.AddTranslateOp(UsdGeom.XformOp.PrecisionDouble, f"pivot{suffix}", True)
    return [{**turn("y", angle), "pivot": three.tolist()}]


def turn(axis, angle):
    return {"op": "rotate", "axis": axis, "angle": angle, "pivot": "origin"}


@pytest.mark.parametrize("seed", range(40))
def test_random_stacks_of_ops_in_a_chain_of_prims(seed):
    random = np.random.default_rng(seed)
    stage = Usd.Stage.CreateInMemory()
    objects, steps, path = [], [], ""
    for name, parent in (("base", None), ("jib", "base"), ("hook", "jib")):
        path += f"/{name}"
        prim = UsdGeom.Xform.Define(stage, path)
        groups = [random_op(random, prim, str(random.choice(KINDS)), f"n{i}") for i in range(random.integers(1, 6))]
        objects.append({"id": name, "parent": parent})
        # In local numbers: each object is worked on before it is nested, so that world and parent are one.
        steps += [{"objects": [name], **step} for group in reversed(groups) for step in group]
    roots = [{**item, "parent": None} for item in objects]
    nests = [
        {"op": "nest", "objects": [i["id"]], "parent": i["parent"], "keep": "local"} for i in objects if i["parent"]
    ]
    ours = after(scene(*roots), *steps, *nests)
    cache = UsdGeom.XformCache()
    path = ""
    for item in objects:
        path += f"/{item['id']}"
        theirs = np.array(cache.GetLocalToWorldTransform(stage.GetPrimAtPath(path))).T  # USD maps row vectors
        assert ours.world_from_local(item["id"]) == pytest.approx(theirs, abs=1e-9)
