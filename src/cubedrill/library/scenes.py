"""Scenes and their objects, as a notebook uses them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from html import escape

from cubedrill.core.authoring.sketch import FRONT, SIDE, TOP, sketched
from cubedrill.core.errors import CoreError
from cubedrill.core.scene.scene import Scene as CoreScene
from cubedrill.core.scene.scene import SceneObject
from cubedrill.core.steps import apply_step
from cubedrill.core.steps.text import read_step
from cubedrill.core.values import Array
from cubedrill.formats.drawing import svg_of
from cubedrill.library.reports import CubeDrillError

ELEVATIONS = {"Front": FRONT, "Side": SIDE, "Top": TOP}


@dataclass(frozen=True, eq=False)
class Object:
    """One object of a scene.

    Attributes
    ----------
    id, name : str
    parent : str or None
        The id of the parent, or None for an object at the top level.
    world_from_local, parent_from_local : (4, 4) float64 array
        Read-only transforms, in the scene's unit of length.
    pivot_world : (3,) float64 array
        The pivot, in the world.
    """

    id: str
    name: str
    parent: str | None
    world_from_local: Array
    parent_from_local: Array
    pivot_world: Array


@dataclass(frozen=True, eq=False)
class Scene:
    """An immutable tree of objects; `do` returns a new one.

    Examples
    --------
    >>> import cubedrill as cd
    >>> start = cd.load("src/cubedrill/demo/exercises/lock-gate.json").start
    >>> [each.name for each in start][:2]
    ['Lock sill', 'West wall']
    """

    core: CoreScene

    def do(self, sentence: str) -> Scene:
        """Return the scene after one step.

        Parameters
        ----------
        sentence : str
            A step sentence, such as ``"Move Crate by 2 m along X of World"``; docs/steps.md has one of each kind.

        Raises
        ------
        CubeDrillError
            If the sentence cannot be read or the step cannot be done; the scene is unchanged.
        """
        try:
            return Scene(apply_step(self.core, read_step(sentence, self.core)))
        except CoreError as error:
            raise CubeDrillError(error.text) from None

    def __getitem__(self, name: str) -> Object:
        """Return an object by its id or its name; raise KeyError if there is none, or more than one by that name."""
        if name in self.core.objects:
            return self._object(self.core.objects[name])
        named = [item for item in self.core.objects.values() if item.name == name]
        if len(named) != 1:
            raise KeyError(f"{len(named)} objects are called {name!r}")
        return self._object(named[0])

    def __iter__(self) -> Iterator[Object]:
        """Iterate over the objects in the exercise's order."""
        return map(self._object, self.core.objects.values())

    def __len__(self) -> int:
        return len(self.core.objects)

    def __repr__(self) -> str:
        return f"Scene({', '.join(each.name for each in self)})"

    def _object(self, item: SceneObject) -> Object:
        return Object(
            id=item.id, name=item.name, parent=item.parent, world_from_local=self.core.world_from_local(item.id),
            parent_from_local=item.parent_from_local, pivot_world=self.core.pivot_world(item.id),
        )  # fmt: skip

    def _repr_html_(self) -> str:
        panels = "".join(
            f"<figure style='display:inline-block;width:30%'>{svg_of(sketched((self.core,), view))}"
            f"<figcaption>{escape(name)}</figcaption></figure>"
            for name, view in ELEVATIONS.items()
        )
        return f"<div>{panels}</div>"
