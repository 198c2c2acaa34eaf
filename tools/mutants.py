"""Put small mistakes into the core, one at a time, and see whether the tests that run over them notice.

A mistake changes one expression: a comparison, an operator, a number, a flag, a condition, a call. Which tests run over
a line is found once, under coverage. Each mistake is run in a process of its own, which alone sees it: no file changes.
"""

from __future__ import annotations

import ast
import importlib.machinery
import importlib.util
import os
import signal
import subprocess
import sys
import time
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import CodeType
from xml.etree import ElementTree

from coverage import CoverageData

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src"
TESTS = ("tests/core", "tests/outside", "tests/formats")
LONGEST_S = 60.0  # the tests run over one mistake, quickest first, take as long as this where nothing is altered
ENDLESS_S = 4 * LONGEST_S

COMPARED = {
    "<": ("<=", ">="), "<=": ("<", ">"), ">": (">=", "<="), ">=": (">", "<"), "==": ("!=",), "!=": ("==",),
    "in": ("not in",), "not in": ("in",), "is": ("is not",), "is not": ("is",),
}  # fmt: skip
RECKONED = {"+": "-", "-": "+", "*": "/", "/": "*", "//": "*", "%": "//", "**": "*", "&": "|", "|": "&"}
SIGNS: dict[type[ast.AST], str] = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=", ast.In: "in",
    ast.NotIn: "not in", ast.Is: "is", ast.IsNot: "is not", ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/",
    ast.FloorDiv: "//", ast.Mod: "%", ast.Pow: "**", ast.BitAnd: "&", ast.BitOr: "|",
}  # fmt: skip
EXCHANGED = {
    "min": "max", "max": "min", "any": "all", "all": "any", "sin": "cos", "cos": "sin", "minimum": "maximum",
    "maximum": "minimum", "argmin": "argmax", "argmax": "argmin", "ceil": "floor", "floor": "ceil",
}  # fmt: skip
LEFT_OUT = {"abs", "sorted", "inverse", "reversed", "sqrt", "transpose"}  # calls of which only the argument stays


@dataclass(frozen=True)
class Mutant:
    """One altered expression: where it stands, its lines before and after, and the whole file with it."""

    file: str
    line: int
    was: str
    became: str
    source: str


def mutants_of(path: Path) -> list[Mutant]:
    """Return every small mistake that can be put into a file."""
    source = path.read_text()
    lines = source.splitlines(keepends=True)
    starts = [0]
    for line in lines:
        starts.append(starts[-1] + len(line))

    def offset(line: int, column: int) -> int:
        return starts[line - 1] + len(lines[line - 1].encode()[:column].decode())

    found = []
    for node, is_condition in _walked(ast.parse(source)):
        for text in [f"(not {ast.unparse(node)})"] if is_condition else _altered(node):
            begin = offset(node.lineno, node.col_offset)
            end = offset(node.end_lineno or node.lineno, node.end_col_offset or 0)
            changed = source[:begin] + text + source[end:]
            head, tail = source.rfind("\n", 0, begin) + 1, source.find("\n", end)
            became = changed[head : tail + len(text) - (end - begin)]
            file = path.relative_to(ROOT).as_posix()
            found.append(Mutant(file, node.lineno, _one_line(source[head:tail]), _one_line(became), changed))
    return found


def _one_line(text: str) -> str:
    return " ".join(text.split())


def _walked(node: ast.AST) -> Iterator[tuple[ast.expr | ast.stmt, bool]]:
    """All nodes whose change could change what is worked out, and whether each is a plain condition.

    No annotations, no words for people, no bounds on lengths of text and lists.
    """
    for name, value in ast.iter_fields(node):
        if name in ("annotation", "returns", "decorator_list", "type_params"):
            continue
        for child in value if isinstance(value, list) else [value]:
            if isinstance(child, ast.JoinedStr | ast.Raise | ast.Assert):
                continue
            if isinstance(child, ast.keyword) and child.arg in ("max_length", "maxsize"):
                continue
            if isinstance(child, ast.expr | ast.stmt):
                yield child, False
                if name == "test" and isinstance(child, ast.Name | ast.Attribute | ast.Call):
                    yield child, True
            if isinstance(child, ast.AST):
                yield from _walked(child)


def _altered(node: ast.AST) -> Iterator[str]:  # noqa: C901, PLR0912 - a table of what can be altered
    """What can stand in a node's place."""
    match node:
        case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in SIGNS:
            for sign in COMPARED[SIGNS[type(op)]]:
                yield f"({_of(left)} {sign} {_of(right)})"
        case ast.BinOp(left=left, op=ast.MatMult(), right=right):
            yield f"({_of(right)} @ {_of(left)})"
        case ast.BinOp(left=left, op=op, right=right) if type(op) in SIGNS and not _has_text(node):
            yield f"({_of(left)} {RECKONED[SIGNS[type(op)]]} {_of(right)})"
        case ast.AugAssign(target=target, op=op, value=value) if type(op) in SIGNS:
            yield f"{ast.unparse(target)} {RECKONED[SIGNS[type(op)]]}= {ast.unparse(value)}"
        case ast.UnaryOp(op=ast.USub() | ast.Not(), operand=operand):
            yield _of(operand)
        case ast.BoolOp(op=op, values=values):
            word, other = (" and ", " or ") if isinstance(op, ast.And) else (" or ", " and ")
            yield f"({other.join(map(_of, values))})"
            yield f"({word.join(map(_of, values[1:]))})"
            yield f"({word.join(map(_of, values[:-1]))})"
        case ast.Constant(value=bool() as value):
            yield str(not value)
        case ast.Constant(value=int() as value):
            yield str(value + 1)
        case ast.Constant(value=float() as value):
            yield repr(_otherwise(value))
        case ast.IfExp(test=test, body=body, orelse=orelse):
            yield f"({_of(orelse)} if {_of(test)} else {_of(body)})"
        case ast.Call(func=ast.Name(id=name) | ast.Attribute(attr=name), args=args) if name in EXCHANGED:
            yield ast.unparse(ast.Call(_named(node.func, EXCHANGED[name]), args, node.keywords))
        case ast.Call(func=ast.Name(id=name) | ast.Attribute(attr=name), args=[first, *_]) if name in LEFT_OUT:
            yield _of(first)
        case ast.Call(func=ast.Attribute(attr="cross" | "atan2" | "arctan2"), args=[first, second]):
            yield ast.unparse(ast.Call(node.func, [second, first], node.keywords))
        case ast.Call(func=ast.Attribute(attr="where"), args=[condition, first, second]):
            yield ast.unparse(ast.Call(node.func, [condition, second, first], node.keywords))
        case ast.Attribute(value=value, attr="T"):
            yield f"{_of(value)}.copy()"
        case ast.Expr(value=ast.Call()):
            yield "pass"
        case ast.Continue():
            yield "break"


def _otherwise(value: float) -> float:
    """Another number that should matter: a tolerance a thousand times as wide, a bound far nearer."""
    if value > 1e6:
        return value**0.5
    return 1000 * value if 0 < value < 1e-3 else 3 * value + (value == 0)


def _of(node: ast.AST) -> str:
    return f"({ast.unparse(node)})"


def _named(func: ast.expr, name: str) -> ast.expr:
    return ast.Name(name) if isinstance(func, ast.Name) else ast.Attribute(func.value, name)  # type: ignore[attr-defined]


def _has_text(node: ast.BinOp) -> bool:
    """Whether words or types are put together here, where another operator would not run at all."""
    if isinstance(node.op, ast.BitOr) and isinstance(node.right, ast.Name) and node.right.id[:1].isupper():
        return True
    return any(
        isinstance(side, ast.JoinedStr) or (isinstance(side, ast.Constant) and isinstance(side.value, str | None))
        for side in (node.left, node.right)
    )


def unaltered(mutant: Mutant) -> Mutant:
    """Return the same without the mistake, which nothing may notice."""
    return Mutant(mutant.file, mutant.line, mutant.was, mutant.was, (ROOT / mutant.file).read_text())


class Covered:
    """Which tests run over a line, and how long each takes; found by one run of them all."""

    def __init__(self, folder: Path) -> None:
        self.data, self.times = folder / "coverage", folder / "times.xml"

    def run(self) -> None:
        """Run all tests once, under coverage."""
        settings = self.data.with_name("settings.ini")
        settings.write_text(f"[run]\nsource_pkgs = cubedrill.core\ndata_file = {self.data}\n")
        words = [*TESTS, "-q", "-n", "auto", "--cov", "--cov-context=test", f"--cov-config={settings}", "--cov-report="]
        done = subprocess.run(
            [sys.executable, "-m", "pytest", *words, f"--junitxml={self.times}"], cwd=ROOT, check=False
        )
        if done.returncode != 0:
            sys.exit("The tests fail as they are; mend them first.")

    def read(self) -> None:
        """Read what the run found."""
        self._data = CoverageData(str(self.data))
        self._data.read()
        self._seconds: dict[str, float] = defaultdict(float)
        for case in ElementTree.parse(self.times).iter("testcase"):  # noqa: S314 - written by our own tests
            file = case.attrib["classname"].replace(".", "/") + ".py"
            self._seconds[f"{file}::{case.attrib['name']}"] = float(case.attrib["time"])

    def tests_over(self, mutant: Mutant) -> list[str]:
        """Return the tests over a mutant's line, quickest first; over its whole file where that is read at import."""
        by_line = self._data.contexts_by_lineno(str(ROOT / mutant.file))
        found = _tests(by_line.get(mutant.line, []))
        if not found:
            found = set().union(*map(_tests, by_line.values()))
        chosen, total = [], 0.0
        for test in sorted(found, key=lambda name: (self._seconds[name], name)):
            total += self._seconds[test]
            if total < LONGEST_S:
                chosen.append(test)
        return chosen


def _tests(contexts: Sequence[str]) -> set[str]:
    return {context.split("|")[0] for context in contexts if context.endswith("|run")}


class _Altered(importlib.machinery.SourceFileLoader):
    """Loads one module of the core from altered source."""

    def __init__(self, name: str, path: str, source: str) -> None:
        super().__init__(name, path)
        self._source = source

    def get_code(self, fullname: str) -> CodeType:
        del fullname
        return compile(self._source, self.path, "exec", dont_inherit=True)


class _Finder:
    def __init__(self, mutant: Mutant) -> None:
        path = Path(mutant.file)
        self._path = ROOT / path
        parts = path.relative_to("src").with_suffix("").parts
        self._name = ".".join(parts[:-1] if parts[-1] == "__init__" else parts)
        self._source = mutant.source

    def find_spec(self, name: str, _path: object = None, _target: object = None) -> object:
        if name != self._name:
            return None
        loader = _Altered(name, str(self._path), self._source)
        return importlib.util.spec_from_file_location(name, self._path, loader=loader)


def is_noticed(mutant: Mutant, tests: Sequence[str]) -> bool:
    """Whether one of the tests fails with a mutant, or never ends; they run in a child that this process forks."""
    if not tests:
        return False
    child = os.fork()
    if child == 0:
        os._exit(_tested(mutant, tests))
    until = time.monotonic() + ENDLESS_S
    while time.monotonic() < until:
        ended, status = os.waitpid(child, os.WNOHANG)
        if ended:
            return status != 0
        time.sleep(0.05)
    os.killpg(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return True


def _tested(mutant: Mutant, tests: Sequence[str]) -> int:
    """Run tests over a mutant; 0 where all pass."""
    os.setpgid(0, 0)
    quiet = os.open(os.devnull, os.O_WRONLY)
    os.dup2(quiet, 1)
    os.dup2(quiet, 2)
    sys.meta_path.insert(0, _Finder(mutant))  # type: ignore[arg-type]
    import pytest  # noqa: PLC0415 - in the child, with the mutant in sight

    words = ["-x", "-q", "-p", "no:xdist", "-p", "no:pytest_cov", f"--rootdir={ROOT}"]
    loaded_before = ["-W", "ignore::pytest.PytestAssertRewriteWarning"]  # what is forked has some plugins already
    try:
        return int(pytest.main([*words, *loaded_before, *tests]))
    except BaseException:
        return 1
