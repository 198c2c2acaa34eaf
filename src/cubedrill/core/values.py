"""The base of every value that comes from outside, and the number types that its fields use."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, Strict

Array = NDArray[np.float64]

Number = Annotated[float, Strict()]
Positive = Annotated[float, Strict(), Field(gt=0)]
Identifier = Annotated[str, Field(min_length=1, max_length=200)]
Vector = tuple[Number, Number, Number]


class Value(BaseModel):
    """An immutable value, validated once at the door: unknown keys, infinities and NaN are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


def frozen(array: Array) -> Array:
    """Return the array made read-only, so that scenes can share it."""
    array.flags.writeable = False
    return array


def vector(values: Vector) -> Array:
    """Return three numbers as a read-only array (3,)."""
    return frozen(np.array(values, dtype=np.float64))
