"""Is every exercise of the demo done to its end, by keyboard alone and by pointing? It counts; nothing is timed.

Question: which of them, done as its reference does it, does not end with every check in place? Inside: a browser,
a server and a database for each. The tests do the few that differ most; this does all.

Run: ./run bench exercises
"""

from __future__ import annotations

import os
import sys

import pytest


def main() -> None:
    os.environ["CUBE_DRILL_EVERY_EXERCISE"] = "1"
    sys.exit(pytest.main(["-n", "2", "tests/screens/test_every_exercise.py"]))


if __name__ == "__main__":
    main()
