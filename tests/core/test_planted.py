"""Mistakes planted in steps as a file holds them, by rules that know nothing of the product's own, are the first cause told.

The rules are those of `bench/causes.py`, which asks many more exercises.
"""

import itertools

import pytest
from bench.causes import PLANTS, case

from tests.tiers import some

TRIED = 20  # made-up exercises, until two are found that such a mistake can be made and seen in


@pytest.mark.parametrize("code", some(PLANTS, 7))
def test_each_mistake_that_is_planted_is_the_first_cause_told(code):
    seeds = (list(PLANTS).index(code) + n * len(PLANTS) for n in range(TRIED))
    found = list(itertools.islice((outcome for seed in seeds if (outcome := case(seed, False))), 2))
    assert found == [(code, True, True)] * 2  # it comes first, and what is right is told nothing


@pytest.mark.parametrize("start", [0, 8, 16])
def test_of_two_that_are_planted_both_are_told(start):
    found = [outcome for seed in range(start, start + 8) if (outcome := case(seed, True))]
    assert sum(both for _code, both, _fair in found) >= len(found) - 1  # 95 in 100 is the aim
