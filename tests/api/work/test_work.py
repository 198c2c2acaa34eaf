"""The path through the product: start page, bench, saving, submitting, results."""

import json
import threading
from datetime import timedelta

import pytest
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from cubedrill.service.work import bench
from cubedrill.store.people.accounts import person_by_sign_in
from cubedrill.store.tables import Assignment, StoredSubmission
from tests.api.conftest import CRATES, RIGHT

AWAY = {"op": "move", "objects": ["crate-apple"], "by": [1, 0, 0]}


def test_a_student_sees_what_is_set_with_due_date_and_state(sign_in):
    pim, wren = (sign_in(name).get("/api/home").json()["to_do"] for name in ("pim", "wren"))
    assert [row["title"] for row in pim][:2] == ["Crates for the morning boat", "Slide the hatch cover"]
    assert pim[0]["due_at"] < pim[1]["due_at"]
    assert pim[0]["work"]["state"] == "not started"
    assert (wren[0]["work"]["state"], wren[0]["work"]["score"], wren[0]["work"]["passed"]) == (
        "submitted",
        1,
        True,
    )


def test_the_bench_has_all_that_is_drawn(sign_in):
    exercise = sign_in("pim").get("/api/assignments/1/bench").json()["exercise"]
    solids = [item for item in exercise["objects"] if item["solid"]]
    assert len(solids) >= 8
    assert set(exercise["target"]) == {"crate-herring", "crate-lamp-oil", "crate-rope", "crate-apple"}
    assert {halo["check"] for halo in exercise["halos"]} == {"herring", "lamp-oil", "rope", "apple"}
    assert exercise["picture_from_world"] == [1, 0, 0, 0, 1, 0, 0, 0, 1]


def test_a_save_is_answered_with_what_the_core_made_of_it(sign_in):
    answer = sign_in("pim").save(0, [RIGHT, AWAY]).json()
    assert (answer["revision"], answer["cursor"]) == (1, 2)
    first, second = answer["steps"]
    assert first["sentence"] == "Move Herring crate to X −3 m, Y 0.15 m and Z −2 m of World"
    assert list(first["changed"]) == ["crate-herring"]
    assert first["changed"]["crate-herring"]["pivot_world"] == pytest.approx([-3, 0.15, -2])
    assert list(second["changed"]) == ["crate-apple"]
    assert [gap["verdict"] for gap in answer["state"]["gaps"]] == ["pass", "fail", "fail", "fail"]


def test_undone_steps_stay_in_the_draft_and_do_not_count(sign_in):
    pim = sign_in("pim")
    pim.save(0, [RIGHT, AWAY])
    answer = pim.save(1, [RIGHT, AWAY], cursor=0).json()
    assert [gap["verdict"] for gap in answer["state"]["gaps"]] == ["fail"] * 4
    assert len(answer["steps"]) == 2
    assert pim.get("/api/assignments/1/bench").json()["draft"]["cursor"] == 0


def test_steps_switched_off_stay_in_the_draft_and_are_not_handed_in(sign_in):
    pim = sign_in("pim")
    answer = pim.save(0, [RIGHT, AWAY], off=[1]).json()
    assert [step["on"] for step in answer["steps"]] == [True, False]
    assert answer["steps"][1]["changed"] == {}
    submission = pim.submit(1).json()["submission"]
    assert len(pim.get(f"/api/submissions/{submission}").json()["steps"]) == 1


def test_known_answers_are_not_sent_again(sign_in):
    pim = sign_in("pim")
    pim.save(0, [RIGHT, AWAY])
    answer = pim.save(1, [RIGHT, AWAY, AWAY], known=2).json()
    assert (answer["first"], len(answer["steps"])) == (2, 1)
    assert answer["state"]["readings"]["crate-apple"]["world"]["position"][0] == pytest.approx(3)


def test_an_earlier_step_that_can_no_longer_be_done_is_kept_and_marked(sign_in):
    pim = sign_in("pim")
    gone = {"op": "remove", "objects": ["crate-apple"]}
    answer = pim.save(0, [RIGHT, gone, AWAY, RIGHT]).json()
    assert (answer["refused"]["step"], answer["refused"]["code"]) == (3, "unknown-object")
    assert len(answer["steps"]) == 2
    assert [rest["step"]["op"] for rest in answer["rest"]] == ["move", "move"]
    assert [(step["objects"], step["gone"]) for step in answer["steps"]] == [([], []), ([], ["crate-apple"])]
    refusal = pim.submit(1)
    assert (refusal.status_code, refusal.json()["step"]) == (422, 3)
    assert pim.get("/api/assignments/1/bench").json()["draft"]["refused"] == answer["refused"]


def test_a_preview_gives_gaps_and_numbers_and_saves_nothing(sign_in):
    pim = sign_in("pim")
    before = pim.get("/api/assignments/1/bench").json()["draft"]
    reviewed = pim.look([RIGHT, AWAY]).json()
    assert [gap["verdict"] for gap in reviewed["state"]["gaps"]] == ["pass", "fail", "fail", "fail"]
    reading = reviewed["state"]["readings"]["crate-herring"]
    assert reading["world"]["position"] == pytest.approx([-3, 0.15, -2])
    assert (reading["world"]["angles"], reading["parent"]["scale"]) == ([0, 0, 0], [1, 1, 1])
    assert pim.get("/api/assignments/1/bench").json()["draft"] == before
    bad = pim.look([RIGHT, {**AWAY, "objects": ["quay"]}]).json()
    assert (bad["refused"]["step"], bad["refused"]["code"]) == (2, "locked")
    assert bad["state"]["gaps"][0]["verdict"] == "pass"


def test_a_stale_revision_is_refused_with_the_newer_draft_in_the_answer(sign_in):
    here, there = sign_in("pim"), sign_in("pim")
    here.save(0, [RIGHT])
    answer = there.save(0, [AWAY])
    assert answer.status_code == 409
    newer = answer.json()["newer"]
    assert newer["revision"] == 1
    assert newer["steps"][0]["step"]["objects"] == ["crate-herring"]
    assert here.get("/api/assignments/1/bench").json()["draft"] == newer  # nothing was overwritten


def test_of_saves_at_the_same_time_one_wins_and_the_others_are_told(sign_in):
    callers = [sign_in("pim") for _ in range(6)]
    callers[0].get("/api/assignments/1/bench")
    answers = []
    threads = [threading.Thread(target=lambda c=c: answers.append(c.save(0, [RIGHT]).status_code)) for c in callers]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answers) == [200, 409, 409, 409, 409, 409]


@pytest.mark.parametrize(
    ("step", "status", "code"),
    [
        ({**AWAY, "objects": ["quay"]}, 422, "locked"),
        ({**AWAY, "objects": ["ghost"]}, 422, "unknown-object"),
        ({**AWAY, "colour": "red"}, 422, "not-valid"),
        ({**AWAY, "by": [1, 2]}, 422, "not-valid"),
    ],
)
def test_a_step_that_cannot_be_done_is_refused_and_nothing_is_saved(sign_in, step, status, code):
    pim = sign_in("pim")
    answer = pim.save(0, [RIGHT, step])
    assert (answer.status_code, answer.json()["code"]) == (status, code)
    if code in ("locked", "unknown-object"):
        assert answer.json()["step"] == 2
    else:
        assert answer.json()["place"].startswith("steps[1]")
    assert pim.get("/api/assignments/1/bench").json()["draft"]["revision"] == 0


def test_numbers_that_are_not_finite_are_refused_with_their_place(sign_in):
    pim = sign_in("pim")
    body = '{"revision": 0, "cursor": 1, "steps": [{"op": "move", "objects": ["crate-apple"], "by": [1e999, 0, 0]}]}'
    answer = pim.call("PUT", "/api/assignments/1/draft", content=body)
    assert answer.status_code == 422
    assert answer.json()["place"] == "steps[0].by[0]"


def test_a_cursor_beyond_the_steps_is_refused(sign_in):
    assert sign_in("pim").save(0, [RIGHT], cursor=2).status_code == 422


def test_handing_in_judges_and_keeps_what_was_sent(sign_in):
    pim = sign_in("pim")
    pim.save(0, [RIGHT, AWAY], cursor=1)
    answer = pim.submit(1)
    assert answer.status_code == 201
    result = pim.get(f"/api/submissions/{answer.json()['submission']}").json()
    assert (result["report"]["points"], result["report"]["of"]) == (3, 12)
    assert [step["step"]["objects"] for step in result["steps"]] == [["crate-herring"]]  # the undone one is not in it
    assert (result["own"], result["days_late"], result["number"]) == (True, 0, 1)


def test_handing_in_twice_makes_one(sign_in, engine):
    callers = [sign_in("pim") for _ in range(5)]
    callers[0].save(0, [RIGHT])
    answers = []
    threads = [threading.Thread(target=lambda c=c: answers.append(c.submit(1).json())) for c in callers]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len({answer["submission"] for answer in answers}) == 1
    with Session(engine) as db:
        pim = person_by_sign_in(db, "pim")
        assert db.query(StoredSubmission).filter_by(person_id=pim.id).count() == 1


def test_changed_work_handed_in_again_is_the_next_try(sign_in):
    pim = sign_in("pim")
    pim.save(0, [AWAY])
    first = pim.submit(1).json()["submission"]
    pim.save(1, [RIGHT])
    second = pim.submit(2).json()["submission"]
    assert first != second
    assert pim.get(f"/api/submissions/{second}").json()["number"] == 2
    work = pim.get("/api/home").json()["to_do"][0]["work"]
    assert (work["attempts"], work["score"], work["newest_submission"]) == (2, 0.25, second)


def test_nothing_and_a_stale_revision_cannot_be_handed_in(sign_in):
    pim = sign_in("pim")
    assert pim.submit(0).json()["code"] == "nothing-done"
    pim.save(0, [RIGHT])
    answer = pim.submit(0)
    assert (answer.status_code, answer.json()["newer"]["revision"]) == (409, 1)


def test_work_after_the_due_date_is_taken_and_marked_late(sign_in, engine):
    caller = sign_in("pim")
    caller.save(0, [RIGHT])
    with Session(engine) as db, db.begin():
        assignment = db.get(Assignment, CRATES)
        later = assignment.due_at + timedelta(minutes=1)
        submission = bench.submit(db, person_by_sign_in(db, "pim"), CRATES, 1, later)
    assert caller.get(f"/api/submissions/{submission}").json()["days_late"] == 1


def test_the_instructor_sees_the_class_with_marks_and_opens_one(sign_in):
    odile = sign_in("odile")
    home = odile.get("/api/home").json()
    assert home["to_do"] == []
    assert (home["taught"][0]["students"], home["taught"][0]["submitted"], home["taught"][0]["passed"]) == (8, 6, 4)
    page = odile.get("/api/assignments/1/submissions").json()
    rows = {row["student"]: row["work"] for row in page["rows"]}
    assert list(rows) == sorted(rows)
    assert rows["Juno Castellane"]["score"] == 0.75
    assert rows["Theo Lanternwick"]["state"] == "not started"
    causes = {row["student"]: row["causes"] for row in page["rows"]}
    assert causes["Wren Adeyemi"] == causes["Theo Lanternwick"] == []
    assert causes["Juno Castellane"] == [
        "Lamp-oil crate is sunk by half its height, with its centre where its base should be."
    ]
    result = odile.get(f"/api/submissions/{rows['Juno Castellane']['newest_submission']}").json()
    assert (result["student"], result["own"]) == ("Juno Castellane", False)


@pytest.mark.parametrize("table", ["submission", "report", "exercise_version", "event"])
@pytest.mark.parametrize("change", ["update {} set id = default", "delete from {}"])
def test_submissions_cannot_be_changed(engine, table, change):
    with pytest.raises(DBAPIError, match="never changed"), engine.begin() as db:
        db.execute(text(change.format(table)))


def test_three_hundred_steps_are_saved_and_answered(sign_in):
    answer = sign_in("pim").save(0, [AWAY] * 300).json()
    assert answer["steps"][299]["changed"]["crate-apple"]["pivot_world"][0] == pytest.approx(301)


def test_health_reports_a_missing_database(sign_in, app):
    pim = sign_in("pim")
    app.state.engine.dispose()
    broken = app.state.engine.url.set(port=1)
    app.state.engine = create_engine(broken)
    answer = pim.get("/api/home")
    assert (answer.status_code, answer.json()["code"]) == (503, "no-database")


HUT = 21  # the assignment that begins with nothing but the quay, as the demo loads it
FRONT, BACK = "Front wall", "front-wall"  # ids: the back wall was made as a copy of the front one


def wall(name, z):
    solid = {"kind": "cuboid", "size": [4, 2, 0.2]}
    return {"op": "add", "object": {"id": name, "solid": solid, "translation": [0, 1, z]}}


def test_matches_by_hand_are_shown_kept_and_submitted(sign_in):
    pim = sign_in("pim")
    walls = [wall("a", 1.5), wall("b", -1.5)]
    told = pim.save(0, walls, assignment=HUT).json()
    found = {match["target"]: match for match in told["state"]["matches"]}
    assert {i: (m["submitted"], m["by"]) for i, m in found.items() if m["submitted"]} == {
        FRONT: ("a", "place"),
        BACK: ("b", "place"),
    }
    assert (found[FRONT]["name"], found[BACK]["name"]) == ("Front wall", "Back wall")
    verdicts = [gap["verdict"] for gap in told["state"]["gaps"]]
    chosen = {FRONT: "b", BACK: "a", "roof": "gone"}
    other = pim.save(1, walls, assignment=HUT, matches=chosen).json()
    assert [gap["verdict"] for gap in other["state"]["gaps"]] != verdicts
    draft = pim.get(f"/api/assignments/{HUT}/bench").json()["draft"]
    assert draft["matches"] == chosen  # a step that is done again brings back what was chosen for it
    assert [m["by"] for m in draft["state"]["matches"] if m["submitted"]] == ["choice", "choice"]
    submission = pim.submit(2, assignment=HUT).json()["submission"]
    taken = pim.get(f"/api/submissions/{submission}").json()["report"]["matches"]
    assert {(m["target"], m["submitted"], m["by"]) for m in taken} == {
        (FRONT, "b", "choice"),
        (BACK, "a", "choice"),
    }


def test_a_look_takes_choices_by_hand_too(sign_in):
    pim = sign_in("pim")
    body = {"steps": [wall("a", 1.5)], "cursor": 1, "matches": {BACK: "a"}}
    told = pim.call("POST", f"/api/assignments/{HUT}/look", json=body).json()
    assert [(m["target"], m["by"]) for m in told["state"]["matches"] if m["submitted"]] == [(BACK, "choice")]


def test_a_mesh_is_sent_once_however_often_it_is_painted_and_copied(sign_in):
    """Each step says what it changed; a mesh that is there already is named."""
    corners = [[x / 10, y / 10, (x * y) % 7] for x in range(40) for y in range(40)]
    faces = [[n, n + 1, n + 40] for n in range(1500)]
    hull = {"id": "hull", "solid": {"kind": "mesh", "vertices": corners, "triangles": faces}}
    steps = [
        {"op": "add", "object": hull},
        *({"op": "paint", "objects": ["hull"], "colour": f"#{n:06x}"} for n in range(30)),
        {"op": "duplicate", "objects": ["hull"], "ids": ["a", "b"], "copies": 2},
        {"op": "rename", "objects": ["crate-apple"], "name": "Apples"},
    ]
    pim = sign_in("pim")
    answer = pim.save(0, steps)
    shown = answer.json()["steps"]
    assert len(shown) == len(steps), answer.json()["refused"]
    assert len(answer.content) < 3 * len(json.dumps(hull))
    assert shown[0]["objects"][0]["solid"]["vertices"] == corners
    assert [(o["id"], o["solid"], o["solid_of"]) for o in shown[-2]["objects"]] == [
        ("a", None, "hull"),
        ("b", None, "hull"),
    ]
    assert [(o["id"], o["name"], o["solid_of"]) for o in shown[-1]["objects"]] == [("crate-apple", "Apples", None)]
    assert {o["solid_of"] for step in shown[1:-2] for o in step["objects"]} == {"hull"}
