"""Write the two lock files: exact versions of all that requirements*.in bring.

Run it inside the project's virtual environment after changing a requirements*.in file.
"""

import json
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def resolved(*inputs: str) -> list[str]:
    """Return `name==version` of every package that pip would install for these input files."""
    asked = [word for name in inputs for word in ("-r", str(ROOT / name))]
    command = [sys.executable, "-m", "pip", "install", "--quiet", "--dry-run", "--ignore-installed", "--report", "-"]
    report = json.loads(subprocess.run([*command, *asked], check=True, capture_output=True, text=True).stdout)
    found = (item["metadata"] for item in report["install"])
    return sorted(f"{meta['name'].lower()}=={meta['version']}" for meta in found)


def main() -> None:
    (ROOT / "requirements.lock").write_text("\n".join(resolved("requirements.in")) + "\n")
    everything = resolved("requirements.in", "requirements-dev.in")
    (ROOT / "requirements-dev.lock").write_text("\n".join(everything) + "\n")


if __name__ == "__main__":
    main()
