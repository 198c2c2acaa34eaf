"""Mistakes in which steps are done, when, and on what: left out, twice, in another order, on the wrong object."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from cubedrill.core.judging.causes.common import Altered, Mistake, Slot, Words
from cubedrill.core.steps.appearance import Paint, Rename
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.nest import Nest
from cubedrill.core.steps.pivot import MovePivot


def left_out(slot: Slot) -> Iterator[Altered]:
    """The step not done: on all its objects, or on one of several."""
    yield slot.instead([])
    ids = slot.step.acts_on
    if len(ids) > 1 and not slot.step.makes:
        for object_id in ids:
            others = tuple(i for i in ids if i != object_id)
            yield slot.instead([slot.step.model_copy(update={"objects": others})], object_id=object_id)


def done_twice(slot: Slot) -> Iterator[Altered]:
    """The step done a second time."""
    if not slot.step.makes:
        yield slot.instead([slot.step, slot.step])


def order_exchanged(slot: Slot) -> Iterator[Altered]:
    """The step exchanged with the next one, and with the next one on the same objects."""
    steps, k = slot.steps, slot.k
    ids = set(slot.step.acts_on)
    same = next((j for j in range(k + 1, len(steps)) if ids & set(steps[j].acts_on)), None)
    following = None if slot.commutes or k + 1 == len(steps) else k + 1
    for j in dict.fromkeys(j for j in (following, same) if j is not None):
        yield Altered(k, j + 1, (steps[j], *steps[k + 1 : j], steps[k]), f" {k + 1} and {j + 1}")


def wrong_object(slot: Slot) -> Iterator[Altered]:
    """The step done on another object that is free to be moved, in the place of all its objects or of one of them."""
    ids = slot.step.acts_on
    if not ids or slot.step.makes:
        return
    for other in slot.before.objects.values():
        if other.id in ids or other.locked:
            continue
        for chosen in dict.fromkeys(((other.id,), *(_with_other(ids, object_id, other.id) for object_id in ids))):
            done = slot.step.model_copy(update={"objects": chosen})
            meant = next(object_id for object_id in ids if object_id not in chosen)
            yield slot.instead([done], f" {other.name}", meant)


def _with_other(ids: tuple[str, ...], right: str, wrong: str) -> tuple[str, ...]:
    return tuple(wrong if object_id == right else object_id for object_id in ids)


def objects_exchanged(slot: Slot) -> Iterator[Altered]:
    """The objects of two steps of a kind in each other's place, in both of these steps."""
    steps, k = slot.steps, slot.k
    ids = slot.step.acts_on
    if not ids or slot.step.makes:
        return
    for j in range(k + 1, len(steps)):
        others = steps[j].acts_on
        if steps[j].op == slot.step.op and others and set(others) != set(ids):
            first, second = (
                step.model_copy(update={"objects": with_}) for step, with_ in ((slot.step, others), (steps[j], ids))
            )
            detail = f" {slot.before[others[0]].name if others[0] in slot.before.objects else others[0]}"
            yield Altered(k, j + 1, (first, *steps[k + 1 : j], second), detail)


def numbers_kept(slot: Slot) -> Iterator[Altered]:
    """Nested keeping the local numbers in the place of the world's, or the other way round."""
    if isinstance(slot.step, Nest):
        kept = ("its place in the world", "its local numbers")
        wrong, right = kept if slot.step.keep == "local" else kept[::-1]
        yield slot.changed(f"{wrong} instead of {right}", keep="world" if slot.step.keep == "local" else "local")


def not_nested(slot: Slot) -> Iterator[Altered]:
    """The nesting left out."""
    if isinstance(slot.step, Nest):
        yield slot.instead([])


def name_forgotten(slot: Slot) -> Iterator[Altered]:
    """The renaming left out."""
    if isinstance(slot.step, Rename):
        yield slot.instead([])


def colour_forgotten(slot: Slot) -> Iterator[Altered]:
    """The painting left out."""
    if isinstance(slot.step, Paint):
        yield slot.instead([])


def pivot_set_late(slot: Slot) -> Iterator[Altered]:
    """The pivot set after what should be done about it, in the place of before."""
    steps, k = slot.steps, slot.k
    if not isinstance(slot.step, MovePivot):
        return
    ids = set(slot.step.acts_on)
    for j in range(k + 1, len(steps)):
        if ids & set(steps[j].acts_on):
            yield Altered(k, j + 1, (*steps[k + 1 : j + 1], steps[k]), f", after step {j + 1} of the reference")


def copies_in_place(slot: Slot) -> Iterator[Altered]:
    """Copies made and left where they were made; those that later steps should move are left too."""
    step = slot.step
    if not isinstance(step, Duplicate):
        return
    if step.between is not None:
        yield slot.changed(between=None)
    later = slot.steps[slot.k + 1 :]
    if any(set(other.acts_on) & set(step.ids) for other in later):
        kept = tuple(other for other in later if not set(other.acts_on) <= set(step.ids) or not other.acts_on)
        yield Altered(slot.k, len(slot.steps), (step, *kept), object=step.ids[0])


ORDER: Final = (
    Mistake(
        "step-left-out", 0.9,
        Words("is missing a step", "Check whether {object} still needs a step."),
        left_out,
    ),
    Mistake(
        "step-done-twice", 0.7,
        Words("has a step done twice", "Count the steps that you did with {object}."),
        done_twice,
    ),
    Mistake(
        "order-exchanged", 0.7,
        Words(
            "has two steps in the wrong order",
            "Check the order of your steps with {object}.",
            "has steps{detail} of the reference in the wrong order",
        ),
        order_exchanged,
    ),
    Mistake(
        "wrong-object", 0.5,
        Words("was left out, and its step was done on{detail}", "Check which object you had selected."),
        wrong_object,
    ),
    Mistake(
        "objects-exchanged", 0.5,
        Words("and{detail} are in each other's place", "Check which object you had selected."),
        objects_exchanged,
    ),
    Mistake(
        "not-nested", 0.5,
        Words("was not nested", "Check the parent of {object}."),
        not_nested,
    ),
    Mistake(
        "name-forgotten", 0.95,
        Words("still has its old name", "Read what {object} should be called."),
        name_forgotten,
    ),
    Mistake(
        "colour-forgotten", 0.95,
        Words("was not painted", "Check what {object} looks like."),
        colour_forgotten,
    ),
    Mistake(
        "pivot-set-late", 0.75,
        Words(
            "had its pivot set too late",
            "When did you set the pivot of {object}?",
            "had its pivot set too late{detail}",
        ),
        pivot_set_late,
    ),
    Mistake(
        "nested-numbers-kept", 0.6,
        Words("was nested with the wrong option: it kept {detail}", "Check where {object} went when it was nested."),
        numbers_kept,
    ),
    Mistake(
        "copies-left-in-place", 0.6,
        Words("has copies left in one place", "Count the copies of {object}."),
        copies_in_place,
    ),
)  # fmt: skip
