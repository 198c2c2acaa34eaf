"""The checker: (exercise, submission) → report. Pure; the same input gives the same report."""

from __future__ import annotations

from cubedrill.core.causes.search import Explainer
from cubedrill.core.checks.common import Case
from cubedrill.core.described import described_anew
from cubedrill.core.exercise import Exercise
from cubedrill.core.scene import Scene
from cubedrill.core.submission import Handed, SceneSubmission, SheetSubmission, StepsSubmission, handed
from cubedrill.core.verdict import Report, report_of


def judge_scene(exercise: Exercise, target: Scene, submitted: Scene) -> Report:
    """Judge a scene by outcome; target: the exercise's own, worked out once by the caller."""
    return judge_handed(exercise, target, Handed(submitted))


def judge_submission(
    exercise: Exercise,
    start: Scene,
    target: Scene,
    submission: StepsSubmission | SheetSubmission | SceneSubmission,
    explainer: Explainer | None = None,
) -> Report:
    """Judge a submission and say why it missed; start, target: the exercise's own.

    explainer: of this exercise, where many are judged. Raises CoreError where the submission cannot be carried out.
    """
    work = handed(start, target, submission)
    report = judge_handed(exercise, target, work)
    if all(result.verdict in ("pass", "not judged") for result in report.checks):
        return report
    explainer = explainer or Explainer(exercise, start, target)
    return report.model_copy(update={"causes": explainer.explain(work)})


def judge_handed(exercise: Exercise, target: Scene, work: Handed) -> Report:
    """Judge what was handed in: by outcome, and by process where its steps are known."""
    looked_at = {i for check in exercise.checks if check.by_look for i in check.objects}
    submitted = described_anew(target, work.scene, looked_at - work.turns_unknown)
    case = Case(target, submitted, work.states, work.turns_unknown)
    return report_of([check.judge(case) for check in exercise.checks], exercise.pass_mark, work.matches)
