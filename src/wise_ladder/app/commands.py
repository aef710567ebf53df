"""The list of all commands: each action of the view, and what is offered at this moment."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, TypeAlias

from wise_ladder.app.actions import actions_in
from wise_ladder.app.sheets.choose import Choice
from wise_ladder.ladder import forecast
from wise_ladder.ladder.offers import world_events
from wise_ladder.ladder.words import happened_words
from wise_ladder.plan.steps import event_words

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.bench import Bench

    Command: TypeAlias = Callable[[], object]


def commands(bench: Bench) -> list[Choice[Command]]:
    """List what can be done in the view one is in; in Climb also the answers, taps, events and phones."""
    found: list[Choice[Command]] = [
        Choice(f"{action.label}  ({action.key})", action.help, partial(bench.action_press, action.name))
        for action in actions_in(bench.view.name or "")
    ]
    if bench.view is not bench.climb:
        return found
    plan, moment, deeds = bench.desk.plan, bench.climber.moment, bench.climb.deeds
    for number, (name, effect) in enumerate(moment.answers, 1):
        found.append(Choice(f"answer {name}", f"{effect.glyph} {effect.words}".strip(), partial(deeds.tap, number)))
    for offer in moment.offers:
        effect = moment.effect(offer)
        label = f"tap {offer.label}" if offer.move is not None else offer.label
        found.append(Choice(label, f"{effect.glyph} {effect.words}".strip(), partial(deeds.tap, offer.number)))
    for event in world_events(plan, moment.state):
        words = happened_words(forecast(plan, moment.state, event).step.happened)
        found.append(Choice(event_words(event), words, partial(deeds.do, event)))
    for name, _ in plan.phones:
        if name != plan.phone:
            found.append(Choice(f"phone {name}", "Run the same steps on this phone.", partial(bench.desk.on_phone, name)))
    return found
