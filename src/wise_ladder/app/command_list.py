"""The list of all commands: each action of the view, and what is offered at this moment."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.app import messages
from wise_ladder.app.commands import commands_in
from wise_ladder.app.dialogs.list_dialog import ListItem
from wise_ladder.plan.steps import event_phrase
from wise_ladder.semantics import forecast
from wise_ladder.semantics.offers import world_events
from wise_ladder.semantics.text import log_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.climb.commands import ClimbCommands
    from wise_ladder.app.workplace import Workplace

    Command: TypeAlias = Callable[[], object]


def commands(host: Workplace, press: Callable[[str], object], climb: ClimbCommands | None) -> list[ListItem[Command]]:
    """List what can be done in the present view, each by `press`; in Climb also the answers, taps, events and phones."""
    items: list[ListItem[Command]] = [
        ListItem(f"{action.label}  ({action.key})", action.help, partial(press, action.name), action.also)
        for action in commands_in(host.view_name)
    ]
    if climb is None:
        return items
    plan, moment = host.plan, host.cursor.moment
    for number, (name, effect) in enumerate(moment.answers, 1):
        items.append(ListItem(f"answer {name}", effect.text, partial(climb.tap, number)))
    for offer in moment.offers:
        effect = moment.effect(offer)
        label = f"tap {offer.label}" if offer.move is not None else offer.label
        items.append(ListItem(label, effect.text, partial(climb.tap, offer.number)))
    for event in world_events(plan, moment.state):
        words = log_text(forecast(plan, moment.state, event).step.log)
        items.append(ListItem(event_phrase(event), words, partial(climb.do, event)))
    elsewhere = host.document.run_elsewhere
    return items + [ListItem(f"run {where}", messages.SAME_ELSEWHERE, partial(elsewhere, where)) for where in plan.others()]
