"""Describing a submitted object anew: of all ways to lay its axes that look the same, the one nearest to the target."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from cubedrill.core.geometry.symmetry import canonical_pose_of
from cubedrill.core.geometry.transform import inverse
from cubedrill.core.scene.scene import Scene


def canonical_pose(target: Scene, submitted: Scene, ids: Iterable[str]) -> Scene:
    """Return the submitted scene with these objects described as near to the target as their symmetries allow.

    Its solid and its children stay where they are; the object's own coordinates are laid anew, and its pivot keeps its
    numbers in them, so that a crate turned by a quarter has its pivot where the target has it.
    """
    for object_id in sorted(ids):
        wanted, item = target.objects.get(object_id), submitted.objects.get(object_id)
        if wanted is None or item is None or item.solid is None or wanted.solid is None:
            continue
        target_map, submitted_map = (scene.world_from_local(object_id) for scene in (target, submitted))
        up = target.conventions.up_index
        old_from_new = canonical_pose_of(item.solid, up, target_map, submitted_map, wanted.solid)
        if np.array_equal(old_from_new, np.eye(4)):
            continue
        new_from_old = inverse(old_from_new)
        parent_from_local = item.parent_from_local @ old_from_new
        anew = submitted.placed(object_id, parent_from_local)
        children = [
            submitted.placed(child, new_from_old @ submitted[child].parent_from_local)
            for child in submitted.children(object_id)
        ]
        submitted = submitted.with_objects([anew, *children])
    return submitted
