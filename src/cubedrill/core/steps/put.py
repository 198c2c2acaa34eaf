"""Put: set an object on a surface, at a contact, its foot on it."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Final, Literal, Self

import numpy as np
from pydantic import Discriminator, Tag, model_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.directions import unit
from cubedrill.core.geometry.transform import about, inverse, mapped
from cubedrill.core.language import terms
from cubedrill.core.language.part import Part, Writing
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.reader import Reader
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.steps.common import (
    ObjectsStep,
    SignedAxis,
    acted_on,
    hanging_on,
    least_turn,
    own_axis_world,
    signed_unit,
)
from cubedrill.core.values import Array, Identifier, Number, Value, Vector, as_vector

FACES: Final = ("-x", "+x", "-y", "+y", "-z", "+z")
SAME_TOL: Final = 1e-9  # of a dot product of unit normals: two faces that look down alike


class OnObject(Value):
    """A contact on an object: a point and an outward normal in its local coordinates, so that it goes with it."""

    object: Identifier
    point: Vector
    normal: Vector


class InWorld(Value):
    """A contact in the world: a point and an outward normal."""

    point: Vector
    normal: Vector


def _contact_kind(value: object) -> str:
    on_object = isinstance(value, OnObject) or (isinstance(value, dict) and "object" in value)
    return "object" if on_object else "world"


Contact = Annotated[Annotated[OnObject, Tag("object")] | Annotated[InWorld, Tag("world")], Discriminator(_contact_kind)]


class _ContactPart(Part):
    """A contact: `on Slip at (1; 2; 3) facing (0; 1; 0)`, the object left out for one in the world."""

    def write(self, value: Any, to: Writing) -> str:
        """Write a contact."""
        on = f"on {terms.OBJECT.write(value.object, to)} " if isinstance(value, OnObject) else ""
        return f"{on}at {terms.VECTOR.write(value.point, to)} facing {terms.VECTOR.write(value.normal, to)}"

    def read(self, reader: Reader) -> object:
        """Read a contact."""
        on = reader.attempt(_read_on)
        reader.words("at")
        point = terms.VECTOR.read(reader)
        reader.words("facing")
        return {**({"object": on} if on is not None else {}), "point": point, "normal": terms.VECTOR.read(reader)}


def _read_on(reader: Reader) -> str:
    reader.words("on", "onto")
    found: str = terms.OBJECT.read(reader)
    return found


class Put(ObjectsStep):
    """Set one object, with what is in it, on a surface at a contact.

    align: the own axis that is first turned onto the normal. offset: in scene lengths, between it and the surface.
    """

    says: ClassVar = Sayings(
        Phrase(
            "Put/Set {objects} {on}[, {align} along the normal][, {offset} off it]",
            objects=terms.OBJECTS,
            on=_ContactPart(),
            align=terms.SIGNED_AXIS,
            offset=terms.LENGTH,
        )
    )
    op: Literal["put"]
    on: Contact
    align: SignedAxis | None = None
    offset: Number = 0.0

    @model_validator(mode="after")
    def _one_object(self) -> Self:
        if len(self.acts_on) != 1:
            raise ValueError("a 'put' sets one object; give one id in 'objects'")
        return self

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the object on the surface.

        Raises
        ------
        CoreError
            "unknown-object", "locked", "normal-zero", "put-on-itself" or "no-box".

        Notes
        -----
        With `align`, the object's axis first comes onto the normal n by the smallest rotation about its own pivot.
        Then W′ = T(c − f + (offset − s) n) W, with the foot f (see `_foot_world`) and s the smallest n · (x − f) over
        the exact world shape, including what is nested in the object.
        """
        (object_id,) = acted_on(scene, self.objects)
        contact_world, normal_world = self.contact_world(scene)
        turned = self._turned(scene, object_id, normal_world)
        foot_world = _foot_world(turned, object_id, normal_world)
        lowest = _lowest_along(turned, object_id, normal_world)
        if lowest is None:
            raise CoreError("no-box", object=object_id, name=scene[object_id].name)
        sunk = lowest - float(normal_world @ foot_world)
        displacement_world = contact_world - foot_world + (self.offset - sunk) * normal_world
        return turned.with_objects([turned.moved_by(object_id, displacement_world)])

    def contact_world(self, scene: Scene) -> tuple[Array, Array]:
        """Return the contact (3,) and its outward unit normal in the world.

        Of an object: c = W point and n = W⁻ᵀ normal, normalised, since a normal is a covector.
        """
        normal = unit(np.array(self.on.normal), "normal-zero")
        if isinstance(self.on, InWorld):
            return np.array(self.on.point), normal
        (object_id,) = self.acts_on
        if self.on.object == object_id or object_id in scene.ancestors(scene[self.on.object].id):
            raise CoreError("put-on-itself", object=object_id, name=scene[object_id].name)
        world_from_local = scene.world_from_local(self.on.object)
        return mapped(world_from_local, np.array(self.on.point)), _normal_world(world_from_local, normal)

    def _turned(self, scene: Scene, object_id: str, normal_world: Array) -> Scene:
        if self.align is None:
            return scene
        rotation = least_turn(own_axis_world(scene, object_id, self.align), normal_world, scene.conventions.up_index)
        return scene.with_objects([scene.placed_by(object_id, about(rotation, scene.pivot_world(object_id)))])

    @property
    def values(self) -> tuple[float, ...]:
        """The numbers that a student gives with it."""
        return (self.offset,) if self.offset else ()

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on, all that is in the one it sets among them."""
        surface = (self.on.object,) if isinstance(self.on, OnObject) else ()
        below = (d for i in self.acts_on if i in scene.objects for d in scene.descendants(i))
        return hanging_on(scene, (*self.objects, *surface, *below))

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step in other conventions."""
        point = as_vector(change.point(np.array(self.on.point)))
        normal = as_vector(change.direction(np.array(self.on.normal)))
        on = self.on.model_copy(update={"point": point, "normal": normal})
        align = None if self.align is None else change.signed_axis(self.align)
        return self.model_copy(update={"on": on, "align": align, "offset": change.length(self.offset)})


def _normal_world(world_from_local: Array, normal_local: Array) -> Array:
    """Return (3,) where a normal of a surface points in the world, length 1."""
    normal = normal_local @ inverse(world_from_local)[:3, :3]
    return np.asarray(normal / np.linalg.norm(normal))


def _foot_world(scene: Scene, object_id: str, normal_world: Array) -> Array:
    """Return the middle (3,) of the face of the own box that looks most against the normal; of an assembly, its centre.

    Of faces that look against it alike, the first in the order of FACES.
    """
    if scene[object_id].solid is None:
        return scene.require_box(object_id, IDENTITY).centre
    world_from_local = scene.world_from_local(object_id)
    against = [float(_normal_world(world_from_local, signed_unit(face)) @ -normal_world) for face in FACES]
    face = next(face for face, dot in zip(FACES, against, strict=True) if dot >= max(against) - SAME_TOL)
    return mapped(world_from_local, scene.require_local_box(object_id).feature(face))


def _lowest_along(scene: Scene, object_id: str, normal_world: Array) -> float | None:
    """Return the least n·x over the shape of an object and of all in it; none where there is no solid."""
    lowest = []
    for owner in (object_id, *scene.descendants(object_id)):
        solid = scene[owner].solid
        if solid is not None:
            world_from_local = scene.world_from_local(owner)
            against_local = -normal_world @ world_from_local[:3, :3]
            reach = float(solid.support(scene.conventions.up_index, against_local[None])[0])
            lowest.append(float(normal_world @ world_from_local[:3, 3]) - reach)
    return min(lowest, default=None)
