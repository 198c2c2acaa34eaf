"""Decide which parts of an exercise a person may see now; every response follows this decision."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Final, Literal

from cubedrill.core.judging.exercise import Rules
from cubedrill.core.judging.submission import (
    AnySubmission,
    LoadedSubmission,
    SceneSubmission,
    SheetSubmission,
    StepsSubmission,
    load_submission,
)
from cubedrill.core.steps.replay import replay
from cubedrill.service.prepared import PreparedExercise
from cubedrill.store.assignments import Terms
from cubedrill.store.tables import Assignment

Feedback = Literal["not yet", "nothing", "check", "hint", "cause", "instructor"]

WITH_CHECKS: Final[Collection[Feedback]] = ("check", "hint", "cause", "instructor")
WITH_CAUSES: Final[Collection[Feedback]] = ("hint", "cause", "instructor")
WITH_REFERENCE: Final[Collection[Feedback]] = ("cause", "instructor")


@dataclass(frozen=True)
class Disclosure:
    """The parts of an exercise that a person may see.

    target: the target scene, drawn, in numbers or as a file, with the names of its objects. numbers: the target value
    and the difference of each check. matches: which submitted object is matched to which object of the target.
    feedback: how much a person learns about a submission.
    """

    target: bool
    numbers: bool
    matches: bool
    feedback: Feedback = "not yet"

    @property
    def checks(self) -> bool:
        """Whether the verdict of each check is shown."""
        return self.feedback in WITH_CHECKS

    @property
    def causes(self) -> bool:
        """Whether causes, or hints, are shown."""
        return self.feedback in WITH_CAUSES

    @property
    def reference(self) -> bool:
        """Whether the steps of the reference are shown."""
        return self.feedback in WITH_REFERENCE and self.target


EVERYTHING: Final = Disclosure(target=True, numbers=True, matches=True, feedback="instructor")


def while_working(rules: Rules) -> Disclosure:
    """Return what a student sees before a submission: at the bench, on a sheet or in a file."""
    outline, gaps = rules.outline == "shown", rules.gaps == "shown"
    return Disclosure(target=outline, numbers=gaps, matches=outline or gaps)


def after_submitting(rules: Rules, feedback: Feedback, *, over: bool) -> Disclosure:
    """Return what a student sees of their own submission.

    A target that is hidden at work stays hidden while attempts are left, unless the feedback is `cause`, which shows
    the reference. over: no attempt is left, or the exercise is due.
    """
    working = while_working(rules)
    if feedback in ("not yet", "nothing"):
        return replace(working, feedback=feedback)
    known = working.target or working.numbers or over or feedback == "cause"
    return Disclosure(target=known, numbers=known, matches=known, feedback=feedback)


def is_shown(assignment: Assignment, terms: Terms, now: datetime) -> bool:
    """Tell whether a student sees feedback yet. terms: the student's own."""
    return assignment.feedback_when == "at once" or now >= terms.shown_from


def of_own_submission(assignment: Assignment, terms: Terms, rules: Rules, attempts: int, now: datetime) -> Disclosure:
    """Return what a student sees of their own submission. attempts: the number made so far."""
    level: Feedback = assignment.feedback or rules.told  # type: ignore[assignment]
    feedback: Feedback = level if is_shown(assignment, terms, now) else "not yet"
    return after_submitting(rules, feedback, over=terms.attempts_left(attempts) == 0 or now >= terms.shown_from)


def as_seen(ready: PreparedExercise, seen: Disclosure) -> PreparedExercise:
    """Return an exercise, without its target and checks if the target is hidden."""
    if seen.target:
        return ready
    return replace(ready, exercise=ready.exercise.model_copy(update={"checks": ()}), target=ready.start)


def work_as_seen(ready: PreparedExercise, seen: Disclosure, document: AnySubmission) -> LoadedSubmission:
    """Return the scene of a submission; nothing in it comes from a hidden target: no object, name, place or parent."""
    if seen.target:
        return load_submission(ready.start, ready.target, document)
    match document:
        case StepsSubmission():
            states = replay(ready.start, document.steps)
            return LoadedSubmission(states[-1].scene, states)
        case SheetSubmission():
            rows = tuple(row for row in document.rows if row.object in ready.start.objects)
            return load_submission(ready.start, ready.start, document.model_copy(update={"rows": rows}))
        case SceneSubmission(scene=scene):
            alone = document.model_copy(update={"scene": scene.model_copy(update={"matches": {}})})
            return load_submission(ready.start, ready.start, alone)
