"""Rules for the way there against plain lines and points: an axis counts by what it was when the step was done."""

import itertools

import numpy as np
import pytest
from pydantic import TypeAdapter

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.replay import replay
from tests.core.build import QUARTER_X, QUARTER_Y, QUARTER_Z, steps_of
from tests.outside.slow_checker import World, unit
from tests.tiers import some

CHECK: TypeAdapter[Check] = TypeAdapter(Check)
TURNS = [
    [0, 0, 0, 1],
    QUARTER_X,
    QUARTER_Y,
    QUARTER_Z,
    [0, 0, 0.3826834323650898, 0.9238795325112867],
    [0.1, 0.5, 0.1, 0.8544003745317530],
]
SPACES = [
    "world",
    "parent",
    "local",
    {"object": "p"},
    {"view": {"right": [0, 1, 0], "up": [0, 0, 1]}},
    {"line": [[0, 0, 0], [1, 1, 0]]},
]
PIVOTS = ["own", "box", "origin", "marker", [1, 2, 3], {"object": "a", "at": "+x"}]
RULES = [None, "x", "y", "z", "xy", "yz", "zx", "xyz"]
SOLID = {"kind": "cuboid", "size": [2, 4, 6]}


def objects(turn_above, turn, pivot):
    return [
        {"id": "p", "rotation": turn_above, "translation": [1, 0, 0]},
        {"id": "a", "parent": "p", "rotation": turn, "solid": SOLID, "translation": [0, 2, 0], "pivot": pivot},
    ]


def steps(random):
    """One step of each way, with the directions that it goes along or about, along its space's axes."""
    space, pivot = SPACES[random.integers(6)], PIVOTS[random.integers(6)]
    letter = "xyz"[random.integers(3)]
    axis = np.eye(3)["xyz".index(letter)]
    by = [[1, 0, 0], [0, -2, 0], [1, 0, 1], [1, 2, 3]][random.integers(4)]
    factors = [[2, 1, 1], [1, 3, 2], [2, 2, 2], [1, 1, 1]][random.integers(4)]
    yield {"op": "move", "space": space, "by": by}, [unit(by)], None
    yield {"op": "rotate", "space": space, "axis": letter, "angle": 30, "pivot": pivot}, [axis], pivot
    yield {"op": "rotate", "space": space, "axis": by, "angle": 30, "pivot": pivot}, [unit(by)], pivot
    scaled = [np.eye(3)[i] for i in range(3) if factors[i] != 1]
    yield {"op": "scale", "space": space, "by": factors, "pivot": pivot}, scaled, pivot
    yield {"op": "scale", "space": space, "keep_volume": {"axis": letter, "factor": 2}, "pivot": pivot}, [axis], pivot


def within(line, axes):
    """Whether a line lies along one axis, or in the plane or space of several that are square to each other."""
    return np.linalg.norm(line - sum((line @ axis) * axis for axis in axes)) < 1e-6


def plain_axis(world, step, lines, rule_space, letters):
    if rule_space is None and letters is None:
        return True
    axes, _ = world.frame(step["space"], "a")
    wanted, _ = world.frame(step["space"] if rule_space is None else rule_space, "a")
    along = [axes @ line for line in lines]
    columns = [wanted[:, "xyz".index(letter)] for letter in letters or "xyz"]
    if letters is None:
        return all(any(np.linalg.norm(np.cross(line, column)) < 1e-6 for column in columns) for line in along)
    return all(within(line, columns) for line in along)


def spot(world, pivot, marker):
    if pivot in ("own", "box"):
        return world.spot("a", "pivot" if pivot == "own" else "centre")
    return {"origin": np.zeros(3), "marker": np.array(marker)}[pivot] if isinstance(pivot, str) else world.point(pivot)


@pytest.mark.parametrize("seed", some(range(25), 6))
def test_a_rule_holds_where_the_lines_and_points_were_those(seed):
    random = np.random.default_rng(seed)
    own_pivot = [[0, 0, 0], [1, 0, 0]][seed % 2]  # the second is the middle of the face +x
    made = objects(TURNS[random.integers(6)], TURNS[random.integers(6)], own_pivot)
    marker = [[0, 0, 0], [1, 2, 3]][random.integers(2)]
    start = Stage.model_validate({"objects": made, "marker": marker}).to_scene(Conventions())
    world = World(made, "y")
    for step, lines, pivot in steps(random):
        states = replay(start, steps_of({**step, "objects": ["a"]}))
        case = Case(start, states[-1].scene, states)
        for letters, rule_space in itertools.product(RULES, [None, *SPACES]):
            rule_pivot = [None, *PIVOTS][random.integers(7)]
            given = {"axis": letters, "space": rule_space, "pivot": rule_pivot}
            given = {key: value for key, value in given.items() if value is not None}
            same_axis = plain_axis(world, step, lines, rule_space, letters)
            same_pivot = rule_pivot is None or (
                pivot is not None
                and np.linalg.norm(spot(world, pivot, marker) - spot(world, rule_pivot, marker)) < 1e-9
            )
            declared = rule_space in (None, step["space"]) and rule_pivot in (None, pivot)
            for rule, wanted in (("uses", True), ("avoids", False)):
                for asked in (False, True):
                    check = {"id": "c", "kind": "process", "rule": rule, "op": step["op"], "declared": asked, **given}
                    result = CHECK.validate_python(check).judge(case)
                    fits = bool(same_axis and same_pivot and (declared or not asked))
                    assert (result.verdict == "pass") is (fits is wanted), (step, check)


@pytest.mark.parametrize("seed", some(range(10), 4))
def test_values_are_counted_as_they_were_typed(seed):
    random = np.random.default_rng(seed)
    of = [0.25, 15, 0.1][seed % 3]
    clean, whole = of * int(random.integers(1, 9)), int(random.integers(1, 9))
    ragged = [(sign * of * (whole + part), False) for sign in (1, -1) for part in (0.37, 0.63)]
    for value, holds in ((clean, True), (-clean, True), (clean * (1 + 1e-9), True), *ragged):
        ways = [
            {"op": "move", "by": [0, value, 0]}, {"op": "move", "to": [None, value, None]},
            {"op": "rotate", "axis": "x", "angle": value}, {"op": "rotate", "to": [0, 0, value]},
        ]  # fmt: skip
        if value > 0:
            ways += [
                {"op": "scale", "to": [value, None, None]},
                {"op": "scale", "keep_volume": {"axis": "y", "factor": value}},
            ]
        for way in ways:
            start = Stage.model_validate({"objects": objects(TURNS[0], TURNS[0], [0, 0, 0])}).to_scene(Conventions())
            states = replay(start, steps_of({**way, "objects": ["a"]}))
            check = CHECK.validate_python({"id": "c", "kind": "process", "rule": "multiple", "of": of})
            assert (check.judge(Case(start, states[-1].scene, states)).verdict == "pass") is holds, way
