"""The list of all commands: each action of the view, and what is offered at this moment."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.app.commands import commands_in
from wise_ladder.app.dialogs.list_dialog import ListItem
from wise_ladder.plan.steps import event_phrase
from wise_ladder.semantics import forecast
from wise_ladder.semantics.offers import world_events
from wise_ladder.semantics.text import log_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.application import LadderApp

    Command: TypeAlias = Callable[[], object]


def commands(bench: LadderApp) -> list[ListItem[Command]]:
    """List what can be done in the view one is in; in Climb also the answers, taps, events and phones."""
    found: list[ListItem[Command]] = [
        ListItem(f"{action.label}  ({action.key})", action.help, partial(bench.action_press, action.name))
        for action in commands_in(bench.view.name or "")
    ]
    if bench.view is not bench.climb:
        return found
    plan, moment, deeds = bench.document.plan, bench.cursor.moment, bench.climb.commands
    for number, (name, effect) in enumerate(moment.answers, 1):
        found.append(ListItem(f"answer {name}", f"{effect.glyph} {effect.words}".strip(), partial(deeds.tap, number)))
    for offer in moment.offers:
        effect = moment.effect(offer)
        label = f"tap {offer.label}" if offer.move is not None else offer.label
        found.append(ListItem(label, f"{effect.glyph} {effect.words}".strip(), partial(deeds.tap, offer.number)))
    for event in world_events(plan, moment.state):
        words = log_text(forecast(plan, moment.state, event).step.log)
        found.append(ListItem(event_phrase(event), words, partial(deeds.do, event)))
    for name, _ in plan.phones:
        if name != plan.phone:
            found.append(ListItem(f"phone {name}", "Run the same steps on this phone.", partial(bench.document.on_phone, name)))
    return found
