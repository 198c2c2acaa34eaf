"""Compare submitted steps with the reference: the first that leaves it, and pairs that cancel."""

from __future__ import annotations

from collections.abc import Sequence

from cubedrill.core.judging.causes.common import same_numbers
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps.replay import State
from cubedrill.core.values import Array


def first_parting(states: Sequence[State], reference: Sequence[State]) -> int | None:
    """Return the first step, from 1, after which an object lies where it never does in the reference; else none.

    Only objects that end elsewhere than in the reference are followed, each for itself, in its parent: neither the
    order of steps on different objects matters, nor the way to the right place.
    """
    last, right = states[-1].scene, reference[-1].scene
    astray = {i for i in last.objects if i not in right.objects or not _same_in_parent(last[i], right[i])}
    known: dict[tuple[str, str | None], list[Array]] = {}
    for state in reference:
        for item in state.scene.objects.values():
            known.setdefault((item.id, item.parent), []).append(item.parent_from_local)
    for number, state in enumerate(states):
        for object_id in astray.intersection(state.changed) if number else ():
            item = state.scene[object_id]
            if not any(same_numbers(item.parent_from_local, other) for other in known.get((item.id, item.parent), ())):
                return number
    return None


def _same_in_parent(one: SceneObject, other: SceneObject) -> bool:
    return one.parent == other.parent and same_numbers(one.parent_from_local, other.parent_from_local)


def cancelling(states: Sequence[State]) -> tuple[tuple[int, int], ...]:
    """Return the pairs of steps, one after the other and from 1, of which the second takes the first back."""
    return tuple(
        (number, number + 1)
        for number in range(1, len(states) - 1)
        if states[number].changed and _same_scene(states[number - 1].scene, states[number + 1].scene)
    )


def _same_scene(one: Scene, other: Scene) -> bool:
    return one.objects.keys() == other.objects.keys() and all(
        one[i].parent == other[i].parent
        and same_numbers(one.world_from_local(i), other.world_from_local(i))
        and same_numbers(one[i].pivot, other[i].pivot)
        and (one[i].name, one[i].colour, one[i].opacity) == (other[i].name, other[i].colour, other[i].opacity)
        for i in one.objects
    )
