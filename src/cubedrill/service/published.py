"""Published exercises, ready to work with: read once a version, since a version never changes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from cubedrill.core.causes.explainer import Explainer
from cubedrill.core.exercise import Exercise
from cubedrill.core.kept import Keeper
from cubedrill.core.scene import Scene
from cubedrill.store.tables import ExerciseVersion


@dataclass(frozen=True)
class Published:
    """An exercise with its start and target scenes worked out."""

    exercise: Exercise
    start: Scene
    target: Scene

    @cached_property
    def explainer(self) -> Explainer:
        """Where every typical mistake leads, worked out when it is first asked for."""
        return Explainer(self.exercise, self.start, self.target)

    @property
    def gaps_shown(self) -> bool:
        """Tell whether the bench shows what is still missing."""
        return self.exercise.rules.gaps == "shown"


_KEPT: Keeper[tuple[int, datetime], Published] = Keeper(200)


def published(version: ExerciseVersion) -> Published:
    """Return the exercise of a version."""

    def read() -> Published:
        exercise = Exercise.model_validate(version.document)
        return Published(exercise, exercise.start_scene(), exercise.target_scene())

    return _KEPT.get((version.id, version.published_at), read)
