"""The exercise as somebody has it, ready to work with: read once a version, since a version never changes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.scene.scene import Scene
from cubedrill.store.documents import EXERCISE
from cubedrill.store.tables import Assignment, ExerciseVersion, StoredSubmission


@dataclass(frozen=True)
class PreparedExercise:
    """An exercise with its start and target scenes worked out."""

    exercise: Exercise
    start: Scene
    target: Scene

    @cached_property
    def explainer(self) -> Explainer:
        """Outcomes of every typical mistake, computed at the first request."""
        return Explainer(self.exercise, self.start, self.target)

    @property
    def gaps_shown(self) -> bool:
        """Tell whether the bench shows what is still missing."""
        return self.exercise.rules.gaps == "shown"


_KEPT: LruCache[tuple[int, datetime], PreparedExercise] = LruCache(200)


def assigned_exercise(assignment: Assignment) -> PreparedExercise:
    """Return the assigned exercise, as everybody in the class has it."""
    return version_ready(assignment.exercise_version)


def exercise_of(submission: StoredSubmission) -> PreparedExercise:
    """Return the exercise that something was submitted for, whichever version is assigned now."""
    return version_ready(submission.exercise_version)


def exercise_judged_by(submission: StoredSubmission) -> PreparedExercise:
    """Return the exercise that the newest verdict is by: another version, where it was re-checked."""
    return version_ready(submission.reports[-1].exercise_version)


def version_ready(version: ExerciseVersion) -> PreparedExercise:
    """Return a version, read once."""

    def read() -> PreparedExercise:
        exercise = EXERCISE.read(version.document, version.shape)
        return PreparedExercise(exercise, exercise.start_scene(), exercise.target_scene())

    return _KEPT.get((version.id, version.published_at), read)
