"""Mistakes in which steps are done, when, and on what: left out, twice, in another order, on the wrong object."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from cubedrill.core.judging.causes.common import Mistake, Mutation, StepContext, Words
from cubedrill.core.steps.appearance import Paint, Rename
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.nest import Nest
from cubedrill.core.steps.pivot import MovePivot


def left_out(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference without the step, for all its objects or for one of several."""
    yield context.instead([])
    ids = context.step.acts_on
    if len(ids) > 1 and not context.step.makes:
        for object_id in ids:
            others = tuple(i for i in ids if i != object_id)
            yield context.instead([context.step.model_copy(update={"objects": others})], object_id=object_id)


def done_twice(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference with the step done twice."""
    if not context.step.makes:
        yield context.instead([context.step, context.step])


def order_exchanged(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference with the step and the next one exchanged, and with the next one on the same objects."""
    steps, k = context.steps, context.k
    ids = set(context.step.acts_on)
    same = next((j for j in range(k + 1, len(steps)) if ids & set(steps[j].acts_on)), None)
    following = None if context.commutes or k + 1 == len(steps) else k + 1
    for j in dict.fromkeys(j for j in (following, same) if j is not None):
        yield Mutation(k, j + 1, (steps[j], *steps[k + 1 : j], steps[k]), f" {k + 1} and {j + 1}")


def wrong_object(context: StepContext) -> Iterator[Mutation]:
    """The step done on another object that is free to be moved, in the place of all its objects or of one of them."""
    ids = context.step.acts_on
    if not ids or context.step.makes:
        return
    for other in context.before.objects.values():
        if other.id in ids or other.locked:
            continue
        for chosen in dict.fromkeys(((other.id,), *(_with_other(ids, object_id, other.id) for object_id in ids))):
            done = context.step.model_copy(update={"objects": chosen})
            meant = next(object_id for object_id in ids if object_id not in chosen)
            yield context.instead([done], f" {other.name}", meant)


def _with_other(ids: tuple[str, ...], right: str, wrong: str) -> tuple[str, ...]:
    return tuple(wrong if object_id == right else object_id for object_id in ids)


def objects_exchanged(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference with the objects of two steps of a kind exchanged."""
    steps, k = context.steps, context.k
    ids = context.step.acts_on
    if not ids or context.step.makes:
        return
    for j in range(k + 1, len(steps)):
        others = steps[j].acts_on
        if steps[j].op == context.step.op and others and set(others) != set(ids):
            first, second = (
                step.model_copy(update={"objects": with_}) for step, with_ in ((context.step, others), (steps[j], ids))
            )
            detail = f" {context.before[others[0]].name if others[0] in context.before.objects else others[0]}"
            yield Mutation(k, j + 1, (first, *steps[k + 1 : j], second), detail)


def numbers_kept(context: StepContext) -> Iterator[Mutation]:
    """Nested keeping the local numbers in the place of the world's, or the other way round."""
    if isinstance(context.step, Nest):
        kept = ("its world position", "its local numbers")
        wrong, right = kept if context.step.keep == "local" else kept[::-1]
        yield context.changed(f"{wrong} instead of {right}", keep="world" if context.step.keep == "local" else "local")


def not_nested(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference without the nesting."""
    if isinstance(context.step, Nest):
        yield context.instead([])


def name_forgotten(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference without the renaming."""
    if isinstance(context.step, Rename):
        yield context.instead([])


def colour_forgotten(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference without the painting."""
    if isinstance(context.step, Paint):
        yield context.instead([])


def pivot_set_late(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference with the pivot set after the steps that need it."""
    steps, k = context.steps, context.k
    if not isinstance(context.step, MovePivot):
        return
    ids = set(context.step.acts_on)
    for j in range(k + 1, len(steps)):
        if ids & set(steps[j].acts_on):
            yield Mutation(k, j + 1, (*steps[k + 1 : j + 1], steps[k]), f", after step {j + 1} of the reference")


def copies_in_place(context: StepContext) -> Iterator[Mutation]:
    """Yield the reference with the copies left in place, also in later steps."""
    step = context.step
    if not isinstance(step, Duplicate):
        return
    if step.between is not None:
        yield context.changed(between=None)
    later = context.steps[context.k + 1 :]
    if any(set(other.acts_on) & set(step.ids) for other in later):
        kept = tuple(other for other in later if not set(other.acts_on) <= set(step.ids) or not other.acts_on)
        yield Mutation(context.k, len(context.steps), (step, *kept), object=step.ids[0])


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
        Words("and{detail} are swapped", "Check which object you had selected."),
        objects_exchanged,
    ),
    Mistake(
        "not-nested", 0.5,
        Words("was not nested", "Check the parent of {object}."),
        not_nested,
    ),
    Mistake(
        "name-forgotten", 0.95,
        Words("still has its old name", "Check the name of {object}."),
        name_forgotten,
    ),
    Mistake(
        "colour-forgotten", 0.95,
        Words("was not painted", "Check the colour of {object}."),
        colour_forgotten,
    ),
    Mistake(
        "pivot-set-late", 0.75,
        Words(
            "had its pivot set too late",
            "Check when the pivot of {object} was set.",
            "had its pivot set too late{detail}",
        ),
        pivot_set_late,
    ),
    Mistake(
        "nested-numbers-kept", 0.6,
        Words("was nested with the wrong option: it kept {detail}", "Check whether {object} moved when it was nested."),
        numbers_kept,
    ),
    Mistake(
        "copies-left-in-place", 0.6,
        Words("has copies in the same place", "Count the copies of {object}."),
        copies_in_place,
    ),
)  # fmt: skip
