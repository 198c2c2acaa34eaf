"""Checks proposed from a reference: one rule a change, each with the widest round tolerance that separates."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from pydantic import TypeAdapter

from cubedrill.core.geometry.conventions import AXES
from cubedrill.core.geometry.symmetry import angle_between
from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case, CheckBase, ObjectCheck
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.separate import Drag, drag_of
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.scene.contact import lift_onto
from cubedrill.core.scene.measure import own_sizes
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.scene.spaces import feature_world
from cubedrill.core.steps import Step
from cubedrill.core.steps.align import Align
from cubedrill.core.values import Array, Value

CHECK: Final[TypeAdapter[Check]] = TypeAdapter(Check)
UNCHANGED_TOL: Final = 1e-9  # as a share of the coordinates and sizes: no more than rounding
FACES: Final = ("+x", "-x", "+y", "-y", "+z", "-z")
WIDEST_DRAGS: Final = 5  # where no mistake says how narrow, so many times as wide as a drag ends
SIZE_SHARE: Final = 0.1  # of a size, the same
AWAY: Final = {
    "world-instead-of-local",
    "world-instead-of-given-axes",
    "parent-taken-as-world",
    "world-taken-as-parent",
}


class Proposal(Value):
    """A check with the reason why it is proposed.

    label: the check in words, as in its result. fine: its tolerance is finer than dragging allows. offered: it asks
    more than the change itself; the author decides whether it is meant.
    """

    check: Check
    label: str
    why: str
    fine: bool = False
    offered: bool = False


@dataclass(frozen=True)
class _Draft:
    """A check that has no tolerance yet."""

    said: dict[str, Any]
    why: str
    offered: bool = False


def propose(exercise: Exercise) -> tuple[Proposal, ...]:
    """Return checks for what the reference changes; those that the exercise has already are left out of account.

    Raises the CoreError of a start, a step or a target that cannot be carried out.
    """
    start, target = exercise.start_scene(), exercise.target_scene()
    drafts = [*_of_objects(start, target), *_counts(start, target), *_offers(exercise, start, target)]
    wide = exercise.model_copy(update={"checks": tuple(_checked(draft.said, 1.0) for draft in drafts)})
    explainer = Explainer(wide, start, target)
    drag = drag_of(wide, start, target)
    tolerances = _shared(_tolerances(explainer, drag), explainer)
    proposals, reached = [], Case(target, target)
    for draft in drafts:
        tolerance = tolerances.get(draft.said["id"])
        check = _checked(draft.said, tolerance)
        unit = _unit(check, drag)
        fine = tolerance is not None and unit is not None and tolerance < unit
        label = check.judge(reached).label
        proposals.append(Proposal(check=check, label=label, why=draft.why, fine=fine, offered=draft.offered))
    return (*proposals, *_of_way(explainer))


def _checked(said: dict[str, object], tolerance: float | None) -> Check:
    with_one = "tolerance" in said
    return CHECK.validate_python({**said, "tolerance": tolerance} if with_one and tolerance is not None else said)


# What changed


def _of_objects(start: Scene, target: Scene) -> Iterator[_Draft]:
    """One rule for each way in which an object is another than it was."""
    for object_id, item in target.objects.items():
        name = item.name
        if object_id not in start.objects:
            yield from _of_new(target, object_id)
            continue
        before = start[object_id]
        moved = not _alike(before.parent_from_local, item.parent_from_local)
        if moved or before.parent != item.parent:
            yield from _of_place(start, target, object_id)
        if not _alike(before.pivot, item.pivot):
            said = {"id": f"{object_id} pivot", "kind": "pivot", "object": object_id, "tolerance": 0.0}
            yield _Draft(said, f"The pivot of {name} was set.")
        for kind, differs, why in (
            ("parent", before.parent != item.parent, f"{name} was nested."),
            ("name", before.name != item.name, f"{name} was renamed."),
            ("look", (before.colour, before.opacity) != (item.colour, item.opacity), f"{name} was painted."),
        ):
            if differs:
                yield _Draft({"id": f"{object_id} {kind}", "kind": kind, "object": object_id}, why)


def _of_new(target: Scene, object_id: str) -> Iterator[_Draft]:
    if target[object_id].solid is None:
        return
    name = target[object_id].name
    position = {"id": f"{object_id} position", "kind": "position", "object": object_id, "point": "centre"}
    yield _Draft({**position, "tolerance": 0.0}, f"{name} was added.")
    yield _Draft(
        {"id": f"{object_id} size", "kind": "size", "object": object_id, "tolerance": 0.0}, f"{name} was added."
    )


def _of_place(start: Scene, target: Scene, object_id: str) -> Iterator[_Draft]:
    """Yield position, rotation and size, as far as each is another in the world."""
    name = target[object_id].name
    point = _telling(start, target, object_id)
    if point is not None:
        said = {
            "id": f"{object_id} position",
            "kind": "position",
            "object": object_id,
            "point": point,
            "tolerance": 0.0,
        }
        yield _Draft(said, f"{name} was moved." if point == "pivot" else f"{name} was swung about its pivot.")
    before, after = (scene.world_from_local(object_id)[:3, :3] for scene in (start, target))
    if float(angle_between(before, after)) > UNCHANGED_TOL:
        symmetry = "look" if _looks_the_same_turned(target, object_id) else "strict"
        said = {"id": f"{object_id} rotation", "kind": "rotation", "object": object_id, "symmetry": symmetry}
        yield _Draft({**said, "tolerance": 0.0}, f"{name} was turned.")
    sized = target[object_id].solid is not None
    if sized and not _alike(own_sizes(start, object_id), own_sizes(target, object_id)):
        said = {"id": f"{object_id} size", "kind": "size", "object": object_id, "tolerance": 0.0}
        yield _Draft(said, f"{name} was scaled.")


def _telling(start: Scene, target: Scene, object_id: str) -> str | None:
    """Return the point that tells a change: the pivot where it moved, else the face whose middle went farthest."""
    if not _alike(start.pivot_world(object_id), target.pivot_world(object_id)):
        return "pivot"
    if target.local_box(object_id) is None or start.local_box(object_id) is None:
        return None
    ways = {
        face: float(np.linalg.norm(feature_world(target, object_id, face) - feature_world(start, object_id, face)))
        for face in FACES
    }
    face = max(ways, key=lambda each: ways[each])
    return face if ways[face] > UNCHANGED_TOL else None


def _alike(one: Array, other: Array) -> bool:
    return bool(np.allclose(one, other, rtol=UNCHANGED_TOL, atol=UNCHANGED_TOL))


def _looks_the_same_turned(scene: Scene, object_id: str) -> bool:
    solid = scene[object_id].solid
    if solid is None:
        return False
    up = scene.conventions.up_index
    half = solid.half_extents(up)
    turns = [q for q in solid.symmetries(up) if np.linalg.det(q) > 0 and _alike(np.abs(q) @ half, half)]
    return solid.free_turns != "none" or any(not _alike(q, np.eye(3)) for q in turns)


def _counts(start: Scene, target: Scene) -> Iterator[_Draft]:
    kinds = [
        [item.solid.kind for item in scene.objects.values() if item.solid is not None] for scene in (start, target)
    ]
    for kind in dict.fromkeys((*kinds[0], *kinds[1])):
        if kinds[0].count(kind) != kinds[1].count(kind):
            yield _Draft({"id": f"number of {kind}", "kind": "count", "solid": kind}, f"Their number changed: {kind}.")


# What may be meant


def _offers(exercise: Exercise, start: Scene, target: Scene) -> Iterator[_Draft]:
    """Yield relations that the target has and the start has not: what rests on what, what was aligned."""
    changed = [
        i
        for i, item in target.objects.items()
        if item.solid and (i not in start.objects or _elsewhere(start, target, i))
    ]
    for object_id in changed:
        for other in ("ground", *(i for i in target.objects if i != object_id)):
            if _rests(target, object_id, other) and not (
                object_id in start.objects and _rests(start, object_id, other)
            ):
                below = "the ground" if other == "ground" else target[other].name
                said = {
                    "kind": "relation",
                    "relation": "rests_on",
                    "object": object_id,
                    "other": other,
                    "tolerance": 0.0,
                }
                yield _Draft(
                    {"id": f"{object_id} rests on {other}", **said}, f"{target[object_id].name} rests on {below}.", True
                )
    for step in exercise.reference.steps if exercise.reference else ():
        yield from (draft for draft in _flush(step, target) if _holds(draft, target))


def _holds(draft: _Draft, target: Scene) -> bool:
    """Tell whether a relation is still so in the target: a later step may have ended it."""
    result = _checked(draft.said, UNCHANGED_TOL).judge(Case(target, target))
    return result.verdict == "pass"


def _flush(step: Step, target: Scene) -> Iterator[_Draft]:
    if not isinstance(step, Align) or step.to not in target.objects:
        return
    for object_id in step.acts_on:
        for axis, side in zip(AXES, step.sides, strict=True):
            if side in ("min", "max") and object_id in target.objects:
                said = {
                    "id": f"{object_id} flush {axis}", "kind": "relation", "relation": "flush", "object": object_id,
                    "other": step.to, "axes": axis, "side": side, "space": step.space, "tolerance": 0.0,
                }  # fmt: skip
                yield _Draft(said, f"{target[object_id].name} is flush with {target[step.to].name}.", True)


def _elsewhere(start: Scene, target: Scene, object_id: str) -> bool:
    return not _alike(start.world_from_local(object_id), target.world_from_local(object_id))


def _rests(scene: Scene, object_id: str, other: str) -> bool:
    if other != "ground" and (other not in scene.objects or scene[other].solid is None):
        return False
    if other in scene.descendants(object_id) or object_id in (scene.descendants(other) if other != "ground" else ()):
        return False
    lift = lift_onto(scene, object_id, other)
    return lift is not None and abs(lift) <= UNCHANGED_TOL * (
        1 + float(scene.require_box(object_id, IDENTITY).size.max())
    )


def _of_way(explainer: Explainer) -> Iterator[Proposal]:
    """Yield a rule of the way for each step whose space, or whose pivot, makes the difference."""
    if explainer.reference is None:
        return
    steps, states, target = explainer.reference.steps, explainer.reference.states, explainer.target
    seen: set[str] = set()
    for outcome in explainer.table:
        step = steps[outcome.step - 1]
        said: dict[str, Any] = {"kind": "process", "rule": "uses", "op": step.op, "object": outcome.object}
        space, pivot = getattr(step, "space", None), getattr(step, "pivot", None)
        if outcome.mistake.code in AWAY and space not in (None, "world"):
            said |= {"id": f"step {outcome.step} space", "space": space}
            why = "Along the world axes, the result would be different."
        elif outcome.mistake.code == "wrong-pivot" and pivot not in (None, "own"):
            said |= {"id": f"step {outcome.step} pivot", "pivot": pivot}
            why = "About the object's own pivot, the result would be different."
        else:
            continue
        if said["id"] in seen:
            continue
        seen.add(said["id"])
        check = CHECK.validate_python(said)
        # Not every kind of step has axes that a rule can ask for.
        result = check.judge(Case(target, target, states))
        if result.verdict == "pass":
            yield Proposal(check=check, label=result.label, why=why, offered=True)


# How exactly


def _tolerances(explainer: Explainer, drag: Drag) -> dict[str, float]:
    """Return a tolerance for each check: the widest round one up to half the way to the nearest mistake to catch.

    A mistake is assigned to the check that it misses by most, in steps of a drag. If no mistake constrains a check, its
    tolerance is the widest acceptable one. No position tolerance exceeds half of what has to fit there.
    """
    nearest: dict[str, float] = {}
    units = {check.id: _unit(check, drag) for check in explainer.checks}
    for outcome in explainer.table:
        off: dict[str, float] = {}
        view = CandidateJudge(explainer, LoadedSubmission(outcome.scene))
        for object_id in explainer.checked:
            for check, result in view.results(explainer.target, object_id, outcome.scene):
                if result.difference is not None and units[check.id] is not None:
                    off[check.id] = max(off.get(check.id, 0.0), float(np.abs(result.difference).max()))
        seen = {i: value for i, value in off.items() if value > UNCHANGED_TOL}
        if seen:
            best = max(seen, key=lambda i: seen[i] / (units[i] or 1.0))
            nearest[best] = min(nearest.get(best, math.inf), seen[best])
    widest: dict[str, float] = {}
    for check in explainer.checks:
        unit = units[check.id]
        if unit is not None:
            half_way = nearest[check.id] / 2 if check.id in nearest else unit * WIDEST_DRAGS
            widest[check.id] = round_below(min(half_way, _half_of_it(check, explainer.target)))
    return widest


def _half_of_it(check: CheckBase, target: Scene) -> float:
    """Return half the longest size of the object whose place is checked; no limit for other checks."""
    if check.kind != "position":
        return math.inf
    sizes = [own_sizes(target, i).max() for i in check.objects if target[i].solid is not None]
    return float(min(sizes, default=math.inf)) / 2


def _shared(tolerances: dict[str, float], explainer: Explainer) -> dict[str, float]:
    """Return the tolerances, where what one step made is held as exactly as the narrowest of it: copies look alike."""
    made = [step.makes for step in explainer.reference.steps] if explainer.reference else []
    shared = dict(tolerances)
    for ids in made:
        alike: dict[str, list[str]] = {}
        for check in explainer.checks:
            if set(check.objects) <= set(ids) and check.id in tolerances:
                alike.setdefault(check.kind, []).append(check.id)
        for group in alike.values():
            shared |= dict.fromkeys(group, min(tolerances[check_id] for check_id in group))
    return shared


def _unit(check: CheckBase, drag: Drag) -> float | None:
    """Return how far off a drag may end in a check's unit, or None if the check has no tolerance."""
    if not isinstance(check, ObjectCheck) or not hasattr(check, "tolerance"):
        return None
    if check.kind == "size":
        return SIZE_SHARE / WIDEST_DRAGS
    return drag.angle if check.off_in == "angle" else drag.length


def round_below(value: float) -> float:
    """Return the largest of 1, 2 and 5 times a power of ten that is not above a value."""
    power = math.floor(math.log10(value) + UNCHANGED_TOL)
    count: float = next(n for n in (5, 2, 1) if n * 10.0**power <= value * (1 + UNCHANGED_TOL))
    return float(f"{count * 10.0**power:.12g}")
