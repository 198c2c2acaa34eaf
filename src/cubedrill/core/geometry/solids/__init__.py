"""The kinds of solids, a file each. `Solid` is any of them; a new one is a file here and a name in the union."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from cubedrill.core.geometry.solids.base import SolidBase
from cubedrill.core.geometry.solids.cone import Cone
from cubedrill.core.geometry.solids.cuboid import Cuboid
from cubedrill.core.geometry.solids.cylinder import Cylinder
from cubedrill.core.geometry.solids.mesh import Mesh
from cubedrill.core.geometry.solids.plate import Plate
from cubedrill.core.geometry.solids.pyramid import Pyramid
from cubedrill.core.geometry.solids.ring import Ring
from cubedrill.core.geometry.solids.sphere import Sphere
from cubedrill.core.geometry.solids.tube import Tube
from cubedrill.core.geometry.solids.wedge import Wedge

Solid = Annotated[
    Cuboid | Wedge | Pyramid | Sphere | Cylinder | Cone | Tube | Ring | Plate | Mesh, Field(discriminator="kind")
]
SolidKind = Literal["cuboid", "wedge", "pyramid", "sphere", "cylinder", "cone", "tube", "ring", "plate", "mesh"]

__all__ = [
    "Cone", "Cuboid", "Cylinder", "Mesh", "Plate", "Pyramid", "Ring", "Solid", "SolidBase", "SolidKind", "Sphere",
    "Tube", "Wedge",
]  # fmt: skip
