"""Rename and paint: what objects are called and look like."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Final, Literal, Self

from pydantic import model_validator

from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.common import ObjectsStep, chosen, hanging_on
from cubedrill.core.values import Colour, Identifier, Share


class Rename(ObjectsStep):
    """Give every object listed a name."""

    says: ClassVar = Sayings(Phrase("Rename {objects} to/as {name}", objects=terms.OBJECTS, name=terms.NEW_NAME))
    op: Literal["rename"]
    name: Identifier

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the names; raise CoreError "unknown-object"."""
        return scene.with_objects([replace(scene[i], name=self.name) for i in chosen(scene, self.objects)])

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step: it has no numbers."""
        del change
        return self


_PARTS: Final = {"objects": terms.OBJECTS, "colour": terms.COLOUR, "opacity": terms.NUMBER}


class Paint(ObjectsStep):
    """Give every object listed a colour, an opacity, or both."""

    says: ClassVar = Sayings(
        Phrase("Paint {objects} {colour}[, opacity {opacity}]", **_PARTS),
        Phrase("Paint {objects} opacity {opacity}", **_PARTS),
    )
    op: Literal["paint"]
    colour: Colour | None = None
    opacity: Share | None = None

    @model_validator(mode="after")
    def _something(self) -> Self:
        if self.colour is None and self.opacity is None:
            raise ValueError("paint needs 'colour', 'opacity' or both")
        return self

    def apply(self, scene: Scene) -> Scene:
        """Return the scene painted; raise CoreError "unknown-object"."""
        items = (scene[object_id] for object_id in chosen(scene, self.objects))
        return scene.with_objects(
            replace(
                item,
                colour=item.colour if self.colour is None else self.colour,
                opacity=item.opacity if self.opacity is None else self.opacity,
            )
            for item in items
        )

    def looks_at(self, scene: Scene) -> frozenset[str] | None:
        """Return the objects that its outcome hangs on."""
        return hanging_on(scene, self.objects)

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step: it has no lengths or angles."""
        del change
        return self
