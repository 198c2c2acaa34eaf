"""The total of a student's marks: their weighted mean."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple


class TotalItem(NamedTuple):
    """One assignment in a total.

    Attributes
    ----------
    weight : float
        0 leaves the assignment out.
    score : float or None
        Score that counts, from 0 to 1, after the cost of lateness. None if there is none.
    excused : bool
    due : bool
        Whether the student's due date has passed.
    awaited : bool
        Whether work was submitted of which nothing is judged yet.
    """

    weight: float
    score: float | None
    excused: bool = False
    due: bool = False
    awaited: bool = False


def total_of(items: Iterable[TotalItem]) -> float | None:
    """Return the weighted mean of the scores that count.

    Excused assignments, and those that are neither due nor judged yet, are left out. A missing score is 0 once the
    assignment is due, unless submitted work waits for a review.

    Returns
    -------
    float or None
        From 0 to 1; None if nothing counts yet.

    Examples
    --------
    >>> total_of([TotalItem(1, 0.8), TotalItem(3, 0.4)])
    0.5
    >>> total_of([TotalItem(1, 0.8), TotalItem(1, None, due=True), TotalItem(1, 0.1, excused=True)])
    0.4
    >>> total_of([TotalItem(1, None)]) is None
    True
    """
    counted = [
        (item.weight, item.score or 0.0)
        for item in items
        if not item.excused and (item.score is not None or (item.due and not item.awaited))
    ]
    whole = math.fsum(weight for weight, _score in counted)
    return math.fsum(weight * score for weight, score in counted) / whole if whole else None
