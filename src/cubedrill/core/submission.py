"""What a student hands in."""

from __future__ import annotations

from typing import Literal

from cubedrill.core.steps import StepList
from cubedrill.core.values import Identifier, Value


class StepsSubmission(Value):
    """The step list made on the bench."""

    format: Literal["cube-drill/submission"]
    version: Literal[1]
    exercise: Identifier
    kind: Literal["steps"]
    steps: StepList


Submission = StepsSubmission  # sheets and scenes join it as a union discriminated by `kind`
