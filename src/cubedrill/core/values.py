"""The base of every value that comes from outside, and the number types that its fields use."""

from __future__ import annotations

from typing import Annotated, Final, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, Strict, StringConstraints

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Indices = NDArray[np.intp]

LARGEST_COUNT: Final = 2**63 - 1  # of a database's whole numbers


def _no_bool(value: object) -> object:
    if isinstance(value, bool):
        raise ValueError("a whole number is expected")
    return value


Count = Annotated[int, Field(ge=0, le=LARGEST_COUNT), BeforeValidator(_no_bool)]
Number = Annotated[float, Strict()]
Positive = Annotated[float, Strict(), Field(gt=0)]
Share = Annotated[Number, Field(ge=0, le=1)]
Identifier = Annotated[str, Field(min_length=1, max_length=200)]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-fA-F]{6}$")]
Vector = tuple[Number, Number, Number]
Partial = tuple[Number | None, Number | None, Number | None]
Quaternion = tuple[Number, Number, Number, Number]
Matrix16 = Annotated[tuple[Number, ...], Field(min_length=16, max_length=16, fail_fast=True)]


class Value(BaseModel):
    """An immutable value, validated once at the door: unknown keys, infinities and NaN are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, serialize_by_alias=True)


def frozen(array: Array) -> Array:
    """Return the array made read-only, so that scenes can share it."""
    array.flags.writeable = False
    return array


def vector(values: Vector) -> Array:
    """Return three numbers as a read-only array (3,)."""
    return frozen(np.array(values, dtype=np.float64))


def as_vector(values: Array) -> Vector:
    """Return an array (3,) as three plain numbers."""
    return cast(Vector, tuple(values.tolist()))
