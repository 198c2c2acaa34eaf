"""Does the product work as a package? A wheel of it in an empty environment checks a submission of the demo.

Question: is everything that it needs said in it? Nothing but the wheel and what it asks for is installed, in the
versions that are tested. It takes a minute or two, for installing; what is in the wheel the tests know.

Run: ./run bench wheel
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from tests.tools.test_wheel import lines_of, wheel_of

from cubedrill.demo.load import HERE


def main() -> None:
    """Build, install, check, and say what came of it."""
    with tempfile.TemporaryDirectory() as room:
        folder = Path(room)

        def do(*words: str | Path) -> str:
            return subprocess.run(words, cwd=folder, capture_output=True, text=True, check=True).stdout

        wheel = wheel_of(folder)
        do(sys.executable, "-m", "venv", folder / "empty")
        programs, tested = folder / "empty" / "bin", folder / "tested.txt"
        tested.write_text("\n".join(lines_of("requirements.lock")), encoding="utf-8")
        do(programs / "pip", "install", "--quiet", "--no-compile", "--constraint", tested, wheel)
        exercise = HERE / "exercises" / "lock-gate.json"
        submission = min((HERE / "submissions" / "lock-gate").glob("*.json"))
        report = json.loads(do(programs / "cube-drill", "check", exercise, submission, "--json"))
        where = do(programs / "python", "-c", "import cubedrill; print(cubedrill.__file__)").strip()
        print(f"{report['points']} of {report['of']} points, by what is installed in {Path(where).relative_to(folder)}")


if __name__ == "__main__":
    main()
