"""./run demo's program: what it starts it stops, what was done is there again, and nothing else is touched."""

import json
import signal
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path

import pytest

from cubedrill.demo.load import HERE, PASSWORD
from tests.api.conftest import RIGHT
from tests.tiers import long

ROOT = Path(__file__).parents[2]
SUBMISSIONS = HERE / "submissions"


class Demo:
    def __init__(self, data):
        words = [sys.executable, "-m", "tools.demo", "--data", str(data)]
        self.process = subprocess.Popen(words, cwd=ROOT, stdout=subprocess.PIPE, text=True)
        self.said = ""
        for line in self.process.stdout:
            self.said += line
            if "Ctrl-C stops it" in line:
                break
        self.address = next(word for word in self.said.split() if word.startswith("http"))

    def ask(self, method, path, body=None, **headers):
        content = None if body is None else json.dumps(body).encode()
        return self.send(path, content, method, "application/json", **headers)

    def send(self, path, content, method="POST", kind="application/octet-stream", **headers):
        headers = {"Content-Type": kind, **{k.replace("_", "-"): v for k, v in headers.items()}}
        return urllib.request.urlopen(urllib.request.Request(self.address + path, content, headers, method=method))

    def signed_in(self):
        with self.ask("POST", "/api/session", {"sign_in": "pim", "password": PASSWORD}) as answer:
            token = json.load(answer)["csrf_token"]
            return {"Cookie": answer.headers["set-cookie"].split(";")[0], "X_CSRF_Token": token}

    def stop(self):
        self.process.send_signal(signal.SIGINT)
        self.process.stdout.read()
        status = self.process.wait(30)
        self.process.stdout.close()
        return status


def servers_on(data):
    listed = subprocess.run(["ps", "-eo", "args"], capture_output=True, text=True, check=True).stdout
    return [
        line for line in listed.splitlines() if str(data) in line and "postgres" in line and "tools.demo" not in line
    ]


@long
def test_the_demo_starts_stops_and_starts_again_with_the_same_data(tmp_path_factory):
    data = tmp_path_factory.mktemp("demo")
    demo = Demo(data)
    assert f"the password is {PASSWORD}" in demo.said
    who = demo.signed_in()
    demo.ask("PUT", "/api/assignments/1/draft", {"revision": 0, "cursor": 1, "steps": [RIGHT]}, **who).close()

    # Loading the demo reads files too: the web processes read theirs all the same.
    content = (SUBMISSIONS / "stretched-buoy" / "ansel.stl").read_bytes()
    with demo.send("/api/assignments/7/files?name=ansel.stl", content, **who) as answer:
        assert json.load(answer)["kind"] == "scene"

    second = subprocess.run(
        [sys.executable, "-m", "tools.demo", "--data", str(data)], cwd=ROOT, capture_output=True, text=True, check=True
    )
    assert f"running already, at {demo.address}" in second.stdout

    assert demo.stop() == 0
    assert servers_on(data) == []
    with pytest.raises(urllib.error.URLError):
        demo.ask("GET", "/api/health")

    demo = Demo(data)
    with demo.ask("GET", "/api/assignments/1/bench", **demo.signed_in()) as answer:
        assert len(json.load(answer)["draft"]["steps"]) == 1
    taken = demo.address.rpartition(":")[2]
    other = subprocess.run(
        [sys.executable, "-m", "tools.demo", "--data", str(tmp_path_factory.mktemp("other")), "--port", taken],
        cwd=ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert (other.returncode, other.stderr) == (
        1, f"Port {taken} is in use; stop what uses it, or leave --port out.\n"
    )  # fmt: skip
    demo.process.send_signal(signal.SIGTERM)
    assert demo.stop() == 0
    assert servers_on(data) == []
    with pytest.raises(urllib.error.URLError):
        demo.ask("GET", "/api/health")
