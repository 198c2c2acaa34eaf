"""The checker: (exercise, submission) → report. Pure; the same input gives the same report."""

from __future__ import annotations

import logging
from collections.abc import Sequence
from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.canonical import canonical_pose
from cubedrill.core.judging.causes.effort import MAX_EFFORT
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.causes.parting import cancelling, first_parting
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.judging.exercise import Exercise, require_offered
from cubedrill.core.judging.sheet_batch import SheetBatch, batch_of
from cubedrill.core.judging.submission import (
    AnySubmission,
    LoadedSubmission,
    SheetSubmission,
    StepsSubmission,
    load_submission,
)
from cubedrill.core.judging.verdict import (
    CheckResult,
    Marks,
    Report,
    marks_of,
    points_of,
    report_of,
    share_of_points,
)
from cubedrill.core.scene.scene import Scene

SEVERAL_TURNS: Final = "In the file it is a shape with several equivalent rotations, so it is judged as it looks."

_LOG: Final = logging.getLogger(__name__)


def judge_scene(exercise: Exercise, target: Scene, submitted: Scene) -> Report:
    """Judge a scene by its outcome.

    Parameters
    ----------
    exercise : Exercise
    target : Scene
        The exercise's own; callers compute it once.
    submitted : Scene

    Returns
    -------
    Verdict
    """
    return judge_loaded(exercise, target, LoadedSubmission(submitted))


def judge_submission(
    exercise: Exercise,
    start: Scene,
    target: Scene,
    submission: AnySubmission,
    explainer: Explainer | None = None,
) -> Report:
    """Judge a submission and say why it missed.

    Parameters
    ----------
    exercise : Exercise
    start, target : Scene
        The exercise's own; callers compute them once.
    submission : AnySubmission
    explainer : Explainer, optional
        The explainer of this exercise, shared by many submissions. A new one by default.

    Returns
    -------
    Report

    Raises
    ------
    CoreError
        If the submission cannot be carried out.

    Notes
    -----
    The verdict does not depend on the explainer. If explaining hits a fault in the program, the report has no causes
    and the fault is logged with the submission.
    """
    known = explainer or Explainer(exercise, start, target)
    return judge_within(known, submission, MAX_EFFORT)[0]


def judge_within(explainer: Explainer, submission: AnySubmission, effort: float) -> tuple[Report, bool]:
    """Judge a submission as `judge_submission` does, and say why it missed where that takes no more than this effort.

    The second value tells whether it is said; else the report stands without causes.
    """
    exercise, start, target = explainer.exercise, explainer.start, explainer.target
    work = _loaded(exercise, start, target, submission)
    report = judge_loaded(exercise, target, work)
    try:
        found, whole = _explained(explainer, work, report, effort)
    except Exception:
        _LOG.exception(
            "a miss could not be explained; exercise: %s; submission: %s", exercise.id, submission.model_dump_json()
        )
        return report, True
    return report.model_copy(update=found), whole


def _explained(
    explainer: Explainer, work: LoadedSubmission, report: Report, effort: float
) -> tuple[dict[str, object], bool]:
    """Return the parts of a report beside its verdict, and whether they are complete."""
    found: dict[str, object] = {"cancelling": cancelling(work.states)} if work.states else {}
    if all(result.verdict not in ("near", "fail") for result in report.checks):
        return found, True
    reference = explainer.reference
    found["parted"] = first_parting(work.states, reference.states) if work.states and reference else None
    found["causes"], whole = explainer.explain_within(work, effort)
    if not whole and effort < MAX_EFFORT:
        del found["causes"]
        return found, False
    return found, True


def mark_sheets(
    exercise: Exercise, start: Scene, target: Scene, sheets: Sequence[SheetSubmission]
) -> list[Marks | CoreError]:
    """Mark many sheets at once, each as `judge_loaded` would, or with the error that it would raise.

    What a check can measure in all sheets together is; the rest, and every sheet of an exercise in which looks count,
    is judged one by one.
    """
    checks = exercise.checks
    if not checks or any(check.by_look for check in checks):
        return [mark_one(exercise, start, target, sheet) for sheet in sheets]
    batch = batch_of(start, target, sheets)
    sound = batch.sound.tolist()
    columns = [_points_of_each(check, target, batch) for check in checks]
    if None in columns:
        scenes = [
            load_submission(start, target, sheet).scene if fine else target
            for sheet, fine in zip(sheets, sound, strict=True)
        ]
        cases = [Case(target, scene, unsaid=batch.unsaid) for scene in scenes]
        columns = [
            [points_of(check.judge(case)) for case in cases] if column is None else column
            for check, column in zip(checks, columns, strict=True)
        ]
    of = [check.points for check in checks]
    rows = zip(*(column for column in columns if column is not None), strict=True)
    return [
        marks_of(points, of, exercise.pass_mark) if fine else mark_one(exercise, start, target, sheet)
        for sheet, fine, points in zip(sheets, sound, rows, strict=True)
    ]


def mark_one(
    exercise: Exercise,
    start: Scene,
    target: Scene,
    submission: AnySubmission,
) -> Marks | CoreError:
    """Mark a submission of any kind, or return the error of one that cannot be carried out."""
    try:
        return judge_loaded(exercise, target, _loaded(exercise, start, target, submission)).marks
    except CoreError as error:
        return error


def _loaded(exercise: Exercise, start: Scene, target: Scene, submission: AnySubmission) -> LoadedSubmission:
    """Return what was submitted, carried out; steps only of the kinds that the exercise offers."""
    if isinstance(submission, StepsSubmission):
        require_offered(exercise.rules, submission.steps)
    return load_submission(start, target, submission)


def _points_of_each(check: Check, target: Scene, batch: SheetBatch) -> Sequence[float | None] | None:
    """Return the points of each sheet for a check; none where they are judged one by one."""
    if not check.by_place:
        return [points_of(check.judge(Case(target, batch.scene, unsaid=batch.unsaid)))] * len(batch.sound)
    missed = check.missed_by_each(target, batch)
    return None if missed is None else (check.points * share_of_points(missed, check.zero_at)).tolist()


def judge_loaded(exercise: Exercise, target: Scene, work: LoadedSubmission) -> Report:
    """Judge what was submitted: by outcome, and by process where its steps are known."""
    looked_at = {i for check in exercise.checks if check.by_look for i in check.objects}
    submitted = canonical_pose(target, work.scene, (looked_at | work.seen_alone) - work.turns_unknown)
    case = Case(target, submitted, work.states, work.turns_unknown, work.unsaid)
    results = [_as_seen(check, check.judge(case), work) for check in exercise.checks]
    return report_of(results, exercise.pass_mark, work.matches)


def _as_seen(check: Check, result: CheckResult, work: LoadedSubmission) -> CheckResult:
    """Return the result, with why it was judged by look where the check itself does not ask for that."""
    by_turn = result.kind in ("rotation", "size") and not check.by_look and result.verdict != "not judged"
    if not by_turn or result.object not in work.seen_alone - work.turns_unknown:
        return result
    return result.model_copy(update={"text": f"{result.text} {SEVERAL_TURNS}"})
