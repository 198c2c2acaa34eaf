"""Mistakes in steps that place by boxes and surfaces, that make copies, and that nest."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import Final

import numpy as np

from cubedrill.core.geometry.conventions import AXES
from cubedrill.core.judging.causes.common import Mistake, Mutation, StepContext, Words
from cubedrill.core.scene.scene import IDENTITY
from cubedrill.core.scene.spaces import FeaturePoint, feature_local, feature_world
from cubedrill.core.scene.wording import feature_name
from cubedrill.core.steps.aim import Aim
from cubedrill.core.steps.align import Align, Drop
from cubedrill.core.steps.common import free_id, signed_unit
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.join import Join
from cubedrill.core.steps.nest import Nest
from cubedrill.core.steps.put import FACES, OnObject, Put
from cubedrill.core.values import as_vector

PLACES: Final = tuple(
    "".join(parts) for parts in itertools.product(("", "-x", "+x"), ("", "-y", "+y"), ("", "-z", "+z"))
)
SIDES: Final = ("min", "centre", "max")


def other_side(context: StepContext) -> Iterator[Mutation]:
    """Yield the alignment with another side, or the middle, on one axis."""
    step = context.step
    if not isinstance(step, Align):
        return
    for axis, right in zip(AXES, step.sides, strict=True):
        for side in SIDES if right is not None else ():
            if side != right:
                yield context.changed(f" ({side} of {axis.upper()} instead of {right})", **{axis: side})


def other_support(context: StepContext) -> Iterator[Mutation]:
    """Dropped onto the ground in the place of what is below, or the other way round."""
    if isinstance(context.step, Drop):
        yield context.changed(onto="below" if context.step.onto == "ground" else "ground")


def gap_forgotten(context: StepContext) -> Iterator[Mutation]:
    """Yield the step without its gap."""
    step = context.step
    if isinstance(step, Drop) and step.clearance:
        yield context.changed(clearance=0.0)
    if isinstance(step, Put) and step.offset:
        yield context.changed(offset=0.0)


def other_axis_on_normal(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with another own axis along the normal, or with none."""
    step = context.step
    if isinstance(step, Put) and step.align is not None:
        yield context.changed(" (none turned to the normal)", align=None)
        for axis in FACES:
            if axis != step.align:
                yield context.changed(f" ({axis.replace('-', '−').upper()})", align=axis)


def centre_on_surface(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with the centre of the box on the surface instead of the base."""
    step = context.step
    if not isinstance(step, Put):
        return
    (object_id,) = step.acts_on
    if context.after.box(object_id, IDENTITY) is None:
        return
    contact_world, normal_world = step.contact_world(context.before)
    height = float(normal_world @ (feature_world(context.after, object_id, "centre") - contact_world))
    yield context.changed(offset=step.offset - height)


def other_face(context: StepContext) -> Iterator[Mutation]:
    """Yield the step on the middle of another face of the same object."""
    step = context.step
    if not isinstance(step, Put) or not isinstance(step.on, OnObject):
        return
    surface = step.on.object
    if context.before.local_box(surface) is None:
        return
    for face in FACES:
        point, normal = feature_local(context.before, surface, face), signed_unit(face)
        if not np.allclose(normal, step.on.normal):
            on = step.on.model_copy(update={"point": as_vector(point), "normal": as_vector(normal)})
            yield context.changed(f" ({face.replace('-', '−').upper()})", on=on)


def other_axis_aimed(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with another own axis aimed."""
    step = context.step
    if isinstance(step, Aim):
        for axis in FACES:
            if axis != step.axis:
                yield context.changed(f" ({axis.replace('-', '−').upper()})", axis=axis)


def other_point_joined(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with another corner, edge or face of the same object at either end."""
    step = context.step
    if not isinstance(step, Join):
        return
    for field in ("point", "to"):
        right = getattr(step, field)
        if isinstance(right, FeaturePoint):
            for at in PLACES:
                if at != right.at and len(at) == len(right.at):
                    point = right.model_copy(update={"at": at})
                    yield context.changed(f" ({feature_name(at)})", **{field: point})


def nested_other_way(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with the parent nested in the child."""
    step = context.step
    if isinstance(step, Nest) and step.parent is not None and len(step.acts_on) == 1:
        yield context.changed(objects=(step.parent,), parent=step.acts_on[0])


def miscounted(context: StepContext) -> Iterator[Mutation]:
    """One copy too few, or one too many."""
    step = context.step
    if not isinstance(step, Duplicate):
        return
    once = len(step.ids) // step.copies
    if step.copies > 1:
        yield context.changed(", one too few", copies=step.copies - 1, ids=step.ids[:-once])
    taken, more = {*context.before.objects, *step.ids}, []
    for object_id in step.ids[-once:]:
        more.append(free_id(object_id, taken))
        taken.add(more[-1])
    yield context.changed(", one too many", copies=step.copies + 1, ids=(*step.ids, *more))


PLACING: Final = (
    Mistake(
        "aligned-to-other-side", 0.7,
        Words("was aligned by the wrong side{detail}", "Check which sides of {object} should meet."),
        other_side,
    ),
    Mistake(
        "dropped-onto-other", 0.7,
        Words("was dropped onto the wrong object", "Check what {object} should rest on."),
        other_support,
    ),
    Mistake(
        "gap-forgotten", 0.7,
        Words("was placed without its gap", "Check the gap of {object}."),
        gap_forgotten,
    ),
    Mistake(
        "other-axis-on-normal", 0.6,
        Words("has the wrong axis along the normal{detail}", "Check which way {object} stands."),
        other_axis_on_normal,
    ),
    Mistake(
        "centre-on-surface", 0.6,
        Words(
            "is sunk, with its centre on the surface instead of its base",
            "Check which point of {object} touches the surface.",
        ),
        centre_on_surface,
    ),
    Mistake(
        "put-on-other-face", 0.5,
        Words("was put on the wrong face{detail}", "Check which face {object} should rest on."),
        other_face,
    ),
    Mistake(
        "aimed-another-axis", 0.7,
        Words("was aimed with the wrong axis{detail}", "Check which axis of {object} should point there."),
        other_axis_aimed,
    ),
    Mistake(
        "joined-another-point", 0.6,
        Words("was joined at the wrong point{detail}", "Check which two points should meet."),
        other_point_joined,
    ),
    Mistake(
        "nested-other-way", 0.4,
        Words("was nested the wrong way round", "Check which object is the parent."),
        nested_other_way,
    ),
    Mistake(
        "copies-miscounted", 0.7,
        Words("has the wrong number of copies{detail}", "Count the copies of {object}."),
        miscounted,
    ),
)  # fmt: skip
