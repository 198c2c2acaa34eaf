"""The described API: the committed description is the running one, and requests made from it break nothing."""

import json
import threading
import time
from contextlib import contextmanager
from pathlib import Path

import httpx2
import pytest
import schemathesis
import uvicorn
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from cubedrill.api.app import create_app
from cubedrill.demo.load import PASSWORD
from cubedrill.settings import Settings
from tests.conftest import database_named, own_name
from tests.tiers import long

COMMITTED = Path(__file__).parents[2] / "web" / "openapi.json"


def test_the_description_that_the_client_is_generated_from_is_fresh():
    running = create_app(Settings(database_url="")).openapi()
    committed = json.loads(COMMITTED.read_text(encoding="utf-8"))
    assert committed == running, "The API has changed: run ./run client and commit what it writes."


@pytest.fixture(scope="module")
def served(template):
    """Somebody before a server over HTTP on a database of its own, for requests of every kind."""
    with (
        database_named(template, own_name("schemathesis")) as url,
        serving(create_app(Settings(database_url=url))) as address,
        httpx2.Client(base_url=address) as http,
    ):
        yield http


schema = schemathesis.openapi.from_path(COMMITTED)
# Seventeen kinds of step with all their spaces and points: every boundary of each would be tens of thousands of requests.
schema.config.phases.coverage.enabled = False


@long
@schema.parametrize()
@settings(max_examples=5, suppress_health_check=list(HealthCheck))
def test_requests_made_from_the_description_get_described_answers(case, served):
    # Signed in anew each time: among the requests is the one that signs out.
    served.cookies.clear()
    answer = served.post("/api/session", json={"sign_in": "pim", "password": PASSWORD})
    headers = {"X-CSRF-Token": answer.json()["csrf_token"], "Cookie": answer.headers["set-cookie"].split(";")[0]}
    checks = [not_a_server_error, status_code_conformance, response_schema_conformance]
    case.call_and_validate(base_url=str(served.base_url).rstrip("/"), headers=headers, checks=checks)


@contextmanager
def serving(app):
    """Serve an application on a free port of this machine, from a thread."""
    server = uvicorn.Server(uvicorn.Config(app, port=0, log_level="warning"))
    thread = threading.Thread(target=server.run)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    port = server.servers[0].sockets[0].getsockname()[1]
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join()
