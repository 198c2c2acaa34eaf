"""The checker: (exercise, submission) → report. Pure; the same input gives the same report."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from cubedrill.core.checks.common import Case
from cubedrill.core.exercise import Exercise
from cubedrill.core.scene import Scene
from cubedrill.core.submission import Handed, SceneSubmission, SheetSubmission, StepsSubmission, handed
from cubedrill.core.symmetry import described_like
from cubedrill.core.transform import inverse
from cubedrill.core.verdict import Report, report_of


def judge_scene(exercise: Exercise, target: Scene, submitted: Scene) -> Report:
    """Judge a scene by outcome; target: the exercise's own, worked out once by the caller."""
    return judge_handed(exercise, target, Handed(submitted))


def judge_submission(
    exercise: Exercise, start: Scene, target: Scene, submission: StepsSubmission | SheetSubmission | SceneSubmission
) -> Report:
    """Judge a submission; start, target: the exercise's own. Raises CoreError where it cannot be carried out."""
    return judge_handed(exercise, target, handed(start, target, submission))


def judge_handed(exercise: Exercise, target: Scene, work: Handed) -> Report:
    """Judge what was handed in: by outcome, and by process where its steps are known."""
    looked_at = {i for check in exercise.checks if check.by_look for i in check.objects}
    submitted = described_anew(target, work.scene, looked_at - work.turns_unknown)
    case = Case(target, submitted, work.states, work.turns_unknown)
    return report_of([check.judge(case) for check in exercise.checks], exercise.pass_mark, work.matches)


def described_anew(target: Scene, submitted: Scene, ids: Iterable[str]) -> Scene:
    """Return the submitted scene with these objects described as near to the target as their symmetries allow.

    Its solid and its children stay where they are; the object's own coordinates are laid anew, and its pivot keeps its
    numbers in them, so that a crate turned by a quarter has its pivot where the target has it.
    """
    for object_id in sorted(ids):
        wanted, item = target.objects.get(object_id), submitted.objects.get(object_id)
        if wanted is None or item is None or item.solid is None or wanted.solid is None:
            continue
        maps = (scene.world_from_local(object_id) for scene in (target, submitted))
        old_from_new = described_like(item.solid, target.conventions.up_index, *maps)
        if np.array_equal(old_from_new, np.eye(4)):
            continue
        new_from_old = inverse(old_from_new)
        parent_from_local = item.parent_from_local @ old_from_new
        anew = submitted.placed(object_id, parent_from_local)
        children = [
            submitted.placed(child, new_from_old @ submitted[child].parent_from_local)
            for child in submitted.children(object_id)
        ]
        submitted = submitted.with_objects([anew, *children])
    return submitted
