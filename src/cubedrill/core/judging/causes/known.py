"""Facts of an exercise before any submission: its reference, and the outcome of every mistake."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import cached_property
from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.common import Outcome
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import MistakeRun, file_outcomes, outcomes
from cubedrill.core.judging.checks.common import ObjectCheck
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.replay import replay

MAX_MISTAKES: Final = 600  # so many mistakes are looked at for one submission
KEPT: Final = 16  # so many sets of objects are remembered with their mistakes


class Known:
    """Facts of an exercise: its checks, its reference, and the outcome of every mistake."""

    def __init__(self, exercise: Exercise, start: Scene, target: Scene) -> None:
        self.exercise, self.start, self.target = exercise, start, target
        self.checks = [check for check in exercise.checks if isinstance(check, ObjectCheck)]
        self._near: LruCache[frozenset[str] | None, list[MistakeRun]] = LruCache(KEPT)
        self._hangs_on: dict[str, frozenset[str]] = {}
        self._allowed: dict[str, tuple[float, float, float]] = {}

    @cached_property
    def reference(self) -> Reference | None:
        """The reference with its states; none where the exercise has none that can be done."""
        if self.exercise.reference is None:
            return None
        try:
            return Reference(self.exercise.reference.steps, replay(self.start, self.exercise.reference.steps))
        except CoreError:
            return None

    @cached_property
    def table(self) -> list[Outcome]:
        """Outcomes of every single mistake in a step."""
        return [outcome for outcome, _altered in outcomes(self.reference)] if self.reference else []

    def near(self, ids: Iterable[str]) -> list[MistakeRun]:
        """Return where every mistake leads that can touch one of these objects; so many at most."""
        reference = self.reference
        if reference is None:
            return []
        near = reference.influences({j for i in ids for j in self.hangs_on(i)})
        return self._near.get(near, lambda: outcomes(reference, near, MAX_MISTAKES))

    @cached_property
    def files(self) -> list[Outcome]:
        """Outcomes of every mistake with a whole file."""
        return list(file_outcomes(self.target))

    def of(self, object_id: str) -> list[ObjectCheck]:
        """Return the checks of an object."""
        return self._checks_of.get(object_id, [])

    @cached_property
    def _checks_of(self) -> dict[str, list[ObjectCheck]]:
        found: dict[str, list[ObjectCheck]] = {}
        for check in self.checks:
            for object_id in check.objects:
                found.setdefault(object_id, []).append(check)
        return found

    def hangs_on(self, object_id: str) -> frozenset[str]:
        """Return the objects that the checks of an object look at: itself, and what they measure it against."""
        found = self._hangs_on.get(object_id)
        if found is None:
            found = frozenset({object_id, *(i for check in self.of(object_id) for i in check.looks_at)})
            self._hangs_on[object_id] = found
        return found

    def allowed(self, object_id: str) -> tuple[float, float, float]:
        """Return the largest pivot offset along each world axis with which all checks in world pass."""
        found = self._allowed.get(object_id)
        if found is None:
            allowed = [(math.inf,) * 3, *(check.pivot_allowed_world for check in self.of(object_id))]
            x, y, z = (1.001 * min(axis) for axis in zip(*allowed, strict=True))
            found = self._allowed[object_id] = (x, y, z)
        return found

    @property
    def checked(self) -> list[str]:
        """The ids of all objects that are checked, each once."""
        return list(dict.fromkeys(i for check in self.checks for i in check.objects))
