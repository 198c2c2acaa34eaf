"""Is the right cause found? Made-up exercises with one planted mistake, or two, and right ones without any.

Question: in how many of 100 is the planted mistake the first cause named (mistakes that lead to the same spot count as
one), by mistake and over all; and how many right submissions are given a cause? The mistakes are planted in the steps
as a file holds them, by rules written for this command alone. Aims: 99 in 100, and none; of two planted, both among the
first two in 95 of 100 of those of which both can be seen: a check fails with either of them taken back.

Then: how long does it take to explain one submission, 12 steps over 15 objects, beside replaying the reference once in
the same run? And the worst of a few of 100 steps over 60 objects.

Run: ./run bench causes [exercises] [two]
"""

from __future__ import annotations

import copy
import json
import random
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable, Iterator
from typing import Any, get_args

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import EulerOrder
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.submission import StepsSubmission, load_submission
from cubedrill.core.steps.replay import replay

Steps = list[dict[str, Any]]
Plant = Callable[[random.Random, Steps, int, list[str]], Steps | None]
ROUNDS = 9


def made(seed: int, objects: int = 8, steps: int = 6) -> dict[str, Any]:
    """Return an exercise as a file: solids in a yard, some in others, and steps of all three operations."""
    rng = random.Random(seed)
    ids = [f"o{i}" for i in range(objects)]
    items = [
        {
            "id": i, "name": f"Thing {n + 1}", "solid": rng.choice(SOLIDS), "pivot": rng.choice(PIVOTS),
            "translation": [round(rng.uniform(-6, 6), 1), round(rng.uniform(0, 3), 1), round(rng.uniform(-6, 6), 1)],
            **({"parent": f"o{rng.randrange(n)}"} if n and rng.random() < 0.3 else {}),
            **({"rotation": rng.choice(TURNS)} if rng.random() < 0.5 else {}),
        }
        for n, i in enumerate(ids)
    ]  # fmt: skip
    todo = [a_step(rng, rng.choice(ids)) for _ in range(steps)]
    for step in todo:
        if rng.random() < 0.2 and not isinstance(step.get("pivot"), dict):
            step["objects"] = rng.sample(ids, 2)
    checks = []
    for i in ids:
        checks += [
            {"id": f"{i}-p", "kind": "position", "object": i, "tolerance": 0.02},
            {"id": f"{i}-r", "kind": "rotation", "object": i, "tolerance": 1},
            {"id": f"{i}-s", "kind": "size", "object": i, "tolerance": 0.01},
        ]
    return {
        "format": "cube-drill/exercise", "version": 1, "id": f"made-{seed}", "title": f"Made {seed}",
        "conventions": {
            "euler": ORDERS[seed % len(ORDERS)], "up": rng.choice("yz"), "handedness": rng.choice(["right", "left"]),
        },
        "start": {"objects": items}, "reference": {"steps": todo}, "checks": checks,
    }  # fmt: skip


ORDERS = get_args(EulerOrder)
SOLIDS: list[dict[str, Any]] = [
    {"kind": "cuboid", "size": [1.2, 0.8, 0.6]}, {"kind": "cuboid", "size": [0.5, 1.5, 0.9]},
    {"kind": "cylinder", "diameter": 0.7, "height": 1.1}, {"kind": "wedge", "size": [1.0, 0.7, 1.3]},
]  # fmt: skip
PIVOTS = [[0, 0, 0], [0, -0.3, 0], [0.4, -0.2, 0.1]]
TURNS = [[0, 0.2588190451, 0, 0.9659258263], [0.3826834324, 0, 0, 0.9238795325], [0, 0, 0.1736481777, 0.984807753]]


def a_step(rng: random.Random, on: str) -> dict[str, Any]:
    """Return a random step with clean numbers."""
    clean = [0.5, 0.75, 1, 1.25, 1.5, 2, 2.5, 3, -0.5, -1, -1.5, -2, -2.75]
    op = rng.choice(["move", "move", "to", "rotate", "rotate", "turn to", "scale", "size"])
    space = rng.choice(["world", "local", "parent"])
    if op == "move":
        count = rng.choice([1, 1, 2, 3])
        by = [rng.choice(clean) if i < count else 0 for i in range(3)]
        rng.shuffle(by)
        return {"op": "move", "objects": [on], "space": space, "by": by}
    if op == "to":
        return {"op": "move", "objects": [on], "space": rng.choice(["world", "parent"]),
                "to": [rng.choice(clean), rng.choice([None, 0.5, 1]), rng.choice(clean)]}  # fmt: skip
    if op == "rotate":
        pivot = rng.choice(["own", "own", "box", {"object": on, "at": rng.choice(["-x", "+z", "-x-y", "+x-y+z"])}])
        return {"op": "rotate", "objects": [on], "space": space, "axis": rng.choice("xyz"),
                "angle": rng.choice([15, 20, 25, 30, 40, 60, 75, -20, -35, -50]), "pivot": pivot}  # fmt: skip
    if op == "turn to":
        return {"op": "rotate", "objects": [on], "space": rng.choice(["world", "parent"]),
                "to": [rng.choice([0, 20, 35]), rng.choice([0, -25, 40]), rng.choice([0, 15])]}  # fmt: skip
    pivot = rng.choice(["own", {"object": on, "at": rng.choice(["-x", "-y", "-x-y-z"])}])
    if op == "scale":
        by = rng.choice([[1.5, 1, 1], [1, 1.75, 1], [1.5, 1.5, 1.5], [0.75, 0.75, 0.75]])
        return {"op": "scale", "objects": [on], "space": "local", "by": by, "pivot": pivot}
    return {"op": "scale", "objects": [on], "to": rng.choice([[1.6, None, None], [None, 1.25, None]]), "pivot": pivot}


def _edit(change: Callable[[random.Random, dict[str, Any], list[str]], bool]) -> Plant:
    """Plant by changing one step in place; the change tells whether it applies."""

    def plant(rng: random.Random, steps: Steps, k: int, ids: list[str]) -> Steps | None:
        edited = copy.deepcopy(steps)
        return edited if change(rng, edited[k], ids) else None

    return plant


def _sign(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step.get("angle"):
        step["angle"] = -step["angle"]
        return True
    field = "by" if "by" in step else "to"
    given = [i for i, value in enumerate(step[field]) if value]
    if step["op"] == "scale" or not given:
        return False
    i = rng.choice(given)
    step[field][i] = -step[field][i]
    return True


def _axis(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if "axis" in step:
        step["axis"] = rng.choice([axis for axis in "xyz" if axis != step["axis"]])
        return True
    values = step["by"] if "by" in step else step["to"]
    if len(set(values)) == 3 and rng.random() < 0.3:
        way = rng.choice([1, 2])
        values[:] = values[way:] + values[:way]
        return True
    pairs = [(i, j) for i, j in ((0, 1), (0, 2), (1, 2)) if values[i] != values[j]]
    if not pairs:
        return False
    i, j = rng.choice(pairs)
    values[i], values[j] = values[j], values[i]
    return True


def _space(right: str, wrong: str) -> Plant:
    def change(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
        if step.get("space") != right or (wrong == "local" and step["op"] == "rotate" and "to" in step):
            return False
        step["space"] = wrong
        return True

    return _edit(change)


def _pivot(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if "pivot" not in step:
        return False
    step["pivot"] = rng.choice([p for p in ("own", "box", "origin") if p != step["pivot"]])
    return True


def _by_to(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "move" or "by" not in step:
        return False
    step["to"] = [value or None for value in step.pop("by")]
    return True


def _to_by(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "move" or "to" not in step:
        return False
    step["by"] = [value or 0 for value in step.pop("to")]
    return True


def _angle(change: Callable[[float], float]) -> Plant:
    def planted(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
        if not step.get("angle"):
            return False
        step["angle"] = change(step["angle"])
        return True

    return _edit(planted)


def _length_unit(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    field = "by" if step["op"] == "move" and "by" in step else "to"
    if step["op"] == "rotate" or field not in step or not any(step[field]):
        return False
    ratio = rng.choice([100, 1000, 1 / 0.0254, 1 / 0.3048, 0.01, 0.001])
    step[field] = [value and value * ratio for value in step[field]]
    return True


def _factor_size(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "scale" or "by" not in step:
        return False
    step["to"] = [None if f == 1 else f for f in step.pop("by")]
    del step["space"]
    return any(step["to"])


def _size_factor(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "scale" or "to" not in step:
        return False
    step.update(by=[size or 1 for size in step.pop("to")], space="local")
    return True


def _times(ratio: float) -> Plant:
    def planted(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
        if step["op"] != "scale":
            return False
        field = "by" if "by" in step else "to"
        same = len(set(step[field])) == 1
        step[field] = [v if v is None or (v == 1 and not same) else v * ratio for v in step[field]]
        return True

    return _edit(planted)


def _one_axis(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "scale" or len(set(step.get("by", [1, 2]))) != 1:
        return False
    i = rng.randrange(3)
    step["by"] = [f if i == j else 1 for j, f in enumerate(step["by"])]
    return True


def _all_axes(_rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    if step["op"] != "scale" or len(set(step.get("by", [1, 1]))) == 1:
        return False
    step["by"] = [next(f for f in step["by"] if f != 1)] * 3
    return True


def _other(rng: random.Random, step: dict[str, Any], ids: list[str]) -> bool:
    step["objects"] = [rng.choice([i for i in ids if i not in step["objects"]])]
    return True


def _out(_rng: random.Random, steps: Steps, k: int, _ids: list[str]) -> Steps:
    return steps[:k] + steps[k + 1 :]


def _twice(_rng: random.Random, steps: Steps, k: int, _ids: list[str]) -> Steps:
    return [*steps[: k + 1], *steps[k:]]


def _order(_rng: random.Random, steps: Steps, k: int, _ids: list[str]) -> Steps | None:
    if k + 1 == len(steps):
        return None
    return [*steps[:k], steps[k + 1], steps[k], *steps[k + 2 :]]


def _exchanged(rng: random.Random, steps: Steps, k: int, _ids: list[str]) -> Steps | None:
    others = [j for j in range(k + 1, len(steps)) if steps[j]["op"] == steps[k]["op"]
              and steps[j]["objects"] != steps[k]["objects"]]  # fmt: skip
    if not others:
        return None
    edited, j = copy.deepcopy(steps), rng.choice(others)
    edited[k]["objects"], edited[j]["objects"] = edited[j]["objects"], edited[k]["objects"]
    return edited


def _ragged(rng: random.Random, step: dict[str, Any], _ids: list[str]) -> bool:
    off = rng.choice([-1, 1]) * rng.uniform(0.035, 0.06)
    if step.get("angle"):
        step["angle"] = round(step["angle"] * (1 + off), 3)
        return abs(step["angle"]) > 30
    if step["op"] != "move":
        return False
    field = "by" if "by" in step else "to"
    given = [i for i, value in enumerate(step[field]) if value]
    i = rng.choice(given)
    step[field][i] = round(step[field][i] * (1 + off), 4)
    return True


PLANTS: dict[str, Plant] = {
    "sign-flipped": _edit(_sign), "axis-exchanged": _edit(_axis),
    "world-instead-of-local": _space("local", "world"), "local-instead-of-world": _space("world", "local"),
    "parent-taken-as-world": _space("parent", "world"), "world-taken-as-parent": _space("world", "parent"),
    "wrong-pivot": _edit(_pivot), "order-exchanged": _order, "step-left-out": _out, "step-done-twice": _twice,
    "by-typed-as-to": _edit(_by_to), "to-typed-as-by": _edit(_to_by),
    "wrong-angle-unit": _angle(lambda angle: angle * 3.141592653589793 / 180), "wrong-length-unit": _edit(_length_unit),
    "factor-typed-as-size": _edit(_factor_size), "size-typed-as-factor": _edit(_size_factor),
    "half-size": _times(0.5), "double-size": _times(2), "one-axis-scaled": _edit(_one_axis),
    "all-axes-scaled": _edit(_all_axes),
    "complementary-angle": _angle(lambda angle: (90 if angle > 0 else -90) - angle),
    "supplementary-angle": _angle(lambda angle: (180 if angle > 0 else -180) - angle),
    "wrong-object": _edit(_other), "objects-exchanged": _exchanged, "ragged-value": _edit(_ragged),
}  # fmt: skip


def handed_in(exercise: Exercise, steps: Steps) -> StepsSubmission:
    """Return a submission of steps as a file holds them."""
    return StepsSubmission.model_validate(
        {"format": "cube-drill/submission", "version": 1, "exercise": exercise.id, "kind": "steps", "steps": steps}
    )


def planted(rng: random.Random, explainer: Explainer, steps: Steps, first: str, two: bool) -> tuple[Steps, list[str]]:
    """Return the steps with a mistake of this code that is missed, or with another one after it; and which they are.

    The second one is in a later step of the reference, wherever the first one moved that to.
    """
    ids = [spec.id for spec in explainer.exercise.start.objects]
    right, count, codes, last = steps, len(steps), [], -1
    for _ in range(80):
        code, k = (rng.choice(list(PLANTS)) if codes else first), rng.randrange(last + 1, count)
        before = rng.getstate()
        edited = PLANTS[code](rng, steps, k + len(steps) - count, ids)
        if edited is None:
            continue
        rng.setstate(before)
        alone = PLANTS[code](rng, right, k, ids)
        # Each can be seen: a check fails with either of them taken back, and with both.
        if not all(_seen(explainer, edited, other) for other in (right, steps, alone if codes else right)):
            continue
        steps, codes, last = edited, [*codes, code], k + (code == "order-exchanged")
        if len(codes) == 1 + two or last == count - 1:
            break
    return steps, codes


def _seen(explainer: Explainer, done: Steps, instead: Steps | None) -> bool:
    """Whether a check fails where some steps were done and others should have been."""
    try:
        work, wanted = (
            load_submission(explainer.start, explainer.target, handed_in(explainer.exercise, steps))
            for steps in (done, instead or [])
        )
    except CoreError:
        return False
    return any(check.verdict != "pass" for check in judge_loaded(explainer.exercise, wanted.scene, work).checks)


def cases(count: int, two: bool) -> Iterator[tuple[str, bool, bool]]:
    """Yield for each exercise the planted mistake, whether it is found first, and whether the right one is let be."""
    for seed in range(count):
        found = case(seed, two)
        if found is not None:
            yield found


def case(seed: int, two: bool) -> tuple[str, bool, bool] | None:
    """Return what `cases` yields of one exercise; none where no such mistake can be made and seen in it."""
    document = made(seed)
    exercise = Exercise.model_validate(document)
    try:
        explainer = Explainer(exercise, exercise.start_scene(), exercise.target_scene())
    except CoreError:
        return None
    reference: Steps = json.loads(json.dumps(document["reference"]["steps"]))
    code = list(PLANTS)[seed % len(PLANTS)]
    steps, codes = planted(random.Random(seed + 1_000_000), explainer, reference, code, two)
    if len(codes) < 1 + two:
        return None
    wrong, right = (explainer.explain(load_submission(explainer.start, explainer.target, handed_in(exercise, s)))
                    for s in (steps, reference))  # fmt: skip
    named = {code for cause in wrong[: 1 + two] for code in (cause.code, *cause.also)}
    found = all(code in named for code in codes)
    if "-v" in sys.argv and not found:
        print(seed, codes, [(c.code, c.step, c.also) for c in wrong], file=sys.stderr)
    return code, found, not right


def times(objects: int, steps: int, rounds: int) -> Iterator[tuple[str, float, float]]:
    """Yield how long one submission takes to explain, in seconds and in replays' worth, for made-up submissions."""
    clock = time.perf_counter
    for seed in range(rounds):
        document = made(seed + 500, objects=objects, steps=steps)
        try:
            exercise = Exercise.model_validate(document)
            explainer = Explainer(exercise, exercise.start_scene(), exercise.target_scene())
        except CoreError:
            continue
        reference: Steps = json.loads(json.dumps(document["reference"]["steps"]))
        wrong, _ = planted(random.Random(seed), explainer, reference, list(PLANTS)[seed % len(PLANTS)], True)
        for what, done in (("two mistakes", wrong), ("half done", reference[: len(reference) // 2]), ("not begun", [])):
            work = load_submission(explainer.start, explainer.target, handed_in(exercise, done))
            fresh = Explainer(exercise, explainer.start, explainer.target)
            began = clock()
            replay(explainer.start, exercise.reference.steps if exercise.reference else ())
            between = clock()
            fresh.explain(work)
            took = clock() - between
            yield what, took, took / (between - began)


def main() -> None:
    numbers = [int(word) for word in sys.argv[1:] if word.isdigit()]
    two = "two" in sys.argv
    right, total, unfair = Counter[str](), Counter[str](), 0
    for code, found, fair in cases(numbers[0] if numbers else 500, two):
        total[code] += 1
        right[code] += found
        unfair += not fair
    for code in PLANTS:
        if total[code]:
            print(f"{code:26} {right[code]:4d} of {total[code]:4d}")
    share = 100 * sum(right.values()) / max(1, sum(total.values()))
    what, aim = ("pair", 95) if two else ("mistake", 99)
    print(f"planted {what} first: {share:.1f} in 100 (aim: {aim}); causes for right ones: {unfair}")
    for objects, steps, rounds in ((15, 12, ROUNDS), (60, 100, 3)):
        took = list(times(objects, steps, rounds))
        for what in dict.fromkeys(what for what, _seconds, _ratio in took):
            seconds = [second for which, second, _ratio in took if which == what]
            ratio = statistics.median(ratio for which, _second, ratio in took if which == what)
            print(
                f"{steps} steps over {objects} objects, {what}: median {statistics.median(seconds):.3f} s, "
                f"worst {max(seconds):.3f} s; median {ratio:.0f} replays' worth"
            )


if __name__ == "__main__":
    main()
