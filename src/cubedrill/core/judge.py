"""The checker: (exercise, submission) → report. Pure; the same input gives the same report."""

from __future__ import annotations

from cubedrill.core.checks import judge_check
from cubedrill.core.exercise import Exercise
from cubedrill.core.replay import replay
from cubedrill.core.scene import Scene
from cubedrill.core.submission import Submission
from cubedrill.core.verdict import Report, report_of


def judge_scene(exercise: Exercise, target: Scene, submitted: Scene) -> Report:
    """Judge a scene by outcome; target: the exercise's own, worked out once by the caller."""
    results = [judge_check(check, target, submitted) for check in exercise.checks]
    return report_of(results, exercise.pass_mark)


def judge_submission(exercise: Exercise, submission: Submission) -> Report:
    """Replay and judge a submission; raise CoreError where a step cannot be done."""
    submitted = replay(exercise.start_scene(), submission.steps)[-1].scene
    return judge_scene(exercise, exercise.target_scene(), submitted)
