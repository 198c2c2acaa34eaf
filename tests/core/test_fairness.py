"""A few hundred of the two series of bench/fairness.py: no right work fails, no wrong work passes."""

from bench.fairness import series

from tests.tiers import long


@long
def test_right_work_written_another_way_passes_and_work_a_hair_beyond_does_not():
    failed, passed = series(300, seed=20261125)
    assert (failed, passed) == ([], [])
