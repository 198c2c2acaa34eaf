"""Does the tolerance separate? Every typical mistake, put into every step of the reference and checked."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

import numpy as np

from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.common import Outcome
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.causes.table import outcomes
from cubedrill.core.judging.checks.common import Case, ObjectCheck
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.steps import Step
from cubedrill.core.values import Value

# The usual zoom: what is worked on fills this many pixels of the main view, and a turning ring has this radius.
VIEW_PIXELS: Final = 560
RING_PIXELS: Final = 84


class Tighter(Value):
    """A tolerance that would catch a mistake: of which check, and the largest that does."""

    check: str
    tolerance: float


class Trial(Value):
    """One mistake in one step. caught_by: checks that are missed with it; none where it would pass.

    tighter: where it would pass, the tolerance that would catch it; none where no check sees it at all. same_spot:
    other mistakes, as `step code`, that lead within tolerance of this one, so that they cannot be told apart. off: how
    far it is off in each check that measures, which hangs on no tolerance.
    """

    step: int
    code: str
    object: str
    text: str
    caught_by: tuple[str, ...]
    tighter: Tighter | None
    same_spot: tuple[str, ...]
    off: dict[str, float]


class Drag(Value):
    """The precision of a drag on the bench: length and angle in the exercise's units."""

    length: float
    angle: float


class Separation(Value):
    """The typical mistakes that checks catch. idle: checks that no mistake fails. typing: checks finer than a drag."""

    trials: tuple[Trial, ...]
    idle: tuple[str, ...]
    drag: Drag
    typing: tuple[str, ...]


# What a check found for an object where a mistake leads: by the outcome's place in the table, object, by look or not.
CheckCache = dict[tuple[int, str, bool, ObjectCheck], CheckResult]


def separate(
    exercise: Exercise, start: Scene, target: Scene, *, cache: CheckCache | None = None, apart: bool = True
) -> Separation:
    """Check the outcome of every typical mistake.

    Parameters
    ----------
    start, target : Scene
        The exercise's own.
    cache : CheckCache, optional
        Earlier results for the same reference. Only new checks are judged, and their results are added to it.
    apart : bool
        Whether to list mistakes that cannot be told apart as well.

    Returns
    -------
    Separation
    """
    explainer = Explainer(exercise, start, target)
    views = [CandidateJudge(explainer, LoadedSubmission(outcome.scene)) for outcome in explainer.table]
    kept = {} if cache is None else cache
    of_all = [check for check in exercise.checks if check.of_outcome and not isinstance(check, ObjectCheck)]
    results = [
        _results(explainer, view, number, kept) + [check.judge(Case(target, view.work.scene)) for check in of_all]
        for number, view in enumerate(views)
    ]
    spots = _spots(explainer, views) if apart else list(range(len(views)))
    trials = tuple(
        Trial(
            step=outcome.step, code=outcome.mistake.code, object=outcome.object,
            text=outcome.instructor,
            caught_by=_caught(found), tighter=None if _caught(found) else _tighter(found),
            same_spot=_others(explainer.table, spots, number), off=_off(found),
        )
        for number, (outcome, found) in enumerate(zip(explainer.table, results, strict=True))
    )  # fmt: skip
    caught = {check for trial in trials for check in trial.caught_by}
    outcome = [check.id for check in exercise.checks if check.of_outcome]
    drag = drag_of(exercise, start, target)
    return Separation(
        trials=trials, idle=tuple(i for i in outcome if i not in caught), drag=drag, typing=_typing(explainer, drag)
    )


def way_with(exercise: Exercise, start: Scene, target: Scene, number: int) -> tuple[Step, ...] | None:
    """Return the reference with one of the trials' mistakes in it; none where there is no such trial."""
    reference = Explainer(exercise, start, target).reference
    put = [] if reference is None else outcomes(reference)
    if reference is None or number >= len(put):
        return None
    altered = put[number][1]
    return (*reference.steps[: altered.first], *altered.steps, *reference.steps[altered.end :])


def _results(explainer: Explainer, view: CandidateJudge, number: int, cache: CheckCache) -> list[CheckResult]:
    """Return the results of every check of an object, against the exercise's own target; number: the outcome's."""
    found: list[CheckResult] = []
    for object_id in explainer.checked:
        checks = explainer.of(object_id)
        # One check by look has all checks of the object see it described anew.
        where = (number, object_id, any(check.by_look for check in checks))
        known = [check for check in checks if (*where, check) in cache]
        new = view.results(explainer.target, object_id, view.work.scene, known)
        cache.update({(*where, check): result for check, result in new})
        found += [cache[*where, check] for check in checks if (*where, check) in cache]
    return found


def _caught(results: Sequence[CheckResult]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(result.id for result in results if result.verdict in ("near", "fail")))


def _off(results: Sequence[CheckResult]) -> dict[str, float]:
    """Return the largest difference by check; of a check of several objects, the worst one's."""
    found: dict[str, float] = {}
    for result in results:
        if result.difference is not None and result.verdict != "not judged":
            found[result.id] = max(found.get(result.id, 0.0), float(np.max(np.abs(result.difference))))
    return found


def _tighter(results: Sequence[CheckResult]) -> Tighter | None:
    """Return the check that is nearest to being missed, and a round tolerance a little below what it found."""
    best: tuple[float, Tighter] | None = None
    for result in results:
        if result.difference is None or result.verdict == "not judged":
            continue
        off = float(np.max(np.abs(result.difference)))
        tolerance = float(np.max(result.tolerance))
        share = off / tolerance if tolerance else 0.0
        if share > 1e-9 and (best is None or share > best[0]):
            best = share, Tighter(check=result.id, tolerance=_below(off))
    return best[1] if best else None


def _below(value: float) -> float:
    """Return the largest number of two significant figures that is clearly below a value."""
    step = 10.0 ** (math.floor(math.log10(value)) - 1)
    count = math.floor(value * (1 - 1e-6) / step)
    return float(f"{count * step:.12g}")


def _spots(explainer: Explainer, views: Sequence[CandidateJudge]) -> list[int]:
    """For each outcome the number of the first one that it lies within tolerance of."""
    checked = list(dict.fromkeys(i for check in explainer.checks for i in check.objects))
    firsts: list[int] = []
    spots: list[int] = []
    for number, view in enumerate(views):
        outcome = explainer.table[number]
        seen = outcome.changed & set(checked)
        same = (first for first in firsts if _same_spot(explainer.table[first], view, seen, checked))
        spot = next(same, number)
        if spot == number:
            firsts.append(number)
        spots.append(spot)
    return spots


def _same_spot(first: Outcome, view: CandidateJudge, seen: frozenset[str], checked: Sequence[str]) -> bool:
    if first.scene is view.work.scene:
        return True
    if first.changed & set(checked) != seen:
        return False
    return all(view.near(first.scene, i) is not None for i in seen)


def _others(table: Sequence[Outcome], spots: Sequence[int], number: int) -> tuple[str, ...]:
    own = f"{table[number].step} {table[number].mistake.code}"
    names = (
        f"{outcome.step} {outcome.mistake.code}"
        for outcome, spot in zip(table, spots, strict=True)
        if spot == spots[number]
    )
    return tuple(dict.fromkeys(name for name in names if name != own))


def drag_of(exercise: Exercise, start: Scene, target: Scene) -> Drag:
    """One pixel, of the view in which all that is checked is seen, and of a ring."""
    ids = [i for check in exercise.checks for i in check.objects if i in target.objects]
    ends = [
        end
        for scene in (start, target)
        for i in ids
        if i in scene.objects and (box := scene.box(i, IDENTITY)) is not None
        for end in (box.least, box.most)
    ]
    across = float(np.linalg.norm(np.ptp(np.array(ends), axis=0))) if ends else 1.0
    return Drag(length=across / VIEW_PIXELS, angle=1 / RING_PIXELS / exercise.conventions.radians_per_unit)


def _typing(explainer: Explainer, drag: Drag) -> tuple[str, ...]:
    """Return the checks whose tolerance a drag may miss."""
    found: list[str] = []
    for check in explainer.checks:
        if check.off_in is not None and min(check.tolerances) < getattr(drag, check.off_in):
            found.append(check.id)
    return tuple(found)
