"""A fault of the program where causes are looked for, or in one file of many, leaves all else standing and is logged."""

import json

import pytest

import cubedrill.demo.load as demo
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.judge import judge_submission
from cubedrill.formats.documents import read_exercise, read_submission
from cubedrill.formats.outputs import report_output
from cubedrill.library import batch
from cubedrill.library.batch import Judge

EXERCISE = demo.HERE / "exercises" / "crates-morning-boat.json"
SUBMISSIONS = sorted((demo.HERE / "submissions" / "crates-morning-boat").glob("*.json"))


class OutOfOrderError(Exception):
    """What nobody expects."""


def breaks(*_args, **_kwargs):
    raise OutOfOrderError("out of order")


@pytest.mark.parametrize("part", ["explain_within", "reference"])
def test_a_verdict_does_not_hang_on_the_explainer(monkeypatch, caplog, part):
    exercise = read_exercise(EXERCISE)
    start, target = exercise.start_scene(), exercise.target_scene()
    missed = next(
        (work, report)
        for work in map(read_submission, SUBMISSIONS)
        if (report := judge_submission(exercise, start, target, work)).causes
    )
    monkeypatch.setattr(Explainer, part, breaks if part == "explain_within" else property(breaks))
    report = judge_submission(exercise, start, target, missed[0])
    assert report.causes == ()
    assert report.model_copy(update={"causes": missed[1].causes, "parted": missed[1].parted}) == missed[1].model_copy(
        update={"cancelling": report.cancelling}
    )
    (record,) = caplog.records
    # What is needed to repeat it: the exercise's id, the whole submission, and where it broke.
    assert exercise.id in record.getMessage()
    assert json.loads(record.getMessage().partition("submission: ")[2]) == json.loads(missed[0].model_dump_json())
    assert record.exc_info is not None


@pytest.fixture
def one_breaks(monkeypatch):
    """The second file of a batch meets a fault of the program wherever it is judged."""
    bad = read_submission(SUBMISSIONS[1])
    for name in ("judge_submission", "mark_one"):
        right = getattr(batch, name)

        def broken(exercise, start, target, work, *more, right=right):
            return breaks() if work == bad else right(exercise, start, target, work, *more)

        monkeypatch.setattr(batch, name, broken)
    monkeypatch.setattr(batch, "mark_sheets", breaks)


@pytest.mark.usefixtures("one_breaks")
def test_a_fault_in_one_file_leaves_every_other_its_line(caplog):
    exercise = read_exercise(EXERCISE)
    start, target = exercise.start_scene(), exercise.target_scene()
    reports, marks = (work(Judge(exercise, {}), SUBMISSIONS) for work in (Judge.lines, Judge.marks))
    for file, (line, trouble), mark in zip(SUBMISSIONS, reports, marks, strict=True):
        if file is SUBMISSIONS[1]:
            assert (line["error"]["code"], line["submission"]) == ("fault", str(file))
            assert trouble == mark == line["error"]["text"]
            assert trouble.startswith(f"{file.name}: it could not be judged")
        else:
            right = judge_submission(exercise, start, target, read_submission(file))
            assert (line, trouble) == (report_output(right, str(file)), None)
            assert mark == right.marks
    assert any(str(SUBMISSIONS[1]) in record.getMessage() for record in caplog.records)


def test_a_file_that_breaks_the_reader_has_its_line(monkeypatch):
    monkeypatch.setattr(batch, "submission_in", breaks)
    ((line, trouble),) = Judge(read_exercise(EXERCISE), {}).lines(SUBMISSIONS[:1])
    assert line["error"]["code"] == "unreadable"
    assert "fault in the program" in trouble
