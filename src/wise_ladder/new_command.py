"""`wise-ladder new`: a small plan to start from, or one made from a table of moves."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder import messages
from wise_ladder.errors import UsageError
from wise_ladder.plan.files import create, read_text
from wise_ladder.plan.from_table import plan_from_table
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.plan.templates import file_name, plan_template
from wise_ladder.safe import visible

if TYPE_CHECKING:
    import argparse


def new(call: argparse.Namespace) -> int:
    """Write a plan; what is not said in the call is asked for where there is a terminal."""
    asks = sys.stdin.isatty() and sys.stdout.isatty()
    app = call.app or (_ask(messages.ASK_NAME) if asks else "")
    if not app:
        raise UsageError(messages.NEEDS_THE_NAME)
    path = call.output or Path(file_name(app))
    tabs = _listed(call.tabs)
    splash, sign_in = call.splash, call.sign_in
    if call.table is not None:
        if tabs or splash or sign_in:
            raise UsageError(messages.TABLE_ALONE)
        return _from_table(app, call.table, path)
    if not (tabs or splash or sign_in) and asks:
        splash, sign_in = _asks(messages.ASK_SPLASH), _asks(messages.ASK_SIGN_IN)
        tabs = _listed(_ask(messages.ASK_TABS))
    text = plan_template(app, splash=splash, sign_in=sign_in, tabs=tabs)
    read_plan_text(text, f"a plan for {app}")
    create(path, text)
    print(visible(messages.WRITTEN.format(path=path)))
    return 0


def _from_table(app: str, table: Path, path: Path) -> int:
    """Write a plan made from a table; rows that cannot be read are told, and exit code 1 says that there were some."""
    made = plan_from_table(app, read_text(table).text, str(table))
    read_plan_text(made.text, f"a plan from {table}")
    create(path, made.text)
    for line in made.wrong:
        print(visible(line), file=sys.stderr)
    told = messages.WRITTEN_FROM_ROW if made.rows == 1 else messages.WRITTEN_FROM_ROWS
    print(visible(told.format(path=path, count=made.rows)))
    return 1 if made.wrong else 0


def _listed(names: str) -> list[str]:
    return [name.strip() for name in names.split(",") if name.strip()]


def _ask(question: str) -> str:
    try:
        return input(f"{question} ").strip()
    except EOFError as error:
        raise UsageError(messages.NOT_ANSWERED) from error


def _asks(question: str) -> bool:
    return _ask(f"{question} (y/n)").lower().startswith("y")
