"""Nobody teaches a class without consent, and a plan is open only to those it is shared with, while it is shared."""

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.demo.load import PASSWORD
from cubedrill.service.people import accounts
from cubedrill.store.tables import Classroom, Membership, Person

HERE, ELSEWHERE = 1, "Elsewhere"


@pytest.fixture
def harbour(app, sign_in):
    """Odile and Corin teach class 1, and she has a plan; Thea teaches a class of her own elsewhere, with Sten in it.

    Corin teaches a class of his own too, so that he is still an instructor after he has left class 1.
    """
    with Session(app.state.engine) as db, db.begin():
        elsewhere = Classroom(name=ELSEWHERE)
        people = [
            Person(sign_in=n, name=n.title(), password_hash=accounts.PASSWORDS.hash(PASSWORD))
            for n in ("thea", "sten", "corin")
        ]
        db.add_all([elsewhere, *people])
        db.flush()
        db.add_all(
            Membership(class_id=elsewhere.id, person_id=p.id, role=r)
            for p, r in zip(people[:2], ("instructor", "student"), strict=True)
        )
        own = Classroom(name="Corin's own")
        db.add(own)
        db.flush()
        db.add_all(Membership(class_id=c, person_id=people[2].id, role="instructor") for c in (HERE, own.id))
        ids = {"elsewhere": elsewhere.id, "thea": people[0].id, "sten": people[1].id}
        ids |= {
            name: db.scalar(select(Person.id).where(Person.sign_in == name))
            for name in ("odile", "pim", "theo", "corin")
        }
    callers = {name: sign_in(name) for name in ("odile", "thea", "sten")}
    ids["plan"] = callers["odile"].call("POST", "/api/plans", json={"title": "A stack"}).json()["plan"]
    return callers, ids


def role_of(app, class_id, person_id):
    with Session(app.state.engine) as db:
        found = db.get(Membership, (class_id, person_id))
        return None if found is None or found.left_at is not None else found.role


def roster(caller, class_id, sign_in, role):
    body = {"typed": [{"name": sign_in.title(), "sign_in": sign_in, "role": role}]}
    answer = caller.call("POST", f"/api/classes/{class_id}/roster", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()["rows"][0]


@pytest.mark.parametrize("whom", ["thea", "sten"])
def test_nobody_becomes_an_instructor_by_a_list_without_saying_yes(whom, app, harbour):
    callers, ids = harbour
    row = roster(callers["odile"], HERE, whom, "instructor")
    assert (row["does"], "must accept" in row["why"]) == ("invited", True)
    assert role_of(app, HERE, ids[whom]) is None
    (asked,) = callers[whom].get("/api/home").json()["invitations"]
    assert (asked["class_id"], asked["by"]) == (HERE, callers["odile"].get("/api/session").json()["name"])
    assert callers[whom].get(f"/api/classes/{HERE}").status_code == 404
    assert callers[whom].call("POST", f"/api/invitations/{HERE}").status_code == 204
    assert role_of(app, HERE, ids[whom]) == "instructor"
    assert callers[whom].get(f"/api/classes/{HERE}").status_code == 200
    assert callers[whom].get("/api/home").json()["invitations"] == []
    assert callers[whom].call("POST", f"/api/invitations/{HERE}").status_code == 404


def test_a_request_can_be_declined_and_withdrawn(app, harbour):
    callers, ids = harbour
    roster(callers["odile"], HERE, "thea", "instructor")
    roster(callers["odile"], HERE, "thea", "instructor")  # asked twice, it is one request
    assert [each["name"] for each in callers["odile"].get(f"/api/classes/{HERE}").json()["invited"]] == ["Thea"]
    assert callers["thea"].call("DELETE", f"/api/invitations/{HERE}").status_code == 204
    assert callers["thea"].call("POST", f"/api/invitations/{HERE}").status_code == 404
    roster(callers["odile"], HERE, "thea", "instructor")
    assert callers["odile"].call("DELETE", f"/api/classes/{HERE}/invitations/{ids['thea']}").status_code == 204
    assert callers["thea"].call("POST", f"/api/invitations/{HERE}").status_code == 404
    assert role_of(app, HERE, ids["thea"]) is None


def test_a_student_is_asked_too_and_stays_a_student_until_then(app, harbour, sign_in):
    callers, ids = harbour
    answer = callers["odile"].call("PUT", f"/api/classes/{HERE}/people/{ids['pim']}/role", json={"role": "instructor"})
    assert answer.status_code == 204
    assert role_of(app, HERE, ids["pim"]) == "student"
    pim = sign_in("pim")
    assert pim.call("POST", f"/api/invitations/{HERE}").status_code == 204
    assert role_of(app, HERE, ids["pim"]) == "instructor"


def test_a_removed_instructor_is_asked_again_and_requests_end_with_membership(app, harbour, sign_in):
    callers, ids = harbour
    corin = sign_in("corin")
    place = f"/api/classes/{HERE}/people/{ids['corin']}"
    assert role_of(app, HERE, ids["corin"]) == "instructor"
    assert callers["odile"].call("DELETE", place).status_code == 204
    assert roster(callers["odile"], HERE, "corin", "instructor")["does"] == "invited"
    assert corin.get(f"/api/classes/{HERE}").status_code == 404
    assert corin.call("POST", f"/api/invitations/{HERE}").status_code == 204
    assert corin.get(f"/api/classes/{HERE}").status_code == 200
    callers["odile"].call("PUT", f"{place}/role", json={"role": "student"})
    callers["odile"].call("PUT", f"{place}/role", json={"role": "instructor"})
    assert callers["odile"].call("DELETE", place).status_code == 204
    assert corin.call("POST", f"/api/invitations/{HERE}").status_code == 404


@pytest.mark.parametrize("by", ["code", "list"])
def test_a_removed_instructor_comes_back_as_a_student(by, app, harbour, sign_in):
    callers, ids = harbour
    corin = sign_in("corin")
    callers["odile"].call("DELETE", f"/api/classes/{HERE}/people/{ids['corin']}")
    if by == "code":
        code = callers["odile"].call("POST", f"/api/classes/{HERE}/codes", json={"minutes": 60}).json()["code"]
        assert corin.call("POST", "/api/session/class", json={"code": code}).status_code == 201
    else:
        assert roster(callers["odile"], HERE, "corin", "student")["does"] == "back"
    assert role_of(app, HERE, ids["corin"]) == "student"


def test_a_person_moved_into_a_class_where_she_once_taught_is_a_student_there(app, harbour, sign_in):
    callers, ids = harbour
    with Session(app.state.engine) as db, db.begin():
        db.add(Membership(class_id=ids["elsewhere"], person_id=ids["odile"], role="instructor"))
        taught_once = Membership(class_id=ids["elsewhere"], person_id=ids["pim"], role="instructor")
        taught_once.left_at = db.get(Membership, (HERE, ids["pim"])).since
        db.add(taught_once)
    place = f"/api/classes/{HERE}/people/{ids['pim']}"
    callers["odile"].call("PUT", f"{place}/role", json={"role": "instructor"})
    assert callers["odile"].call("POST", f"{place}/move", json={"to": ids["elsewhere"]}).status_code == 204
    assert role_of(app, ids["elsewhere"], ids["pim"]) == "student"
    assert sign_in("pim").call("POST", f"/api/invitations/{HERE}").status_code == 404  # asked before she was moved


# ---- plans


def share(callers, ids, *shares):
    answer = callers["odile"].call("PUT", f"/api/plans/{ids['plan']}/sharing", json={"shares": list(shares)})
    assert answer.status_code == 204, answer.text


def tried(caller, plan):
    """Return which actions on a plan succeed: view it, save its card, do a step, publish."""
    card = {"revision": caller.get(f"/api/plans/{plan}").json().get("revision", 0), "card": {"title": "Taken"}}
    step = {"revision": 0, "steps": [{"op": "marker", "to": [1, 0, 0], "objects": []}], "cursor": 1}
    seen = {"seen": {"card": 99, "stage": 0, "reference": 0}}
    return (
        caller.get(f"/api/plans/{plan}").status_code,
        caller.call("PUT", f"/api/plans/{plan}/stage/draft", json=step).status_code,
        caller.call("POST", f"/api/plans/{plan}/versions", json=seen).status_code,
        caller.call("PUT", f"/api/plans/{plan}/card", json=card).status_code,
        any(row["plan"] == plan for row in caller.get("/api/plans").json().get("plans", ())),
    )


NOTHING = (404, 404, 404, 404, False)
VIEW = (200, 403, 403, 403, True)
EDIT = (200, 200, 409, 200, True)


def test_teaching_a_class_together_opens_no_plan(harbour, sign_in):
    _callers, ids = harbour
    assert tried(sign_in("corin"), ids["plan"]) == NOTHING


@pytest.mark.parametrize(("right", "allowed"), [("view", VIEW), ("edit", EDIT)])
@pytest.mark.parametrize("by", ["class", "person"])
def test_a_plan_is_open_for_what_it_is_shared_for(right, allowed, by, harbour, sign_in):
    callers, ids = harbour
    whom = {"class_id": HERE} if by == "class" else {"person": ids["corin"]}
    share(callers, ids, {**whom, "right": right})
    corin = sign_in("corin")
    assert tried(corin, ids["plan"]) == allowed
    assert corin.get(f"/api/plans/{ids['plan']}").json()["may_edit"] is (right == "edit")
    assert corin.get(f"/api/plans/{ids['plan']}/sharing").status_code == 403  # the owner's alone
    assert corin.call("PUT", f"/api/plans/{ids['plan']}/archive", json={"archived": True}).status_code == 403
    assert corin.call("POST", "/api/plans", json={"from_plan": ids["plan"]}).status_code == 201  # a copy of one's own
    assert tried(callers["thea"], ids["plan"]) == NOTHING
    for student in (sign_in("pim"), callers["sten"]):
        assert student.get(f"/api/plans/{ids['plan']}").status_code == 404
    share(callers, ids)
    assert tried(corin, ids["plan"]) == NOTHING


@pytest.mark.parametrize("who", ["corin", "odile"])
def test_a_plan_shared_with_a_class_closes_when_either_leaves_it(who, app, harbour, sign_in):
    callers, ids = harbour
    share(callers, ids, {"class_id": HERE, "right": "edit"})
    corin = sign_in("corin")
    assert tried(corin, ids["plan"]) == EDIT
    with Session(app.state.engine) as db, db.begin():
        membership = db.get(Membership, (HERE, ids[who]))
        membership.left_at = membership.since
    assert corin.get(f"/api/plans/{ids['plan']}").status_code in (403, 404)
    assert all(row["plan"] != ids["plan"] for row in corin.get("/api/plans").json().get("plans", ()))


def test_a_plan_shared_with_a_class_is_closed_to_its_present_students(app, harbour, sign_in):
    callers, ids = harbour
    share(callers, ids, {"class_id": HERE, "right": "edit"})
    with Session(app.state.engine) as db, db.begin():
        db.get(Membership, (HERE, ids["corin"])).role = "student"
    assert sign_in("corin").get(f"/api/plans/{ids['plan']}").status_code == 404


def test_a_plan_is_shared_with_own_classes_and_those_who_teach_them_alone(harbour):
    callers, ids = harbour
    for whom in (
        {"class_id": ids["elsewhere"]},
        {"person": ids["thea"]},
        {"person": ids["pim"]},
        {"person": ids["odile"]},
    ):
        body = {"shares": [{**whom, "right": "view"}]}
        assert callers["odile"].call("PUT", f"/api/plans/{ids['plan']}/sharing", json=body).status_code == 404
    for bad in (
        [{"class_id": 1, "right": "view"}] * 2,
        [{"right": "view"}],
        [{"class_id": 1, "person": 2, "right": "view"}],
    ):
        assert (
            callers["odile"].call("PUT", f"/api/plans/{ids['plan']}/sharing", json={"shares": bad}).status_code == 422
        )
    found = callers["odile"].get(f"/api/plans/{ids['plan']}/sharing").json()
    assert ids["corin"] in [each["person"] for each in found["people"]]
    assert {ids["thea"], ids["pim"], ids["odile"]}.isdisjoint(each["person"] for each in found["people"])


# ---- versions


def published(caller):
    """A version that somebody published: a copy of one of the demo."""
    made = caller.call("POST", "/api/plans", json={"from_version": 1, "copy_of_it": True}).json()["plan"]
    seen = caller.get(f"/api/plans/{made}").json()["seen"]
    answer = caller.call("POST", f"/api/plans/{made}/versions", json={"seen": seen})
    assert answer.status_code == 201, answer.text
    return answer.json()["version"]


def test_a_version_of_somebody_elsewhere_cannot_be_seen_assigned_or_used_to_re_check(app, harbour, sign_in):
    callers, ids = harbour
    version = published(callers["odile"])
    thea, corin = callers["thea"], sign_in("corin")
    assign = {"version": version, "due": "2030-01-01T18:00:00"}
    assert thea.get(f"/api/versions/{version}/document").status_code == 404
    assert thea.get(f"/api/versions/{version}/drawing").status_code == 404
    assert thea.call("POST", "/api/plans", json={"from_version": version}).status_code == 404
    assert thea.call("POST", f"/api/classes/{ids['elsewhere']}/assignments", json=assign).status_code == 404
    own = thea.call("POST", f"/api/classes/{ids['elsewhere']}/assignments", json={**assign, "version": 1}).json()["id"]
    assert thea.call("PUT", f"/api/assignments/{own}/version", json={"version": version}).status_code == 404
    assert thea.call("POST", f"/api/assignments/{own}/recheck", json={"version": version}).status_code in (404, 422)
    assert corin.get(f"/api/versions/{version}/document").status_code == 200  # they teach a class together
    with Session(app.state.engine) as db, db.begin():
        for class_id in (1, 2, 3):
            membership = db.get(Membership, (class_id, ids["corin"]))
            if membership is not None and db.get(Membership, (class_id, ids["odile"])) is not None:
                membership.left_at = membership.since
    assert corin.get(f"/api/versions/{version}/document").status_code in (403, 404)


def test_one_class_s_list_that_names_another_class_s_student_changes_nothing_of_hers(app, harbour):
    callers, ids = harbour
    body = {"typed": [{"name": "Other Name", "sign_in": "pim", "email": "x@y.example"}]}
    row = callers["thea"].call("POST", f"/api/classes/{ids['elsewhere']}/roster", json=body).json()["rows"][0]
    assert row["does"] == "refused"

    with Session(app.state.engine) as db:
        pim = db.get(Person, ids["pim"])
        assert (pim.name, pim.email) != ("Other Name", "x@y.example")

    assert role_of(app, ids["elsewhere"], ids["pim"]) is None
    assert (
        callers["thea"]
        .call("POST", f"/api/classes/{ids['elsewhere']}/slips", json={"people": [ids["pim"]]})
        .status_code
        == 404
    )
