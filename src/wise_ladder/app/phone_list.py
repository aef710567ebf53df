"""The list of phones to run the same steps on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.host import Host


def ask_for_phone(host: Host, chosen: Callable[[str], None]) -> None:
    """Ask for a phone of the open plan; each tells which walks differ on it. `chosen` is called with its name."""
    from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
    from wise_ladder.walks.phones import differences  # noqa: PLC0415

    plan = host.plan
    choices: list[ListItem[str | None]] = []
    for name, _ in plan.phones:
        if name == plan.phone:
            about = messages.THIS_PHONE
        else:
            about = "; ".join(differences({plan.phone: plan, name: plan.on_phone(name)})) or messages.NO_WALK_DIFFERS
        choices.append(ListItem(name, about, name))

    def done(name: str | None) -> None:
        if name is not None:
            chosen(name)

    host.push_screen(ListDialog(messages.WHICH_PHONE, choices, soft=host.palette.soft), done)
