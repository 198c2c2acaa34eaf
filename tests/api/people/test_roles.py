"""Every route with every role: who may, who may not. A new route without a row here fails."""

import json

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.service.people import accounts
from cubedrill.store.tables import Classroom, Membership, Person
from tests.api.conftest import CRATES, RIGHT, Caller, opened
from tests.api.test_openapi import COMMITTED
from tests.conftest import database_named, own_name

SAVE = {"revision": 0, "steps": [RIGHT], "cursor": 1}
SHEET = {"revision": 0, "sheet": {"conventions": {}, "rows": [{"object": "crate-rope", "translation": [1, 2, 3]}]}}
SCENE = b'{"objects": [{"id": "crate-rope", "translation": [1, 2, 3]}]}'
# Who is asked for: nobody; the student whose work it is; another student of the class; the instructor; somebody of
# another class (student there, and instructor there).
ROLES = ("nobody", "owner", "classmate", "instructor", "stranger", "other-instructor")
PLAN = (401, 404, 404, 200, 404, 404)  # a plan of the instructor's that is not shared
TAUGHT = (401, 403, 403, 200, 404, 404)  # for the instructors of the class alone
ROUTES = {
    ("GET", "/api/health"): (None, (200, 200, 200, 200, 200, 200)),
    ("POST", "/api/session"): ({"sign_in": "x", "password": "y"}, (401, 401, 401, 401, 401, 401)),
    ("DELETE", "/api/session/others"): (None, (401, 204, 204, 204, 204, 204)),
    ("GET", "/api/session"): (None, (401, 200, 200, 200, 200, 200)),
    ("DELETE", "/api/session"): (None, (401, 204, 204, 204, 204, 204)),
    ("GET", "/api/home"): (None, (401, 200, 200, 200, 200, 200)),
    ("GET", "/api/assignments/{assignment}/bench"): (None, (401, 200, 200, 403, 404, 404)),
    ("PUT", "/api/assignments/{assignment}/draft"): (SAVE, (401, 409, 200, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/look"): ({"steps": [RIGHT], "cursor": 1}, (401, 200, 200, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/preview"): (
        {"steps": [RIGHT], "cursor": 1},
        (401, 200, 200, 403, 404, 404),
    ),
    ("POST", "/api/assignments/{assignment}/say"): (
        {"steps": [], "cursor": 0, "line": "drop"},
        (401, 200, 200, 403, 404, 404),
    ),
    ("POST", "/api/assignments/{assignment}/text"): ({"steps": [RIGHT], "cursor": 1}, (401, 200, 200, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/lines"): ({"text": "# nothing"}, (401, 200, 200, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/measures"): (
        {"steps": [], "cursor": 0, "asked": []},
        (401, 200, 200, 403, 404, 404),
    ),
    ("POST", "/api/assignments/{assignment}/submissions"): ({"revision": 1}, (401, 201, 409, 403, 404, 404)),
    ("GET", "/api/assignments/{assignment}/sheet"): (None, (401, 200, 200, 403, 404, 404)),
    ("PUT", "/api/assignments/{assignment}/sheet"): (SHEET, (401, 200, 200, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/sheet/submissions"): ({"revision": 0}, (401, 422, 422, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/files"): (SCENE, (401, 201, 201, 403, 404, 404)),
    ("GET", "/api/assignments/{assignment}/files/{file}"): (None, (401, 200, 404, 403, 404, 404)),
    ("POST", "/api/assignments/{assignment}/files/{file}/submissions"): ({}, (401, 201, 404, 403, 404, 404)),
    ("GET", "/api/assignments/{assignment}/scenes/{which}"): (None, (401, 200, 200, 403, 404, 404)),
    ("GET", "/api/submissions/{submission}/scene"): (None, (401, 200, 404, 200, 404, 404)),
    ("GET", "/api/submissions/{submission}/file"): (None, (401, 200, 404, 200, 404, 404)),
    ("GET", "/api/plans/{plan}/scenes/{which}"): (None, PLAN),
    ("POST", "/api/plans/files"): (SCENE, (401, 403, 403, 201, 403, 201)),
    ("GET", "/api/alive"): (None, (200, 200, 200, 200, 200, 200)),
    ("GET", "/api/session/all"): (None, (401, 200, 200, 200, 200, 200)),
    ("DELETE", "/api/session/all/{one}"): (None, (401, 404, 404, 404, 404, 404)),
    ("PUT", "/api/session/password"): ({"old": "guess", "new": "a new one of mine"}, (401, 422, 422, 422, 422, 422)),
    ("POST", "/api/session/class"): ({"code": "NOSUCH2"}, (401, 422, 422, 422, 422, 422)),
    ("POST", "/api/session/new"): (
        {"code": "NOSUCH2", "name": "Zoe", "sign_in": "zoe", "password": "a new one of mine"},
        (422, 422, 422, 422, 422, 422),
    ),
    ("GET", "/api/classes"): (None, (401, 403, 403, 200, 403, 200)),
    ("POST", "/api/classes"): ({"name": "Slipway", "time_zone": "UTC"}, (401, 403, 403, 201, 403, 201)),
    ("GET", "/api/classes/{class}"): (None, TAUGHT),
    ("PUT", "/api/classes/{class}"): ({"name": "Slipway", "time_zone": "UTC"}, (401, 403, 403, 204, 404, 404)),
    ("PUT", "/api/classes/{class}/archive"): ({"archived": True}, (401, 403, 403, 204, 404, 404)),
    ("GET", "/api/classes/{class}/copy"): (None, TAUGHT),
    ("POST", "/api/classes/{class}/copy"): ({"name": "Slipway", "rows": []}, (401, 403, 403, 201, 404, 404)),
    ("PUT", "/api/classes/{class}/weights"): ({"weights": []}, (401, 403, 403, 204, 404, 404)),
    ("GET", "/api/classes/{class}/activity"): (None, TAUGHT),
    ("GET", "/api/classes/{class}/board"): (None, TAUGHT),
    ("GET", "/api/classes/{class}/marks"): (None, TAUGHT),
    ("GET", "/api/classes/{class}/students/{student}"): (None, TAUGHT),
    ("POST", "/api/classes/{class}/roster/preview"): ({"typed": [{"name": "Zoe"}]}, TAUGHT),
    ("POST", "/api/classes/{class}/roster"): ({"typed": [{"name": "Zoe"}]}, (401, 403, 403, 201, 404, 404)),
    ("POST", "/api/classes/{class}/codes"): ({"minutes": 45}, (401, 403, 403, 201, 404, 404)),
    ("DELETE", "/api/classes/{class}/codes/{code}"): (None, (401, 403, 403, 422, 404, 404)),
    ("POST", "/api/classes/{class}/slips"): ({"people": [2**40]}, (401, 403, 403, 404, 404, 404)),
    ("PUT", "/api/classes/{class}/people/{person_id}/role"): (
        {"role": "instructor"},
        (401, 403, 403, 204, 404, 404),
    ),
    ("DELETE", "/api/classes/{class}/invitations/{person_id}"): (None, (401, 403, 403, 404, 404, 404)),
    ("POST", "/api/invitations/{class}"): (None, (401, 404, 404, 404, 404, 404)),
    ("DELETE", "/api/invitations/{class}"): (None, (401, 404, 404, 404, 404, 404)),
    ("POST", "/api/classes/{class}/people/{person_id}/move"): ({"to": 2}, (401, 403, 403, 404, 404, 404)),
    ("DELETE", "/api/classes/{class}/people/{person_id}"): (None, (401, 403, 403, 204, 404, 404)),
    ("POST", "/api/classes/{class}/people/{person_id}/erasure"): ({"name": "x"}, (401, 403, 403, 404, 404, 404)),
    ("POST", "/api/classes/{class}/assignments"): (
        {"version": 1, "due": "2030-01-01T18:00:00"},
        (401, 403, 403, 409, 404, 404),
    ),
    ("GET", "/api/assignments/{assignment}/drawing"): (None, (401, 200, 200, 403, 404, 404)),
    ("GET", "/api/assignments/{assignment}/settings"): (None, (401, 403, 403, 200, 404, 404)),
    ("PUT", "/api/assignments/{assignment}/settings"): (
        {"due": "2030-01-01T18:00:00"},
        (401, 403, 403, 204, 404, 404),
    ),
    ("PUT", "/api/assignments/{assignment}/exceptions"): (
        {"people": [2**40], "excused": True},
        (401, 403, 403, 404, 404, 404),
    ),
    ("GET", "/api/calendar"): (None, (401, 200, 200, 200, 200, 200)),
    ("POST", "/api/calendar"): (None, (401, 201, 201, 201, 201, 201)),
    ("GET", "/api/calendar/{token}.ics"): (None, (404, 404, 404, 404, 404, 404)),
    ("PUT", "/api/assignments/{assignment}/version"): ({"version": 1}, (401, 403, 403, 200, 404, 404)),
    ("GET", "/api/assignments/{assignment}/insight"): (None, (401, 403, 403, 200, 404, 404)),
    ("GET", "/api/assignments/{assignment}/remarks"): (None, (401, 403, 403, 200, 404, 404)),
    ("GET", "/api/assignments/{assignment}/marks"): (None, (401, 403, 403, 200, 404, 404)),
    ("GET", "/api/assignments/{assignment}/recheck"): (None, (401, 403, 403, 200, 404, 404)),
    ("POST", "/api/assignments/{assignment}/recheck"): ({}, (401, 403, 403, 409, 404, 404)),
    ("GET", "/api/rechecks/{recheck}"): (None, (401, 403, 403, 200, 404, 404)),
    ("DELETE", "/api/rechecks/{recheck}"): (None, (401, 403, 403, 204, 404, 404)),
    ("POST", "/api/rechecks/{recheck}/acceptance"): ({}, (401, 403, 403, 409, 404, 404)),
    ("POST", "/api/submissions/{submission}/reviewed"): (None, (401, 204, 404, 204, 404, 404)),
    ("GET", "/api/assignments/{assignment}/submissions"): (None, (401, 403, 403, 200, 404, 404)),
    ("POST", "/api/submissions/{submission}/reviews"): ({"text": "Well done."}, (401, 403, 404, 204, 404, 404)),
    ("GET", "/api/submissions/{submission}"): (None, (401, 200, 404, 200, 404, 404)),
    ("GET", "/api/plans"): (None, (401, 403, 403, 200, 403, 200)),
    ("POST", "/api/plans"): ({"title": "A stack"}, (401, 403, 403, 201, 403, 201)),
    ("GET", "/api/plans/{plan}"): (None, PLAN),
    ("PUT", "/api/plans/{plan}/card"): ({"revision": 0, "card": {"title": "A stack"}}, PLAN),
    ("PUT", "/api/plans/{plan}/conventions"): (
        {"seen": {"card": 9, "stage": 0, "reference": 0}, "conventions": {"up": "z"}, "keep": "picture"},
        (401, 404, 404, 409, 404, 404),
    ),
    ("PUT", "/api/plans/{plan}/target"): (
        {"seen": {"card": 9, "stage": 0, "reference": 0}},
        (401, 404, 404, 409, 404, 404),
    ),
    ("PUT", "/api/plans/{plan}/archive"): ({"archived": True}, (401, 404, 404, 204, 404, 404)),
    ("GET", "/api/plans/{plan}/sharing"): (None, PLAN),
    ("PUT", "/api/plans/{plan}/sharing"): ({"shares": []}, (401, 404, 404, 204, 404, 404)),
    ("POST", "/api/plans/{plan}/checks"): ({"checks": []}, PLAN),
    ("GET", "/api/plans/{plan}/proposals"): (None, PLAN),
    ("GET", "/api/plans/{plan}/soundness"): (None, PLAN),
    ("POST", "/api/plans/{plan}/versions"): (
        {"seen": {"card": 9, "stage": 0, "reference": 1}},
        (401, 404, 404, 409, 404, 404),
    ),
    ("GET", "/api/plans/{plan}/document"): (None, PLAN),
    ("GET", "/api/versions/{version}/document"): (None, (401, 403, 403, 200, 403, 200)),
    ("POST", "/api/plans/{plan}/trial/result"): (None, (401, 404, 404, 422, 404, 404)),
    ("POST", "/api/plans/{plan}/trial/mistake"): ({"number": 0}, (401, 404, 404, 204, 404, 404)),
    ("GET", "/api/plans/{plan}/mistakes/{number}"): (None, (401, 404, 404, 200, 404, 404)),
    ("GET", "/api/versions/{version}/drawing"): (None, (401, 403, 403, 200, 403, 200)),
    ("GET", "/api/plans/{plan}/{part}"): (None, PLAN),
    ("PUT", "/api/plans/{plan}/{part}/draft"): (SAVE, PLAN),
    ("POST", "/api/plans/{plan}/{part}/look"): ({"steps": [RIGHT], "cursor": 1}, PLAN),
    ("POST", "/api/plans/{plan}/{part}/preview"): ({"steps": [RIGHT], "cursor": 1}, PLAN),
    ("POST", "/api/plans/{plan}/{part}/say"): ({"steps": [], "cursor": 0, "line": "drop"}, PLAN),
    ("POST", "/api/plans/{plan}/{part}/text"): ({"steps": [RIGHT], "cursor": 1}, PLAN),
    ("POST", "/api/plans/{plan}/{part}/lines"): ({"text": "# nothing"}, PLAN),
    ("POST", "/api/plans/{plan}/{part}/measures"): ({"steps": [], "cursor": 0, "asked": []}, PLAN),
}

# What a route is asked with, by the end of its path.
QUERIES = {
    "marks": "?kind=csv",
    "files": "?name=a.json",
    "{which}": "?kind=.json",
    "scene": "?kind=.json",
    "copy": "?first_day=2030-01-07",
}


LIVE = ("GET", "/api/classes/{class}/live")


@pytest.fixture(scope="module")
def prepared(unopened, template):
    """A database to be cloned, in which somebody is signed in for every role; these callers, and what stands in paths."""
    name = own_name("roles")
    with database_named(template, name) as url:
        with opened(unopened, url) as app:
            callers, names = _prepare(app)
        yield name, callers, names


@pytest.fixture
def people(prepared, unopened, template):
    """Somebody for every role; the owner has handed something in. Returns callers and what stands in paths."""
    name, callers, names = prepared
    with database_named(template, own_name("roles_now"), name) as url, opened(unopened, url):
        yield {role: _again(unopened, caller) for role, caller in callers.items()}, names


def _again(app, caller):
    """The same person at another browser: who signs out in one test is not signed out in the next."""
    same = Caller(app, None)
    same.headers, same.http.cookies = caller.headers, dict(caller.http.cookies)
    return same


def _prepare(app):
    engine = app.state.engine
    with Session(engine) as db, db.begin():
        elsewhere = Classroom(name="Elsewhere")
        password_hash = accounts.PASSWORDS.hash("harbour-light")
        strangers = [Person(sign_in=n, name=n, password_hash=password_hash) for n in ("stranger", "other-instructor")]
        db.add_all([elsewhere, *strangers])
        db.flush()
        roles = zip(strangers, ("student", "instructor"), strict=True)
        db.add_all(Membership(class_id=elsewhere.id, person_id=person.id, role=role) for person, role in roles)
    names = {"nobody": None, "owner": "pim", "classmate": "theo", "instructor": "odile"}
    callers = {role: Caller(app, names.get(role, role)) for role in ROLES}
    owner = callers["owner"]
    assert owner.save(0, [RIGHT]).status_code == 200
    files = f"/api/assignments/{CRATES}/files"
    handed = owner.call("POST", f"{files}?name=a.json", content=SCENE).json()["file"]
    return callers, {
        "assignment": CRATES,
        "submission": owner.call("POST", f"{files}/{handed}/submissions", json={}).json()["submission"],
        "file": owner.call("POST", f"{files}?name=b.json", content=SCENE).json()["file"],
        "which": "start",
        "plan": callers["instructor"].call("POST", "/api/plans", json={"from_version": 1}).json()["plan"],
        "version": 1,
        "part": "trial",
        "number": 0,
        "class": 1,
        "one": "0" * 16,
        "code": "NOSUCH2",
        "token": "a" * 43,
        "student": _number_of(engine, "theo"),
        "person_id": _number_of(engine, "theo"),
        "recheck": callers["instructor"].call("POST", f"/api/assignments/{CRATES}/recheck", json={}).json()["id"],
    }


def _number_of(engine, sign_in):
    with Session(engine) as db:
        return db.scalar(select(Person.id).where(Person.sign_in == sign_in))


def test_every_route_has_its_row():
    described = json.loads(COMMITTED.read_text(encoding="utf-8"))  # which is the running one; see test_openapi.py
    routes = {(m.upper(), path) for path, item in described["paths"].items() for m in item}
    assert routes == {*ROUTES, LIVE}  # which stays open; see test_board.py


def held(people, route):
    """Ask as each role, and hold the answers against the route's row; every refusal is a sentence."""
    callers, names = people
    (method, path), (body, expected) = route, ROUTES[route]
    filled = path.format(**names) + QUERIES.get(path.rpartition("/")[2], "")
    sent = {"content": body} if isinstance(body, bytes) else {"json": body}
    answers = {role: callers[role].call(method, filled, **sent) for role in ROLES}
    assert {role: answer.status_code for role, answer in answers.items()} == dict(zip(ROLES, expected, strict=True)), (
        path
    )
    for answer in answers.values():
        if answer.status_code >= 400:
            assert answer.headers["content-type"] == "application/problem+json"
            problem = answer.json()
            assert problem["status"] == answer.status_code
            assert problem["detail"].endswith(".")
            assert problem["title"]


def test_read_only_routes_answer_each_role_correctly(people):
    for route in ROUTES:
        if route[0] == "GET":
            held(people, route)


@pytest.mark.parametrize("route", [route for route in ROUTES if route[0] != "GET"], ids=" ".join)
def test_a_route_answers_each_role_as_it_should_and_refuses_in_a_sentence(people, route):
    held(people, route)


@pytest.mark.parametrize("role", ["owner", "instructor"])
def test_missing_things_give_not_found(people, role):
    callers, _ = people
    for path in ("/api/assignments/999/bench", "/api/submissions/999", "/api/nothing", "/api/assignments/0/bench"):
        assert callers[role].get(path).status_code in (404, 422)
