"""Is an exercise fit to be set? What would stop it, and what its author should look at, each with its place."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable, Iterator
from typing import Final, Literal

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.checks.process import ProcessCheck
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.separate import separate
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.scene import measure
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.scene.wording import listed
from cubedrill.core.steps.replay import State, replay
from cubedrill.core.values import Value

DEEP: Final = 1e-6  # of the smaller one's size: what is deeper in another overlaps it
NUMBER: Final = re.compile(r"(?<![\w.,])[-−]?\d+(?:[.,]\d+)?(?![\w]|[.,]\d)")
NEAR: Final = 1e-9  # of a number: so near, the brief says the same one

Place = Literal["brief", "stage", "target", "checks"]


class Finding(Value):
    """Something that is unsound. stops: whether it keeps the exercise from being published; else it is a warning.

    check, object: which it is about, where it is about one.
    """

    code: str
    text: str
    place: Place
    stops: bool = False
    check: str | None = None
    object: str | None = None


def findings(exercise: Exercise) -> tuple[Finding, ...]:
    """Return all that is unsound about an exercise, what stops it first."""
    try:
        require_sound(exercise)
        start, target = exercise.start_scene(), exercise.target_scene()
        states = None if exercise.reference is None else replay(start, exercise.reference.steps)
    except CoreError as error:
        place: Place = "checks" if error.code == "check-object" else "target"
        return (Finding(code=error.code, text=error.text, place=place, stops=True),)
    ways: tuple[Callable[[], Iterator[Finding]], ...] = (
        lambda: _of_checks(exercise),
        lambda: _of_reference(exercise, target, states),
        lambda: _of_start(exercise, start, target),
        lambda: _of_place(start, target),
        lambda: _of_mistakes(exercise, start, target),
        lambda: _of_brief(exercise),
    )
    found = [finding for way in ways for finding in way()]
    return tuple(sorted(found, key=lambda finding: not finding.stops))


def _of_checks(exercise: Exercise) -> Iterator[Finding]:
    if not exercise.checks:
        yield Finding(
            code="no-check", text="There are no checks. Add a check, or propose some.", place="checks", stops=True
        )


def _of_reference(exercise: Exercise, target: Scene, states: list[State] | None) -> Iterator[Finding]:
    """Yield each check that the reference misses, and each rule of method that it breaks."""
    work = LoadedSubmission(target) if states is None else LoadedSubmission(states[-1].scene, states)
    for result in judge_loaded(exercise, target, work).checks:
        if result.verdict in ("near", "fail"):
            way = any(check.id == result.id and isinstance(check, ProcessCheck) for check in exercise.checks)
            what = "breaks this rule" if way else "does not pass this check"
            yield Finding(
                code="reference-misses", text=f"The reference {what}: {result.text}", place="checks", stops=True,
                check=result.id,
            )  # fmt: skip


def _of_start(exercise: Exercise, start: Scene, target: Scene) -> Iterator[Finding]:
    if exercise.checks and judge_loaded(exercise, target, LoadedSubmission(start)).passed:
        text = "The start already passes. Add a check that needs work."
        yield Finding(code="start-passes", text=text, place="checks", stops=True)


def _of_place(start: Scene, target: Scene) -> Iterator[Finding]:
    """Find objects of the start or the target that are outside the plot or inside another object."""
    seen: set[tuple[str, ...]] = set()
    scenes: tuple[tuple[Scene, Place, str], ...] = (
        (start, "stage", "at the start"),
        (target, "target", "in the target"),
    )
    for scene, place, when in scenes:
        for object_id in measure.outside_plot(scene):
            text = f"{scene[object_id].name} is outside the plot {when}."
            yield Finding(code="outside-plot", text=text, place=place, object=object_id)
        for first, second, depth in _overlaps(scene):
            if (first, second) not in seen:
                seen.add((first, second))
                names, unit = [scene[i].name for i in (first, second)], scene.conventions.length
                text = f"{names[0]} is {depth:.3g} {unit} inside {names[1]} {when}."
                yield Finding(code="in-another", text=text, place=place, object=first)


def _overlaps(scene: Scene) -> Iterator[tuple[str, str, float]]:
    solids = [(i, scene.require_box(i, IDENTITY)) for i, item in scene.objects.items() if item.solid]
    for (first, one), (second, other) in itertools.combinations(solids, 2):
        least = DEEP * float(min(one.size.max(), other.size.max()))
        if ((one.most - other.least) <= least).any() or ((other.most - one.least) <= least).any():
            continue
        depth = measure.overlap(scene, first, second)
        if depth > least:
            yield first, second, depth


def _of_mistakes(exercise: Exercise, start: Scene, target: Scene) -> Iterator[Finding]:
    """Yield mistakes that pass, checks that nothing fails, tolerances finer than a drag."""
    if exercise.reference is None or not exercise.checks:
        return
    found = separate(exercise, start, target)
    for trial in found.trials:
        if not trial.caught_by:
            better = trial.tighter
            way = f" A tolerance of {better.tolerance:g} catches it." if better else ""
            text = f"A typical mistake passes: {trial.text}{way}"
            check = better.check if better else None
            yield Finding(code="mistake-passes", text=text, place="checks", object=trial.object, check=check)
    for check_id in found.idle:
        text = "No typical mistake fails this check. Remove it, or tighten it."
        yield Finding(code="idle-check", text=text, place="checks", check=check_id)
    asked = any(isinstance(check, ProcessCheck) and check.rule == "typed" for check in exercise.checks)
    for check_id in () if asked else found.typing:
        text = "This tolerance is finer than dragging allows. Widen it, or require typing."
        yield Finding(code="finer-than-dragging", text=text, place="checks", check=check_id)


def _of_brief(exercise: Exercise) -> Iterator[Finding]:
    if not exercise.brief.strip():
        yield Finding(code="no-brief", text="The brief is missing. Say what to do.", place="brief")
        return
    known = _numbers_of(exercise)
    slips = []
    for found in NUMBER.findall(exercise.brief):
        value = abs(float(found.replace("−", "-").replace(",", ".")))
        if not any(math.isclose(value, other, rel_tol=NEAR, abs_tol=NEAR) for other in known):
            slips.append(found)
    if slips:
        said = listed(list(dict.fromkeys(slips)))
        text = f"The brief says {said}, which is neither in the reference nor in a check."
        yield Finding(code="number-in-brief", text=text, place="brief")


def _numbers_of(exercise: Exercise) -> set[float]:
    """The sizes of all numbers that the exercise is made of, and small counts, which a brief may say of anything."""
    parts = exercise.model_dump(mode="json", exclude={"brief", "format", "version"}, exclude_none=True)
    found = {float(n) for n in range(len(exercise.start.objects) + len(exercise.checks) + 1)}
    todo: list[object] = [parts]
    while todo:
        part = todo.pop()
        if isinstance(part, dict):
            todo += part.values()
        elif isinstance(part, list):
            todo += part
        elif isinstance(part, int | float) and not isinstance(part, bool):
            found.add(abs(float(part)))
    target = exercise.target_scene()
    for object_id in target.objects:  # where things come to is said as often as how far they go
        found |= {
            abs(round(float(x), 9)) for x in np.concatenate((target.pivot_world(object_id), _ends(target, object_id)))
        }
    return found


def _ends(scene: Scene, object_id: str) -> np.ndarray:
    box = scene.box(object_id, IDENTITY)
    return np.zeros(0) if box is None else np.concatenate((box.least, box.most, box.centre, box.size))
