"""Every check with numbers against a plain checker that was written from the page alone and knows nothing of this one.

The plain one is `tests/outside/slow_checker.py`.
"""

import itertools

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_scene
from cubedrill.core.scene.stage import Stage
from tests.outside import slow_checker

UNITS = {"deg": np.pi / 180, "rad": 1.0, "turn": 2 * np.pi}
SOLIDS = [
    {"kind": "cuboid", "size": [1.3, 2.2, 3]}, {"kind": "wedge", "size": [2.4, 1.1, 1.5]}, {"kind": "pyramid", "size": [1, 2.6, 1.2]},
    {"kind": "sphere", "diameter": 1.4}, {"kind": "cylinder", "diameter": 1.1, "height": 2.7},
    {"kind": "cone", "diameter": 1.2, "height": 2.9}, {"kind": "tube", "diameter": 2.3, "bore": 1.1, "height": 0.9},
    {"kind": "ring", "diameter": 2.4, "thickness": 0.6}, {"kind": "plate", "size": [2.1, 1.3]},
    {"kind": "mesh", "vertices": [[0, 0, 0], [2, 0, 1], [0, 3, 0], [1, 1, 4]], "triangles": [[0, 2, 1]]},
]  # fmt: skip
PLACES = ["pivot", "centre", "+x", "-y", "-x+z", "+x-y+z"]
SPACES = [
    "world", "parent", "local", {"object": "mast"}, {"view": {"right": [1, 2, 0.5], "up": [0, 1, 3]}},
    {"line": [[1, 0, 2], {"object": "mast", "at": "+y"}]}, {"line": [[0, 0, 0], {"object": "mast"}]},
]  # fmt: skip
IDS = ["mast", "thing", "small"]
SCALES = ([1, 1, 1], [1.5, 0.7, 2], [-1, 1, 1])


def scene(random, solid):
    """A mast, something on it, and something small on that: turned, scaled, mirrored, skewed by an uneven parent."""
    scale = SCALES[random.integers(3)]
    return [
        {
            "id": name, "parent": parent, "solid": each, "scale": scale if name == "mast" else [1, 1.2, 0.8],
            "translation": random.uniform(-2, 2, 3).round(3).tolist(), "pivot": random.uniform(-1, 1, 3).round(2).tolist(),
            "rotation": Rotation.random(rng=random).as_quat().tolist(),
        }
        for name, parent, each in (("mast", None, SOLIDS[0]), ("thing", "mast", solid), ("small", "thing", SOLIDS[4]))
    ]  # fmt: skip


def wobbled(random, objects):
    """The same, each a little elsewhere, turned, larger, and now and then mirrored."""
    share = random.choice([0.0, 0.01, 0.1, 0.3])
    after = []
    for item in objects:
        turn = Rotation.from_rotvec(random.normal(size=3) * share) * Rotation.from_quat(item["rotation"])
        mirror = [-1 if random.random() < 0.1 else 1, 1, 1]
        after.append(
            {
                **item,
                "translation": (np.array(item["translation"]) + random.normal(size=3) * share).tolist(),
                "rotation": turn.as_quat().tolist(),
                "scale": (np.array(item["scale"]) * (1 + random.normal(size=3) * share / 3) * mirror).tolist(),
                "pivot": (np.array(item["pivot"]) + random.normal(size=3) * share).tolist(),
            }
        )
    return after


def checks(random, unit):
    """Every measure of every kind, in every space, of one object or of two, with one tolerance or one an axis."""

    def chosen(options):
        return options[random.integers(len(options))]

    def amounts(count):
        tolerances = random.uniform(0.02, 0.6, count).tolist()
        return tolerances if random.random() < 0.5 else tolerances[0]

    made = []
    for space in SPACES:
        letters = chosen(["xyz", "x", "zx", "y"])
        common = {"space": space, "point": chosen(PLACES), "axes": letters}
        made += [
            {"kind": "position", "tolerance": amounts(len(letters)), **common},
            {"kind": "position", "measure": "distance", "tolerance": random.uniform(0.02, 1), **common},
            {"kind": "rotation", "space": space, "tolerance": random.uniform(0.02, 0.6) / unit},
            {"kind": "rotation", "measure": "axis", "axis": chosen(["+x", "-y", "+z"]), "space": space,
             "tolerance": random.uniform(0.02, 0.6) / unit},
        ]  # fmt: skip
    for measure, letters in itertools.product(("ratio", "length"), ("xyz", "z", "yx")):
        made.append({"kind": "size", "measure": measure, "axes": letters, "tolerance": amounts(len(letters))})
    made += [{"kind": kind, "tolerance": random.uniform(0.02, 1)} for kind in ("shape", "pivot")]
    for check in made:
        among = chosen([["mast"], ["thing"], ["small"], ["thing", "small"]])
        if "space" in check and check["space"] == {"object": "mast"}:
            among = ["thing", "small"]
        check |= {"id": str(id(check)), "object": among if len(among) > 1 else among[0]}
        check |= {"points": chosen([1, 3]), "zero_at": chosen([1, 1.5, 4])}
    return made


@pytest.mark.parametrize("number", range(40))
def test_points_are_those_of_a_plain_checker(number):
    random = np.random.default_rng(number)
    up, hand = "yz"[number % 2], ("right", "left")[number // 2 % 2]
    angle = list(UNITS)[number % 3]
    objects = scene(random, SOLIDS[number % len(SOLIDS)])
    submitted = wobbled(random, objects)
    wanted = checks(random, UNITS[angle])
    made = Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "start": {"objects": objects},
            "target": {"objects": objects}, "checks": wanted,
            "conventions": {"up": up, "handedness": hand, "angle": angle},
        }
    )  # fmt: skip
    after = Stage.model_validate({"objects": submitted}).to_scene(made.conventions)
    report = judge_scene(made, made.target_scene(), after)
    plain = [slow_checker.World(each, up, hand) for each in (objects, submitted)]
    for check, result in zip(wanted, report.checks, strict=True):
        expected = slow_checker.points(check, *plain, UNITS[angle])
        # A round solid's farthest point is found by the plain one to 3e-7; all else to rounding.
        assert result.points == pytest.approx(expected, abs=1e-5 if check["kind"] == "shape" else 1e-9), check
        assert result.of == check["points"]
        verdict = "pass" if expected == check["points"] else "near" if expected > 0 else "fail"
        assert result.verdict == verdict
    total = sum(result.points for result in report.checks)
    assert report.points == pytest.approx(total)
    assert report.score == pytest.approx(total / sum(check["points"] for check in wanted))
    assert report.passed is (report.score >= 0.7 - 1e-12)
