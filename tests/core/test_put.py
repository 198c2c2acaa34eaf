"""Put: set an object on a surface, at a contact. Worked by hand, and against plain reckonings."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.scene.scene import scene_of
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.steps import STEP_ADAPTER
from cubedrill.core.steps.replay import replay
from tests.core.build import CRATE, near, scene, steps_of
from tests.core.strategies import lengths, quaternions, signed_axes, solids, triples
from tests.tiers import few

FACES = [(axis, sign) for axis in range(3) for sign in (-1, 1)]


def put(where, object_id="a", **more):
    return STEP_ADAPTER.validate_python({"op": "put", "objects": [object_id], **more}).apply(where)


def box(size, **more):
    return {"id": "a", "solid": {"kind": "cuboid", "size": size}, **more}


FLOOR = {"point": [5, 0, -2], "normal": [0, 1, 0]}


def test_a_crate_stands_with_the_middle_of_its_bottom_on_the_contact():
    after = put(scene(box([2, 4, 6])), on=FLOOR)
    assert after.world_from_local("a") == near(np.array([[1, 0, 0, 5], [0, 1, 0, 2], [0, 0, 1, -2], [0, 0, 0, 1]]))
    raised = put(scene(box([2, 4, 6])), on=FLOOR, offset=0.25)
    assert raised.world_from_local("a")[:3, 3] == near([5, 2.25, -2])


def test_a_ball_touches_a_slope_with_its_side_and_its_foot_is_over_the_contact():
    # A slope of 30°: the face −Y looks most against its normal, and its middle is at the ball's lowest point; along the
    # normal the ball reaches 1, and the foot only cos 30°.
    normal = [-0.5, np.sqrt(3) / 2, 0]
    after = put(
        scene({"id": "a", "solid": {"kind": "sphere", "diameter": 2}}), on={"point": [0, 0, 0], "normal": normal}
    )
    foot = after.world_from_local("a")[:3, 3] - [0, 1, 0]
    across = foot - np.dot(foot, normal) * np.array(normal)
    assert across == near([0, 0, 0])
    assert np.dot(after.world_from_local("a")[:3, 3], normal) == pytest.approx(1, abs=1e-12)


def test_an_own_axis_is_turned_onto_the_normal_about_the_pivot_first():
    # +X comes onto up by the least turn, 90° about +Z: the crate of 2 × 4 × 6 lies 4 wide and 2 high.
    after = put(scene(box([2, 4, 6], pivot=[1, 0, 0])), on=FLOOR, align="+x")
    assert after.world_from_local("a") == near(np.array([[0, -1, 0, 5], [1, 0, 0, 1], [0, 0, 1, -2], [0, 0, 0, 1]]))


def test_straight_back_it_is_half_a_turn_about_world_x_where_the_axis_is_along_up():
    after = put(scene(box([2, 4, 6])), on=FLOOR, align="-y")
    assert after.world_from_local("a") == near(np.array([[1, 0, 0, 5], [0, -1, 0, 2], [0, 0, -1, -2], [0, 0, 0, 1]]))


def test_of_faces_that_look_down_alike_the_first_is_the_foot():
    # Turned by 45° about Z, −X and −Y look down alike: −X comes first, its middle over the contact.
    half = np.sqrt(0.5)
    turned = scene(box([2, 4, 6], rotation=[0, 0, np.sin(np.pi / 8), np.cos(np.pi / 8)]))
    after = put(turned, on={"point": [0, 0, 0], "normal": [0, 1, 0]})
    foot = after.world_from_local("a") @ [-1, 0, 0, 1]
    assert foot[[0, 2]] == near([0, 0])
    # Its lowest point is the corner −X −Y, half of 4 further down along its own Y.
    assert foot[1] == pytest.approx(2 * half)


def test_the_normal_of_an_unevenly_scaled_mirrored_surface_is_a_covector():
    # A roof plane with the local normal (1, 1, 0), scaled by 2 along −X (mirrored): its normal becomes (−1/2, 1, 0).
    where = scene(box([1, 1, 1]), {"id": "roof", "solid": CRATE, "scale": [-2, 1, 1], "translation": [0, 0, 3]})
    after = put(where, on={"object": "roof", "point": [1, 0, 0], "normal": [1, 1, 0]}, align="+y")
    assert after.world_from_local("a")[:3, 1] == near(np.array([-0.5, 1, 0]) / np.sqrt(1.25))
    assert after.world_from_local("a")[:3, 3] == near(
        np.array([-2, 0, 3]) + 0.5 * np.array([-0.5, 1, 0]) / np.sqrt(1.25)
    )


def test_an_assembly_stands_by_the_middle_of_its_box_and_all_that_is_in_it_counts():
    where = scene(
        {"id": "a", "translation": [9, 9, 9]},
        {"id": "low", "parent": "a", "solid": {"kind": "cuboid", "size": [2, 2, 2]}},
        {"id": "high", "parent": "a", "solid": {"kind": "sphere", "diameter": 2}, "translation": [4, 3, 0]},
    )
    after = put(where, on=FLOOR)
    # The box goes from −1 to 5, −1 to 4, −1 to 1: its middle at (2, 1.5, 0) comes over the contact, its lowest to 0.
    assert after.world_from_local("low")[:3, 3] == near([3, 1, -2])
    child_below = scene(box([2, 2, 2]), {"id": "keel", "parent": "a", "solid": CRATE, "translation": [0, -3, 0]})
    lowest = child_below.box("keel", np.eye(4)).least[1]
    assert put(child_below, on=FLOOR).world_from_local("a")[1, 3] == pytest.approx(-lowest)


def test_the_contact_goes_with_its_object_when_earlier_steps_are_edited():
    where = scene(box([1, 1, 1]), {"id": "quay", "solid": CRATE})
    contact = {"object": "quay", "point": [0.25, 0.5, 0], "normal": [0, 1, 0]}
    for by in ([0, 0, 0], [3, 1, -2]):
        steps = steps_of(
            {"op": "move", "objects": ["quay"], "by": by}, {"op": "put", "objects": ["a"], "on": contact, "offset": 0.1}
        )
        assert replay(where, steps)[-1].scene.world_from_local("a")[:3, 3] == near(np.add(by, [0.25, 1.1, 0]))


@pytest.mark.parametrize(("short_of_rad", "foot"), [(1e-10, [-1, 0, 0]), (1e-8, [0, -2, 0])])
def test_faces_look_down_alike_within_the_tolerance_and_no_further(short_of_rad, foot):
    # A hair short of 45° −Y looks down more than −X, by √2 of the hair: alike within 1e-9, and not beyond.
    half_turn = (np.pi / 4 - short_of_rad) / 2
    turned = scene(box([2, 4, 6], rotation=[0, 0, np.sin(half_turn), np.cos(half_turn)]))
    after = put(turned, on={"point": [0, 0, 0], "normal": [0, 1, 0]})
    assert (after.world_from_local("a") @ [*foot, 1])[[0, 2]] == near([0, 0])


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"on": {"object": "a", "point": [0, 0, 0], "normal": [0, 1, 0]}}, "put-on-itself"),
        ({"on": {"object": "lid", "point": [0, 0, 0], "normal": [0, 1, 0]}}, "put-on-itself"),
        ({"on": {"object": "gone", "point": [0, 0, 0], "normal": [0, 1, 0]}}, "unknown-object"),
        ({"on": {"point": [0, 0, 0], "normal": [0, 0, 1e-13]}}, "normal-zero"),
        ({"on": FLOOR, "object_id": "fixed"}, "locked"),
        ({"on": FLOOR, "object_id": "empty"}, "no-box"),
    ],
)
def test_an_impossible_put_is_refused(more, code):
    where = scene(
        box([1, 1, 1]),
        {"id": "lid", "parent": "a", "solid": CRATE},
        {"id": "fixed", "solid": CRATE, "locked": True},
        {"id": "empty"},
    )
    with pytest.raises(CoreError) as refused:
        put(where, **more)
    assert refused.value.code == code


def test_two_objects_are_not_put_at_once_and_one_named_twice_is_one():
    with pytest.raises(ValueError, match="a 'put' sets one object"):
        STEP_ADAPTER.validate_python({"op": "put", "objects": ["a", "b"], "on": FLOOR})
    assert STEP_ADAPTER.validate_python({"op": "put", "objects": ["a", "a"], "on": FLOOR}).acts_on == ("a",)


@st.composite
def settings_of_a_put(draw, up="y"):
    """A solid under a turned, unevenly scaled parent, with a child; a surface that is turned, scaled and mirrored."""
    scales = st.tuples(*[st.sampled_from([-2.0, 0.5, 1.0, 1.5])] * 3)
    placed = lambda: {"translation": draw(triples), "rotation": draw(quaternions()).tolist(), "scale": draw(scales)}  # noqa: E731
    cuboid = {"kind": "cuboid", "size": [1, 2, 3]}
    objects = [
        {"id": "above", **placed()},
        {"id": "a", "parent": "above", "solid": draw(solids()), "pivot": draw(triples), **placed()},
        {"id": "in", "parent": "a", "solid": draw(solids()), **placed()},
        {"id": "surface", "solid": cuboid, **placed()},
    ]
    items = [ObjectSpec.model_validate(o).to_object() for o in objects]
    where = scene_of(items, Conventions(up=up), np.zeros(3))
    normal = draw(triples.filter(lambda v: np.linalg.norm(v) > 0.01))
    step = {"op": "put", "objects": ["a"], "offset": draw(lengths), "align": draw(st.one_of(st.none(), signed_axes))}
    step["on"] = {"object": "surface", "point": draw(triples), "normal": normal}
    return where, STEP_ADAPTER.validate_python(step)


@few
@given(settings_of_a_put())
def test_it_touches_the_surface_with_its_lowest_point_and_its_foot_is_over_the_contact(case):
    where, step = case
    after = step.apply(where)
    surface = where.world_from_local("surface")
    # A normal is square to what lies in the surface: that is what makes it a covector.
    n = np.cross(*(surface[:3, :3] @ t for t in across_of(np.array(step.on.normal))))
    n *= np.sign(n @ surface[:3, :3] @ np.array(step.on.normal)) / np.linalg.norm(n)
    contact = (surface @ [*step.on.point, 1])[:3]
    size = 1 + max(np.abs(after.world_from_local(i)).max() for i in ("a", "in"))
    # Every vertex of fine triangulations lies above the plane, and one at it but for what a chord cuts off.
    heights = np.concatenate([fine_points(after, i) @ n for i in ("a", "in")]) - contact @ n - step.offset
    assert heights.min() >= -1e-9 * size
    assert heights.min() <= 0.003 * np.ptp(heights) + 1e-9 * size
    # The foot: of the middles of the six faces of its box, the one whose outward normal looks most against n.
    world, half = after.world_from_local("a"), after.require_local_box("a")
    middles, against = [], []
    for axis, sign in FACES:
        middle = half.centre.copy()
        middle[axis] = half.least[axis] if sign < 0 else half.most[axis]
        others = [world[:3, i] for i in range(3) if i != axis]
        outward = np.cross(*others)
        outward *= np.sign(outward @ world[:3, axis]) * sign / np.linalg.norm(outward)
        middles.append((world @ [*middle, 1])[:3])
        against.append(-outward @ n)
    foot = middles[next(i for i in range(6) if against[i] >= max(against) - 1e-9)]
    across = (foot - contact) - ((foot - contact) @ n) * n
    assert np.linalg.norm(across) <= 1e-8 * size
    if step.align is not None:
        column = world[:3, "xyz".index(step.align[1])] * (1 if step.align[0] == "+" else -1)
        assert column / np.linalg.norm(column) == pytest.approx(n, abs=1e-9)
    elif (where.world_from_local("a")[:3, :3] != world[:3, :3]).any():
        assert where.world_from_local("a")[:3, :3] == pytest.approx(world[:3, :3], abs=1e-9 * size)


def across_of(normal):
    """Two directions in the plane of a normal."""
    first = np.cross(normal, [1.0, 0, 0] if abs(normal[0]) < 0.9 * np.linalg.norm(normal) else [0, 1.0, 0])
    return first, np.cross(normal, first)


def fine_points(where, object_id):
    item = where[object_id]
    points, _ = item.solid.triangulated(where.conventions.up_index, 96)
    world = where.world_from_local(object_id)
    return points @ world[:3, :3].T + world[:3, 3]


@few
@given(
    settings_of_a_put(),
    st.sampled_from(["y", "z"]),
    st.sampled_from(["left", "right"]),
    st.sampled_from(["mm", "cm", "m", "in", "ft"]),
)
def test_it_is_the_same_put_in_other_conventions(case, up, hand, length):
    where, step = case
    change = ConventionTransform(where.conventions, Conventions(up=up, handedness=hand, length=length))
    items = [
        ObjectSpec(
            id=i,
            parent=o.parent,
            solid=o.solid,
            pivot=tuple(o.pivot),
            matrix=tuple(o.parent_from_local.ravel(order="F")),
        )
        for i, o in where.objects.items()
    ]
    there = scene_of([item.converted(change).to_object() for item in items], change.target, np.zeros(3))
    wanted = change.matrix(step.apply(where).world_from_local("a"))
    found = step.converted(change).apply(there).world_from_local("a")
    if step.align is None or abs(abs(own_axis(where, step) @ step.contact_world(where)[1]) - 1) > 1e-6:
        assert found == pytest.approx(wanted, abs=1e-7 * (1 + np.abs(wanted).max()))


def own_axis(where, step):
    column = where.world_from_local("a")[:3, "xyz".index(step.align[1])]
    return column / np.linalg.norm(column)
