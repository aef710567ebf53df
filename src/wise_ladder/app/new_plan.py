"""A new plan: its app and first screen, or a table of moves that it is made from."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.errors import LadderError

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host


def ask_for_new(host: Host, open_new: Callable[[Path, str], str]) -> None:
    """Ask what the plan is for, and open it; `open_new` gets the file it will have and its text, and returns what is wrong."""
    from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
    from wise_ladder.plan.files import read_text, typed_path  # noqa: PLC0415
    from wise_ladder.plan.from_table import FromTable, plan_from_table  # noqa: PLC0415
    from wise_ladder.plan.templates import file_name, minimal_plan  # noqa: PLC0415

    def take(typed: list[str]) -> str:
        app, first, table = (each.strip() for each in typed)
        if not app or not (first or table):
            return messages.ENTER_BOTH_NAMES
        try:
            if table:
                made = plan_from_table(app, read_text(typed_path(table)).text, table)
            else:
                made = FromTable(minimal_plan(app, first), 0, ())
        except LadderError as error:
            return str(error).partition("\n")[0]
        wrong = open_new(Path() / file_name(app), made.text)
        if not wrong and made.wrong:
            said = messages.ONE_ROW_NOT_READ if len(made.wrong) == 1 else messages.ROWS_NOT_READ
            host.show_message(said.format(count=len(made.wrong), first=made.wrong[0]), wrong=True)
        return wrong

    lines = [FormField("app"), FormField("first screen", "start"), FormField("or a table")]
    host.push_screen(FormDialog(messages.NEW_PLAN, lines, take, hint=messages.NEW_PLAN_HINT))
