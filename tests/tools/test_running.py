"""docs/running.md, word by word: its own commands, as an ordinary user, in an empty folder, with nginx in front.

What needs the machine's root or systemd is not done but looked at: the user that is made is the one that the units name,
and what the units start is started here as they say it.
"""

from __future__ import annotations

import os
import re
import shutil
import signal
import subprocess
import time
from contextlib import ExitStack, contextmanager
from pathlib import Path

import httpx2
import pytest
from sqlalchemy import make_url
from tools.served import PATIENCE_S
from tools.unused_port import unused_port

from tests.tiers import long
from tests.tools.test_wheel import wheel_of

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "running.md").read_text()
SETTING_UP = PAGE.split("## Setting it up")[1].split("## Is it well?")[0]
COMMANDS = [
    line.strip()
    for block in re.findall(r"```sh\n(.*?)```", SETTING_UP, re.DOTALL)
    for line in block.strip().splitlines()
]
UNITS = {name: (ROOT / "deploy" / f"cube-drill-{name}.service").read_text() for name in ("web", "work")}
NOBODY = 65534


def commands(beginning):
    found = [line for line in COMMANDS if line.startswith(beginning)]
    assert found, f"the page has no command that begins with {beginning}"
    return found


class Machine:
    """An empty folder in place of a machine: /opt and /etc of the page are folders in it."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder, self.port = folder, port
        self.as_nobody = {"user": NOBODY, "group": NOBODY, "extra_groups": []} if os.geteuid() == 0 else {}

    def there(self, text: str) -> str:
        for place in ("/opt/cube-drill", "/etc/cube-drill", "/etc/systemd", "/etc/nginx", "/var/log/cube-drill"):
            text = text.replace(place, f"{self.folder}{place}")
        return text

    def environment(self) -> dict[str, str]:
        return {"PATH": "/usr/bin:/bin", "HOME": str(self.folder), "LANG": "C.UTF-8"}

    def run(self, command: str) -> str:
        """Run a command of the page as an ordinary user; who it would be run as is left out."""
        bare = re.sub(r"^runuser -u [a-z-]+ -- ", "", self.there(command))
        bare = bare.replace("-o root -g cube-drill ", "").replace("python3 -m venv", "/usr/bin/python3 -m venv")
        words = ["sh", "-euc", bare]
        done = subprocess.run(
            words,
            cwd=self.folder,
            env=self.environment(),
            capture_output=True,
            text=True,
            check=False,
            timeout=600,
            **self.as_nobody,
        )
        assert done.returncode == 0, f"{command}\n{done.stdout}{done.stderr}"
        return done.stdout

    @contextmanager
    def started(self, unit: str, settings: dict[str, str]):
        """Return the command of a unit."""
        (line,) = re.findall(r"^ExecStart=(.*)$", UNITS[unit], re.MULTILINE)
        words = self.there(line).replace("--port 8400", f"--port {self.port}").split()
        with (self.folder / f"{unit}.log").open("w") as log:
            process = subprocess.Popen(
                words, cwd=self.folder, env={**self.environment(), **settings}, stdout=log, stderr=log, **self.as_nobody
            )
        try:
            yield process
        finally:
            process.send_signal(signal.SIGTERM)
            assert process.wait(60) in (0, 143, -signal.SIGTERM), (self.folder / f"{unit}.log").read_text()


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    """The wheel that `./run wheel` builds."""
    return wheel_of(tmp_path_factory.mktemp("wheel"))


@pytest.fixture
def machine(tmp_path, wheel):
    folder = tmp_path / "machine"
    folder.mkdir()
    for name in ("requirements.lock", "deploy"):
        (shutil.copytree if (ROOT / name).is_dir() else shutil.copy)(ROOT / name, folder / name)
    shutil.copy(wheel, folder)
    for place in ("etc/systemd/system", "etc/nginx", "var/log/cube-drill", "opt/cube-drill"):
        (folder / place).mkdir(parents=True)
    if os.geteuid() == 0:
        for each in (folder, *folder.rglob("*")):
            os.chown(each, NOBODY, NOBODY)
        for above in (tmp_path, *tmp_path.parents):
            if above.owner() == "root" and str(above).startswith(("/tmp/pytest", "/tmp/")):  # noqa: S108
                above.chmod(above.stat().st_mode | 0o011)
    return Machine(folder, unused_port())


@long
def test_the_units_run_as_the_user_that_the_page_makes():
    (made,) = commands("useradd")
    user, home = made.split()[-1], re.search(r"--home-dir (\S+)", made)[1]
    for unit in UNITS.values():
        assert re.search(r"^User=(.*)$", unit, re.MULTILINE)[1] == user
        assert re.search(r"^Group=(.*)$", unit, re.MULTILINE)[1] == user
        assert re.search(r"^ExecStart=(\S+)", unit, re.MULTILINE)[1].startswith(f"{home}/venv/bin/")
        assert "EnvironmentFile=/etc/cube-drill/environment" in unit
    (first,) = commands("runuser -u cube-drill")
    assert "/etc/cube-drill/environment" in first
    (placed,) = commands("install -D")
    assert placed.endswith("deploy/environment /etc/cube-drill/environment")
    assert all(f"deploy/cube-drill-{name}.service" in commands("install -m")[0] for name in UNITS)


@long
def test_the_page_is_followed_to_the_first_instructor(machine, postgres_url):
    server = make_url(postgres_url)
    superuser = {
        "PGHOST": server.host,
        "PGPORT": str(server.port),
        "PGUSER": server.username or "",
        "PGPASSWORD": server.password or "",
        "PGDATABASE": "postgres",
    }
    plain = {"cubedrill": "cubedrill_running", "cubedrill_worker": "cubedrill_running_worker"}

    def own(text):
        return re.sub(r"\bcubedrill(_worker)?\b", lambda found: plain[found[0]], text)

    def as_postgres(command):
        words = own(command.removeprefix("runuser -u postgres -- "))
        subprocess.run(words, shell=True, env={**os.environ, **superuser}, check=True, capture_output=True)  # noqa: S602 - the page's own

    drop = (
        "drop database if exists cubedrill_running with (force)",
        "drop role if exists cubedrill_running_worker",
        "drop role if exists cubedrill_running",
    )
    for statement in drop:  # of a run that was killed
        subprocess.run(
            ["psql", "-d", "postgres", "-c", statement],
            env={**os.environ, **superuser},
            check=True,
            capture_output=True,
        )
    for command in commands("runuser -u postgres"):
        as_postgres(command)
    for command in (
        *commands("python3 -m venv"),
        *commands("/opt/cube-drill/venv/bin/pip"),
        *commands("install -D"),
        *commands("install -m"),
    ):
        machine.run(command)
    kept = Path(machine.there("/etc/cube-drill/environment"))
    assert kept.stat().st_mode & 0o777 == 0o640
    text = own(machine.there(kept.read_text())).replace("127.0.0.1:5432", f"{server.host}:{server.port}")
    kept.write_text(text)
    settings = dict(line.split("=", 1) for line in text.splitlines() if line and not line.startswith("#"))
    with ExitStack() as running:
        # Both at once on an empty database: they wait for one another.
        for unit in UNITS:
            running.enter_context(machine.started(unit, settings))
        place = running.enter_context(proxied(machine))
        http = running.enter_context(
            httpx2.Client(base_url=place, verify=False, timeout=30, headers={"Host": "drill.example.org"})
        )
        until(lambda: http.get("/api/health").status_code == 200)
        (first,) = commands("runuser -u cube-drill")
        printed = machine.run(first)
        password = re.search(r"sign in as odile with (\S+) until", printed)[1]
        page = http.get("/")
        assert (page.status_code, page.headers["content-type"].partition(";")[0]) == (200, "text/html")
        script = re.search(r'src="(/assets/[^"]+\.js)"', page.text)[1]
        assert http.get(script).status_code == 200
        signed = http.post("/api/session", json={"sign_in": "odile", "password": password})
        assert signed.status_code == 201, signed.text
        assert "Secure" in signed.headers["set-cookie"]
        http.cookies.set(*signed.headers["set-cookie"].partition(";")[0].split("=", 1))
        http.headers["X-CSRF-Token"] = signed.json()["csrf_token"]
        changed = {"old": password, "new": "a tide of one's own"}
        assert http.put("/api/session/password", json=changed).status_code == 204
        made = http.post("/api/classes", json={"name": "First class", "time_zone": "Europe/Lisbon"})
        assert made.status_code == 201, made.text
        with http.stream("GET", f"/api/classes/{made.json()['id']}/live") as stream:
            assert next(stream.iter_lines()) == "event: again"
        large = http.post(
            "/api/plans/files?name=a.json",
            content=b"x" * 2_000_000,
            headers={"Content-Type": "application/octet-stream"},
        )
        assert large.status_code == 422  # it came through, and is no scene
    log = (machine.folder / "web.log").read_text() + (machine.folder / "work.log").read_text()
    assert "UniqueViolation" not in log
    assert "Traceback" not in log


def until(found):
    end = time.monotonic() + PATIENCE_S
    while True:
        try:
            if found():
                return
        except httpx2.HTTPError:
            pass
        assert time.monotonic() < end, "it did not come about"
        time.sleep(0.2)


@contextmanager
def proxied(machine):
    """nginx with the page's own configuration, at another port, with a certificate made for it."""
    port, etc = unused_port(), Path(machine.there("/etc/nginx"))
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=drill.example.org",
         "-keyout", etc / "key.pem", "-out", etc / "fullchain.pem"],
        check=True, capture_output=True,
    )  # fmt: skip
    (etc / "key.pem").chmod(0o644)
    conf = (ROOT / "deploy" / "proxy.conf").read_text().replace("listen 443", f"listen 127.0.0.1:{port}")
    conf = conf.replace("/etc/ssl/drill.example.org", str(etc)).replace("127.0.0.1:8400", f"127.0.0.1:{machine.port}")
    temporary = "".join(
        f"{kind}_temp_path {etc}/{kind}; " for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    whole = f"daemon off; pid {etc}/nginx.pid; error_log {etc}/error.log; events {{}} http {{ access_log off; {temporary} {conf} }}"
    (etc / "nginx.conf").write_text(whole)
    with (etc / "out.log").open("w") as log:
        process = subprocess.Popen(
            ["/usr/sbin/nginx", "-e", etc / "first.log", "-c", etc / "nginx.conf"],
            stdout=log,
            stderr=log,
            **machine.as_nobody,
        )
    try:
        yield f"https://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(20)
