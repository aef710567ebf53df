"""The list of phones, and of named givens, to run the same steps with."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.plan.model import AS_DECLARED

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan


def ask_for_phone(host: Host, chosen: Callable[[Plan], None]) -> None:
    """Ask where the open plan is to run; each choice tells which walks differ there. `chosen` is called with the plan there."""
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
    from wise_ladder.walks.phones import differences  # noqa: PLC0415

    plan = host.plan
    choices = [ListItem(plan.where or AS_DECLARED, messages.THIS_PHONE, plan)]
    for where, other in plan.others().items():
        about = "; ".join(differences({plan.where or AS_DECLARED: plan, where: other})) or messages.NO_WALK_DIFFERS
        choices.append(ListItem(where, about, other))

    def done(plan: Plan | str | None) -> None:
        if plan is not None and not isinstance(plan, str):
            chosen(plan)

    host.push_screen(ListDialog(messages.WHICH_PHONE, choices, soft=host.palette.soft), done)
