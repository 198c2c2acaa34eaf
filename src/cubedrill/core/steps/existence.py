"""Add and remove: what is in the scene."""

from __future__ import annotations

from typing import Any, ClassVar, Literal, Self

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.language import terms
from cubedrill.core.language.part import Choice
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.language.things import NEW_OBJECT
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.steps.common import ObjectsStep, StepBase, Unneeded, acted_on, unlocked, with_id


class Add(StepBase):
    """Add an object, its pivot at the marker unless it says where it is."""

    unsaid: ClassVar = ("objects",)
    says: ClassVar = Sayings(Phrase("Add {object}", object=NEW_OBJECT))
    op: Literal["add"]
    objects: Unneeded = ()
    object: ObjectSpec

    def apply(self, scene: Scene) -> Scene:
        """Return the scene with the object.

        Raises
        ------
        CoreError
            "id-taken", "unknown-parent", "parent-loop" if the object is its own parent, or the error of its numbers.
        """
        item = self.object.to_object()
        if item.id in scene.objects:
            raise CoreError("id-taken", object=item.id)
        if item.parent == item.id:
            raise CoreError("parent-loop", object=item.id)
        if item.parent is not None and item.parent not in scene.objects:
            raise CoreError("unknown-parent", object=item.id, parent=item.parent)
        wider = scene.with_objects([item])
        if self.object.has_place:
            return wider
        marker_parent = mapped(wider.parent_from_world(item.id), scene.marker)
        pivot_parent = mapped(item.parent_from_local, item.pivot)
        return wider.with_objects([wider.moved_in_parent_by(item.id, marker_parent - pivot_parent)])

    @property
    def makes(self) -> tuple[str, ...]:
        """The id of the object."""
        return (self.object.id,)

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects: the id may be taken."""
        del scene

    @classmethod
    def completed(cls, found: dict[str, Any], scene: Scene | None) -> dict[str, Any]:
        """Return what a sentence said, with an id made of the name where it has none."""
        return {"object": with_id(found["object"], () if scene is None else scene.objects)}

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step in other conventions."""
        return self.model_copy(update={"object": self.object.converted(change)})


class Remove(ObjectsStep):
    """Remove objects with all that is in them, or lift their children to the removed one's parent first."""

    on_copies: ClassVar[bool] = False
    says: ClassVar = Sayings(
        Phrase(
            "Remove {objects}[ but lift {children}]",
            objects=terms.OBJECTS,
            children=Choice({"lift": "what is in it"}),
        )
    )
    op: Literal["remove"]
    children: Literal["remove", "lift"] = "remove"

    def apply(self, scene: Scene) -> Scene:
        """Return the scene without the objects. Lifted children keep their place in the world.

        Raises
        ------
        CoreError
            "unknown-object", or "locked" if a locked object would be removed or get another parent.
        """
        ids = acted_on(scene, self.objects)
        if self.children == "remove":
            below = [i for object_id in ids for i in scene.descendants(object_id)]
            unlocked(scene, below)
            return scene.without([*ids, *below])
        lifted = [
            scene.under(child, scene[object_id].parent)
            for object_id in ids
            for child in unlocked(scene, scene.children(object_id))
        ]
        return scene.with_objects(lifted).without(ids)

    def looks_at(self, scene: Scene) -> None:
        """Return none: it may hang on all objects, with what is in them."""
        del scene

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same step: it has no numbers."""
        del change
        return self
