"""The page of the step formats: every example is one that can be done, and every kind of step has one."""

import json
import re
from pathlib import Path
from typing import get_args

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import replay
from cubedrill.core.steps.text import read_lines
from tests.core.build import STEPS

PAGE = Path(__file__).parents[2] / "docs" / "steps.md"
BLOCKS = re.findall(r"```json\n(.*?)```", PAGE.read_text(encoding="utf-8"), re.DOTALL)

TEXT = re.search(r"```text\n(.*?)```", PAGE.read_text(encoding="utf-8"), re.DOTALL)


def test_the_text_on_the_page_can_be_read_and_done():
    scene = Stage.model_validate_json(BLOCKS[-1]).to_scene(Conventions())
    lines = [line for line in read_lines(TEXT[1], scene) if line.text.strip()]
    assert [line.step.op for line in lines if line.step] == ["move", "rotate", "put", "duplicate", "add"]
    assert not [line for line in lines if line.error or line.refused]


def test_every_example_can_be_done_one_after_the_other_and_every_kind_has_one():
    *examples, scene = BLOCKS
    written = [json.loads(line) for block in examples for line in block.splitlines()]
    steps = STEPS.validate_python(written)
    states = replay(Stage.model_validate_json(scene).to_scene(Conventions()), steps)
    assert len(states) == len(written) + 1
    assert {type(step) for step in steps} == set(get_args(get_args(Step)[0]))
