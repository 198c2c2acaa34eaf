"""Mistakes in the space or the pivot of a step."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from cubedrill.core.judging.causes.common import Alter, Mistake, Mutation, StepContext, Words
from cubedrill.core.scene.spaces import FeaturePoint, LineSpace, ObjectSpace, ViewSpace
from cubedrill.core.steps.aim import Swing
from cubedrill.core.steps.align import Align
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale

_WITH_PIVOT: Final = (Rotate, Scale, Swing)


def _space_of(context: StepContext) -> str | None:
    """Return the space of a step where it is one of the named ones, and can be another."""
    step = context.step
    if isinstance(step, Scale):
        return None if step.to is not None else str(step.space)
    if isinstance(step, Move | Rotate | Align | Swing):
        return step.space if isinstance(step.space, str) else None
    return None


def _instead(right: str, wrong: str) -> Alter:
    """One space in the place of another. Angles to turn to are in world or parent alone."""

    def alter(context: StepContext) -> Iterator[Mutation]:
        if (wrong == "parent" or "local" not in (right, wrong)) and _all_without_parent(context):
            return  # what is in nothing has no parent: its space is World, and that is named
        sets_angles = isinstance(context.step, Rotate) and context.step.to is not None
        if _space_of(context) == right and not (sets_angles and wrong == "local"):
            yield context.changed(_along(context), space=wrong)

    return alter


def _along(context: StepContext) -> str:
    """Return the verb and preposition for a step and its axes."""
    match context.step:
        case Rotate() | Swing():
            return "turned about"
        case Scale():
            return "scaled along"
        case Align():
            return "aligned along"
        case _:
            return "moved along"


def _all_without_parent(context: StepContext) -> bool:
    """Tell whether world and parent are the same for all objects of the step."""
    objects = context.before.objects
    return all(i in objects and objects[i].parent is None for i in context.step.acts_on)


def _instead_of_given_axes(wrong: str) -> Alter:
    """Return a named space in the place of another object's axes, of a line's or of a view's."""

    def alter(context: StepContext) -> Iterator[Mutation]:
        step = context.step
        if isinstance(step, Move | Rotate | Scale | Align | Swing) and isinstance(
            step.space, ObjectSpace | LineSpace | ViewSpace
        ):
            yield context.changed(_along(context), space=wrong)

    return alter


def wrong_pivot(context: StepContext) -> Iterator[Mutation]:
    """Turned or scaled through another pivot: the object's own, the centre, the origin, the middle of the selection."""
    step = context.step
    if not isinstance(step, _WITH_PIVOT) or (isinstance(step, Rotate) and step.to is not None):
        return
    words = {
        "own": "its own pivot", "box": "its centre", "origin": "the origin", "selection": "the middle of the selection",
    }  # fmt: skip
    done = "scaled" if isinstance(step, Scale) else "turned"
    for pivot, said in words.items():
        if pivot != step.pivot and not (pivot == "selection" and len(step.objects) == 1):
            yield context.changed(f"{done} about {said}", pivot=pivot)


def about_the_centre(context: StepContext) -> Iterator[Mutation]:
    """Scaled about the centre in the place of the point to hold."""
    if isinstance(context.step, Scale) and context.step.pivot != "box":
        yield context.changed(pivot="box")


def pivot_for_centre(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with a position for the centre given to the pivot, or the reverse."""
    step = context.step
    if not isinstance(step, Move) or step.to is None:
        return
    if isinstance(step.point, FeaturePoint) and step.point.at != "pivot":
        yield context.changed(point=None)
    if step.point is None:
        for object_id in step.acts_on:
            moved = step.model_copy(
                update={"objects": (object_id,), "point": FeaturePoint(object=object_id, at="centre")}
            )
            others = tuple(i for i in step.acts_on if i != object_id)
            rest = [step.model_copy(update={"objects": others})] if others else []
            yield context.instead([moved, *rest], object_id=object_id)


def _space_words(meant: str, used: str) -> Words:
    return Words(
        f"was {{detail}} the axes of {used} instead of {meant}",
        "Check whose axes you used for {object}.",
    )


_PAIRS: Final = (
    ("world-instead-of-local", 0.9, "local", "world", _space_words("Local", "World")),
    ("local-instead-of-world", 0.9, "world", "local", _space_words("World", "Local")),
    ("parent-taken-as-world", 0.7, "parent", "world", _space_words("Parent", "World")),
    ("world-taken-as-parent", 0.7, "world", "parent", _space_words("World", "Parent")),
    ("parent-instead-of-local", 0.4, "local", "parent", _space_words("Local", "Parent")),
    ("local-instead-of-parent", 0.4, "parent", "local", _space_words("Parent", "Local")),
)

SPACES: Final = (
    *(Mistake(code, common, words, _instead(right, wrong)) for code, common, right, wrong, words in _PAIRS),
    Mistake(
        "world-instead-of-given-axes", 0.9, _space_words("the axes given", "World"), _instead_of_given_axes("world")
    ),
    Mistake(
        "local-instead-of-given-axes", 0.6, _space_words("the axes given", "Local"), _instead_of_given_axes("local")
    ),
    Mistake(
        "wrong-pivot",
        0.8,
        Words("was {detail}", "Check the pivot that {object} was turned or scaled about."),
        wrong_pivot,
    ),
    Mistake(
        "scaled-about-centre",
        0.7,
        Words(
            "was scaled about its centre instead of the hold point",
            "Check what stays in place when {object} is scaled.",
        ),
        about_the_centre,
    ),
    Mistake(
        "pivot-taken-for-centre",
        0.7,
        Words("has its pivot and centre swapped", "Check which point of {object} the position means."),
        pivot_for_centre,
    ),
)
