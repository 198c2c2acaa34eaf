"""Editing a step list: replay from a change, steps switched off, and how far a list can be done."""

import pytest

from cubedrill.core.steps.replay import replay_edited
from tests.core.build import near, scene, steps_of

STEPS = tuple({"op": "move", "objects": ["a"], "by": [x, 0, 0]} for x in (1, 2, 4, 8))


def replayed(*steps, off=(), known=()):
    return replay_edited(START, steps_of(*steps), off, known)


START = scene({"id": "a"}, {"id": "b"})


def place(done):
    return done.states[-1].scene.pivot_world("a")[0]


def test_an_edit_of_step_k_replays_from_k_only():
    before = replayed(*STEPS)
    edited = replayed(*STEPS[:2], {"op": "move", "objects": ["a"], "by": [100, 0, 0]}, STEPS[3], known=before.states)
    assert [one is other for one, other in zip(before.states[1:], edited.states[1:], strict=True)] == [
        True,
        True,
        False,
        False,
    ]
    assert place(edited) == near(1 + 2 + 100 + 8)


def test_a_longer_and_a_shorter_list_keep_what_they_share():
    before = replayed(*STEPS)
    longer = replayed(*STEPS, STEPS[0], known=before.states)
    shorter = replayed(*STEPS[:2], known=longer.states)
    assert longer.states[4] is before.states[4]
    assert shorter.states[2] is before.states[2]
    assert (place(longer), place(shorter)) == near((16, 3))


def test_states_of_another_start_are_not_taken_for_this_one():
    other = replay_edited(scene({"id": "a", "translation": [50, 0, 0]}), steps_of(*STEPS))
    assert place(replayed(*STEPS, known=other.states)) == near(15)


def test_a_step_switched_off_changes_nothing_and_keeps_its_sentence():
    before = replayed(*STEPS)
    done = replayed(*STEPS, off={1}, known=before.states)
    assert place(done) == near(13)
    assert done.states[1] is before.states[1]
    assert done.states[2].scene is done.states[1].scene
    assert done.states[2].sentence == "Move a by 2 m along X of World"
    assert place(replayed(*STEPS, known=done.states)) == near(15)


def test_a_list_is_done_as_far_as_it_goes_and_says_which_step_stops_it():
    gone = {"op": "remove", "objects": ["a"]}
    done = replayed(STEPS[0], gone, *STEPS[1:])
    assert len(done.states) == 3
    assert (done.refused.step, done.refused.code) == (3, "unknown-object")
    assert replayed(STEPS[0], gone, *STEPS[1:], off={1}).refused is None


@pytest.mark.parametrize(("step", "changed"), [(STEPS[0], ("a",)), ({"op": "marker", "to": "origin"}, ())])
def test_a_state_tells_what_its_step_changed(step, changed):
    assert replayed(step).states[-1].changed == changed
