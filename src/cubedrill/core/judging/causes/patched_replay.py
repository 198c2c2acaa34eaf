"""A replay that goes on beside another one: only what differs from it is kept, and done again where a step meets it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.common import Mutation
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps import Step, apply_step
from cubedrill.core.values import Array

Others = dict[str, SceneObject | None]  # objects that are not as in another scene; none for one that is not there


@dataclass(frozen=True)
class Outcome:
    """The changes of a step: objects, and the marker or None."""

    objects: Others
    marker: Array | None


@dataclass(slots=True)
class PatchedReplay:
    """A scene on its way beside the reference's states. at: which state; other, marker: what differs from it.

    part: the part of a mistake that it begins with; before: where the part before that leads; depth: how many parts
    come before. refused: whether a step could not be done.
    """

    at: int
    part: Mutation
    before: PatchedReplay | None = None
    depth: int = 0
    other: Others = field(default_factory=dict)
    marker: Array | None = None
    refused: bool = False

    def join(self) -> None:
        """Begin from the branch before, which no step met between where it is and here."""
        if self.before is not None:
            self.other = dict(self.before.other)
            self.marker, self.refused = self.before.marker, self.before.refused

    def update(self, outcome: Outcome | None) -> None:
        """Take over what a step changed; none: it was refused."""
        if outcome is None:
            self.refused = True
            return
        self.other.update(outcome.objects)
        if outcome.marker is not None:
            self.marker = outcome.marker

    def scene_beside(self, base: Scene) -> Scene:
        """Return the whole scene of the branch.

        Parameters
        ----------
        base : Scene
            The scene of the reference at the same step.

        Returns
        -------
        Scene
        """
        if self.marker is not None:
            base = replace(base, marker=self.marker)
        if not self.other:
            return base
        objects = dict(base.objects)
        for object_id, item in self.other.items():
            if item is None:
                objects.pop(object_id, None)
            else:
                objects[object_id] = item
        return base.having(objects)

    def done(self, base: Scene, step: Step) -> Outcome | None:
        """Return the changes that a step makes in this branch.

        Parameters
        ----------
        base : Scene
            The scene of the reference before the step.
        step : Step

        Returns
        -------
        The changes, or None if the step is refused.
        """
        before = self.scene_beside(base)
        try:
            return outcome_between(before, apply_step(before, step))
        except CoreError:
            return None


def outcome_between(before: Scene, after: Scene) -> Outcome:
    """Return what leads from one scene to another."""
    changed = {i: after.objects.get(i) for i in changed_between(before, after)}
    return Outcome(changed, None if after.marker is before.marker else after.marker)


def changed_between(before: Scene, after: Scene) -> list[str]:
    """Return the ids of objects that are not the same in both scenes, or are in one of them alone."""
    gone = [i for i in before.objects if i not in after.objects]
    return [*(i for i, item in after.objects.items() if before.objects.get(i) is not item), *gone]
