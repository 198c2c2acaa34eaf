"""Steps laid upon each other: those that differ in numbers alone are done as one, in one scene or a stack of them."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from operator import attrgetter
from typing import Any, Final, TypeVar

import numpy as np

from cubedrill.core.steps.common import StepBase, axis_unit
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale

# Their formulas take arrays with one number, or one object's place, for each of many scenes.
Laid = Move | Rotate | Scale
STACKED: Final = (Move, Rotate, Scale)
NUMBERS: Final = ("by", "to", "axis", "angle")
AnyStep = TypeVar("AnyStep", bound=StepBase)

_NUMBERS: Final = {of: attrgetter(*(name for name in NUMBERS if name in of.model_fields)) for of in STACKED}
_OTHERS: Final = {
    of: attrgetter(*(name for name in of.model_fields if name not in (*NUMBERS, "objects"))) for of in STACKED
}


def kind_of(step: StepBase) -> Hashable:
    """Return what stands for all of a step but its numbers and objects; none for one that cannot be laid upon others.

    Steps made from one by `model_copy` share what was not changed, so that its identity tells it.
    """
    if not isinstance(step, STACKED):
        return None
    of = type(step)
    return of, *map(id, _OTHERS[of](step)), *[number is None for number in _NUMBERS[of](step)]


def numbers_of(step: Laid) -> Hashable:
    """Return the numbers that steps of a kind can differ in."""
    numbers: Hashable = _NUMBERS[type(step)](step)
    return numbers


def laid(steps: Sequence[AnyStep]) -> AnyStep:
    """Return one step for several of a kind, with arrays of n rows for numbers that differ, NaN for none.

    It is no value for a file: nothing but `apply` can be asked of it.
    """
    first, *others = steps
    update: dict[str, Any] = {}
    for name in NUMBERS:
        values: list[Any] = [vars(step).get(name) for step in steps]
        if values[0] is None or values.count(values[0]) == len(values):
            continue
        rows: list[Any] = [axis_unit(value) for value in values] if name == "axis" else values
        update[name] = np.array(rows, dtype=np.float64)
    return first.model_copy(update=update) if others else first
