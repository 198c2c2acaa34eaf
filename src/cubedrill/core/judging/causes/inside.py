"""A mistake made in the step that is done on each copy."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.common import Alter, Mutation, StepContext
from cubedrill.core.steps import Step
from cubedrill.core.steps.common import ObjectsStep
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.replay import replay


def between_copies(context: StepContext, alter: Alter) -> Iterator[Mutation]:
    """Yield the mistake put into the step between copies, as if that step acted on the originals."""
    step = context.step
    if not isinstance(step, Duplicate) or (done := step.between_on(step.objects)) is None:
        return
    inner = cast("Step", done)  # every kind of step that acts on objects is one of the union
    try:
        states = replay(context.before, [inner])
    except CoreError:  # what can be done with the copies alone
        return
    for mutation in alter(StepContext((inner,), states, 0)):
        if len(mutation.steps) == 1 and isinstance(mutation.steps[0], ObjectsStep):
            yield context.instead([step.with_between(mutation.steps[0])], mutation.detail)
