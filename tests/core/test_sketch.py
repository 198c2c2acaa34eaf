"""Small drawings: in one frame, farther things first, the same picture in all conventions."""

import pytest

from cubedrill.core.authoring.new_conventions import in_conventions
from cubedrill.core.authoring.plan import plan_of
from cubedrill.core.authoring.sketch import sketched
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.stage import Stage
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise

FILES = sorted((HERE / "exercises").glob("*.json"))


def scene(*objects):
    return Stage.model_validate({"objects": list(objects)}).to_scene(Conventions())


def cube(name, at, colour, **more):
    return {"id": name, "solid": {"kind": "cuboid", "size": [1, 1, 1]}, "translation": at, "colour": colour, **more}


def middle(patches):
    points = [point for patch in patches for point in patch.points]
    return [sum(p[i] for p in points) / len(points) for i in (0, 1)]


def test_right_is_right_and_up_is_up_on_paper():
    """y grows downward there."""
    left, right = sketched([scene(cube("a", [-2, 0, 0], "#ff0000")), scene(cube("a", [2, 1, 0], "#ff0000"))])
    assert middle(left)[0] < middle(right)[0]
    up, down = sketched([scene(cube("a", [0, 2, 0], "#ff0000")), scene(cube("a", [0, -2, 0], "#ff0000"))])
    assert middle(up)[1] < middle(down)[1]


def test_nearer_objects_cover_farther_ones_and_fixed_ones_lie_behind():
    behind, front = cube("behind", [0, 0, -3], "#00ff00"), cube("front", [0, 0, 3], "#0000ff")
    fixed = cube("fixed", [0, 0, 9], "#ff0000", locked=True)
    (patches,) = sketched([scene(front, fixed, behind)])
    hues = list(dict.fromkeys("rgb"[max(range(3), key=lambda i: patch.colour[1 + 2 * i :][:2])] for patch in patches))
    assert hues == ["r", "g", "b"]


def test_the_drawing_fits_the_movable_objects():
    (patches,) = sketched([scene(cube("a", [5, 5, 5], "#808080"), cube("b", [5, 9, 5], "#808080"))])
    for axis in (0, 1):
        values = [point[axis] for patch in patches for point in patch.points]
        assert min(values) >= 0
        assert max(values) <= 1
    assert max(v for patch in patches for _x, v in patch.points) == pytest.approx(0.5 + 0.5 / 1.2, abs=2e-3)


def test_nothing_is_drawn_of_nothing():
    assert sketched([scene({"id": "empty"})]) == ((),)


@pytest.mark.parametrize("file", FILES, ids=lambda file: file.stem)
def test_the_picture_is_the_same_in_other_conventions(file):
    plan = plan_of(read_exercise(file))
    wanted = Conventions(up="z", handedness="left", length="ft", angle="rad", euler=plan.conventions.euler)
    drawn = []
    for each in (plan, in_conventions(plan, wanted, "picture")):
        exercise = each.exercise()
        drawn.append(sketched([exercise.start_scene(), exercise.target_scene()]))
    for one, other in zip(*drawn, strict=True):
        assert sorted(patch.colour[:3] for patch in one) == sorted(patch.colour[:3] for patch in other)
        assert middle(one) == pytest.approx(middle(other), abs=2e-2)
