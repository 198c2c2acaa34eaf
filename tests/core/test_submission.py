"""Sheets and scenes: what their numbers mean, which object is which, and that right work written another way stays right."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import Submission, load_submission
from cubedrill.core.scene.reading import euler_nearest
from tests.core.build import CRATE, QUARTER_Y, near, scene
from tests.core.test_laws import CONVENTIONS

SUBMISSION = TypeAdapter(Submission)
HEAD = {"format": "cube-drill/submission", "version": 1, "exercise": "crane"}
BLOCK = {"kind": "cuboid", "size": [2, 1, 1]}
START = [
    {"id": "base", "name": "Base", "translation": [5, 0, 0], "rotation": QUARTER_Y, "solid": CRATE},
    {"id": "jib", "name": "Jib arm", "parent": "base", "translation": [0, 2, 0], "pivot": [-1, 0, 0], "solid": BLOCK},
    {"id": "buoy", "name": "Buoy", "solid": {"kind": "sphere", "diameter": 1.5}},
]
STEPS = [
    {"op": "rotate", "objects": ["jib"], "space": "local", "axis": "z", "angle": 30},
    {"op": "move", "objects": ["buoy"], "to": [1, 2, 3]},
    {"op": "scale", "objects": ["buoy"], "by": [2, 2, 2]},
]
CHECKS = [
    {"id": "jib-place", "kind": "position", "object": "jib", "tolerance": 0.01},
    {"id": "jib-turn", "kind": "rotation", "object": "jib", "tolerance": 0.1},
    {
        "id": "jib-end",
        "kind": "position",
        "object": "jib",
        "point": "+x",
        "space": {"object": "base"},
        "tolerance": 0.01,
    },
    {"id": "jib-parent", "kind": "parent", "object": "jib"},
    {"id": "buoy", "kind": "shape", "object": "buoy", "symmetry": "look", "tolerance": 0.01},
    {"id": "buoy-size", "kind": "size", "object": "buoy", "symmetry": "look", "tolerance": 0.01},
]
EXERCISE = Exercise.model_validate(
    {
        "format": "cube-drill/exercise", "version": 1, "id": "crane", "title": "Crane",
        "start": {"objects": START}, "reference": {"steps": STEPS}, "checks": CHECKS,
    }
)  # fmt: skip
HERE, TARGET = EXERCISE.start_scene(), EXERCISE.target_scene()


def report(**submission):
    return judge_submission(EXERCISE, HERE, TARGET, SUBMISSION.validate_python({**HEAD, **submission}))


def verdicts(**submission):
    return {check.id: check.verdict for check in report(**submission).checks}


def row(object_id, space="world", **values):
    world_from_local = TARGET.world_from_local(object_id) if space == "world" else TARGET[object_id].parent_from_local
    parts = parts_of(world_from_local)
    given = {
        "translation": parts.translation.tolist(),
        "rotation": Rotation.from_matrix(parts.rotation).as_quat().tolist(),
        "scale": parts.scale.tolist(),
    }
    return {"object": object_id, "space": space, **given, **values}


@pytest.mark.parametrize("space", ["world", "parent"])
def test_a_sheet_of_the_targets_numbers_passes_in_either_space(space):
    assert set(verdicts(kind="sheet", rows=[row("jib", space), row("buoy", space)]).values()) == {"pass"}


def test_a_matrix_counts_as_its_parts_do():
    rows = [{"object": i, "matrix": TARGET.world_from_local(i).ravel(order="F").tolist()} for i in ("jib", "buoy")]
    assert set(verdicts(kind="sheet", rows=rows).values()) == {"pass"}


def test_an_object_without_a_row_keeps_its_start_place_in_its_parent():
    moved_base = {"object": "base", "translation": [0, 0, 0]}
    found = load_submission(
        HERE, TARGET, SUBMISSION.validate_python({**HEAD, "kind": "sheet", "rows": [moved_base]})
    ).scene
    assert found["jib"].parent_from_local == near(HERE["jib"].parent_from_local)
    assert found.pivot_world("buoy") == near([0, 0, 0])


def test_blank_cells_of_a_row_keep_the_values_of_the_start():
    found = load_submission(
        HERE,
        TARGET,
        SUBMISSION.validate_python({**HEAD, "kind": "sheet", "rows": [{"object": "base", "translation": [0, 1, 0]}]}),
    ).scene
    assert found.world_from_local("base")[:3, :3] == near(HERE.world_from_local("base")[:3, :3])


def test_translation_is_the_last_column_and_not_the_pivots_place():
    found = load_submission(
        HERE, TARGET, SUBMISSION.validate_python({**HEAD, "kind": "sheet", "rows": [row("jib", translation=[0, 0, 0])]})
    ).scene
    assert found.world_from_local("jib")[:3, 3] == near([0, 0, 0])
    assert np.linalg.norm(found.pivot_world("jib")) == near(1)


def test_a_row_for_an_object_that_is_not_there_says_so():
    with pytest.raises(CoreError, match="no object ghost"):
        report(kind="sheet", rows=[{"object": "ghost"}])


@pytest.mark.parametrize(
    "rows",
    [
        [{"object": "jib", "matrix": [1] * 16, "scale": [1, 1, 1]}],
        [{"object": "jib", "euler": [0, 0, 0], "rotation": [0, 0, 0, 1]}],
        [{"object": "jib"}, {"object": "jib"}],
        [{"object": "jib", "space": "local"}],
        [{"object": "jib", "colour": "red"}],
    ],
)
def test_sheets_that_say_two_things_are_refused(rows):
    with pytest.raises(ValidationError):
        SUBMISSION.validate_python({**HEAD, "kind": "sheet", "rows": rows})


def scene_objects(change):
    """The target's objects in other conventions, as a file of another program might have them."""
    items = []
    for item in TARGET.objects.values():
        parts = parts_of(change.matrix(item.parent_from_local))
        solid = next(spec.converted(change).solid for spec in EXERCISE.start.objects if spec.id == item.id)
        items.append(
            {
                "id": item.id, "name": item.name, "parent": item.parent, "solid": solid.model_dump(),
                "translation": parts.translation.tolist(), "scale": parts.scale.tolist(),
                "rotation": Rotation.from_matrix(parts.rotation).as_quat().tolist(),
            }
        )  # fmt: skip
    return items


@given(CONVENTIONS)
def test_a_scene_in_any_conventions_passes(conventions):
    items = scene_objects(ConventionTransform(TARGET.conventions, conventions))
    found = verdicts(kind="scene", scene={"conventions": conventions.model_dump(), "objects": items})
    assert set(found.values()) == {"pass"}


@given(
    CONVENTIONS,
    st.sampled_from(["world", "parent"]),
    st.tuples(st.floats(-1e3, 1e3), st.floats(-1e3, 1e3), st.floats(-1e3, 1e3)),
    st.booleans(),
)
def test_a_sheet_in_any_conventions_with_any_equivalent_angles_passes(conventions, space, before, negate):
    # No false fail: other units, axes, orders, whole turns and second triples, the negated quaternion.
    change = ConventionTransform(TARGET.conventions, conventions)
    rows = []
    for object_id in ("jib", "buoy"):
        target_from_local = (
            TARGET.world_from_local(object_id) if space == "world" else TARGET[object_id].parent_from_local
        )
        parts = parts_of(change.matrix(target_from_local))
        given_row = {
            "object": object_id,
            "space": space,
            "translation": parts.translation.tolist(),
            "scale": parts.scale.tolist(),
        }
        if negate:
            given_row["rotation"] = (-Rotation.from_matrix(parts.rotation).as_quat()).tolist()
        else:
            angles = euler_nearest(parts.rotation, conventions.euler, np.radians(before))
            given_row["euler"] = (angles / conventions.radians_per_unit).tolist()
        rows.append(given_row)
    found = report(kind="sheet", conventions=conventions.model_dump(), rows=rows)
    assert {check.verdict for check in found.checks} == {"pass"}, [check.text for check in found.checks]


@given(st.sampled_from([0, 1, 2]), st.sampled_from([1, -1]))
def test_one_hair_beyond_the_tolerance_never_passes(axis, way):
    # No false pass: one part in a million beyond.
    place = parts_of(TARGET.world_from_local("jib")).translation.copy()
    place[axis] += way * 0.01 * (1 + 1e-6)
    assert verdicts(kind="sheet", rows=[row("jib", translation=place.tolist()), row("buoy")])["jib-place"] == "fail"
    place[axis] -= way * 0.01 * 2e-6
    assert verdicts(kind="sheet", rows=[row("jib", translation=place.tolist()), row("buoy")])["jib-place"] == "pass"


@pytest.mark.parametrize(
    ("names", "ways"),
    [
        ({"jib": ("x1", "Jib arm")}, {"name"}),
        ({"jib": ("x1", "jib_ARM.001"), "buoy": ("x2", "buoy")}, {"folded name", "name"}),
        ({"jib": ("x1", "Thing"), "buoy": ("x2", "Ball"), "base": ("x3", "Box")}, {"shape and size"}),
    ],
)
def test_objects_are_matched_by_name_then_folded_then_by_shape(names, ways):
    items = scene_objects(ConventionTransform(TARGET.conventions, TARGET.conventions))
    new_ids = {old: new for old, (new, _) in names.items()}
    for item in items:
        if item["id"] in names:
            item["id"], item["name"] = names[item["id"]]
        item["parent"] = new_ids.get(item["parent"], item["parent"])
    work = load_submission(
        HERE, TARGET, SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": {"objects": items}})
    )
    assert {match.by for match in work.matches} <= ways | {"name"}
    assert {match.target for match in work.matches} == {"base", "jib", "buoy"}
    assert work.scene.pivot_world("jib") == near(TARGET.pivot_world("jib"))  # a missing pivot is the target's


def test_choices_by_hand_take_precedence_over_names():
    items = scene_objects(ConventionTransform(TARGET.conventions, TARGET.conventions))
    file = {"objects": items, "matches": {"jib": "buoy", "buoy": None}}
    work = load_submission(HERE, TARGET, SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": file}))
    assert {(match.target, match.submitted, match.by) for match in work.matches} == {
        ("base", "base", "name"),
        ("jib", "buoy", "choice"),
    }
    assert work.scene.objects.keys() & TARGET.objects.keys() == {"base", "jib"}
    assert np.allclose(work.scene.world_from_local("jib"), TARGET.world_from_local("buoy"))


def test_a_choice_equal_to_the_automatic_match_counts_as_automatic():
    items = scene_objects(ConventionTransform(TARGET.conventions, TARGET.conventions))
    shown = {"base": "base", "jib": "jib", "buoy": None}
    work = load_submission(
        HERE,
        TARGET,
        SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": {"objects": items, "matches": shown}}),
    )
    assert {(match.target, match.by) for match in work.matches} == {("base", "name"), ("jib", "name")}


@pytest.mark.parametrize(
    ("matches", "code"),
    [
        ({"jib": "nothing"}, "unknown-object"),
        ({"nothing": "jib"}, "unknown-object"),
        ({"jib": "base", "buoy": "base"}, "chosen-twice"),
    ],
)
def test_a_choice_that_cannot_be_is_refused(matches, code):
    file = {"objects": scene_objects(ConventionTransform(TARGET.conventions, TARGET.conventions)), "matches": matches}
    with pytest.raises(CoreError) as error:
        load_submission(HERE, TARGET, SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": file}))
    assert error.value.code == code


def test_extra_nesting_is_looked_through():
    items = scene_objects(ConventionTransform(TARGET.conventions, TARGET.conventions))
    items.append({"id": "group", "parent": "base", "translation": [1, 1, 1]})
    jib = next(item for item in items if item["id"] == "jib")
    jib["parent"], jib["translation"] = "group", [a - 1 for a in jib["translation"]]
    assert set(verdicts(kind="scene", scene={"objects": items}).values()) == {"pass"}


CORNER = {
    "kind": "mesh",
    "vertices": [[0, 0, 0], [3, 0, 0], [0, 2, 0], [0, 0, 1]],
    "triangles": [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]],
}


def test_a_baked_mesh_is_registered_on_its_vertices():
    target = scene({"id": "a", "solid": CORNER, "translation": [1, 2, 3], "rotation": QUARTER_Y, "pivot": [1, 0, 0]})
    world = (
        np.array(CORNER["vertices"]) @ target.world_from_local("a")[:3, :3].T + target.world_from_local("a")[:3, 3]
    ).tolist()
    baked = {**HEAD, "kind": "scene", "scene": {"objects": [{"id": "a", "solid": {**CORNER, "vertices": world}}]}}
    work = load_submission(target, target, SUBMISSION.validate_python(baked))
    assert work.scene.world_from_local("a") == pytest.approx(target.world_from_local("a"), abs=1e-9)
    assert work.turns_unknown == frozenset()


def test_an_undetermined_rotation_stays_unknown():
    target = scene({"id": "a", "solid": CORNER})
    other = {**CORNER, "vertices": [*CORNER["vertices"], [9, 9, 9]]}
    work = load_submission(
        target,
        target,
        SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": {"objects": [{"id": "a", "solid": other}]}}),
    )
    assert work.turns_unknown == {"a"}


def test_conventions_of_a_sheet_are_those_of_the_exercise_unless_given():
    rows = [row("buoy", translation=[1000, 2000, 3000])]
    assert verdicts(kind="sheet", rows=rows)["buoy"] == "fail"
    millimetres = Conventions(length="mm").model_dump()
    assert verdicts(kind="sheet", conventions=millimetres, rows=rows)["buoy"] == "pass"


CRATES = [{"id": i, "name": n, "solid": {"kind": "cuboid", "size": [1, 1, 1]}, "translation": [x, 0, 0]}
          for i, n, x in (("p", "Pine", 0), ("q", "Quay", 3), ("r", "Rope", 6))]  # fmt: skip


def test_alike_ones_that_are_left_are_matched_by_place_and_called_a_guess():
    target = scene(*CRATES, {"id": "s", "name": "Sack", "solid": {"kind": "sphere", "diameter": 1}})
    # Three alike boxes without the names, nearest to R, P and Q in this order; together they lie nearer so than by turns.
    items = [
        {**CRATES[0], "id": f"x{n}", "name": f"Box {n}", "translation": [x, 0.2, 0]}
        for n, x in enumerate((5.8, 1.4, 2.9))
    ]
    work = load_submission(
        target, target, SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": {"objects": items}})
    )
    assert {(m.target, m.submitted, m.by) for m in work.matches} == {
        ("r", "x0", "place"), ("p", "x1", "place"), ("q", "x2", "place"),
    }  # fmt: skip


def test_the_least_distance_is_that_of_all_together_not_of_the_nearest_first():
    target = scene(*CRATES[:2])
    # One at 2.9 and one at 4: the first is the nearest to Q, but then the other would have to go to P: 0.1 + 4 against
    # 2.9 + 1.
    items = [
        {**CRATES[0], "id": f"x{n}", "name": f"Box {n}", "translation": [x, 0, 0]} for n, x in enumerate((2.9, 4.0))
    ]
    work = load_submission(
        target, target, SUBMISSION.validate_python({**HEAD, "kind": "scene", "scene": {"objects": items}})
    )
    assert {m.target: m.submitted for m in work.matches} == {"p": "x0", "q": "x1"}


@pytest.mark.parametrize("name", ["Crane hook", "crane_HOOK.002", "Thing"])
def test_added_objects_are_matched_to_missing_target_objects(name):
    hook = {"id": "hook", "name": "Crane hook", "solid": {"kind": "cuboid", "size": [1, 2, 3]}}
    start, target = scene(*CRATES), scene(*CRATES, {**hook, "parent": "p"})
    added = {"op": "add", "object": {**hook, "id": "new-1", "name": name, "parent": "p"}}
    child = {"op": "add", "object": {"id": "new-2", "name": "Extra", "parent": "new-1"}}
    work = load_submission(
        start, target, SUBMISSION.validate_python({**HEAD, "kind": "steps", "steps": [added, child]})
    )
    assert [m.target for m in work.matches] == ["hook"]
    assert work.scene["hook"].parent == "p"
    assert work.scene["new-2"].parent == "hook"
    assert "new-1" not in work.scene.objects
