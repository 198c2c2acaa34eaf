"""Write the two lock files: exact versions, with their hashes, of all that requirements*.in bring.

Run it after changing a requirements*.in file. It downloads every file of every package, for all machines, to hash it:
that takes minutes.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
RESOLVER = "pip-tools==7.6.2"
WORDS = (
    "--quiet", "--generate-hashes", "--allow-unsafe", "--strip-extras", "--no-annotate", "--no-header",
    "--no-emit-index-url", "--no-emit-trusted-host", "--no-emit-find-links",
)  # fmt: skip


def lock(compiler: Path, name: str, *inputs: str) -> None:
    """Write one lock file; what it has stays where it still fits."""
    subprocess.run([compiler, *WORDS, "--output-file", name, *inputs], cwd=ROOT, check=True)


def main() -> None:
    with tempfile.TemporaryDirectory() as room:
        programs = Path(room) / "bin"
        subprocess.run([sys.executable, "-m", "venv", room], check=True)
        subprocess.run([programs / "pip", "install", "--quiet", RESOLVER], check=True)
        lock(programs / "pip-compile", "requirements.lock", "requirements.in")
        lock(programs / "pip-compile", "requirements-dev.lock", "requirements.in", "requirements-dev.in")


if __name__ == "__main__":
    main()
