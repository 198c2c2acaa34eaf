"""Replays of drafts, kept a while in this process so that a change replays only from where it is.

Only a way to be quick: what is kept is used as far as its steps are the same, and another process starts without it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.steps.replay import Replayed, State, replay_edited
from cubedrill.service.prepared import PreparedExercise

# Of drafts; one of 300 steps over 30 objects takes about a megabyte.
_KEPT: Final[LruCache[tuple[object, ...], list[State]]] = LruCache(200)


def replayed(ready: PreparedExercise, whose: tuple[object, ...], draft: DraftSteps) -> Replayed:
    """Return the replay of all steps of a draft; whose: what tells it from all others."""
    require_offered(ready.exercise.rules, draft.steps)
    found = replay_edited(ready.start, draft.steps, draft.off, kept(whose))
    _KEPT.put(whose, found.states)
    return found


def kept(whose: tuple[object, ...]) -> Sequence[State]:
    """Return what is kept of a draft's replay."""
    return _KEPT.find(whose) or ()
