"""A small part of what `./run bench hostile` sends: good bodies and files with values made wrong, none of them a fault."""

from random import Random

from bench.hostile import made_wrong, read_all, send_all

from tests.tiers import long

BODIES, FILES = 400, 150


@long
def test_bodies_made_wrong_are_answered_and_none_is_a_fault(database_url):
    found, _worst, faults = send_all(database_url, BODIES, Random(20))
    assert faults == []
    assert min(found["2xx"], found["4xx"]) > BODIES / 20  # some are as good as before, and most are refused


@long
def test_files_made_wrong_are_judged_or_refused_in_a_sentence():
    found, _worst, faults = read_all(FILES, Random(21))
    assert faults == []
    assert min(found["judged"], found["refused"]) > FILES / 20


@long
def test_every_planted_mistake_changes_the_result():
    good = {"steps": [{"op": "move", "by": [1, 2, 3]}], "cursor": 1}
    assert sum(made_wrong(good, Random(seed)) != good for seed in range(100)) > 70
