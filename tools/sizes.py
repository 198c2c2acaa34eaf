"""Check the sizes that linters do not: lines of functions and core modules, and lines with `Any`.

Run by ./run lint. The docstring of a function does not count.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

SOURCE = Path(__file__).resolve().parent.parent / "src" / "cubedrill"
FUNCTION_LINES = 40
CORE_MODULE_LINES = 400
ANY_LINES = 120


def long_functions(path: Path, tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and node.end_lineno is not None:
            lines = node.end_lineno - node.lineno + 1 - docstring_lines(node)
            if lines > FUNCTION_LINES:
                yield f"{path}:{node.lineno}: {node.name} has {lines} lines; split it (at most {FUNCTION_LINES})"


def docstring_lines(node: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    first = node.body[0]
    return 0 if ast.get_docstring(node) is None or first.end_lineno is None else first.end_lineno - first.lineno + 1


def any_lines(text: str) -> int:
    """Count the lines whose code names the type; comments and sentences may use the word."""
    return sum(bool(re.search(r"\bAny\b(?!\s+[a-z])", line.partition("#")[0])) for line in text.splitlines())


def findings() -> Iterator[str]:
    total = 0
    for path in sorted(SOURCE.rglob("*.py")):
        if "migrations" in path.parts:
            continue
        text = path.read_text(encoding="utf-8")
        yield from long_functions(path.relative_to(SOURCE), ast.parse(text))
        total += any_lines(text)
        lines = text.count("\n")
        if "core" in path.relative_to(SOURCE).parts and lines > CORE_MODULE_LINES:
            yield f"{path.relative_to(SOURCE)} has {lines} lines; split it (at most {CORE_MODULE_LINES})"
    if total > ANY_LINES:
        yield f"{total} lines use Any; at most {ANY_LINES} may"


def main() -> None:
    found = list(findings())
    for line in found:
        print(line)
    sys.exit(1 if found else 0)


if __name__ == "__main__":
    main()
