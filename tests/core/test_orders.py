"""All 24 Euler orders: in causes, in files of another order, in checks; and all three numbers moved round."""

from collections import Counter
from typing import get_args

import numpy as np
import pytest
from hypothesis import given, settings
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import EulerOrder
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.causes.table import FILE_MISTAKES, MISTAKES, outcomes
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import SheetSubmission, StepsSubmission
from tests.core.test_laws import CONVENTIONS
from tests.tiers import some

ORDERS = get_args(EulerOrder)
BLOCK = {"kind": "cuboid", "size": [4, 1, 2]}
HEAD = {"format": "cube-drill/submission", "version": 1, "exercise": "e"}


def exercise(order, *steps, **conventions):
    """Two blocks, one of them turned at the start, whose place, turn and size are checked."""
    objects = [
        {"id": "a", "name": "Block", "solid": BLOCK, "rotation": [0.1, 0.2, 0.3, 0.927361849549570]},
        {"id": "b", "name": "Bar", "solid": BLOCK, "translation": [0, 0, 9]},
    ]
    checks = [
        {"id": f"{i} {kind}", "kind": kind, "object": i, "tolerance": tolerance}
        for i in "ab"
        for kind, tolerance in (("position", 0.01), ("rotation", 1), ("size", 0.01))
    ]
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "start": {"objects": objects},
            "conventions": {"euler": order, **conventions}, "reference": {"steps": steps}, "checks": checks,
        }
    )  # fmt: skip


def turn_to(object_id, *angles):
    return {"op": "rotate", "objects": [object_id], "to": list(angles)}


def judged(made, *, rows=None, steps=None, conventions=None):
    if steps is not None:
        work = StepsSubmission.model_validate({**HEAD, "kind": "steps", "steps": steps})
    else:
        work = SheetSubmission.model_validate({**HEAD, "kind": "sheet", "rows": rows, "conventions": conventions})
    return judge_submission(made, made.start_scene(), made.target_scene(), work)


def test_there_are_24_orders_half_of_them_proper():
    assert len(set(ORDERS)) == 24
    assert sum(order[0] == order[2] for order in ORDERS) == 12


@pytest.mark.parametrize("order", some(ORDERS, 6))
def test_every_mistake_can_be_put_in_in_every_order(order):
    steps = [
        turn_to("a", 20, 35, 50), {"op": "rotate", "objects": ["b"], "axis": "y", "angle": 30},
        {"op": "move", "objects": ["a"], "by": [1, 2, 3]}, {"op": "rotate", "objects": ["a"], "axis": "z", "angle": 30},
    ]  # fmt: skip
    made = exercise(order, *steps)
    explainer = Explainer(made, made.start_scene(), made.target_scene())
    codes = {outcome.mistake.code for outcome, _ in outcomes(explainer.reference)}
    assert {"axis-exchanged", "sign-flipped", "wrong-way-round", "step-left-out"} <= codes
    assert {outcome.mistake.code for outcome in explainer.files} == {mistake.code for mistake in FILE_MISTAKES}
    # Half of it done: two steps on a block are left out, and the one on the bar.
    report = judged(made, steps=steps[:1])
    assert report.passed is False
    assert {i for cause in report.causes for i in cause.objects} == {"a", "b"}


@pytest.mark.parametrize("order", some(ORDERS, 6))
def test_an_angle_typed_as_the_one_to_turn_to_is_found_in_every_order_that_has_the_axis(order):
    # Block b is not turned: to turn it by 40° about an axis and to set that angle to 40° are the same but for what is
    # turned already; it is turned by 25° first.
    for axis in dict.fromkeys(order.lower()):
        first = {"op": "rotate", "objects": ["b"], "axis": axis, "angle": 25}
        step = {"op": "rotate", "objects": ["b"], "axis": axis, "angle": 40}
        made = exercise(order, first, step)
        at = order.lower().index(axis)
        angles = [40 if i == at else 0 for i in range(3)]
        (cause,) = judged(made, steps=[first, turn_to("b", *angles)]).causes
        # Turned to 40° in all: a step left out where the order has its axis once or first; always By typed as To.
        assert "by-typed-as-to" in (cause.code, *cause.also), (axis, cause)


@pytest.mark.parametrize("order", some(ORDERS, 6))
def test_an_angle_typed_into_any_place_that_turns_about_the_axis_is_found(order):
    # Block a lies askew, so that all three of its angles count; an order such as ZXZ has two places for Z.
    start = exercise(order).start_scene().world_from_local("a")
    before = Rotation.from_matrix(start[:3, :3]).as_euler(order, degrees=True).tolist()
    for place, letter in enumerate(order.lower()):
        made = exercise(order, {"op": "rotate", "objects": ["a"], "axis": letter, "angle": 40})
        angles = [40 if i == place else angle for i, angle in enumerate(before)]
        (cause,) = judged(made, steps=[turn_to("a", *angles)]).causes
        assert "by-typed-as-to" in (cause.code, *cause.also), (place, cause)


# All pairs would be 552, and pass; of each order two others, so that each is also read as two others; each by turns with
# small and with large angles.
READ_AS = [(own, ORDERS[(n + off) % 24], (n + off) % 2 == 0) for n, own in enumerate(ORDERS) for off in (1, 6)]


# Of two triples that are the same turn either may have been typed: (170, 145, −160) is (−10, 35, 20) in an order with
# three letters, and (170, −35, −160) is it in one such as ZXZ.
@pytest.mark.parametrize(("own", "read", "large"), some(READ_AS, 8))
def test_three_angles_in_any_other_order_are_named_as_the_cause(own, read, large):
    angles = (20.0, 35.0, 50.0) if not large else (170.0, -35.0 if own[0] == own[2] else 145.0, -160.0)
    made = exercise(own, turn_to("a", *angles), turn_to("b", *angles))
    turned = Rotation.from_euler(read, angles, degrees=True).as_quat().tolist()
    right = Rotation.from_euler(own, angles, degrees=True)
    rows = [{"object": i, "rotation": turned} for i in "ab"]
    report = judged(made, rows=rows)
    off = np.degrees((Rotation.from_quat(turned) * right.inv()).magnitude())
    if off > 1:
        named = [code for cause in report.causes for code in (cause.code, *cause.also)]
        assert "file-euler-order" in named, report.causes
        if "file-euler-order" in [cause.code for cause in report.causes]:
            assert any(f"({read})" in cause.text for cause in report.causes), report.causes
    else:
        assert report.causes == ()


LETTERS_READ = [("321", "312"), ("231", "213")]  # by turns
IN_TURN = [(o, read) for n, o in enumerate(o for o in ORDERS if o[0] != o[2]) for read in LETTERS_READ[n % 2]]


@pytest.mark.parametrize(("own", "read_as"), some(IN_TURN, 6))
def test_equal_angles_in_another_order_are_named_as_the_cause(own, read_as):
    angles = dict(zip(own.upper(), (20.0, 35.0, 50.0), strict=True))
    made = exercise(own, *[turn_to(i, *angles.values()) for i in "ab"])
    read = "".join(own[int(place) - 1] for place in read_as)
    turned = Rotation.from_euler(read, [angles[letter] for letter in read.upper()], degrees=True).as_quat().tolist()
    causes = judged(made, rows=[{"object": i, "rotation": turned} for i in "ab"]).causes
    assert "file-euler-order" in [code for cause in causes for code in (cause.code, *cause.also)]


def test_two_angles_with_the_same_letters_are_another_turn_where_their_order_is_another():
    made = exercise("XYZ", *[turn_to(i, 20, 35, 0) for i in "ab"])
    turned = Rotation.from_euler("YXZ", [35, 20, 0], degrees=True).as_quat().tolist()
    causes = judged(made, rows=[{"object": i, "rotation": turned} for i in "ab"]).causes
    assert "file-euler-order" in [code for cause in causes for code in (cause.code, *cause.also)]


def test_a_rotation_about_one_axis_survives_an_order_with_that_axis_in_the_same_place():
    made = exercise("XYZ", turn_to("b", 0, 30, 0))
    explainer = Explainer(made, made.start_scene(), made.target_scene())
    right = made.target_scene().world_from_local("b")

    def read_in(order):
        details = [outcome.scene for outcome in explainer.files if outcome.words["detail"] == f" ({order})"]
        return [bool((scene.world_from_local("b") == right).all()) for scene in details]

    assert all(read_in("ZYX"))
    assert not all(read_in("YZX"))


ROUND = [("by", [1, 2, 4], "move"), ("to", [1, 2, 4], "move"), ("by", [1.5, 2, 4], "scale"), ("to", [5, 3, 4], "scale")]


@pytest.mark.parametrize(("field", "values", "op"), ROUND)
@pytest.mark.parametrize("way", [1, 2])
def test_all_three_numbers_moved_round(field, values, op, way):
    space = {"space": "local"} if (op, field) == ("scale", "by") else {}
    made = exercise("XYZ", {"op": op, "objects": ["b"], field: values, **space})
    moved = values[way:] + values[:way]
    (cause,) = judged(made, steps=[{"op": op, "objects": ["b"], field: moved, **space}]).causes
    assert (cause.code, cause.step) == ("axis-exchanged", 1)


def test_an_axis_given_as_a_direction_can_be_exchanged_too():
    step = {"op": "rotate", "objects": ["b"], "axis": [1, 2, 0], "angle": 30}
    (cause,) = judged(exercise("XYZ", step), steps=[{**step, "axis": [2, 1, 0]}]).causes
    assert cause.code == "axis-exchanged"


@pytest.mark.parametrize(("axis", "wrong"), [("+x", "-z"), ("-y", "+x")])
def test_the_own_axis_that_is_aimed_can_be_another(axis, wrong):
    step = {"op": "aim", "objects": ["b"], "axis": axis, "at": [7, 8, 3]}
    (cause,) = judged(exercise("XYZ", step), steps=[{**step, "axis": wrong}]).causes
    assert "axis-exchanged" in (cause.code, *cause.also)


def test_every_mistake_is_said_in_few_words():
    said = [mistake.words.did for mistake in (*MISTAKES, *FILE_MISTAKES)]
    assert all(0 < len(words) < 90 for words in said)


DRAWN: Counter[str] = Counter()


@given(CONVENTIONS)
@settings(max_examples=200)
def draws(conventions):
    DRAWN.update((conventions.euler, conventions.up, conventions.handedness, conventions.length, conventions.angle))


def test_the_generator_of_conventions_draws_all_of_each():
    draws()
    for members in (ORDERS, "yz", ("right", "left"), ("mm", "cm", "m", "in", "ft"), ("deg", "rad", "turn")):
        assert all(DRAWN[member] for member in members)
