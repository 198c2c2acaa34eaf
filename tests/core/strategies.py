"""Random scenes and steps for property tests."""

from __future__ import annotations

import numpy as np
from hypothesis import strategies as st

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import (
    Cone,
    Cuboid,
    Cylinder,
    Mesh,
    Plate,
    Pyramid,
    Ring,
    Solid,
    Sphere,
    Tube,
    Wedge,
)
from cubedrill.core.geometry.transform import parent_from_parts, require_affine, rotation_from_quaternion
from cubedrill.core.scene.scene import Scene, SceneObject, scene_of
from cubedrill.core.steps.move import Move
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


points = st.one_of(
    triples.map(list),
    st.builds(
        lambda i, at: {"object": i, "at": at},
        st.sampled_from("abcd"),
        st.sampled_from(["pivot", "centre", "+x", "-y", "+x-z", "-y+z", "-x+y-z"]),
    ),
)
pivots = st.one_of(st.sampled_from(["own", "box", "selection", "origin", "marker"]), points)
any_space = st.one_of(
    spaces,
    st.sampled_from("abcd").map(lambda i: {"object": i}),
    st.tuples(points, points).map(lambda line: {"line": list(line)}),
    st.sampled_from([((1, 0, 0), (0, 1, 0)), ((1, 2, 0), (0, 1, 5)), ((0, 0, -2), (1, 1, 0))]).map(
        lambda v: {"view": {"right": list(v[0]), "up": list(v[1])}}
    ),
)
letters = st.sampled_from("xyz")
signed_axes = st.sampled_from(["+x", "-x", "+y", "-y", "+z", "-z"])
angles = st.floats(-400, 400).map(lambda value: round(value, 4))
ids = st.lists(st.sampled_from("abcd"), min_size=1, max_size=3)
axes_or_vectors = st.one_of(letters, triples.map(list))


def partial(values: st.SearchStrategy[float]) -> st.SearchStrategy[list[float | None]]:
    """Three numbers, some of them missing."""
    return st.lists(st.one_of(st.none(), values), min_size=3, max_size=3)


STEP_KINDS: dict[str, st.SearchStrategy[dict]] = {
    "move by": st.fixed_dictionaries({"op": st.just("move"), "objects": ids, "space": any_space, "by": triples.map(list)}),
    "move to": st.fixed_dictionaries(
        {"op": st.just("move"), "objects": ids, "space": any_space, "to": partial(lengths)}, optional={"point": points}
    ),
    "rotate by": st.fixed_dictionaries(
        {"op": st.just("rotate"), "objects": ids, "space": any_space, "axis": axes_or_vectors, "angle": angles, "pivot": pivots}
    ),
    "rotate to": st.fixed_dictionaries(
        {"op": st.just("rotate"), "objects": ids, "space": st.sampled_from(["world", "parent"]), "to": st.tuples(angles, angles, angles).map(list)}
    ),
    "scale by": st.fixed_dictionaries(
        {"op": st.just("scale"), "objects": ids, "space": any_space, "by": st.tuples(factors, factors, factors).map(list), "pivot": pivots}
    ),
    "scale to": st.fixed_dictionaries({"op": st.just("scale"), "objects": ids, "to": partial(sizes), "pivot": pivots}),
    "keep volume": st.fixed_dictionaries(
        {"op": st.just("scale"), "objects": ids, "keep_volume": st.fixed_dictionaries({"axis": letters, "factor": factors})}
    ),
    "align": st.fixed_dictionaries(
        {"op": st.just("align"), "objects": ids, "space": any_space, "to": st.sampled_from(["a", "b", "c", "d", "selection"]), "x": st.sampled_from(["min", "centre", "max"])},
        optional={"z": st.sampled_from(["min", "max"])},
    ),
    "drop": st.fixed_dictionaries(
        {"op": st.just("drop"), "objects": ids, "onto": st.sampled_from(["ground", "below"]), "clearance": lengths}
    ),
    "put": st.fixed_dictionaries(
        {
            "op": st.just("put"), "objects": st.sampled_from("abc").map(lambda i: [i]),
            "on": st.one_of(
                st.fixed_dictionaries({"object": st.just("d"), "point": triples.map(list), "normal": triples.map(list)}),
                st.fixed_dictionaries({"point": triples.map(list), "normal": triples.map(list)}),
            ),
            "align": st.one_of(st.none(), signed_axes), "offset": lengths,
        }
    ),
    "join": st.fixed_dictionaries({"op": st.just("join"), "objects": ids, "point": points, "to": points}),
    "aim": st.fixed_dictionaries(
        {
            "op": st.just("aim"), "objects": ids, "space": any_space, "axis": signed_axes,
            "at": st.one_of(points, triples.map(lambda v: {"direction": list(v)})),
            "about": st.one_of(st.none(), letters),
        }
    ),
    "swing": st.fixed_dictionaries(
        {
            "op": st.just("swing"), "objects": ids, "space": any_space, "axis": axes_or_vectors, "pivot": pivots,
            "from": st.tuples(points, points).map(list), "to": st.tuples(points, points).map(list),
        }
    ),
    "pivot": st.fixed_dictionaries({"op": st.just("pivot"), "objects": ids, "at": pivots}),
    "nest": st.fixed_dictionaries(
        {"op": st.just("nest"), "objects": ids, "parent": st.one_of(st.none(), st.sampled_from("abcd")), "keep": st.sampled_from(["world", "local"])}
    ),
    "assemble": st.fixed_dictionaries({"op": st.just("assemble"), "objects": ids, "id": st.just("e")}),
    "duplicate": st.fixed_dictionaries(
        {
            "op": st.just("duplicate"), "objects": st.sampled_from("abcd").map(lambda i: [i]), "ids": st.just(["f", "g"]), "copies": st.just(2),
            "between": st.one_of(st.none(), st.fixed_dictionaries({"op": st.just("rotate"), "axis": letters, "angle": angles, "pivot": pivots, "space": any_space})),
        }
    ),
    "add": st.fixed_dictionaries(
        {"op": st.just("add"), "object": st.fixed_dictionaries({"id": st.just("h"), "parent": st.sampled_from(["a", "c"]), "pivot": triples.map(list), "rotation": quaternions().map(lambda q: q.tolist())})}
    ),
    "remove": st.fixed_dictionaries({"op": st.just("remove"), "objects": st.just(["d"]), "children": st.sampled_from(["remove", "lift"])}),
    "marker": st.fixed_dictionaries({"op": st.just("marker"), "to": st.one_of(points, st.just("origin"))}),
    "paint": st.fixed_dictionaries({"op": st.just("paint"), "objects": ids, "opacity": st.just(0.5)}),
    "rename": st.fixed_dictionaries({"op": st.just("rename"), "objects": ids, "name": st.just("Crate")}),
}  # fmt: skip
any_step = st.sampled_from(sorted(STEP_KINDS)).flatmap(STEP_KINDS.__getitem__)
