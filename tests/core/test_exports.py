"""Mistakes that programs make when they write a scene, planted in the vertices and places of a file by plain arithmetic."""

import numpy as np
import pytest

from cubedrill.core.judging.causes.exports import EXPORTS
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import SceneSubmission, SheetSubmission
from tests.tiers import some

KINDS = {"position": 0.01, "rotation": 0.5, "size": 0.01}
# Wedges, which look the same in one way alone; the arm stands on the post, and its pivot is at its end.
EXERCISE = Exercise.model_validate(
    {
        "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E",
        "start": {"objects": [
            {"id": "post", "solid": {"kind": "wedge", "size": [1, 3, 2]}, "pivot": [0, -1.5, 0]},
            {"id": "arm", "solid": {"kind": "wedge", "size": [4, 1, 0.5]}, "parent": "post",
             "translation": [1, 2, 0.5], "pivot": [-2, 0, 0]},
            {"id": "crate", "solid": {"kind": "wedge", "size": [1, 0.5, 2]}},
        ]},
        "reference": {"steps": [
            {"op": "move", "objects": ["post"], "by": [4, 1, -3]},
            {"op": "rotate", "objects": ["post"], "axis": "y", "angle": 45},
            {"op": "rotate", "objects": ["arm"], "axis": "x", "angle": 30},
            {"op": "move", "objects": ["crate"], "by": [-2, 5, 3]},
            {"op": "rotate", "objects": ["crate"], "axis": "z", "angle": 20},
        ]},
        "checks": [
            {"id": f"{kind} of {i}", "kind": kind, "object": i, "tolerance": tolerance}
            for i in ("post", "arm", "crate") for kind, tolerance in KINDS.items()
        ],
    }
)  # fmt: skip
TARGET = EXERCISE.target_scene()
UP = np.array(((1.0, 0, 0), (0, 0, -1), (0, 1, 0)))  # Y up as Z up
STAYS = np.eye(4)


def world(i):
    return TARGET.world_from_local(i)


def parent(i):
    return STAYS if TARGET[i].parent is None else world(TARGET[i].parent)


def about(i):
    """Where the middle of an object is beside its pivot, in the world; the middle of a wedge's box is its origin."""
    return -world(i)[:3, :3] @ TARGET[i].pivot


def put(linear, place):
    matrix = np.eye(4)
    matrix[:3, :3], matrix[:3, 3] = linear, place
    return matrix


# What the vertices of an object are multiplied by, and where it is said to be, both as a careless program has them.
PLANTED = {
    "file-baked-twice": lambda i: (world(i), world(i)),
    "file-centre-for-pivot": lambda i: (world(i), put(np.eye(3), -about(i))),
    "file-up-of-turns": lambda i: (put(UP @ world(i)[:3, :3], 0), put(np.eye(3), world(i)[:3, 3])),
    "file-up-of-places": lambda i: (put(world(i)[:3, :3], 0), put(np.eye(3), UP @ world(i)[:3, 3])),
    "file-unit-of-sizes": lambda i: (np.diag((100.0, 100, 100, 1)), world(i)),
    "file-parent-lost": lambda i: (STAYS, TARGET[i].parent_from_local),
    "file-parent-twice": lambda i: (STAYS, parent(i) @ world(i)),
}


def handed(planted):
    """A scene of meshes without a tree, their vertices in another order, so that nothing is known by that."""
    objects = []
    for i, item in TARGET.objects.items():
        points, corners = item.solid.triangulated(1)
        baked, place = planted(i)
        points = points @ baked[:3, :3].T + baked[:3, 3]
        order = np.random.default_rng(7).permutation(len(points))
        mesh = {"kind": "mesh", "vertices": points[order].tolist(), "triangles": np.argsort(order)[corners].tolist()}
        objects.append({"id": i, "name": i, "solid": mesh, "matrix": place.ravel(order="F").tolist()})
    return submission(SceneSubmission, "scene", scene={"objects": objects})


def submission(model, kind, **more):
    head = {"format": "cube-drill/submission", "version": 1, "exercise": "e", "kind": kind}
    return model.model_validate({**head, **more})


def judged(work):
    return judge_submission(EXERCISE, EXERCISE.start_scene(), TARGET, work)


def test_places_in_the_vertices_or_beside_them_are_right():
    assert set(PLANTED) == {mistake.code for mistake in EXPORTS}
    assert judged(handed(lambda i: (world(i), STAYS))).passed
    assert judged(handed(lambda i: (STAYS, world(i)))).passed


FACTORS = {"mm": 1000.0, "cm": 100.0, "in": 1 / 0.0254, "ft": 1 / 0.3048}
VARIANTS = [
    *(("file-unit-of-sizes", put(np.eye(3) * f, 0), None) for r in FACTORS.values() for f in (r, 1 / r)),
    *(("file-up-of-places", None, turn) for turn in (UP, UP.T)),
    *(("file-up-of-turns", (turn, back), None) for turn in (UP, UP.T) for back in (np.eye(3), turn.T)),
]


@pytest.mark.parametrize(("code", "of_vertices", "of_place"), some(VARIANTS, 5))
def test_every_unit_and_either_way_up_is_named(code, of_vertices, of_place):
    def planted(i):
        linear, place = world(i)[:3, :3], world(i)[:3, 3]
        if code == "file-unit-of-sizes":
            return of_vertices, world(i)
        if code == "file-up-of-places":
            return put(linear, 0), put(np.eye(3), of_place @ place)
        turn, back = of_vertices
        return put(turn @ linear @ back, 0), put(np.eye(3), place)

    (cause,) = judged(handed(planted)).causes
    assert cause.code == code


def test_an_ambiguous_rotation_is_judged_by_look_and_the_report_says_so():
    made = EXERCISE.model_dump(exclude_unset=True)
    made["start"]["objects"][2]["solid"] = {"kind": "cuboid", "size": [1, 0.5, 2]}
    exercise = Exercise.model_validate(made)
    start, target = exercise.start_scene(), exercise.target_scene()
    points, corners = target["crate"].solid.triangulated(1)
    matrix = target.world_from_local("crate")
    baked = points @ matrix[:3, :3].T + matrix[:3, 3] + (1, 0, 0)  # a metre off, so that it is looked for
    mesh = {"kind": "mesh", "vertices": baked.tolist(), "triangles": corners.tolist()}
    work = submission(SceneSubmission, "scene", scene={"objects": [{"id": "crate", "name": "crate", "solid": mesh}]})
    told = {check.id: check.text for check in judge_submission(exercise, start, target, work).checks}
    assert "judged as it looks" in told["rotation of crate"] and "judged as it looks" in told["size of crate"]
    assert not any("judged as it looks" in text for check, text in told.items() if "crate" not in check)
    assert "judged as it looks" not in told["position of crate"]


@pytest.mark.parametrize("code", PLANTED)
def test_a_mistake_of_an_export_is_named_for_all_that_it_moved(code):
    report = judged(handed(PLANTED[code]))
    missed = {check.object for check in report.checks if check.verdict != "pass"}
    assert missed
    (cause,) = report.causes
    assert (cause.code, cause.step, set(cause.objects)) == (code, 0, missed)


@pytest.mark.parametrize("code", some(PLANTED, 3))
def test_typed_numbers_are_never_explained_as_an_export_mistake(code):
    places = {i: place @ baked for i in TARGET.objects for baked, place in [PLANTED[code](i)]}
    rows = [{"object": i, "matrix": place.ravel(order="F").tolist()} for i, place in places.items()]
    found = judged(submission(SheetSubmission, "sheet", rows=rows)).causes
    codes = {code for cause in found for code in (cause.code, *cause.also)}
    assert codes.isdisjoint({mistake.code for mistake in EXPORTS})
