"""Turn differences into points and verdicts, the same way for every kind of check."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, Literal, NamedTuple

import numpy as np
from numpy.typing import ArrayLike

from cubedrill.core.judging.matching import Match
from cubedrill.core.values import Array, Value

RULES_VERSION: Final = "8"

Verdict = Literal["pass", "near", "fail", "not judged"]

RELATIVE_GUARD: Final = 1e-9  # of the tolerance: a difference written in decimals may round to just above it
PURE_GUARD: Final = 1e-12  # of angles in rad and of ratios: what float64 leaves of a few products
LENGTH_GUARD: Final = 8 * 2.0**-52  # of the largest coordinate: what float64 subtraction of such numbers leaves


class CheckResult(Value):
    """One thing tested: what was wanted, what was found, how far off, and what it is worth.

    target, submitted, difference and tolerance are in the exercise's units along the named space: one number an
    axis, or one number. wanted and found say in words what is no number. submitted and difference are none where the
    object is gone.
    """

    id: str
    kind: str
    object: str
    label: str
    space: str
    unit: str
    axes: tuple[str, ...]
    target: tuple[float, ...]
    submitted: tuple[float, ...] | None
    difference: tuple[float, ...] | float | None
    tolerance: tuple[float, ...] | float
    points: float
    of: float
    verdict: Verdict
    text: str
    wanted: str = ""
    found: str = ""

    @property
    def tolerances_off(self) -> float:
        """The largest difference in tolerances; 0 if there is no tolerance or no number."""
        if self.difference is None:
            return 0.0
        off, tolerance = np.abs(np.atleast_1d(self.difference)), np.atleast_1d(self.tolerance)
        return float(np.max(np.divide(off, tolerance, out=np.zeros_like(off), where=tolerance > 0)))

    @property
    def miss(self) -> tuple[float, ...] | None:
        """From what was wanted to what was found: one number an axis, or one number; none where there is no number."""
        if self.axes and self.submitted is not None and len(self.submitted) == len(self.target) == len(self.axes):
            return tuple(found - wanted for found, wanted in zip(self.submitted, self.target, strict=True))
        return None if self.difference is None else tuple(np.atleast_1d(self.difference).tolist())


class Cause(Value):
    """The likely reason for a miss.

    object: the one that the mistake was made on; objects: the missed ones that it explains. step: of the reference,
    from 1; 0 for a whole file. text says what, hint only where to look; instructor names the step. near: how far off
    the mistake's result is from what was submitted, in tolerances, from 0 to 1. also: codes of other mistakes that end
    at the same place. proof says these facts in a sentence.
    """

    object: str
    code: str
    step: int
    text: str
    near: float
    proof: str = ""
    hint: str = ""
    instructor: str = ""
    objects: tuple[str, ...] = ()
    also: tuple[str, ...] = ()


class Report(Value):
    """The whole verdict on one submission. The same input gives the same report.

    matches: of a scene's objects. Of steps, counted from 1: parted: the first after which something lies where it never
    does in the reference; cancelling: pairs of which the second takes the first back.
    """

    rules_version: str
    score: float | None
    points: float
    of: float
    passed: bool
    checks: tuple[CheckResult, ...]
    causes: tuple[Cause, ...] = ()
    matches: tuple[Match, ...] = ()
    parted: int | None = None
    cancelling: tuple[tuple[int, int], ...] = ()

    @property
    def marks(self) -> Marks:
        """The marks of the submission."""
        return Marks(self.points, self.of, self.score, self.passed, tuple(points_of(each) for each in self.checks))


class Marks(NamedTuple):
    """Marks of a submission: the total, and the points of each check (None if it was not judged)."""

    points: float
    of: float
    score: float | None
    passed: bool
    by_check: tuple[float | None, ...]


def misses(difference: ArrayLike, tolerance: ArrayLike, largest: ArrayLike) -> Array:
    """Return how many tolerances lengths are off.

    Parameters
    ----------
    difference : (...) array
    tolerance : float
    largest : float
        Largest absolute coordinate compared, in the same unit.

    Returns
    -------
    (...) array
        At most 1 if the length passes; infinite for a missed zero tolerance.
    """
    return misses_by(difference, tolerance, LENGTH_GUARD * np.asarray(largest))


def misses_by(difference: ArrayLike, tolerance: ArrayLike, guard: ArrayLike) -> Array:
    """Return (...) how many tolerances differences are off: at most 1 where d ≤ tolerance · (1 + 1e-9) + guard."""
    off, allowed = np.abs(difference), np.asarray(tolerance)
    within = off <= allowed * (1 + RELATIVE_GUARD) + np.asarray(guard)
    with np.errstate(divide="ignore", invalid="ignore"):
        by = np.where(allowed > 0, off / allowed, np.where(within, 0.0, math.inf))
    return np.asarray(np.where(within, np.minimum(by, 1.0), by))


def share_of_points(missed: ArrayLike, zero_at: float) -> Array:
    """(...) shares of the points: 1 up to the tolerance, 0 from zero_at tolerances on, a straight line between."""
    off = np.asarray(missed)
    with np.errstate(divide="ignore", invalid="ignore"):
        falling = np.where(off < zero_at, (zero_at - off) / (zero_at - 1), 0.0)
    return np.asarray(np.where(off <= 1, 1.0, falling))


def verdict_of(missed: float, share: float) -> Verdict:
    """Pass within the tolerance; near beyond it while points are left; else fail."""
    if missed <= 1:
        return "pass"
    return "near" if share > 0 else "fail"


def points_of(result: CheckResult) -> float | None:
    """Return the points of a result; none where it was not judged."""
    return None if result.verdict == "not judged" else result.points


def marks_of(points: Sequence[float | None], of: Sequence[float], pass_mark: float) -> Marks:
    """Add up the points of each check; what was not judged has none and leaves the total."""
    judged = [mine for mine in points if mine is not None]
    total = math.fsum(judged)
    full = math.fsum(of if len(judged) == len(of) else (w for p, w in zip(points, of, strict=True) if p is not None))
    score = total / full if full else None
    passed = score is not None and score * (1 + RELATIVE_GUARD) >= pass_mark
    return Marks(total, full, score, passed, tuple(points))


def report_of(results: Sequence[CheckResult], pass_mark: float, matches: tuple[Match, ...] = ()) -> Report:
    """Add up the results."""
    marks = marks_of([points_of(result) for result in results], [result.of for result in results], pass_mark)
    return Report(
        rules_version=RULES_VERSION,
        score=marks.score,
        points=marks.points,
        of=marks.of,
        passed=marks.passed,
        checks=tuple(results),
        matches=matches,
    )
