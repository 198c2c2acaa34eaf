"""A mistake made in the step that is done on each copy."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.common import Alter, Altered, Slot
from cubedrill.core.steps import Step
from cubedrill.core.steps.common import ObjectsStep
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.replay import replay


def between_copies(slot: Slot, alter: Alter) -> Iterator[Altered]:
    """The mistake put into the step between copies, as if that were done on the originals; else nothing."""
    step = slot.step
    if not isinstance(step, Duplicate) or (done := step.between_on(step.objects)) is None:
        return
    inner = cast("Step", done)  # every kind of step that acts on objects is one of the union
    try:
        states = replay(slot.before, [inner])
    except CoreError:  # what can be done with the copies alone
        return
    for altered in alter(Slot((inner,), states, 0)):
        if len(altered.steps) == 1 and isinstance(altered.steps[0], ObjectsStep):
            yield slot.instead([step.with_between(altered.steps[0])], altered.detail)
