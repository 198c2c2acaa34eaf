"""Our own additions to files with room for them: id, pivot, solid and lock of an object."""

from __future__ import annotations

import json
from typing import Final

import numpy as np
from pydantic import BaseModel, ConfigDict, TypeAdapter, ValidationError

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.scene.scene import SceneObject
from cubedrill.core.values import Colour, Identifier, Share, Vector
from cubedrill.formats.imported import Gathering, Surface, cleaned

KEY: Final = "cube_drill"
ROUNDED_SIZE_TOL: Final = 1e-6  # of a size: what is lost where numbers are written short

_SOLID: Final[TypeAdapter[Solid]] = TypeAdapter(Solid)


class Own(BaseModel):
    """The additions for one object, in the axes and the unit of the file."""

    model_config = ConfigDict(frozen=True, extra="ignore", allow_inf_nan=False)

    id: Identifier | None = None
    pivot: Vector | None = None
    solid: object = None
    locked: bool | None = None
    colour: Colour | None = None
    opacity: Share | None = None

    @property
    def facts(self) -> dict[str, object]:
        """Return the fields that an object takes unchanged."""
        return self.model_dump(exclude={"solid"}, exclude_none=True)


def own_of(written: object) -> Own:
    """Return what was written, as JSON or its value; nothing where it is not ours."""
    try:
        return Own.model_validate_json(written) if isinstance(written, str) else Own.model_validate(written or {})
    except ValidationError:
        return Own()


def written_of(item: SceneObject, change: ConventionTransform) -> dict[str, object]:
    """Return what to write of an object; change: to the file's conventions."""
    own: dict[str, object] = {"id": item.id, "pivot": change.point(item.pivot).tolist()}
    own |= {"colour": item.colour, "opacity": item.opacity, "locked": item.locked}
    if item.solid is not None and item.solid.kind != "mesh":
        own["solid"] = item.solid.converted(change).model_dump(mode="json")
    return own


def json_of(item: SceneObject, change: ConventionTransform) -> str:
    """Return the same as a line of JSON."""
    return json.dumps(written_of(item, change), ensure_ascii=False, separators=(",", ":"))


def shape_of(own: Own, surface: Surface | None, up: int, name: str, found: Gathering) -> Surface | Solid | None:
    """Return the solid that a file of ours says, as long as its mesh is still as large; else the mesh."""
    if own.solid is None:
        return surface
    try:
        solid = _SOLID.validate_python(own.solid)
    except ValidationError:
        return surface
    if surface is not None and len(surface.points):
        box = solid.local_box(up)
        ends = np.array((surface.points.min(axis=0), surface.points.max(axis=0)))
        if float(np.abs(ends - (box.least, box.most)).max()) > ROUNDED_SIZE_TOL * float(box.size.max()):
            found.note(f"{cleaned(name)} is no longer its original solid; its mesh was imported.")
            return surface
    return solid
