"""Forgetting must fail: each entry of each table, and each case of each match, over kinds of things is taken out once.

Kinds are operations, triggers, conditions, effects, tasks, log entries and rules. Without the entry, mypy or a test must fail.
`python -m tests.removal` lists the entries; `make deep` tries them, one for each seed.
"""

from __future__ import annotations

import ast
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, get_args

from wise_ladder.plan.conditions import Condition
from wise_ladder.plan.operations import OPERATIONS
from wise_ladder.plan.rules import RULES
from wise_ladder.plan.triggers import TRIGGERS
from wise_ladder.semantics import effects, log, tasks

if TYPE_CHECKING:
    from collections.abc import Iterator

TOP = Path(__file__).parent.parent
SOURCE = TOP / "src" / "wise_ladder"
UNIONS = (OPERATIONS, TRIGGERS, get_args(Condition), get_args(effects.Effect), get_args(tasks.Task), get_args(log.LogEntry))
KINDS = {kind.__name__ for union in UNIONS for kind in union}
FOLDERS = ("plan", "semantics", "walks", "drawings", "reports", "rules", "app")
"""The tests to run, those that end soonest first; those of the entry's own folder come before them."""


class Entry(NamedTuple):
    """A stretch of a file, in lines from 1 and columns from 0 as `ast` counts them, and what stands there."""

    path: Path
    start: tuple[int, int]
    end: tuple[int, int]
    text: str


def entries() -> list[Entry]:
    """List every entry in the order of files and lines."""
    found = [entry for path in sorted(SOURCE.rglob("*.py")) for entry in _entries_of(path)]
    return sorted(set(found), key=lambda entry: (entry.path, entry.start, entry.end))


def _entries_of(path: Path) -> Iterator[Entry]:
    text = path.read_text(encoding="utf-8")
    for node in ast.walk(ast.parse(text)):
        parts: list[tuple[ast.expr | ast.pattern, ast.expr | ast.pattern]] = []
        match node:
            case ast.Dict():
                parts = [(key, value) for key, value in zip(node.keys, node.values, strict=True) if key is not None]
            case ast.Tuple() | ast.Set() | ast.List():
                parts = [(each, each) for each in node.elts]
            case ast.MatchOr():
                parts = [(each, each) for each in node.patterns]
            case ast.Match() if len(node.cases) > 1:
                for case in node.cases:
                    if _is_kind(case.pattern) and case.guard is None:
                        final = case.body[-1]
                        start = (case.pattern.lineno, 0)
                        yield _entry(path, text, start, ((final.end_lineno or 0) + 1, 0))
            case _:
                continue
        if len(parts) < 2 or not any(_is_kind(first) for first, _ in parts):
            continue
        for number, (first, last) in enumerate(parts):
            if not _is_kind(first):
                continue
            if number + 1 < len(parts):
                after = parts[number + 1][0]
                yield _entry(path, text, (first.lineno, first.col_offset), (after.lineno, after.col_offset))
            else:
                yield _entry(path, text, _end(parts[number - 1][1]), _end(last))


def _end(node: ast.expr | ast.pattern) -> tuple[int, int]:
    return node.end_lineno or node.lineno, node.end_col_offset or 0


def _is_kind(node: ast.AST) -> bool:
    """Whether it names a kind: a class of a union, an instance of one, or a rule."""
    match node:
        case ast.Name(name) | ast.Attribute(_, name):
            return name in KINDS
        case ast.MatchClass(cls):
            return _is_kind(cls)
        case ast.MatchOr(patterns):
            return all(map(_is_kind, patterns))
        case ast.MatchAs(pattern) if pattern is not None:
            return _is_kind(pattern)
        case ast.Call(func):
            return isinstance(func, (ast.Name, ast.Attribute)) and _is_kind(func)
        case ast.Constant(value):
            return value in RULES
        case _:
            return False


def _entry(path: Path, text: str, start: tuple[int, int], end: tuple[int, int]) -> Entry:
    lines = text.splitlines(keepends=True)
    if start[0] == end[0]:
        shown = lines[start[0] - 1][start[1] : end[1]]
    else:
        shown = lines[start[0] - 1][start[1] :] + "".join(lines[start[0] : end[0] - 1])
    return Entry(path.relative_to(TOP), start, end, " ".join(shown.split())[:80])


def without(text: str, entry: Entry) -> str:
    """Return the text of a file without an entry; columns count bytes."""
    lines = [line.encode() for line in text.splitlines(keepends=True)]
    (first, column), (last, end) = entry.start, entry.end
    rest = lines[last - 1][end:] if last <= len(lines) else b""
    return b"".join([*lines[: first - 1], lines[first - 1][:column], rest, *lines[last:]]).decode()


def noticed(entry: Entry) -> str:
    """Take an entry out of a copy of the project; return who notices, nothing if nobody does."""
    with tempfile.TemporaryDirectory() as name:
        copy = Path(name)
        for part in ("src", "tests", "docs", "tools"):
            shutil.copytree(TOP / part, copy / part, ignore=shutil.ignore_patterns("__pycache__"))
        for part in ("pyproject.toml", "README.md", "CONTRIBUTING.md", "CHANGELOG.md"):
            shutil.copy(TOP / part, copy / part)
        if (TOP / ".mypy_cache").exists():
            shutil.copytree(TOP / ".mypy_cache", copy / ".mypy_cache")
        path = copy / entry.path
        path.write_text(without(path.read_text(encoding="utf-8"), entry), encoding="utf-8")
        if _fails(copy, "-m", "mypy"):
            return "mypy"
        run = ("-m", "unittest", "discover", "--failfast", "--top-level-directory", ".", "--start-directory")
        own_first = sorted(FOLDERS, key=lambda folder: folder not in entry.path.parts)
        return next((f"tests of {folder}" for folder in own_first if _fails(copy, *run, f"tests/{folder}")), "")


def _fails(folder: Path, *words: str) -> bool:
    environment = {
        **os.environ,
        "PYTHONPATH": f"{folder / 'src'}:{folder}",
        "XDG_STATE_HOME": str(folder / "state"),
        "XDG_CACHE_HOME": str(folder / "cache"),
    }
    try:
        done = subprocess.run(
            [sys.executable, *words], cwd=folder, env=environment, capture_output=True, text=True, timeout=900, check=False
        )
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


if __name__ == "__main__":
    for number, one in enumerate(entries()):
        print(f"{number:4} {one.path}:{one.start[0]}: {one.text}")
