"""Replays of drafts, kept a while in this process so that a change replays only from where it is.

Only a way to be quick: what is kept is used as far as its steps are the same, and another process starts without it.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Collection, Sequence
from typing import Final

from cubedrill.core.replay import Replayed, State, replay_edited
from cubedrill.core.steps import Step
from cubedrill.service.published import Published

MOST_KEPT: Final = 200  # drafts; one of 300 steps over 30 objects takes about a megabyte

_KEPT: OrderedDict[tuple[int, int], list[State]] = OrderedDict()


def replayed(ready: Published, whose: tuple[int, int], steps: Sequence[Step], off: Collection[int]) -> Replayed:
    """Return the replay of a draft's steps; whose: assignment and person."""
    found = replay_edited(ready.start, steps, off, _KEPT.pop(whose, ()))
    _KEPT[whose] = found.states
    if len(_KEPT) > MOST_KEPT:
        _KEPT.popitem(last=False)
    return found


def kept(whose: tuple[int, int]) -> Sequence[State]:
    """Return what is kept of a draft's replay."""
    return _KEPT.get(whose, ())
