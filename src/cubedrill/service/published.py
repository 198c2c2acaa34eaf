"""Published exercises, ready to work with: read once a version, since a version never changes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from cubedrill.core.causes.search import Explainer
from cubedrill.core.exercise import Exercise
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


MOST_KEPT = 200  # exercises; beyond it the one read first is dropped
_KEPT: dict[tuple[int, datetime], Published] = {}


def published(version: ExerciseVersion) -> Published:
    """Return the exercise of a version."""
    key = (version.id, version.published_at)
    kept = _KEPT.get(key)
    if kept is None:
        exercise = Exercise.model_validate(version.document)
        if len(_KEPT) >= MOST_KEPT:
            _KEPT.pop(next(iter(_KEPT)))
        kept = _KEPT[key] = Published(exercise, exercise.start_scene(), exercise.target_scene())
    return kept
