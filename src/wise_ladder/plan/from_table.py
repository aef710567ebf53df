"""A plan from a table of moves: from, action, operation, to. Columns may be missing; a row that cannot be read is told."""

from __future__ import annotations

import csv
import io
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.source import MAX_CHARACTERS
from wise_ladder.plan.steps import quoted
from wise_ladder.plan.yaml_text import scalar
from wise_ladder.safe import named, unsafe

if TYPE_CHECKING:
    from collections.abc import Iterator

COLUMNS = ("from", "action", "operation", "to")
OPERATIONS = {
    "": "push", "push": "push", "open": "push", "show": "push", "go": "push", "forward": "push", "replace": "replace",
    "swap": "replace", "clear": "clear; push", "reset": "clear; push", "root": "clear; push", "pop": "pop", "back": "pop",
    "close": "pop", "pop to": "pop to", "back to": "pop to", "reach": "reach", "leave": "leave", "exit": "leave",
}  # fmt: skip
"""What people write in such a table, and the operation it means; where nothing is said it is a push."""
_ALONE = ("pop", "leave")
_ANYWHERE = ("", "*", "anywhere", "any")
MOST_ROWS = 5_000


class FromTable(NamedTuple):
    """The text of a plan, how many rows it has taken, and what is wrong with each other row."""

    text: str
    rows: int
    wrong: tuple[str, ...]


def plan_from_table(app: str, table: str, name: str) -> FromTable:
    """Make a plan from a table, its columns separated by commas, semicolons or tabs; `name` stands before each message.

    Raises WriteError if no row can be read.
    """
    rows = _rows(table, name)
    columns, first = _columns(rows)
    moves: dict[str, list[str]] = {}
    screens: dict[str, None] = {}
    taken, wrong = 0, []
    for number, row in rows[first:]:
        try:
            start, target, move = _move({column: row[at].strip() for column, at in columns.items() if at < len(row)})
        except WriteError as error:
            wrong.append(f"{name}:{number}: {error}")
            continue
        taken += 1
        screens |= dict.fromkeys(screen for screen in (start, target) if screen)
        moves.setdefault(start, []).append(move)
    if not screens:
        raise WriteError("\n".join(wrong) or messages.NO_ROW.format(name=name))
    return FromTable("\n".join(_lines(app, list(screens), moves)), taken, tuple(wrong))


def _lines(app: str, screens: list[str], moves: dict[str, list[str]]) -> Iterator[str]:
    yield from (f"app: {scalar(app)}", f"start: {scalar(quoted(screens[0]))}", "", "screens:")
    for screen in screens:
        yield f"  {scalar(screen)}:"
        if screen in moves:
            yield "    moves:"
            yield from (f"      - {move}" for move in moves[screen])
    if "" in moves:
        yield from ("", "anywhere:", *(f"  - {move}" for move in moves[""]))
    yield ""


def _rows(table: str, name: str) -> list[tuple[int, list[str]]]:
    """Return the rows that hold something, each with its line from 1."""
    lines = io.StringIO(table, newline=None)  # a line may end as it does on any system
    mark = max(",;\t", key=lines.readline().count)
    lines.seek(0)
    reader = csv.reader(lines, delimiter=mark)
    rows = []
    try:
        for row in reader:
            if any(cell.strip() for cell in row):
                rows.append((reader.line_num, row))
            if len(rows) > MOST_ROWS:
                raise WriteError(messages.TOO_MANY_ROWS.format(most=MOST_ROWS))
    except csv.Error as error:
        # The reader says so of a cell that is far too long, as where a quotation mark is not closed.
        raise WriteError(messages.TABLE_UNREADABLE.format(name=name, line=reader.line_num)) from error
    if not rows:
        raise WriteError(messages.EMPTY_TABLE)
    return rows


def _columns(rows: list[tuple[int, list[str]]]) -> tuple[dict[str, int], int]:
    """Return where each column is, and the first row that is not the head; without a head they are in the usual order."""
    head = [cell.strip().lower() for cell in rows[0][1]]
    named = {name: head.index(name) for name in COLUMNS if name in head}
    if "from" in named or "to" in named:
        return named, 1
    width = max(len(row) for _, row in rows)
    usual = COLUMNS if width > 3 else ("from", "action", "to") if width == 3 else ("from", "to")
    return {name: at for at, name in enumerate(usual)}, 0


def _move(row: dict[str, str]) -> tuple[str, str, str]:
    """Read a row: the screen it starts from (empty for anywhere), the one it leads to, and the move as it is written."""
    start, target = row.get("from", ""), row.get("to", "")
    start = "" if start.lower() in _ANYWHERE else start
    said = " ".join(row.get("operation", "").lower().split())
    if said not in OPERATIONS:
        known = ", ".join(filter(None, OPERATIONS))
        raise WriteError(messages.NO_SUCH_TABLE_OPERATION.format(word=row.get("operation", ""), words=known))
    operation = OPERATIONS[said]
    if operation in _ALONE:
        target = ""
    elif not target:
        raise WriteError(messages.ROW_LEADS_NOWHERE)
    action = row.get("action", "") or target or operation
    for text in (start, target, action):
        _check(text)
    phrases = operation.split("; ")
    if target:
        phrases[-1] = f"{phrases[-1]} {quoted(target)}"
    shown = [scalar(phrase, flow=True) for phrase in phrases]
    does = shown[0] if len(shown) == 1 else f"[{', '.join(shown)}]"
    return start, target, f"{{when: {scalar(f'tap {quoted(action)}', flow=True)}, do: {does}}}"


def _check(text: str) -> None:
    if '"' in text or "\n" in text:
        raise WriteError(messages.NAME_WITH_QUOTES)
    if len(text) > MAX_CHARACTERS // 2:
        raise WriteError(messages.NAME_TOO_LONG)
    if fault := unsafe(text, is_name=True):
        raise WriteError(messages.INVISIBLE_CHARACTER.format(character=named(fault.group())))
