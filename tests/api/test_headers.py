"""What holds for all answers: headers, sizes, the screens and unknown paths."""

import pytest
from fastapi.testclient import TestClient

from cubedrill.api.app import create_app
from cubedrill.api.edge.body_limit import LARGEST
from cubedrill.settings import Settings, SettingsError, settings_from


def test_every_answer_allows_only_our_own_origin(sign_in):
    for path in ("/api/health", "/api/session", "/", "/nowhere"):
        answer = sign_in(None).get(path)
        assert "default-src 'self'" in answer.headers["content-security-policy"]
        assert answer.headers["x-content-type-options"] == "nosniff"


def test_answers_of_the_api_are_never_kept_by_browsers(sign_in):
    assert sign_in("pim").get("/api/home").headers["cache-control"] == "no-store"


def test_bodies_that_are_too_large_or_of_unknown_length_are_refused(sign_in):
    caller = sign_in("pim")
    answer = caller.call("PUT", "/api/assignments/1/draft", content=b" " * (LARGEST + 1))
    assert (answer.status_code, answer.json()["code"]) == (413, "too-large")
    chunked = caller.call("PUT", "/api/assignments/1/draft", content=iter([b"{}"]))
    assert (chunked.status_code, chunked.json()["code"]) == (411, "length-missing")


def test_bodies_that_are_not_json_are_refused(sign_in):
    answer = sign_in("pim").call("PUT", "/api/assignments/1/draft", content=b"{")
    assert (answer.status_code, answer.json()["code"]) == (400, "unreadable")


def test_every_path_but_the_apis_gives_the_one_page(app, sign_in):
    assert sign_in(None).get("/").status_code == 503  # the screens are not built
    (app.state.settings.screens / "index.html").write_text("<title>Cube Drill</title>")
    for path in ("/", "/bench/1", "/../../etc/passwd"):
        assert "Cube Drill" in sign_in(None).get(path).text
    assert sign_in(None).get("/api/nothing").status_code == 404


def test_settings_come_from_the_environment():
    settings = settings_from({"CUBE_DRILL_DATABASE_URL": "postgresql://x", "CUBE_DRILL_SECURE_COOKIES": "1"})
    assert settings.secure_cookies
    with pytest.raises(SettingsError, match="CUBE_DRILL_DATABASE_URL"):
        settings_from({})


def test_the_cookie_is_secure_behind_https(database_url, tmp_path):
    app = create_app(Settings(database_url=database_url, secure_cookies=True, screens=tmp_path))
    with TestClient(app) as http:
        answer = http.post("/api/session", json={"sign_in": "pim", "password": "harbour-light"})
        cookie = answer.headers["set-cookie"].lower()
        assert cookie.startswith("__host-")
        assert "; secure" in cookie
        assert "path=/;" in cookie
        assert "domain" not in cookie
        assert "max-age=" in answer.headers["strict-transport-security"]
