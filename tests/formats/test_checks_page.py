"""The page of the checks: every example is judged on the scene at its foot, and every kind has one."""

import json
import re
from pathlib import Path
from typing import get_args

from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.relation import Relation
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import StepsSubmission

PAGE = Path(__file__).parents[2] / "docs" / "checks.md"
BLOCKS = re.findall(r"```json\n(.*?)```", PAGE.read_text(encoding="utf-8"), re.DOTALL)


def test_every_example_is_judged_and_the_reference_passes_all_but_the_ragged_one():
    *examples, last = BLOCKS
    checks = [json.loads(line) for block in examples for line in block.splitlines()]
    exercise = Exercise.model_validate({**json.loads(last)["exercise"], "checks": checks})
    assert exercise.reference is not None
    done = StepsSubmission(
        format="cube-drill/submission", version=1, exercise="page", kind="steps", steps=exercise.reference.steps
    )
    report = judge_submission(exercise, exercise.start_scene(), exercise.target_scene(), done)
    verdicts = {check.id: check.verdict for check in report.checks}
    # −0.05 is no multiple of 0.25; a check by hand waits for an instructor.
    assert {i: v for i, v in verdicts.items() if v != "pass"} == {"25": "fail", "26": "not judged"}, [
        c.text for c in report.checks
    ]
    assert {type(check) for check in exercise.checks} == set(get_args(get_args(Check)[0]))
    assert {check["relation"] for check in checks if check["kind"] == "relation"} == set(get_args(Relation))
