"""Random scenes and steps for property tests."""

from __future__ import annotations

import numpy as np
from hypothesis import strategies as st

from cubedrill.core.conventions import Conventions
from cubedrill.core.scene import Scene, SceneObject, scene_of
from cubedrill.core.solids import Cone, Cuboid, Cylinder, Mesh, Plate, Pyramid, Ring, Solid, Sphere, Tube, Wedge
from cubedrill.core.steps.move import Move
from cubedrill.core.transform import parent_from_parts, require_affine, rotation_from_quaternion
from cubedrill.core.values import frozen

lengths = st.floats(-100, 100, allow_nan=False).map(lambda value: round(value, 6))
sizes = st.floats(0.01, 50).map(lambda value: round(value, 4) + 0.001)
factors = st.floats(0.1, 8).map(lambda value: round(value, 4))
triples = st.tuples(lengths, lengths, lengths)
spaces = st.sampled_from(["world", "parent", "local"])
ups = st.sampled_from([1, 2])


@st.composite
def quaternions(draw: st.DrawFn) -> np.ndarray:
    """A unit quaternion, any turn."""
    parts = np.array(draw(st.tuples(*[st.floats(-1, 1)] * 4)))
    length = np.linalg.norm(parts)
    return parts / length if length > 0.1 else np.array([0.0, 0.0, 0.0, 1.0])


@st.composite
def rotations(draw: st.DrawFn) -> np.ndarray:
    """A rotation matrix (3, 3)."""
    return rotation_from_quaternion(draw(quaternions()), "test")


def solids() -> st.SearchStrategy[Solid]:
    """A solid of any kind."""
    box = st.tuples(sizes, sizes, sizes)
    return st.one_of(
        box.map(lambda size: Cuboid(size=size)),
        box.map(lambda size: Wedge(size=size)),
        box.map(lambda size: Pyramid(size=size)),
        sizes.map(lambda diameter: Sphere(diameter=diameter)),
        st.tuples(sizes, sizes).map(lambda s: Cylinder(diameter=s[0], height=s[1])),
        st.tuples(sizes, sizes).map(lambda s: Cone(diameter=s[0], height=s[1])),
        st.tuples(sizes, sizes).map(lambda s: Tube(diameter=s[0] * 2, bore=s[0], height=s[1])),
        sizes.map(lambda d: Ring(diameter=d, thickness=d / 5)),
        st.tuples(sizes, sizes).map(lambda s: Plate(size=s)),
        st.lists(triples, min_size=3, max_size=8).map(lambda v: Mesh(vertices=tuple(v), triangles=((0, 1, 2),))),
    )


@st.composite
def scenes(draw: st.DrawFn, turned: bool = True) -> Scene:
    """A chain and a side branch: a, b in a, c in b, d alone; turned, scaled and mirrored where asked for."""
    objects = []
    for name, parent in (("a", None), ("b", "a"), ("c", "b"), ("d", None)):
        rotation = draw(rotations()) if turned else np.eye(3)
        scale = np.array(draw(st.tuples(factors, factors, factors))) if turned else np.ones(3)
        parent_from_local = parent_from_parts(np.array(draw(triples)), rotation, scale)
        pivot = frozen(np.array(draw(triples)))
        item = SceneObject(
            name, name.upper(), Cuboid(size=(1, 2, 3)), parent, require_affine(parent_from_local, name), pivot,
            "#000000", 1.0, False,
        )  # fmt: skip
        objects.append(item)
    return scene_of(objects, Conventions(), frozen(np.zeros(3)))


@st.composite
def moves(draw: st.DrawFn, among: str = "abcd") -> Move:
    """A move of one object by an amount, in any of the plain spaces."""
    chosen = draw(st.sampled_from(among))
    return Move(op="move", objects=(chosen,), space=draw(spaces), by=draw(triples))
