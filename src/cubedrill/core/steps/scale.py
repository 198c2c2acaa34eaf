"""Scale: by factors along the axes of a space, to sizes, or keeping the volume."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Final, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import AXES, Axis, ConventionTransform
from cubedrill.core.geometry.transform import about, inverse, mapped
from cubedrill.core.language import terms
from cubedrill.core.language.numerals import read_plain
from cubedrill.core.language.part import Choice, Part, Writing
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.scene.measure import own_sizes
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.scene.spaces import (
    AXIS_COLUMNS,
    Pivot,
    Space,
    converted_pivot,
    converted_space,
    frame_of,
    pivots_world,
    within,
)
from cubedrill.core.steps.common import ObjectsStep, acted_on, converted_partial, hanging_on
from cubedrill.core.values import Array, Positive, Value, Vector, as_vector

FLAT_SHARE: Final = 1e-12  # of a box's longest side: an axis this thin is flat, and rounding cannot make it so

PartialSizes = tuple[Positive | None, Positive | None, Positive | None]


class KeepVolume(Value):
    """One factor along its axis; the other two axes get 1/√factor, so that the volume stays."""

    axis: Axis
    factor: Positive


class _KeptVolume(Part):
    """A factor along an axis: `2 along X`."""

    def write(self, value: Any, to: Writing) -> str:
        """Write the factor and its axis."""
        return f"{to.number(value.factor)} along {value.axis.upper()}"

    def read(self, reader: Reader) -> object:
        """Read the factor and its axis."""
        factor = read_plain(reader)
        reader.attempt(lambda r: r.words("along"))
        return {"factor": factor, "axis": terms.LETTER.read(reader)}


_PARTS: Final = {"objects": terms.OBJECTS, "space": terms.SPACE, "pivot": terms.PIVOT}
_FACTORS: Final = terms.PerAxis(terms.NUMBER, False, 1.0)


class Scale(ObjectsStep):
    """Scale objects about a hold point: `by` factors, `to` sizes along the own axes, or `keep_volume`."""

    says: ClassVar = Sayings(
        Phrase(
            "Scale {objects} by {by}< on/along all axes>[ of/in {space}]< holding {pivot}>",
            **_PARTS,
            by=terms.OnAllAxes(),
        ),
        Phrase("Scale {objects} by {by}< of/in {space}>< holding {pivot}>", **_PARTS, by=_FACTORS),
        Phrase(
            "Scale {objects} by {keep_volume}< of/in {space}>, keeping its volume,< holding {pivot}>",
            **_PARTS,
            keep_volume=_KeptVolume(),
        ),
        Phrase(
            "Scale {objects} to {to}[ {uniform}]< of/in {space}>< holding {pivot}>",
            **_PARTS,
            to=terms.PerAxis(terms.LENGTH, True, None, "its size"),
            uniform=Choice({True: ("and the rest alike", ", the rest alike", "the rest alike")}),
        ),
    )
    op: Literal["scale"]
    space: Space = "world"
    by: Vector | None = None
    to: PartialSizes | None = None
    uniform: bool = False
    keep_volume: KeepVolume | None = None
    pivot: Pivot = "own"

    @model_validator(mode="before")
    @classmethod
    def _own_axes(cls, data: object) -> object:
        """Return sizes and a kept volume go by the own axes unless a space is given; factors by the world's."""
        if isinstance(data, dict) and data.get("space") is None and data.get("by") is None:
            return {**data, "space": "local"}
        return data

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if sum(way is not None for way in (self.by, self.to, self.keep_volume)) != 1:
            raise ValueError("a scaling has one of 'by', 'to' and 'keep_volume'")
        if self.to is not None:
            self._check_sizes()
        elif self.uniform:
            raise ValueError("'uniform' goes with 'to'; for equal factors give 'by' three equal numbers")
        return self

    def _check_sizes(self) -> None:
        given = sum(size is not None for size in self.to or ())
        if self.space != "local":
            raise ValueError("sizes are those along the own axes; leave 'space' out or give 'local'")
        if self.uniform and given != 1:
            raise ValueError("with 'uniform' exactly one size is given")

    def apply(self, scene: Scene) -> Scene:
        """Return the scene after scaling; children follow.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "scale-zero", "flat-axis", "no-box", or the error of the space.

        Notes
        -----
        In ``local``, W′ = W T(q) diag(f) T(−q) with q = W⁻¹ c. Otherwise W′ = T(c) F diag(f) Fᵀ T(−c) W, which can
        skew.
        """
        ids = acted_on(scene, self.objects)
        centres = pivots_world(scene, self.pivot, ids)
        return scene.with_objects([self._scaled(scene, i, c) for i, c in zip(ids, centres, strict=True)])

    def _scaled(self, scene: Scene, object_id: str, centre_world: Array) -> SceneObject:
        factors = self._factors(scene, object_id)
        if not factors.all():
            raise CoreError("scale-zero", object=object_id, name=scene[object_id].name)
        if self.space == "local":
            local_from_world = inverse(scene.world_from_local(object_id))
            motion_local = about(_diagonal(factors), mapped(local_from_world, centre_world))
            return scene.placed(object_id, scene[object_id].parent_from_local @ motion_local)
        axes = frame_of(scene, self.space, object_id).world_from_axes
        return scene.placed_by(object_id, about(axes @ _diagonal(factors) @ axes.T, centre_world))

    def _factors(self, scene: Scene, object_id: str) -> Array:
        """Return the factors (3,) for one object."""
        if self.by is not None:
            return np.array(self.by)
        if self.keep_volume is not None:
            factors = np.full(3, 1 / math.sqrt(self.keep_volume.factor))
            factors["xyz".index(self.keep_volume.axis)] = self.keep_volume.factor
            return factors
        return self._factors_to_sizes(scene, object_id)

    def _factors_to_sizes(self, scene: Scene, object_id: str) -> Array:
        own = own_sizes(scene, object_id)
        wanted = np.array(self.to, dtype=np.float64)  # NaN for what stays
        stays = np.isnan(wanted)
        flat = ~stays & (own <= FLAT_SHARE * own.max())
        if flat.any():
            axis = "XYZ"[int(flat.argmax())]
            raise CoreError("flat-axis", object=object_id, name=scene[object_id].name, axis=axis)
        factors = np.where(stays, 1.0, wanted / own)
        if self.uniform:
            factors = np.full(3, factors[~stays][0])
        return factors

    @property
    def values(self) -> tuple[float, ...]:
        """The numbers that a student gives with it."""
        kept = () if self.keep_volume is None else (self.keep_volume.factor,)
        return tuple(value for value in (self.by or self.to or kept) if value is not None)

    @property
    def axes_of(self) -> Space:
        """The space along whose axes it scales."""
        return self.space

    @property
    def turns_about(self) -> Pivot:
        """The point that it holds."""
        return self.pivot

    def lines(self, scene: Scene, object_id: str) -> list[Array] | None:
        """Return (3,) each, length 1 in world: the axes that it scales along; none where it goes to sizes."""
        axes = frame_of(scene, self.space, object_id).world_from_axes
        if self.keep_volume is not None:
            return [axes[:, AXES.index(self.keep_volume.axis)]]
        return None if self.by is None else [axes[:, i] for i, factor in enumerate(self.by) if factor != 1]

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects, self.space, self.pivot)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same scaling in other conventions."""
        inside = within(self.space, change)
        kept = self.keep_volume
        return self.model_copy(
            update={
                "space": converted_space(self.space, change),
                "pivot": converted_pivot(self.pivot, change),
                "by": None if self.by is None else as_vector(inside.sizes(np.array(self.by))),
                "to": None if self.to is None else converted_partial(self.to, change, signed=False),
                "keep_volume": kept and kept.model_copy(update={"axis": inside.axis(kept.axis)[0]}),
            }
        )


def _diagonal(factors: Array) -> Array:
    return np.asarray(AXIS_COLUMNS * factors)
