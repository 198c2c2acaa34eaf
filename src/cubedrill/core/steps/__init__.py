"""Steps: one transform each, with everything that defines it. A module a family.

To add a family: its module with a model (a literal `op`), an `apply` and a `sentence`, then one line in each of
`Step`, `apply_step` and `sentence_of` below.
"""

from __future__ import annotations

from typing import Annotated, assert_never

from pydantic import Field

from cubedrill.core.scene import Scene
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.move import apply as apply_move
from cubedrill.core.steps.move import sentence as move_sentence

Step = Move  # with a second family: Annotated[Move | Rotate, Field(discriminator="op")]

StepList = Annotated[tuple[Step, ...], Field(max_length=2000)]


def apply_step(scene: Scene, step: Step) -> Scene:
    """Return the scene after a step; raise CoreError where it cannot be done."""
    match step:
        case Move():
            return apply_move(scene, step)
        case _:
            assert_never(step)


def sentence_of(scene: Scene, step: Step) -> str:
    """Return a step in words; scene: as it stands before the step."""
    match step:
        case Move():
            return move_sentence(scene, step)
        case _:
            assert_never(step)
