"""What the step families share: whom a step acts on, and how it was entered."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from cubedrill.core.errors import CoreError
from cubedrill.core.scene import Scene
from cubedrill.core.values import Identifier

Entry = Literal["typed", "dragged", "nudged"]
Chosen = Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=1000)]


def acted_on(scene: Scene, ids: Sequence[str]) -> list[str]:
    """Return the objects that a transform acts on: each once, and none below another chosen one.

    Raises CoreError "unknown-object", or "locked" where a locked object would be changed.
    """
    chosen = list(dict.fromkeys(ids))
    for object_id in chosen:
        scene[object_id]
    left = [i for i in chosen if not any(ancestor in chosen for ancestor in scene.ancestors(i))]
    for object_id in left:
        if scene[object_id].locked:
            raise CoreError("locked", object=object_id, name=scene[object_id].name)
    return left
