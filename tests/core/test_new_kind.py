"""A kind of step that the product does not know does all that the known ones do: nothing else knows a kind by its name."""

from typing import Annotated, ClassVar, Literal

import numpy as np
import pytest
from pydantic import Field, TypeAdapter

from cubedrill.core.geometry.transform import about
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import outcomes
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.judging.checks.process import ProcessCheck
from cubedrill.core.language import terms
from cubedrill.core.language.phrase import Phrase, Sayings
from cubedrill.core.scene.spaces import Pivot, Space, frame_of, pivots_world
from cubedrill.core.steps import Step
from cubedrill.core.steps.common import ObjectsStep, acted_on, axis_unit, hanging_on
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.replay import replay
from tests.core.build import CRATE, near, scene


class Mirror(ObjectsStep):
    """Mirror objects along an axis, in a plane through their pivots."""

    says: ClassVar = Sayings(
        Phrase(
            "Mirror {objects} along {axis}[ of {space}][ through {pivot}]",
            objects=terms.OBJECTS,
            axis=terms.LETTER,
            space=terms.SPACE,
            pivot=terms.PIVOT,
        )
    )
    op: Literal["mirror"]
    space: Space = "world"
    axis: Literal["x", "y", "z"]
    pivot: Pivot = "own"

    @property
    def axes_of(self):
        return self.space

    @property
    def turns_about(self):
        return self.pivot

    def lines(self, scene, object_id):
        return [frame_of(scene, self.space, object_id).world_from_axes @ axis_unit(self.axis)]

    def looks_at(self, scene):
        return hanging_on(scene, self.objects, self.space, self.pivot)

    def apply(self, scene):
        ids = acted_on(scene, self.objects)
        after = []
        for object_id, centre in zip(ids, pivots_world(scene, self.pivot, ids), strict=True):
            (line,) = self.lines(scene, object_id)
            after.append(scene.placed_by(object_id, about(np.eye(3) - 2 * np.outer(line, line), centre)))
        return scene.with_objects(after)

    def converted(self, change):
        return self.model_copy(update={"axis": change.axis(self.axis)[0]})


STEPS = TypeAdapter(tuple[Annotated[Step | Mirror, Field(discriminator="op")], ...])
START = scene(
    {"id": "a", "name": "Crate", "solid": CRATE, "translation": [3, 0, 0], "pivot": [-1, 0, 0]},
    {"id": "b", "name": "Lid", "solid": CRATE, "parent": "a", "translation": [0, 2, 0]},
    {"id": "c", "name": "Buoy", "solid": CRATE, "translation": [0, 0, 5]},
)
WRITTEN = [
    {"op": "mirror", "objects": ["a"], "axis": "x"},
    {"op": "move", "objects": ["a"], "by": [0, 0, 2], "space": "local"},
    {"op": "mirror", "objects": ["c"], "axis": "z", "pivot": "origin"},
]
STATES = replay(START, STEPS.validate_python(WRITTEN))


def test_it_is_replayed_and_said():
    assert [state.sentence for state in STATES[1:]] == [
        "Mirror Crate along X", "Move Crate by 2 m along Z of Local", "Mirror Buoy along Z through the origin",
    ]  # fmt: skip
    # The crate's pivot is at 2: its middle goes from 3 to 1, and the lid with it.
    assert STATES[1].scene.world_from_local("b")[:3, 3] == near([1, 2, 0])
    assert STATES[-1].scene.world_from_local("c")[:3, 3] == near([0, 0, -5])


def test_mistakes_are_put_into_it_and_lead_where_a_replay_leads():
    reference = Reference([state.step for state in STATES[1:]], STATES)
    found = {(outcome.mistake.code, outcome.step) for outcome, _mutation in outcomes(reference)}
    assert {("step-left-out", 1), ("step-done-twice", 1), ("wrong-object", 1), ("objects-exchanged", 1)} <= found
    assert ("order-exchanged", 2) not in found  # the steps on crate and buoy have nothing to do with each other
    left_out = next(
        outcome for outcome, _ in outcomes(reference) if (outcome.mistake.code, outcome.step) == ("step-left-out", 1)
    )
    assert left_out.scene.world_from_local("b")[:3, 3] == near([3, 2, 2])
    assert left_out.changed == {"a", "b"}


@pytest.mark.parametrize(
    ("rule", "holds"),
    [
        ({"rule": "uses", "op": "mirror", "axis": "x"}, True),
        ({"rule": "uses", "op": "mirror", "axis": "y"}, False),
        ({"rule": "uses", "op": "mirror", "pivot": "origin"}, True),
        ({"rule": "uses", "op": "mirror", "pivot": "origin", "object": "a"}, False),
        ({"rule": "avoids", "op": "mirror", "space": "world"}, False),
    ],
)
def test_rules_for_the_way_there_ask_it(rule, holds):
    check = ProcessCheck.model_validate({"id": "p", "kind": "process", **rule})
    assert (check.judge(Case(START, STATES[-1].scene, STATES)).verdict == "pass") is holds


def test_it_can_be_done_between_copies():
    step = Duplicate.model_validate(
        {"op": "duplicate", "objects": ["c"], "ids": ["d"], "between": {"op": "mirror", "axis": "z", "pivot": "origin"}}
    )
    assert step.apply(START).world_from_local("d")[:3, 3] == near([0, 0, -5])
    assert step.sentence(START) == "Duplicate Buoy, each time: mirror the copy along Z through the origin"
