"""Affine maps against glTF's T · R · S, and readings against what they were made from."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.transform import (
    mapped,
    parent_from_parts,
    parts_of,
    require_affine,
    rotation_from_quaternion,
)
from tests.core.strategies import factors, quaternions, rotations, triples

ROUNDING = 1e-9  # float64 products of numbers up to 1000


@given(triples, quaternions(), st.tuples(factors, factors, factors), triples)
def test_a_point_is_scaled_then_turned_then_moved_as_gltf_says(translation, quaternion, scale, point):
    # glTF 2.0, Transformations: "first the scale is applied to the vertices, then the rotation, then the translation".
    turned = Rotation.from_quat(quaternion).apply(np.array(point) * np.array(scale))
    parent_from_local = parent_from_parts(
        np.array(translation), rotation_from_quaternion(quaternion, "x"), np.array(scale)
    )
    assert mapped(parent_from_local, np.array(point)) == pytest.approx(turned + np.array(translation), abs=ROUNDING)


@given(triples, rotations(), st.tuples(factors, factors, factors))
def test_parts_read_back_are_the_parts_put_in(translation, rotation, scale):
    parts = parts_of(parent_from_parts(np.array(translation), rotation, np.array(scale)))
    assert not parts.skewed
    assert parts.translation == pytest.approx(np.array(translation))
    assert parts.rotation == pytest.approx(rotation, abs=ROUNDING)
    assert parts.scale == pytest.approx(np.array(scale))


@given(rotations(), st.tuples(factors, factors, factors), st.sampled_from([0, 1, 2]))
def test_a_mirror_is_read_as_a_negative_scale_on_x_and_a_proper_rotation(rotation, scale, axis):
    signed = np.array(scale)
    signed[axis] *= -1
    parent_from_local = parent_from_parts(np.zeros(3), rotation, signed)
    parts = parts_of(parent_from_local)
    assert np.linalg.det(parts.rotation) == pytest.approx(1)
    assert parts.scale[0] < 0 < min(parts.scale[1:])
    assert parent_from_parts(parts.translation, parts.rotation, parts.scale) == pytest.approx(parent_from_local)


def test_a_skewed_map_reads_the_rotation_nearest_to_it():
    # By hand: the shear x' = x + y/2 in the plane. Its polar rotation turns by −atan(1/2 / 2) about Z
    # (for [[1, k], [0, 1]] the angle is −atan(k / 2)), here −14.036°.
    shear = np.eye(4)
    shear[0, 1] = 0.5
    parts = parts_of(shear)
    assert parts.skewed
    angle = np.arctan2(parts.rotation[1, 0], parts.rotation[0, 0])
    assert angle == pytest.approx(-np.arctan(0.25), abs=1e-12)


def test_dot_products_decide_about_skew_at_one_millionth():
    for dot, skewed in ((0.9e-6, False), (1.1e-6, True)):
        map_ = np.eye(4)
        map_[0, 1] = dot
        assert parts_of(map_).skewed == skewed


@pytest.mark.parametrize(
    ("change", "code"),
    [
        (lambda m: m.__setitem__((0, 3), np.inf), "too-large"),
        (lambda m: m.__setitem__((1, 1), np.nan), "too-large"),
        (lambda m: m.__setitem__((3, 0), 1.0), "bad-matrix"),
        (lambda m: m.__setitem__((2, 2), 0.0), "not-invertible"),
        (lambda m: m.__setitem__((2, 2), 1e-10), "not-invertible"),
    ],
)
def test_a_matrix_that_cannot_be_used_is_refused(change, code):
    matrix = np.eye(4)
    change(matrix)
    with pytest.raises(CoreError) as error:
        require_affine(matrix, "crate")
    assert error.value.code == code
    assert error.value.object == "crate"


@pytest.mark.parametrize(("length", "fits"), [(1 + 0.9e-6, True), (1 - 0.9e-6, True), (1 + 2e-6, False), (0, False)])
def test_a_quaternion_is_normalised_within_a_millionth_and_refused_beyond(length, fits):
    quaternion = np.array([0, 0, 0.6, 0.8]) * length
    if fits:
        assert np.linalg.det(rotation_from_quaternion(quaternion, "x")) == pytest.approx(1, abs=1e-12)
    else:
        with pytest.raises(CoreError, match="quaternion of length"):
            rotation_from_quaternion(quaternion, "x")


@pytest.mark.parametrize("size", [1e-3, 1.0, 1e3])
@pytest.mark.parametrize(
    "turn", [np.eye(3), Rotation.from_euler("XYZ", [1, 2, 3]).as_matrix()], ids=["square", "turned"]
)
def test_a_map_is_flat_where_its_least_stretch_is_a_billionth_of_its_largest(size, turn):
    for share, flat in ((1.1e-9, False), (0.9e-9, True)):
        linear = np.eye(4)
        linear[:3, :3] = turn @ np.diag([size, size, share * size]) @ turn.T
        if flat:
            with pytest.raises(CoreError, match="flattened"):
                require_affine(linear, "x")
        else:
            assert require_affine(linear, "x") is not None
