"""Whether blocks along the axes tip, against plain arithmetic: rectangles of contact, their hull, the common middle."""

import itertools

import numpy as np
import pytest

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.stage import Stage
from cubedrill.core.scene.standing import tips

FLAT = 1e-4  # patches of contact are cut a millionth of the bodies' size thick


def hull(points):
    """Corners of the convex hull of points in a plane, one way round. Source: Andrew's monotone chain, from memory."""
    ordered = sorted({(round(x, 9), round(y, 9)) for x, y in points})

    def half(of):
        chain = []
        for p in of:
            while (
                len(chain) > 1
                and np.cross([*np.subtract(chain[-1], chain[-2]), 0], [*np.subtract(p, chain[-2]), 0])[2] <= 0
            ):
                chain.pop()
            chain.append(p)
        return chain[:-1]

    return half(ordered) + half(ordered[::-1]) if len(ordered) > 2 else ordered


def beyond(corners, point):
    """How far a point is outside of a convex polygon, and which way; 0 inside."""
    sides = list(zip(corners, corners[1:] + corners[:1], strict=True))
    if all(np.cross([*np.subtract(q, p), 0], [*np.subtract(point, p), 0])[2] >= 0 for p, q in sides):
        return 0.0, np.zeros(2)
    nearest = []
    for p, q in sides:
        edge = np.subtract(q, p)
        share = np.clip(np.dot(np.subtract(point, p), edge) / max(edge @ edge, 1e-30), 0, 1)
        nearest.append(p + share * edge)
    away = min((np.subtract(point, n) for n in nearest), key=np.linalg.norm)
    return float(np.linalg.norm(away)), away / np.linalg.norm(away)


def block(name, low, size):
    return {"name": name, "low": np.array(low, dtype=float), "size": np.array(size, dtype=float)}


def drawn(random):
    """A block with a child beside or on it, over one or two supports of one height, or over the ground."""
    top = float(random.choice([0.0, 1.0]))
    body = block("a", [0, 0, top], random.integers(2, 7, 3) / 2)
    child = block("c", [*random.integers(-6, 7, 2) / 2, top + random.choice([0, 0.5, 2])], random.integers(1, 7, 3) / 2)
    supports = []
    if top:
        for name in "pq"[: random.integers(1, 3)]:
            supports.append(block(name, [*random.integers(-4, 5, 2) / 2, 0], [*random.integers(1, 5, 2) / 2, top]))
    return body, child, supports


def written(each, parent, up, origin):
    """As a file gives it: the first two axes across up, the third up."""
    middle = each["low"] + each["size"] / 2 - origin
    order = [0, 1, 2] if up == 2 else [1, 2, 0]  # where each of X, Y, Z is taken from; with Y up, across are Z and X
    return {
        "id": each["name"], "parent": parent, "translation": middle[order].tolist(),
        "solid": {"kind": "cuboid", "size": each["size"][order].tolist()},
    }  # fmt: skip


@pytest.mark.parametrize("up", [1, 2])
@pytest.mark.parametrize("seed", range(60))
def test_it_tips_where_its_middle_is_beyond_all_that_it_lies_on(seed, up):
    random = np.random.default_rng(seed)
    body, child, supports = drawn(random)
    below = [*supports, block("ground", [-99, -99, -1], [198, 198, 1])]
    points = []
    for upper, lower in itertools.product((body, child), below):
        low, high = (
            np.maximum(upper["low"], lower["low"]),
            np.minimum(upper["low"] + upper["size"], lower["low"] + lower["size"]),
        )
        if abs(upper["low"][2] - (lower["low"] + lower["size"])[2]) < 1e-9 and (high[:2] > low[:2]).all():
            points += itertools.product((low[0], high[0]), (low[1], high[1]))
    volumes = [np.prod(each["size"]) for each in (body, child)]
    middle = sum(v * (each["low"] + each["size"] / 2) for v, each in zip(volumes, (body, child), strict=True)) / sum(
        volumes
    )
    origin = body["low"] + body["size"] / 2
    objects = [
        written(body, None, up, 0),
        written(child, "a", up, origin),
        *(written(s, None, up, 0) for s in supports),
    ]
    # Something without a solid stands about; it bears nothing.
    objects.append({"id": "empty", "translation": [0, 0, 0]})
    scene = Stage.model_validate({"objects": objects}).to_scene(Conventions(up="xyz"[up]))
    tip = tips(scene, "a", 1e-3)
    if not points:
        assert tip is not None
        return
    off, way = beyond(hull(points), middle[:2])
    if off < FLAT:
        assert tip is None or tip.beyond < FLAT
    else:
        assert tip is not None
        assert tip.beyond == pytest.approx(off, abs=FLAT)
        across = [(up + 1) % 3, (up + 2) % 3]
        assert tip.direction_world[across] == pytest.approx(way, abs=FLAT)
        assert tip.direction_world[up] == 0
