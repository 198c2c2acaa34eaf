"""Late work: what it costs, and which attempt counts then."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final, Literal, NamedTuple, Protocol

from cubedrill.core.values import Share, Value

LateKind = Literal["no cost", "per day", "does not count"]
Counts = Literal["best", "last"]

DAY: Final = timedelta(days=1)


class LatePolicy(Value):
    """The cost of late work.

    Attributes
    ----------
    kind : {"no cost", "per day", "does not count"}
    per_day : float
        Share of the mark that each started day costs, for ``per day``.
    floor : float
        Share of the mark that is kept at least, for ``per day``.
    """

    kind: LateKind = "no cost"
    per_day: Share = 0.0
    floor: Share = 0.0

    def kept(self, days: int) -> float | None:
        """Return the share of the mark that late work keeps, or None if it does not count.

        Parameters
        ----------
        days : int
            Started days after the due date; see `days_late`.

        Examples
        --------
        >>> LatePolicy(kind="per day", per_day=0.1, floor=0.5).kept(3)
        0.7
        >>> LatePolicy(kind="per day", per_day=0.1, floor=0.5).kept(30)
        0.5
        >>> LatePolicy(kind="does not count").kept(1) is None
        True
        """
        if days == 0 or self.kind == "no cost":
            return 1.0
        return None if self.kind == "does not count" else max(self.floor, 1 - self.per_day * days)


def days_late(submitted_at: datetime, due_at: datetime) -> int:
    """Return the number of started days between the due date and a submission; 0 if it is in time.

    Examples
    --------
    >>> due = datetime(2026, 10, 5, 18, 0)
    >>> days_late(due, due), days_late(due + timedelta(seconds=1), due), days_late(due + timedelta(days=1), due)
    (0, 1, 1)
    """
    return max(0, -((due_at - submitted_at) // DAY))


class Attempt(Protocol):
    """A submission: its score before any cost of lateness (None if nothing in it was judged), and when it was made."""

    @property
    def score(self) -> float | None:
        """From 0 to 1."""

    @property
    def submitted_at(self) -> datetime:
        """With or without a time zone, as the due date."""


class CountedAttempt(NamedTuple):
    """The attempt that counts.

    Attributes
    ----------
    place : int
        In the order of the attempts, from 0.
    days_late : int
    kept : float or None
        Share of the mark after the cost of lateness; None if no attempt counts.
    score : float or None
        The score that counts; None if none does, or if nothing was judged.
    """

    place: int
    days_late: int
    kept: float | None
    score: float | None


def counted_attempt(
    attempts: Sequence[Attempt], counts: Counts, policy: LatePolicy, due_at: datetime
) -> CountedAttempt:
    """Return the attempt that counts: the last one, or the one with the best score after the cost of lateness.

    Parameters
    ----------
    attempts : sequence of Attempt
        At least one, the first one first.
    counts : {"best", "last"}
    policy : LatePolicy
    due_at : datetime
        The due date.

    Returns
    -------
    CountedAttempt
        The last attempt if no attempt counts. The later one of two equally good ones.
    """
    found = []
    for place, attempt in enumerate(attempts):
        days = days_late(attempt.submitted_at, due_at)
        kept = policy.kept(days)
        score = None if kept is None or attempt.score is None else attempt.score * kept
        found.append(CountedAttempt(place, days, kept, score))

    def rank(each: CountedAttempt) -> tuple[bool, float, int]:
        best = -1.0 if counts == "last" or each.score is None else each.score
        return each.kept is not None, best, each.place

    return max(found, key=rank)
