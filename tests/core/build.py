"""Short ways to make scenes and replay steps in tests."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import TypeAdapter

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps import Step, StepList
from cubedrill.core.steps.replay import State, replay

STEPS: TypeAdapter[tuple[Step, ...]] = TypeAdapter(StepList)
CRATE = {"kind": "cuboid", "size": [2, 2, 2]}
QUARTER_X = [0.5**0.5, 0, 0, 0.5**0.5]  # 90° about X: own Y points along world Z, own Z along world −Y
QUARTER_Y = [0, 0.5**0.5, 0, 0.5**0.5]  # 90° about Y: own X points along world −Z, own Z along world X
QUARTER_Z = [0, 0, 0.5**0.5, 0.5**0.5]  # 90° about Z: own X points along world Y, own Y along world −X


def scene(*objects: dict[str, Any], marker: tuple[float, float, float] = (0, 0, 0), **conventions: Any) -> Scene:
    """Return a scene of objects as a file gives them."""
    return Stage.model_validate({"objects": objects, "marker": marker}).to_scene(Conventions(**conventions))


def steps_of(*steps: dict[str, Any]) -> tuple[Step, ...]:
    """Return steps from what a file holds; `objects` is ["a"] where it is missing and needed."""
    return STEPS.validate_python(steps)


def states(start: Scene, *steps: dict[str, Any]) -> list[State]:
    """Return all states of a replay."""
    return replay(start, steps_of(*steps))


def after(start: Scene, *steps: dict[str, Any]) -> Scene:
    """Return the scene after steps."""
    return states(start, *steps)[-1].scene


def sentence(start: Scene, step: dict[str, Any]) -> str:
    """Return a step in words."""
    return states(start, step)[-1].sentence


def refusal(start: Scene, *steps: dict[str, Any]) -> CoreError:
    """Return the error that refuses the last of these steps, and check that the ones before it can be done."""
    before = after(start, *steps[:-1])
    with pytest.raises(CoreError) as error:
        after(start, *steps)
    assert error.value.step == len(steps)
    assert after(start, *steps[:-1]).objects.keys() == before.objects.keys()
    return error.value


def near(values: Any) -> Any:
    """Compare as equal to within the rounding of a few products of numbers below a hundred."""
    return pytest.approx(values, abs=1e-12)
