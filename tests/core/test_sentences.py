"""Sentences of steps: what is written is read as the same step, what people type is understood or refused with its place."""

import itertools
import math
import random
from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, EulerOrder
from cubedrill.core.language import things
from cubedrill.core.language.names import FOLLOWING
from cubedrill.core.scene.scene import scene_of
from cubedrill.core.scene.spaces import ViewDirections
from cubedrill.core.scene.stage import ObjectSpec
from cubedrill.core.steps import KINDS, STEP_ADAPTER, Step
from cubedrill.core.steps.common import op_of
from cubedrill.core.steps.text import continuations, read_lines, read_step, written_lines
from tests.core.build import scene
from tests.core.strategies import STEP_KINDS, any_step, ids, quaternions, scenes, solids, triples
from tests.tiers import few

NAMES = [
    "Crate", "crate", "Crate 2", "Crate by", "A to", "A and", "Rope crate of tar", "A and B", "a, b", "World", "the axes of Crate", "pivot", "Z", "2", "2 m",
    "its pivot", "the marker", "all chosen", "the copy", "along X", "id", "id \"a\"", "Kiste – groß", "ящик", "箱 子", "صندوق", "  blank ",
    "quoted \"lid\"", "back\\slash", "two\nlines", "#1", "#aabbcc", "a.", "b", "A", "(1; 2; 3)", "e\u0301", "each time: x", "facing", "“x”", "1.",
]  # fmt: skip
KINDS_SAID = {op_of(kind) for kind in KINDS}


@st.composite
def named_scenes(draw):
    """A scene whose names read like anything, two of them the same at times, in any units."""
    plain = draw(scenes(turned=False))
    called = draw(st.lists(st.one_of(st.sampled_from(NAMES), st.text(min_size=1, max_size=8)), min_size=4, max_size=4))
    items = [
        ObjectSpec(id=i, name=name, solid=item.solid, parent=item.parent).to_object()
        for (i, item), name in zip(plain.objects.items(), called, strict=True)
    ]
    conventions = Conventions(
        length=draw(st.sampled_from(["mm", "cm", "m", "in", "ft"])),
        angle=draw(st.sampled_from(["deg", "rad", "turn"])),
        euler=draw(st.sampled_from(get_args(EulerOrder))),
        up=draw(st.sampled_from(["y", "z"])),
        handedness=draw(st.sampled_from(["right", "left"])),
    )
    return scene_of(items, conventions, np.zeros(3))


def numbers_anew(value, draw):
    """The same step with numbers of any size and any last digit."""
    if isinstance(value, dict):
        return {
            key: v if key in ("copies", "opacity", "rotation") else numbers_anew(v, draw) for key, v in value.items()
        }
    if isinstance(value, list):
        return [numbers_anew(v, draw) for v in value]
    if isinstance(value, float):
        wild = draw(st.one_of(st.just(value), st.floats(1e-9, 1e12), st.sampled_from([0.1 + 0.2, 1 / 3, 1e22, 5e-324])))
        return -wild if value < 0 < wild else wild
    return value


@given(st.data(), named_scenes(), any_step, st.sampled_from([None, "typed", "dragged", "nudged"]))
def test_a_sentence_is_read_as_the_step_that_it_says(data, where, written, entry):
    step = STEP_ADAPTER.validate_python(numbers_anew({**written, **({"entry": entry} if entry else {})}, data.draw))
    assert read_step(step.sentence(where, exact=True), where) == step
    assert read_step(step.sentence(None, exact=True), None) == step


def test_the_law_draws_every_kind():
    assert {kind.split(" ")[0] for kind in STEP_KINDS} == {"keep", *KINDS_SAID}


anything = st.one_of(st.sampled_from(NAMES), st.text(min_size=1, max_size=12))


@few
@given(named_scenes(), anything, anything, solids(), triples, quaternions(), st.data())
def test_added_and_renamed_objects_may_have_any_name(where, name, new_id, solid, numbers, turn, data):
    maybe = lambda value: data.draw(st.sampled_from([None, value]))  # noqa: E731
    written = {
        "id": new_id, "name": maybe(name), "solid": maybe(solid.model_dump()), "parent": maybe("b"), "pivot": numbers,
        "translation": maybe(numbers), "rotation": maybe(turn.tolist()), "scale": maybe((1.5, 1, 0.1 + 0.2)),
        "opacity": data.draw(st.sampled_from([1.0, 0.3])), "locked": data.draw(st.booleans()), "colour": "#0A0b0c",
    }  # fmt: skip
    steps = [
        {"op": "add", "object": written},
        {"op": "add", "object": {"id": new_id, "matrix": [0.1, *[1.0] * 14, 3.0], "name": name}},
        {"op": "assemble", "objects": ["a", "d"], "id": new_id, "name": maybe(name)},
        {"op": "rename", "objects": ["b"], "name": name},
        {"op": "duplicate", "objects": ["a", "d"], "ids": [new_id, "x/y", name, "z"], "copies": 2},
    ]
    for step in TypeAdapter(tuple[Step, ...]).validate_python(steps):
        assert read_step(step.sentence(where, exact=True), where) == step


@given(st.data())
def test_a_step_between_copies_may_be_of_any_kind(data):
    kinds = sorted(set(STEP_KINDS) - {"assemble", "duplicate", "add", "remove", "marker", "put"})
    between = {**data.draw(STEP_KINDS[data.draw(st.sampled_from(kinds))])}
    del between["objects"]
    written = {
        "op": "duplicate",
        "objects": data.draw(ids),
        "copies": 1,
        "ids": ["n"],
        "between": between,
        "entry": "typed",
    }
    step = STEP_ADAPTER.validate_python(written)
    where = data.draw(named_scenes())
    assert read_step(step.sentence(where, exact=True), where) == step


@few
@given(st.lists(any_step, max_size=8), scenes())
def test_a_list_is_read_back_line_by_line(written, start):
    steps = [STEP_ADAPTER.validate_python(step) for step in written]
    for where in (start, None):
        text = "".join(f"{n}. {line}.  # remark\n" for n, line in enumerate(written_lines(steps, where), start=1))
        read = list(read_lines("# a list\r\n\n" + text, where))
        assert [line.step for line in read if line.step] == steps
        assert not [line for line in read if line.error]


KNOWN = scene(
    {"id": "gate", "name": "Lock gate", "solid": {"kind": "cuboid", "size": [1, 2, 0.2]}},
    {"id": "crate", "name": "Rope crate"},
    {"id": "crate-b", "name": "Rope crate b", "parent": "crate"},
)
VIEW = ViewDirections(right=(0, 0, -1), up=(0, 1, 0))


@pytest.mark.parametrize(
    ("line", "step"),
    [
        ("move rope crate by 2 along x", {"op": "move", "objects": ["crate"], "by": [2, 0, 0]}),
        (
            "Move  the Rope crate B by -1.5 m along X and 2*3 along z of Local.",
            {"op": "move", "objects": ["crate-b"], "by": [-1.5, 0, 6], "space": "local"},
        ),
        ("move lock gate, rope crate by 1 y", {"op": "move", "objects": ["gate", "crate"], "by": [0, 1, 0]}),
        ("move rope crate by 2 along x of view", {"op": "move", "objects": ["crate"], "by": [2, 0, 0], "space": {"view": {"right": [0, 0, -1], "up": [0, 1, 0]}}}),
        (
            "Rotate Lock gate by 75° about Y of Local through edge middle −X−Z of Lock gate",
            {"op": "rotate", "objects": ["gate"], "angle": 75, "axis": "y", "space": "local", "pivot": {"object": "gate", "at": "-x-z"}},
        ),
        (
            "scale lock gate by 2 on all axes holding corner -z −x +y",
            {"op": "scale", "objects": ["gate"], "by": [2, 2, 2], "pivot": {"object": "gate", "at": "-x+y-z"}},
        ),
        (
            "rotate rope crate by 5 about z of world through the pivot of lock gate",
            {"op": "rotate", "objects": ["crate"], "axis": "z", "angle": 5, "pivot": {"object": "gate", "at": "pivot"}},
        ),
        ("move rope crate to x −3 and z 0.5 of parent", {"op": "move", "objects": ["crate"], "to": [-3, None, 0.5], "space": "parent"}),
        ("turn lock gate by 360/8° about Z through the origin", {"op": "rotate", "objects": ["gate"], "axis": "z", "angle": 45, "pivot": "origin"}),
        ("rotate lock gate by 10 about x of rope crate", {"op": "rotate", "objects": ["gate"], "axis": "x", "angle": 10, "space": {"object": "crate"}}),
        ("scale rope crate by 2", {"op": "scale", "objects": ["crate"], "by": [2, 2, 2]}),
        (
            "scale rope crate by 1.5 along y of local holding the marker",
            {"op": "scale", "objects": ["crate"], "by": [1, 1.5, 1], "space": "local", "pivot": "marker"},
        ),
        ("scale rope crate by 2 along y keeping its volume", {"op": "scale", "objects": ["crate"], "keep_volume": {"axis": "y", "factor": 2}}),
        ("scale rope crate to 2 m along x, the rest alike", {"op": "scale", "objects": ["crate"], "to": [2, None, None], "uniform": True}),
        # Other units are converted, arithmetic and exponents are read whole.
        ("move rope crate by 50 cm along x", {"op": "move", "objects": ["crate"], "by": [0.5, 0, 0]}),
        ("move rope crate by 1 ft along z", {"op": "move", "objects": ["crate"], "by": [0, 0, 0.3048]}),
        ("move rope crate by 2 in along z in local", {"op": "move", "objects": ["crate"], "by": [0, 0, 0.0508], "space": "local"}),
        ("move rope crate by z 2 in local", {"op": "move", "objects": ["crate"], "by": [0, 0, 2], "space": "local"}),
        ("rotate lock gate by 0.5 turn about y", {"op": "rotate", "objects": ["gate"], "axis": "y", "angle": 180}),
        ("rotate lock gate by 3.14159265358979 rad about y", {"op": "rotate", "objects": ["gate"], "axis": "y", "angle": 180}),
        ("move rope crate by 1e3 along x", {"op": "move", "objects": ["crate"], "by": [1000, 0, 0]}),
        ("move rope crate by 0,5 along x", {"op": "move", "objects": ["crate"], "by": [0.5, 0, 0]}),
        ("move rope crate by .5 along x", {"op": "move", "objects": ["crate"], "by": [0.5, 0, 0]}),
        ("move rope crate by 2*(1+0,5) x, 2 y and 3 z", {"op": "move", "objects": ["crate"], "by": [3, 2, 3]}),
        ("move rope crate to x 1, y = 2", {"op": "move", "objects": ["crate"], "to": [1, 2, None]}),
        # Ids are made where none are said.
        ("duplicate crate 2 times", {"op": "duplicate", "objects": ["crate"], "copies": 2, "ids": ["crate-2", "crate-3"]}),
        ("assemble lock gate and rope crate as Sluice", {"op": "assemble", "objects": ["gate", "crate"], "id": "Sluice"}),
        ("assemble lock gate and rope crate as gate", {"op": "assemble", "objects": ["gate", "crate"], "id": "gate-2", "name": "gate"}),
        ("add Mast (cylinder diameter 20 cm, height 4) in lock gate", {"op": "add", "object": {"id": "Mast", "solid": {"kind": "cylinder", "diameter": 0.2, "height": 4}, "parent": "gate"}}),
        ("aim +z of rope crate along −x of local", {"op": "aim", "objects": ["crate"], "axis": "+z", "at": {"direction": [-1, 0, 0]}, "space": "local"}),
        ("put rope crate at (1; 2; 3) facing (0; 1; 0), 5 cm off it", {"op": "put", "objects": ["crate"], "on": {"point": [1, 2, 3], "normal": [0, 1, 0]}, "offset": 0.05}),
        ("drop rope crate on what is below", {"op": "drop", "objects": ["crate"], "onto": "below"}),
    ],
)  # fmt: skip
def test_common_spellings_are_read(line, step):
    assert read_step(line, KNOWN, VIEW) == STEP_ADAPTER.validate_python(step)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        # What each of these could be taken for stands behind it.
        ("move rope crate by 50 furlong along x", "“furlong” is no unit here; one of mm, cm, m, in, ft is."),  # 50 m
        ("rotate lock gate by 5 gon about y", "“gon” is no unit here"),  # 5°
        ("scale rope crate by 2 m along x", "“m” is no unit here; this number has none."),  # 2
        ("move rope crate by 1,000 along x", "“1,000” may be 1.000 or 1000; type one."),  # 1
        ("move rope crate by 2 x quickly", "“quickly” cannot be read"),
        ("move rope crate by 2 along x of local please", "“please” cannot be read"),
        ("move rope crate by 2 along x through the origin", "“through the origin” cannot be read"),
        ("rotate lock gate by 75 about yz", "“yz” cannot be read; expected X or Y or Z"),
        ("move rope crate by 2 along x and 3 along x", "axis X has its amount already"),
        ("move rope crate by 2 3 along x", "“3 along x” cannot be read"),
        ("move rope crate slowly by 2 x", "“slowly by 2 x” cannot be read"),
        ("scale rope crate by 2 on some axes", "“some axes” cannot be read"),
        ("rotate lock gate to x 10, y 0 and z 0 of local", "is in 'world' or 'parent'"),
        ("rotate lock gate to x 10, y 0, z 0 and z 5 of world", "Z is not wanted here; the order of angles is XYZ"),
        ("scale rope crate to x −2", "greater than 0"),
        ("put lock gate and rope crate at (0; 0; 0) facing (0; 1; 0)", "a 'put' sets one object"),
        ("lift rope crate", "“lift rope crate” cannot be read; expected Move or Rotate"),
        ("move the barge by 2 x", "expected Lock gate or Rope crate or Rope crate b or"),
        ("move “barge” by 2 x", "no object is called “barge”"),
        ("move rope crate", "It is incomplete; it could continue with"),
        ("rotate lock gate by 75", "about"),
        ("paint rope crate #12345", "a colour such as"),
        ("move rope crate by 2 along x of view", "with right"),  # no view is told
        ('rename rope crate to "Tar', "a name in quotes that end"),
        ("scale rope crate by 2 holding corner +x+x of lock gate", "each axis stands in a place once"),
    ],
)  # fmt: skip
def test_unreadable_text_is_refused_with_its_position(line, says):
    with pytest.raises(CoreError) as refused:
        read_step(line, KNOWN)
    assert says in refused.value.text
    assert line[refused.value.facts["at"] :].strip().startswith(refused.value.facts["rest"].rstrip("…"))


# Source: international yard and pound agreement (1959), 1 in = 25.4 mm; SI Brochure (2019), 1° = π/180 rad.
METRES = {"mm": 0.001, "cm": 0.01, "m": 1, "in": 0.0254, "ft": 0.3048}
RADIANS = {"deg": math.pi / 180, "°": math.pi / 180, "rad": 1, "turn": 2 * math.pi}


@pytest.mark.parametrize("own", METRES)
@pytest.mark.parametrize("typed", METRES)
def test_a_length_in_any_unit_is_converted_to_the_exercises(own, typed):
    where = scene({"id": "a", "name": "Crate"}, length=own)
    wanted = pytest.approx(1.23456789012 * METRES[typed] / METRES[own], rel=1e-13)
    assert read_step(f"move crate by 1.23456789012 {typed} along y", where).by[1] == wanted
    assert read_step(f"move crate by y 1.23456789012 {typed} in local", where).by[1] == wanted
    assert read_step(f"move crate to 1.23456789012 {typed} y", where).to[1] == wanted
    assert read_step(f"scale crate to y 1.23456789012 {typed}", where).to[1] == wanted
    assert read_step(f"drop crate onto the ground, 1.23456789012 {typed} clear of it", where).clearance == wanted


@pytest.mark.parametrize("own", [unit for unit in RADIANS if unit != "°"])
@pytest.mark.parametrize("typed", RADIANS)
def test_an_angle_in_any_unit_is_converted_to_the_exercises(own, typed):
    where = scene({"id": "a", "name": "Crate"}, angle=own)
    wanted = pytest.approx(0.123456789012 * RADIANS[typed] / RADIANS[own], rel=1e-13)
    assert read_step(f"rotate crate by 0.123456789012 {typed} about y", where).angle == wanted
    assert read_step(f"rotate crate to x 0, y 0.123456789012 {typed} and z 0 of parent", where).to[1] == wanted


@pytest.mark.parametrize("order", get_args(EulerOrder))
def test_the_angles_of_every_order_are_read_in_their_places(order):
    a, b, c = order.upper()  # of two alike the first comes first
    where = scene({"id": "a", "name": "Crate"}, euler=order)
    assert read_step(f"rotate crate to {a} 10°, {b} −20° and {c} 0.1 turn of World", where).to == (10, -20, 36)


def test_two_of_one_name_are_told_apart_by_their_ids():
    twins = scene(
        {"id": "a", "name": "Post"},
        {"id": "b", "name": "Post"},
        {"id": "Post 2", "name": "a"},
        {"id": "c", "name": "c"},
    )
    said = {
        i: STEP_ADAPTER.validate_python({"op": "remove", "objects": [i]}).sentence(twins, exact=True)
        for i in twins.objects
    }
    # An id that is another object's name is said to be an id.
    assert said == {"a": 'Remove id "a"', "b": "Remove b", "Post 2": "Remove a", "c": "Remove c"}
    with pytest.raises(CoreError, match="2 objects are called “post”; give the id, such as a or b"):
        read_step("remove post", twins)


@pytest.mark.parametrize(
    ("line", "offered"),
    [
        ("ro", ["Rotate"]),
        ("move rope", ["move Rope crate", "move Rope crate b"]),
        ("move lock gate ", ["move lock gate and", "move lock gate taken", "move lock gate by", "move lock gate to"]),
        ("rotate lock gate by 5 about", [f"rotate lock gate by 5 about {axis}" for axis in "XYZ"]),
        ("drop lock gate onto wh", ["drop lock gate onto what is below"]),
    ],
)
def test_the_reader_offers_what_could_come_next(line, offered):
    assert set(offered) <= set(continuations(line, KNOWN))


def test_noise_gets_an_answer_with_its_place():
    words = [
        "move", "rotate", "scale", "put", "duplicate", "add", "rope crate", "lock gate", "by", "to", "2", "-1.5", "0,5", "1,000", "1e3", "cm",
        "°", "turn", "along", "about", "x", "y", "z", "of", "local", "the line from", "through", "its pivot", "and", ",", "oops", '"', "(", ";",
        ")", "#", "#aabbcc", "each time:", "−", "1/0", "(((", "\\", "\x00", "mesh vertices", "face +x of",
    ]  # fmt: skip
    source = random.Random(11)
    read = 0
    for _ in range(2000):
        start = source.choice(
            ["move rope crate by 2 along", "rotate lock gate by 2 about", "scale rope crate by 2", "put rope crate", ""]
        )
        line = " ".join([start, *source.choices(words, k=source.randint(1, 7))])
        try:
            read_step(line, KNOWN)
        except CoreError as error:
            assert error.text.endswith(".")
            assert 0 <= error.facts["at"] <= len(line)
        else:
            read += 1
            assert "oops" not in line.split("#")[0]
        assert isinstance(continuations(line, KNOWN), list)
    assert read > 20


@given(st.text(max_size=60), st.booleans())
def test_any_text_gets_an_answer(text, known):
    for line in read_lines(text, KNOWN if known else None):
        assert (line.error is None) or line.error.text.endswith(".")


def test_a_remark_is_passed_over_and_a_colour_is_none():
    lines = list(
        read_lines(
            '# all\n\n1. Paint Rope crate #aabbcc # red\n  2) Rename Rope crate to "a # b".\nRemove oops\nMove Lock gate by 1 x',
            KNOWN,
        )
    )
    assert [line.step and line.step.op for line in lines] == [None, None, "paint", "rename", None, "move"]
    assert lines[2].step.colour == "#aabbcc"
    assert lines[3].step.name == "a # b"
    assert (lines[4].number, lines[4].error.facts["at"]) == (5, 7)


def test_a_step_that_cannot_be_done_leaves_the_scene_for_the_next_line():
    lines = list(read_lines("Nest Rope crate in Rope crate b\nRename Rope crate to Tar\nRemove Tar", KNOWN))
    assert [line.refused and line.refused.code for line in lines] == ["parent-loop", None, None]


def test_every_word_of_a_phrase_is_known_to_follow_a_name():
    """Otherwise a name that is the beginning of a longer one would be written without quotes and misread."""
    phrases = [*itertools.chain.from_iterable(kind.says.phrases for kind in KINDS), *things._OBJECT.phrases]
    assert len(phrases) > 20
    words = frozenset().union(*(phrase.words for phrase in phrases))
    assert words - FOLLOWING == frozenset(), "add these words to FOLLOWING"
    assert FOLLOWING - words <= {"and", "to"}, "no phrase has these words any more"
