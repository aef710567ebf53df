"""The list of phones, and of named givens, to run the same steps with."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.plan.model import AS_DECLARED

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host


def ask_for_phone(host: Host, chosen: Callable[[str], None]) -> None:
    """Ask where the open plan is to run; each choice tells which walks differ there. `chosen` is called with where."""
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
    from wise_ladder.walks.phones import differences  # noqa: PLC0415

    plan = host.plan
    choices: list[ListItem[str | None]] = [ListItem(plan.where or AS_DECLARED, messages.THIS_PHONE, None)]
    for where, other in plan.others().items():
        about = "; ".join(differences({plan.where or AS_DECLARED: plan, where: other})) or messages.NO_WALK_DIFFERS
        choices.append(ListItem(where, about, where))

    def done(where: str | None) -> None:
        if where is not None:
            chosen(where)

    host.push_screen(ListDialog(messages.WHICH_PHONE, choices, soft=host.palette.soft), done)
