"""The least over a turn or over all orientations: functions whose least is known, wells that hide between samples."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.turns import SAMPLES, least_orientation, minimize_over_angle, towards

angles = st.floats(0, 2 * math.pi)


def away(at, angle):
    """How far angles are from one, the short way round."""
    return np.abs((np.asarray(at) - angle + math.pi) % (2 * math.pi) - math.pi)


@given(angles, st.integers(1, 5), st.floats(0.01, 3))
def test_the_least_of_waves_is_found_to_rounding(at, count, height):
    def waves(turned):
        return 5 - height * np.cos(count * (turned - at)) - 0.5 * np.cos(turned - at)

    value, angle = minimize_over_angle(waves, height * count + 0.5, math.inf)
    assert value == pytest.approx(4.5 - height, abs=1e-12)
    assert away(angle, at) < 1e-6  # a wave is flat at its least


@given(angles, angles, st.floats(0.05, 2), st.floats(0.05, 2))
def test_of_two_sharp_wells_the_deeper_is_found_wherever_it_lies_between_samples(first, second, one, two):
    depths = sorted((one, two))

    def wells(turned):
        return np.minimum(depths[0] + 3 * away(turned, first), depths[1] + 2 * away(turned, second))

    value, angle = minimize_over_angle(wells, 3.0, math.inf)
    assert value == pytest.approx(depths[0], abs=1e-9)
    assert away(angle, first) < 1e-9 or depths[1] - depths[0] < 1e-9


def test_a_well_between_two_samples_that_is_deepest_by_little_is_found():
    step = 2 * math.pi / SAMPLES
    for share in (0.1, 0.5, 0.9):
        narrow = 10 * step + share * step

        def wells(turned, narrow=narrow):
            return np.minimum(1 + away(turned, narrow), 1.01 + 0.5 * away(turned, 40 * step))

        value, angle = minimize_over_angle(wells, 1.0, math.inf)
        assert (value, away(angle, narrow)) == (pytest.approx(1, abs=1e-9), pytest.approx(0, abs=1e-9))


@pytest.mark.parametrize(("below", "found"), [(0.9, False), (1.0 - 1e-9, False), (1.0 + 1e-9, True), (9.0, True)])
def test_nothing_is_returned_that_is_not_less_than_what_is_known(below, found):
    least = minimize_over_angle(lambda turned: 1 + away(turned, 1.0), 1.0, below)
    assert (least is not None) is found


def valley(middle, half):
    return lambda turned: 1 + np.maximum(away(turned, middle) - half, 0.0)


@pytest.mark.parametrize("way", [1, -1])
@pytest.mark.parametrize(
    ("wanted", "expected"), [(0.1, 0.1), (0.25, 0.25), (0.3, 0.3), (0.5, 0.3), (2.0, 0.3), (0.0, 0.0)]
)
def test_along_a_flat_valley_it_goes_as_far_as_wanted_or_to_its_edge(way, wanted, expected):
    found = towards(valley(2.0, 0.3), 1.0, 2.0, 2.0 + way * wanted)
    assert found == pytest.approx(2.0 + way * expected, abs=1e-9)


def test_it_begins_anywhere_in_the_valley_and_goes_the_short_way_round():
    flat = valley(0.0, 0.3)
    assert towards(flat, 1.0, 0.2, 6.2) == pytest.approx(6.2 - 2 * math.pi, abs=1e-9)
    assert towards(flat, 1.0, 0.2, 6.2 - 2 * math.pi) == pytest.approx(6.2 - 2 * math.pi, abs=1e-9)
    assert towards(flat, 1.0, 0.2, math.pi + 0.3) == pytest.approx(-0.3, abs=1e-9)


def test_another_valley_behind_a_rise_is_not_reached():
    def two(turned):
        return np.minimum(valley(1.0, 0.2)(turned), valley(2.0, 0.2)(turned))

    assert towards(two, 1.0, 1.0, 2.0) == pytest.approx(1.2, abs=1e-9)
    narrow = np.vectorize(lambda turned: 1.0 + (0.5 if 1.4 < turned < 1.401 else 0.0))
    assert towards(narrow, 1.0, 1.0, 1.2) == 1.2


def test_a_curved_valley_keeps_its_angle():
    curved = lambda turned: 1 + away(turned, 1.0) ** 2  # noqa: E731
    assert towards(curved, 1.0, 1.0, 2.0) == 1.0
    assert towards(curved, 1.0, 1.0, 1.0 + 1e-6) == 1.0


@pytest.mark.parametrize("seed", range(8))
def test_the_nearest_orientation_with_the_least_value_is_found(seed):
    random = np.random.default_rng(seed)
    best = Rotation.random(rng=random)
    weights = random.uniform(0.5, 3, 3)

    def off(rotations):
        return 0.25 + np.linalg.norm((best.inv() * Rotation.from_matrix(rotations)).as_rotvec() * weights, axis=-1)

    start = best * Rotation.from_rotvec(random.normal(size=3) * 0.3)
    found = least_orientation(off, start.as_matrix())
    assert (best.inv() * Rotation.from_matrix(found)).magnitude() < 1e-8
    assert found @ found.T == pytest.approx(np.eye(3), abs=1e-12)


@pytest.mark.parametrize("way", [1, -1])
def test_a_well_two_samples_beside_a_lower_sample_is_found(way):
    # One well just on a sample; about two samples on a deeper one, which is seen as higher, as it lies between samples.
    step = 2 * math.pi / SAMPLES
    first, second, deeper = 10 * step, (10 + way * 1.9) * step, 0.05 * step

    def function(angles):
        return 1 + np.minimum(np.abs(angles - first), np.abs(angles - second) - deeper)

    value, angle = minimize_over_angle(function, 1.0, 2.0)
    assert (value, angle) == (pytest.approx(1 - deeper, abs=1e-9), pytest.approx(second, abs=1e-9))
