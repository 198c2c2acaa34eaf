"""Match the objects of a submitted scene to those of the target."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Collection, Container, Mapping, Sequence
from dataclasses import replace
from typing import Final, Literal

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.registration import measures_of, measures_of_solid
from cubedrill.core.geometry.solids import Mesh, Solid
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.scene import IDENTITY, Scene, SceneObject, scene_of
from cubedrill.core.values import Array, Value

How = Literal["choice", "name", "id", "folded name", "shape and size", "place"]

SIZE_TOL: Final = 1e-6  # of a size: solids whose own sizes agree so far are taken for one and the same
MESH_TOL: Final = 1e-4  # the same of meshes, in which numbers have 32 bits


class Match(Value):
    """One object of the target, the object that was taken for it, and by what."""

    target: str
    submitted: str
    by: How


def matched(
    target: Scene,
    items: Sequence[SceneObject],
    without_pivot: Collection[str],
    chosen: Mapping[str, str | None] | None = None,
) -> tuple[Scene, tuple[Match, ...]]:
    """Return the submitted scene with the target's ids, and how each object was matched.

    Parameters
    ----------
    target : Scene
    items : sequence
        The submitted objects.
    without_pivot : set of str
        Submitted ids that state no pivot; they get the target's.
    chosen : mapping
        Target id to submitted id, chosen by hand; None: the object is not there.

    Raises
    ------
    CoreError
        "unknown-object" or "chosen-twice".

    Notes
    -----
    Objects without a choice are matched by exact name, by id, by the name without case, spaces and suffixes such as
    ``.001``, then by shape and size; each rule only if exactly one fits in both directions. Equal ones that remain
    are matched by position.
    """
    handed = scene_of(items, target.conventions, target.marker)
    found = _found_or_chosen(target, handed, items, chosen or {}, ())
    names = {match.submitted: match.target for match in found.values()}
    for item in items:
        if item.id not in names:
            names[item.id] = _free_id(item.id, {*target.objects, *names.values()})
    called = [_called(item, names, target, item.id in without_pivot) for item in items]
    return scene_of(called, target.conventions, target.marker, target.plot), tuple(found.values())


def _called(item: SceneObject, names: Mapping[str, str], target: Scene, lacks_pivot: bool) -> SceneObject:
    """Return the object as it is called in the target, in its parent as that is called."""
    name = names.get(item.id, item.id)
    parent = None if item.parent is None else names.get(item.parent, item.parent)
    pivot = target[name].pivot if lacks_pivot and name in target.objects else item.pivot
    return replace(item, id=name, parent=parent, pivot=pivot)


def adopted(
    target: Scene, scene: Scene, chosen: Mapping[str, str | None] | None = None
) -> tuple[Scene, tuple[Match, ...]]:
    """Return a scene in which added objects have the target's ids, matched as by `matched`.

    Parameters
    ----------
    target : Scene
    scene : Scene
        Only objects whose ids the target does not know are matched, to target objects that are missing.
    chosen : mapping
        Choices by hand, as for `matched`.

    Raises
    ------
    CoreError
        "unknown-object", "chosen-twice" or "chosen-known".
    """
    for wanted, taken in (chosen or {}).items():
        if wanted in scene.objects:
            raise CoreError("chosen-known", object=wanted)
        if taken in target.objects:
            raise CoreError("chosen-known", object=taken)
    free = [item for item in scene.objects.values() if item.id not in target.objects]
    found = _found_or_chosen(target, scene, free, chosen or {}, scene.objects) if free or chosen else {}
    if not found:
        return scene, ()
    names = {match.submitted: match.target for match in found.values()}
    called = {names.get(i, i): _called(item, names, target, False) for i, item in scene.objects.items()}
    return Scene(called, scene.conventions, scene.marker, scene.plot), tuple(found.values())


def choices_that_fit(target: Scene, scene: Scene, chosen: Mapping[str, str | None]) -> dict[str, str | None]:
    """Return the earlier choices that still apply to a scene.

    Notes
    -----
    Steps may have been undone or changed since a choice was made.
    """
    added, missing = scene.objects.keys() - target.objects.keys(), target.objects.keys() - scene.objects.keys()
    return {
        wanted: taken for wanted, taken in chosen.items() if wanted in missing and (taken is None or taken in added)
    }


def _found_or_chosen(
    target: Scene,
    handed: Scene,
    items: Sequence[SceneObject],
    chosen: Mapping[str, str | None],
    settled: Collection[str],
) -> dict[str, Match]:
    """Return matches chosen by hand, and those found for the rest of the target's unsettled objects."""
    found = _found(target, handed, {item.id: item for item in items}, settled)
    if not chosen:
        return found
    by_hand = _chosen(target, items, chosen, found)
    left = {item.id: item for item in items if item.id not in {match.submitted for match in by_hand.values()}}
    return {**by_hand, **_found(target, handed, left, {*settled, *chosen})}


def _found(target: Scene, handed: Scene, free: dict[str, SceneObject], settled: Container[str]) -> dict[str, Match]:
    """Match free objects to the target's unsettled ones, method after method."""
    found: dict[str, Match] = {}
    alike = _Alike(target, handed)
    ways: tuple[tuple[How, Same], ...] = (*_BY_NAME, ("shape and size", alike))
    for how, same in ways:
        open_ = [item for item in target.objects.values() if item.id not in found and item.id not in settled]
        fits = {wanted.id: [item.id for item in free.values() if same(wanted, item)] for wanted in open_}
        claims = Counter(item for each in fits.values() for item in each)
        for wanted, each in fits.items():
            if len(each) == 1 and claims[each[0]] == 1:
                found[wanted] = Match(target=wanted, submitted=each[0], by=how)
                del free[each[0]]
    left = [item for item in target.objects.values() if item.id not in found and item.id not in settled]
    return {**found, **_by_place(alike, left, list(free.values()))}


def _by_place(same: _Alike, wanted: Sequence[SceneObject], items: Sequence[SceneObject]) -> dict[str, Match]:
    """Alike ones that are left, by where they are: the pairs with the least distance in all."""
    from scipy.optimize import linear_sum_assignment  # noqa: PLC0415 - slow to import, and needed by few submissions

    alike = np.array([[same(one, item) for item in items] for one in wanted], dtype=bool)
    if not alike.any():
        return {}
    away = np.array([[same.apart(one, item) for item in items] for one in wanted])
    far = (1.0 + float(away.max())) * (1 + sum(alike.shape))  # dearer than all others together: no pair at all
    pairs = zip(*(side.tolist() for side in linear_sum_assignment(np.where(alike, away, far))), strict=True)
    return {
        wanted[i].id: Match(target=wanted[i].id, submitted=items[j].id, by="place") for i, j in pairs if alike[i, j]
    }


def _chosen(
    target: Scene, items: Sequence[SceneObject], chosen: Mapping[str, str | None], found: Mapping[str, Match]
) -> dict[str, Match]:
    """Return matches chosen by hand that differ from those found without."""
    ids = {item.id for item in items}
    by_hand: dict[str, Match] = {}
    for wanted, taken in chosen.items():
        target[wanted]
        if taken is None:
            continue
        if taken not in ids:
            raise CoreError("unknown-object", object=taken)
        if any(match.submitted == taken for match in by_hand.values()):
            raise CoreError("chosen-twice", object=taken)
        match = found.get(wanted)
        as_found = match is not None and match.submitted == taken
        by_hand[wanted] = match if match and as_found else Match(target=wanted, submitted=taken, by="choice")
    return by_hand


def _free_id(wanted: str, taken: Collection[str]) -> str:
    while wanted in taken:
        wanted += "'"
    return wanted


def folded(name: str) -> str:
    """Return a name as it is compared where programs changed it: without case, spaces and suffixes such as `.001`."""
    return re.sub(r"[\s_-]+", "", re.sub(r"[._ -]\d+$", "", name.casefold()))


Same = Callable[[SceneObject, SceneObject], bool]

_BY_NAME: Final[tuple[tuple[How, Same], ...]] = (
    ("name", lambda wanted, item: wanted.name == item.name),
    ("id", lambda wanted, item: wanted.id == item.id),
    ("folded name", lambda wanted, item: folded(wanted.name) == folded(item.name)),
)


class _Alike:
    """Tell whether objects have the same shape and size; each mesh is measured once."""

    def __init__(self, target: Scene, handed: Scene) -> None:
        self._target, self._handed = target, handed
        self._meshes: dict[str, tuple[int, Array]] = {}
        self._solids: dict[tuple[str, int], Array] = {}

    def __call__(self, wanted: SceneObject, item: SceneObject) -> bool:
        """Tell whether two objects are alike."""
        if wanted.solid is None or item.solid is None:
            return False
        if isinstance(item.solid, Mesh):
            corners, lengths = self._mesh(item, item.solid)
            own = self._solid(wanted, wanted.solid, corners)
            return bool(np.abs(own - lengths).max() <= MESH_TOL * own.max())
        return wanted.solid.kind == item.solid.kind and self._same_size(wanted, item)

    def apart(self, wanted: SceneObject, item: SceneObject) -> float:
        """Return the distance of two objects: of their pivots, or of their middles if a mesh has no pivot."""
        if isinstance(item.solid, Mesh):
            places = [_middle(scene, i) for scene, i in ((self._target, wanted.id), (self._handed, item.id))]
        else:
            places = [self._target.pivot_world(wanted.id), self._handed.pivot_world(item.id)]
        return float(np.linalg.norm(places[0] - places[1]))

    def _mesh(self, item: SceneObject, mesh: Mesh) -> tuple[int, Array]:
        if item.id not in self._meshes:
            points = mapped(self._handed.world_from_local(item.id), mesh.points)
            self._meshes[item.id] = measures_of(points, mesh.corners)
        return self._meshes[item.id]

    def _solid(self, wanted: SceneObject, solid: Solid, corners: int) -> Array:
        key = wanted.id, corners
        if key not in self._solids:
            up, world_from_local = self._target.conventions.up_index, self._target.world_from_local(wanted.id)
            self._solids[key] = measures_of_solid(solid, up, world_from_local, corners)
        return self._solids[key]

    def _same_size(self, wanted: SceneObject, item: SceneObject) -> bool:
        up = self._target.conventions.up_index
        sizes = [
            o.solid.local_box(up).size * np.linalg.norm(o.parent_from_local[:3, :3], axis=0)
            for o in (wanted, item)
            if o.solid is not None
        ]
        return bool(np.abs(sizes[0] - sizes[1]).max() <= SIZE_TOL * max(sizes[0].max(), sizes[1].max()))


def _middle(scene: Scene, object_id: str) -> Array:
    box = scene.box(object_id, IDENTITY)
    return scene.pivot_world(object_id) if box is None else box.centre
