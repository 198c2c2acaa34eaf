"""Relations between blocks that lie along the axes, against plain arithmetic on their sides; and wherever all is turned to."""

import itertools
import math

import numpy as np
import pytest
from pydantic import TypeAdapter
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.scene.stage import Stage

CHECK: TypeAdapter[Check] = TypeAdapter(Check)
PLOT = {"min": [-3, -2, -4], "max": [4, 3, 2]}


class Block:
    """A block along the axes: its size and middle, rounded so that sides meet exactly now and then."""

    def __init__(self, name, size, middle):
        self.name, self.size, self.middle = name, np.array(size), np.array(middle)
        self.low, self.high = self.middle - self.size / 2, self.middle + self.size / 2

    def written(self, parent=None):
        return {
            "id": self.name, "solid": {"kind": "cuboid", "size": self.size.tolist()}, "parent": parent,
            "translation": self.middle.tolist(),
        }  # fmt: skip


def drawn(random, name):
    return Block(name, random.integers(1, 7, 3) / 2, random.integers(-6, 7, 3) / 2)


def apart(a, b):
    return float(np.linalg.norm(np.maximum(0, np.maximum(a.low - b.high, b.low - a.high))))


def depth(a, b):
    """The least way along an axis that brings them clear of each other; 0 where they are."""
    return max(0.0, float(np.minimum(a.high - b.low, b.high - a.low).min()))


def touching(a, b):
    return apart(a, b) or depth(a, b)


def lift(a, b, up):
    across = [i for i in range(3) if i != up]
    over = all(a.low[i] < b.high[i] and b.low[i] < a.high[i] for i in across)
    return abs(b.high[up] - a.low[up]) if over else math.inf


def angle(direction, a, b):
    toward = b.middle - a.middle
    return math.atan2(float(np.linalg.norm(np.cross(direction, toward))), float(direction @ toward))


def judged(blocks, check, up="y", placed=None):
    """Judge a scene of blocks; placed: what all of them are in, where they are."""
    objects = [{"id": "all", **placed}] if placed else []
    objects += [block.written("all" if placed else None) for block in blocks]
    scene = Stage.model_validate({"objects": objects, "plot": PLOT}).to_scene(Conventions(up=up))
    made = CHECK.validate_python({"id": "r", "kind": "relation", "object": "a", "tolerance": 0.3, **check})
    return made.judge(Case(scene, scene))


def relations(a, b, up):
    """Every relation with what it is off by, plainly."""
    across = [i for i in range(3) if i != up]
    letters = ["".join("xyz"[i] for i in across), None]
    yield {"relation": "gap", "other": "b", "distance": 1.5}, abs(apart(a, b) - 1.5)
    yield {"relation": "gap", "other": "b", "distance": 0}, apart(a, b)
    yield {"relation": "touches", "other": "b"}, touching(a, b)
    yield {"relation": "clear_of", "other": "b"}, depth(a, b)
    yield {"relation": "rests_on", "other": "b"}, lift(a, b, up)
    yield {"relation": "rests_on", "other": "ground"}, abs(a.low[up])
    for axes in letters:
        which = across if axes is None else ["xyz".index(letter) for letter in axes]
        given = {} if axes is None else {"axes": axes}
        centred = float(np.abs(a.middle - b.middle)[which].max())
        yield {"relation": "centred_on", "other": "b", **given}, centred
        for side in ("min", "max"):
            ends = (a.low, b.low) if side == "min" else (a.high, b.high)
            yield (
                {"relation": "flush", "other": "b", "side": side, **given},
                float(np.abs(ends[0] - ends[1])[which].max()),
            )
    for i, letter in enumerate("xyz"):
        yield {"relation": "centred_on", "other": "b", "axes": letter}, abs(a.middle[i] - b.middle[i])
        yield {"relation": "flush", "other": "b", "side": "max", "axes": letter}, abs(a.high[i] - b.high[i])
        if (a.middle != b.middle).any():
            for sign in (1, -1):
                off = angle(sign * np.eye(3)[i], a, b)
                yield (
                    {"relation": "faces", "other": "b", "axis": f"{'+' if sign > 0 else '-'}{letter}"},
                    math.degrees(off),
                )
    outside = np.concatenate((np.array(PLOT["min"]) - a.low, a.high - np.array(PLOT["max"]), [0]))
    yield {"relation": "inside_plot"}, float(outside.max())


@pytest.mark.parametrize("seed", range(40))
def test_each_is_off_by_what_plain_arithmetic_says(seed):
    random = np.random.default_rng(seed)
    a, b = drawn(random, "a"), drawn(random, "b")
    up = seed % 2 + 1
    for check, off in relations(a, b, up):
        result = judged([a, b], check, "xyz"[up])
        found = math.inf if result.difference is None else result.difference
        assert found == pytest.approx(off, abs=1e-9), (check, a.middle, b.middle)
        assert (result.verdict == "pass") is bool(off <= 0.3 + 1e-9)
        assert result.found == ("not at all" if math.isinf(off) else result.found)
        assert ("holds" in result.text) is (result.verdict == "pass")
        assert result.unit == ("°" if check["relation"] == "faces" else "m")


@pytest.mark.parametrize("seed", range(20))
def test_rotation_invariant_results_do_not_change_when_everything_is_rotated(seed):
    random = np.random.default_rng(seed)
    a, b = drawn(random, "a"), drawn(random, "b")
    placed = {"rotation": Rotation.random(rng=random).as_quat().tolist(), "translation": random.normal(size=3).tolist()}
    for check, off in relations(a, b, 1):
        if check["relation"] in ("gap", "touches", "clear_of", "faces"):
            assert judged([a, b], check, placed=placed).difference == pytest.approx(off, abs=1e-7), check


def plain_row(places, spacing):
    """Unevenness, distance from the spacing, distance from the line through the first and the last: the largest."""
    line = (places[-1] - places[0]) / np.linalg.norm(places[-1] - places[0])
    gaps = [float(np.linalg.norm(q - p)) for p, q in itertools.pairwise(places)]
    middle = sum(gaps) / len(gaps)
    aside = [float(np.linalg.norm((p - places[0]) - ((p - places[0]) @ line) * line)) for p in places]
    return max(*(abs(g - middle) for g in gaps), *(abs(g - (spacing or middle)) for g in gaps), *aside)


@pytest.mark.parametrize("seed", range(20))
@pytest.mark.parametrize("spacing", [None, 2.5])
def test_a_row_is_off_by_its_worst_gap_or_its_worst_stray(seed, spacing):
    random = np.random.default_rng(seed)
    along = random.normal(size=3)
    along /= np.linalg.norm(along)
    places = np.array([i * 2 * along + random.normal(size=3) * 0.2 for i in range(4)])
    blocks = [Block(name, [1, 1, 1], place) for name, place in zip("abcd", places, strict=True)]
    check = {"relation": "row", "object": list("abcd"), "spacing": spacing}
    assert judged(blocks, check).difference == pytest.approx(plain_row(places, spacing), abs=1e-12)


def test_out_of_order_is_no_row():
    blocks = [Block(name, [1, 1, 1], [x, 0, 0]) for name, x in zip("abc", (0, 4, 2), strict=True)]
    assert judged(blocks, {"relation": "row", "object": list("abc")}).verdict == "fail"
    # All in one place: no direction, and yet no two of them are apart.
    blocks = [Block(name, [1, 1, 1], [1, 1, 1]) for name in "abc"]
    assert judged(blocks, {"relation": "row", "object": list("abc")}).difference == 0


@pytest.mark.parametrize(("unit", "off"), [("deg", 45), ("rad", math.pi / 4), ("turn", 1 / 8)])
def test_an_angle_is_told_in_the_unit_of_the_exercise(unit, off):
    a, b = Block("a", [1, 1, 1], [0, 0, 0]), Block("b", [1, 1, 1], [3, 3, 0])
    scene = Stage.model_validate({"objects": [a.written(), b.written()]}).to_scene(Conventions(angle=unit))
    for tolerance, verdict in ((off * 1.01, "pass"), (off * 0.99, "fail")):
        check = {"id": "r", "kind": "relation", "relation": "faces", "object": "a", "other": "b", "axis": "+x"}
        result = CHECK.validate_python({**check, "tolerance": tolerance}).judge(Case(scene, scene))
        assert (result.difference, result.verdict) == (pytest.approx(off), verdict)
        assert result.unit == ("°" if unit == "deg" else unit)
