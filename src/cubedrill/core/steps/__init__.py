"""Steps: one change of a scene each, with everything that defines it. A module a family.

To add a kind of step: its module with a model on StepBase or ObjectsStep (a literal `op`, the phrases it `says`, then
`apply`, `looks_at` and `converted`), and its name in `Step` below.
"""

from __future__ import annotations

from typing import Annotated, Any, Final, get_args

import numpy as np
from pydantic import Field, TypeAdapter

from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.aim import Aim, Swing
from cubedrill.core.steps.align import Align, Drop
from cubedrill.core.steps.appearance import Paint, Rename
from cubedrill.core.steps.common import StepBase, op_of
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.existence import Add, Remove
from cubedrill.core.steps.join import Join
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.nest import Assemble, Nest
from cubedrill.core.steps.pivot import Marker, MovePivot
from cubedrill.core.steps.put import Put
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale

Step = Annotated[
    Move
    | Rotate
    | Scale
    | Align
    | Drop
    | Join
    | Put
    | Aim
    | Swing
    | MovePivot
    | Nest
    | Assemble
    | Duplicate
    | Add
    | Remove
    | Rename
    | Paint
    | Marker,
    Field(discriminator="op"),
]

KINDS: Final[tuple[type[StepBase], ...]] = get_args(get_args(Step)[0])
OPS: Final = tuple(op_of(kind) for kind in KINDS)
STEP_ADAPTER: Final[TypeAdapter[Any]] = TypeAdapter(Step)

MOST_STEPS: Final = 2000

StepList = Annotated[tuple[Step, ...], Field(max_length=MOST_STEPS, fail_fast=True)]


def apply_step(scene: Scene, step: Step) -> Scene:
    """Return the scene after a step; raise CoreError where it cannot be done.

    Numbers that overflow on the way end in the error "too-large", so NumPy's own warnings are off meanwhile.
    """
    with np.errstate(all="ignore"):
        return step.apply(scene)
