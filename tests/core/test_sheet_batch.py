"""Many sheets marked at once: each has the marks that it has alone, whatever is typed in it."""

from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import EulerOrder
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_loaded, mark_sheets
from cubedrill.core.judging.sheet_batch import batch_of
from cubedrill.core.judging.submission import SheetSubmission, load_submission
from tests.core.strategies import factors, quaternions
from tests.tiers import few

CONVENTIONS = [
    {"euler": order, "up": "yz"[n % 2], "handedness": ("right", "left")[n // 2 % 2], "angle": ("deg", "rad", "turn")[n % 3],
     "length": ("mm", "cm", "m", "in", "ft")[n % 5]}
    for n, order in enumerate(get_args(EulerOrder))
]  # fmt: skip
IDS = ["base", "mast", "hook", "crate"]
EVERY_SPACE = ["world", "parent", "local", {"object": "mast"}, {"view": {"right": [1, 2, 0], "up": [0, 1, 5]}}]


def exercise(look=False):
    """A crane of three, turned, scaled and skewed, and a crate that only the target has."""
    crane = [
        {
            "id": i, "parent": parent, "solid": {"kind": "cuboid", "size": [1, 2, 3]}, "translation": [2, 1, -3],
            "rotation": [0.48, 0.6, 0.64, 0], "scale": [1, 2, 0.5], "pivot": [0, -1, 0.5],
        }
        for i, parent in (("base", None), ("mast", "base"), ("hook", "mast"))
    ]  # fmt: skip
    crate = {"id": "crate", "solid": {"kind": "cylinder", "diameter": 1, "height": 2}, "parent": "base"}
    checks = [
        check
        for i in IDS
        for check in (
            *({"kind": "position", "object": i, "space": space, "tolerance": 9} for space in EVERY_SPACE),
            {"kind": "position", "object": i, "point": "+x-y", "axes": "zx", "tolerance": [5, 20]},
            {"kind": "position", "object": i, "measure": "distance", "tolerance": 12, "zero_at": 9},
            *({"kind": "rotation", "object": i, "space": space, "tolerance": 60} for space in EVERY_SPACE),
            {"kind": "rotation", "object": i, "measure": "axis", "axis": "-y", "tolerance": 60, "zero_at": 1},
            {"kind": "size", "object": i, "tolerance": 0.5},
            {"kind": "size", "object": i, "axes": "zy", "measure": "length", "tolerance": [0, 2]},
        )
    ]
    alone = [
        {"kind": "position", "object": "hook", "space": {"line": [[0, 0, 0], {"object": "mast"}]}, "tolerance": 9},
        {"kind": "shape", "object": "crate", "tolerance": 9},
        {"kind": "relation", "relation": "touches", "object": "crate", "other": "base", "tolerance": 9},
        {"kind": "rotation", "object": ["hook", "mast"], "tolerance": 90},
    ]
    alike = [
        {"kind": "parent", "object": "hook"},
        {"kind": "pivot", "object": "mast", "tolerance": 0},
        {"kind": "count", "solid": "cuboid"},
        {"kind": "process", "rule": "at_most", "steps": 3},
    ]
    looked = [
        {"kind": "size", "object": "base", "symmetry": "look", "tolerance": 0.01},
        {"kind": "rotation", "object": "crate", "symmetry": "look", "tolerance": 30},
    ]  # fmt: skip
    looked = looked if look else []
    every = [*checks, *alone, *alike, *looked]
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "crane", "title": "Crane",
            "start": {"objects": crane}, "target": {"objects": [*crane, crate]},
            "checks": [{"id": str(n), "zero_at": 3, "points": 2, **check} for n, check in enumerate(every)],
        }
    )  # fmt: skip


def sheet(rows, conventions=None):
    return SheetSubmission.model_validate(
        {
            "format": "cube-drill/submission", "version": 1, "exercise": "crane", "kind": "sheet",
            "conventions": conventions, "rows": rows,
        }
    )  # fmt: skip


def alone(made, one):
    try:
        return judge_loaded(
            made, made.target_scene(), load_submission(made.start_scene(), made.target_scene(), one)
        ).marks
    except CoreError as error:
        return error.text


def agree(made, sheets):
    together = mark_sheets(made, made.start_scene(), made.target_scene(), sheets)
    for one, marks in zip(sheets, together, strict=True):
        expected = alone(made, one)
        if isinstance(expected, str):
            assert isinstance(marks, CoreError)
            assert marks.text == expected
        else:
            assert marks.by_check == pytest.approx(expected.by_check, abs=1e-9, nan_ok=False)
            assert marks[:4] == pytest.approx(expected[:4], abs=1e-9)


numbers = st.floats(-9, 9).map(lambda value: round(value, 3))
three = st.tuples(numbers, numbers, numbers).map(list)
typed = {
    "translation": three,
    "scale": st.tuples(factors, factors, factors.map(lambda f: -f)).map(list),
    "rotation": quaternions().map(lambda q: q.tolist()),
    "euler": three,
}


@st.composite
def rows(draw):
    """What a student may type for some of the objects: all of it, a part of it, or a matrix."""
    made = []
    for object_id in draw(st.lists(st.sampled_from(IDS), unique=True)):
        keys = draw(st.sets(st.sampled_from(sorted(typed))))
        if {"rotation", "euler"} <= keys:
            keys -= {"euler"}
        row = {key: draw(typed[key]) for key in sorted(keys)}
        if draw(st.integers(0, 4)) == 0:
            linear = np.array(draw(st.tuples(three, three, three)))
            row = {"matrix": [*linear[0], 0, *linear[1], 0, *linear[2], 0, *draw(three), 1]}
        made.append({"object": object_id, "space": draw(st.sampled_from(["world", "parent"])), **row})
    return made


@few
@given(st.lists(st.tuples(rows(), st.sampled_from(CONVENTIONS)), min_size=1, max_size=6))
def test_each_sheet_has_the_marks_that_it_has_alone(typed_sheets):
    agree(exercise(), [sheet(*each) for each in typed_sheets])


def test_a_right_sheet_earns_all_points_in_every_notation():
    made = exercise()
    target = made.target_scene()
    as_matrix = [
        {"object": i, "space": "world", "matrix": target.world_from_local(i).ravel(order="F").tolist()} for i in IDS
    ]
    crate_alone = [{"object": "crate", "space": "parent", "translation": [0, 0, 0]}]
    marks = mark_sheets(made, made.start_scene(), target, [sheet(as_matrix), sheet(crate_alone)])
    assert [each.score for each in marks] == [1, 1]
    # Laid upon the others, and not judged alone because its quaternions would not be of unit length.
    turned = {"object": "base", "rotation": [0.48, 0.6, 0.64, 0]}
    assert batch_of(made.start_scene(), target, [sheet([*crate_alone, turned])]).sound.tolist() == [True]
    assert marks[0].by_check[-1] is None  # a sheet does not say how it was made


def test_look_checks_judge_each_sheet_alone():
    rolled = [{"object": "crate", "space": "parent", "translation": [0, 0, 0], "euler": [0, 100, 0]}]
    # A block of 1 by 4 by 1.5 lain on another side: its sizes are those of its axes as they lie now.
    turn = Rotation.from_quat([0.48, 0.6, 0.64, 0]) * Rotation.from_euler("y", 90, degrees=True)
    lain = [{"object": "base", "rotation": turn.as_quat().tolist(), "scale": [1.5, 2, 1 / 3]}]
    agree(exercise(look=True), [sheet(rolled), sheet(lain), sheet([])])
    made = exercise(True)
    (lain_marks,) = mark_sheets(made, made.start_scene(), made.target_scene(), [sheet(lain)])
    assert lain_marks.by_check[-2] == 2
    rolled_marks = mark_sheets(exercise(True), exercise().start_scene(), exercise().target_scene(), [sheet(rolled)])
    assert rolled_marks[0].by_check[-1] == 2


@pytest.mark.parametrize(
    "row",
    [
        {"object": "nothing"},
        {"object": "base", "rotation": [0, 0, 0, 2]},
        {"object": "base", "rotation": [0, 0, 0, 0.5]},
        {"object": "mast", "scale": [1, 0, 1]},
        {"object": "mast", "translation": [1e300, 0, 0]},
        {"object": "mast", "translation": [-1e300, 0, 0]},
        {"object": "mast", "scale": [-1e150, 1e150, 1e150]},
        {"object": "hook", "matrix": [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 2]},
        {"object": "hook", "scale": [1e-40, 1e-40, 1e-40]},
        {"object": "base", "matrix": [1, 0, 0, 0, 1, 1e-7, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]},
        {"object": "base", "matrix": [1e3, 0, 0, 0, 0, 1e3, 0, 0, 0, 0, 1e-10, 0, 0, 0, 0, 1]},
        {"object": "base", "matrix": [1e-3, 0, 0, 0, 0, 1e-3, 0, 0, 0, 0, 1e-16, 0, 0, 0, 0, 1]},
    ],
    ids=[
        "unknown",
        "long quaternion",
        "short quaternion",
        "flat",
        "far",
        "far back",
        "huge",
        "last row",
        "tiny",
        "nearly flat",
        "large and flat",
        "small and flat",
    ],
)
def test_a_sheet_that_cannot_be_laid_on_the_others_is_judged_alone_and_spoils_none(row):
    made = exercise()
    crate = {"object": "crate", "space": "parent", "translation": [0, 0, 0]}
    sheets = [sheet([crate]), sheet([crate, row]), sheet([crate, {"object": "base", "translation": [1, 1, 1]}])]
    assert batch_of(made.start_scene(), made.target_scene(), sheets).sound.tolist()[::2] == [True, True]
    agree(made, sheets)


def test_a_sheet_that_does_not_place_what_has_to_be_made_is_judged_alone():
    made = exercise()
    rows = [
        {"object": "crate"},
        {"object": "crate", "space": "parent", "scale": [1, 1, 1]},
        {"object": "base", "scale": [1, 2, 0.5]},
    ]
    sheets = [sheet([row]) for row in rows]
    assert batch_of(made.start_scene(), made.target_scene(), sheets).sound.tolist() == [False] * 3
    agree(made, sheets)


def test_sheets_of_an_exercise_that_renames_and_nests_agree_with_each_alone():
    """Objects without a value are as at the start, which the sheets of a batch do not share."""
    document = exercise().model_dump(mode="json", exclude_none=True)
    for item in document["target"]["objects"]:
        item.update({"mast": {"name": "Mast"}, "hook": {"parent": "base", "pivot": [0, 0, 0]}}.get(item["id"], {}))
    names = [{"kind": "name", "object": "mast", "id": "name"}, {"kind": "parent", "object": "hook", "id": "parent"}]
    made = Exercise.model_validate({**document, "checks": [*document["checks"], *names]})
    crate = {"object": "crate", "space": "parent", "translation": [0, 0, 0]}
    rows = [
        [],
        [crate],
        [crate, {"object": "mast", "scale": [1, 2, 0.5]}],
        [crate, *({"object": i, "scale": [1, 2, 0.5]} for i in ("mast", "hook"))],
    ]
    agree(made, [sheet(each) for each in rows])


def test_no_sheets_have_no_marks():
    assert mark_sheets(exercise(), exercise().start_scene(), exercise().target_scene(), []) == []


def test_an_assembly_is_judged_by_its_own_transform():
    objects = [{"id": "gang"}, {"id": "crate", "parent": "gang", "solid": {"kind": "cuboid", "size": [1, 2, 3]}}]
    checks = [
        {"kind": "size", "object": "gang", "tolerance": 0.1},
        {"kind": "size", "object": ["crate", "gang"], "tolerance": 0.1},
        {"kind": "position", "object": "gang", "tolerance": 0.1},
        {"kind": "position", "object": "gang", "point": "centre", "tolerance": 0.1},
        {"kind": "rotation", "object": "gang", "tolerance": 1},
    ]
    document = exercise().model_dump(mode="json", include={"format", "version", "id", "title"})
    made = Exercise.model_validate(
        {**document, "start": {"objects": objects}, "reference": {"steps": []},
         "checks": [{"id": str(n), **check} for n, check in enumerate(checks)]}
    )  # fmt: skip
    turned = {"object": "gang", "euler": [0, 90, 0], "translation": [1, 0, 0]}
    agree(made, [sheet([]), sheet([turned]), sheet([{"object": "crate", "scale": [2, 1, 1]}])])
