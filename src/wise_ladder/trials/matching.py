"""Which names of two versions mean the same thing, guessed by what that thing says and does."""

from __future__ import annotations

from difflib import SequenceMatcher
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import events, triggers
from wise_ladder.trials import messages

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wise_ladder.plan import Event, Move, Plan
    from wise_ladder.plan.model import Fact, Overlay, Screen
    from wise_ladder.plan.values import Arguments, Parameter

ALIKE = 0.6
"""From this share of what they say on two parts may be the same under another name."""


class Names(NamedTuple):
    """What the things of the old version are called in the new one, where that is something else.

    A reply is named with its call: `send order gives ok`; an argument with the screen that takes it or the tap that carries it.
    """

    screens: Mapping[str, str] = {}
    overlays: Mapping[str, str] = {}
    taps: Mapping[str, str] = {}
    arguments: Mapping[tuple[str, str], str] = {}
    facts: Mapping[str, str] = {}
    results: Mapping[str, str] = {}
    calls: Mapping[str, str] = {}
    replies: Mapping[str, str] = {}

    @property
    def words(self) -> list[str]:
        """List each name that changed."""
        words = [
            messages.RENAMED.format(kind=messages.KINDS[kind], old=old, new=new)
            for kind, names in self._asdict().items()
            if kind != "arguments"
            for old, new in names.items()
        ]
        places: dict[tuple[str, str], list[str]] = {}
        for (place, name), new in self.arguments.items():
            places.setdefault((name, new), []).append(place)
        for (name, new), there in places.items():
            old = name if len(there) > 1 else messages.OF_PLACE.format(name=name, place=there[0])
            words.append(messages.RENAMED.format(kind=messages.KINDS["arguments"], old=old, new=new))
        return words

    def renamed(self, event: Event) -> Event:
        """Return an event of the old version as it is called in the new one."""
        match event:
            case events.Tap():
                return replace(
                    event, name=self.taps.get(event.name, event.name), arguments=self.carried(event.name, event.arguments)
                )
            case events.OutsideChange():
                return replace(event, fact=self.facts.get(event.fact, event.fact))
            case events.Reply():
                return events.Reply(*self.reply(event.call, event.outcome))
            case _:
                return event

    def carried(self, place: str, arguments: Arguments) -> Arguments:
        """Return the arguments of a screen or a tap by their names in the new version."""
        return tuple((self.arguments.get((place, name), name), value) for name, value in arguments)

    def reply(self, call: str, outcome: str) -> tuple[str, str]:
        """Return a call and its outcome by their names in the new version."""
        phrase = _GIVES.join((call, outcome))
        new, _, gives = self.replies.get(phrase, phrase).partition(_GIVES)
        return (new if phrase in self.replies else self.calls.get(call, call)), gives

    @property
    def backwards(self) -> Names:
        """The same from the new version to the old one."""
        called = {**self.screens, **self.taps}
        return Names(
            screens=_turned(self.screens),
            overlays=_turned(self.overlays),
            taps=_turned(self.taps),
            arguments={(called.get(place, place), new): name for (place, name), new in self.arguments.items()},
            facts=_turned(self.facts),
            results=_turned(self.results),
            calls=_turned(self.calls),
            replies=_turned(self.replies),
        )


def _turned(names: Mapping[str, str]) -> dict[str, str]:
    return {new: old for old, new in names.items()}


_GIVES = " gives "
SAME = Names()


def match(old: Plan, new: Plan) -> Names:
    """Guess which names of the old version are others in the new one.

    A name that is in both is the same. Of the other screens, overlays and taps those are matched that say most alike, from
    `ALIKE` on, each once; of facts, arguments, results, calls and replies, which say little, only those that say the same.
    """
    screens = _matched({each.name: _says(each) for each in old.screens}, {each.name: _says(each) for each in new.screens})
    overlays = _matched({each.name: _says(each) for each in old.overlays}, {each.name: _says(each) for each in new.overlays})
    places = screens | overlays
    taps = _matched(_taps(old, screens), _taps(new, {}))
    calls = _matched(_calls(old), _calls(new), 1)
    replies = _matched(_replies(old, calls), _replies(new, {}), 1)
    return Names(
        screens,
        overlays,
        taps,
        _arguments(old, new, screens | taps),
        _matched(_facts(old, places), _facts(new, {}), 1),
        _matched(_results(old, places), _results(new, {}), 1),
        calls,
        {one: other for one, other in replies.items() if one.partition(_GIVES)[2] != other.partition(_GIVES)[2]},
    )


def _matched(old: Mapping[str, str], new: Mapping[str, str], least: float = ALIKE) -> dict[str, str]:
    gone, came = [name for name in old if name not in new], [name for name in new if name not in old]
    alike = sorted(
        ((_alike(old[one], new[other]), _alike(one, other), one, other) for one in gone for other in came), reverse=True
    )
    found: dict[str, str] = {}
    for share, _, one, other in alike:
        if share >= least and one not in found and other not in found.values():
            found[one] = other
    return found


def _alike(one: str, other: str) -> float:
    return SequenceMatcher(None, one, other).ratio()


def _arguments(old: Plan, new: Plan, renamed: Mapping[str, str]) -> dict[tuple[str, str], str]:
    """Find what the arguments of each screen and tap are called in the new version: those that are gone, in their order."""
    found: dict[tuple[str, str], str] = {}
    there = _parameters(new)
    for place, taken in _parameters(old).items():
        takes = there.get(renamed.get(place, place), {})
        came = [name for name in takes if name not in taken]
        for name in (name for name in taken if name not in takes):
            other = next((each for each in came if takes[each] == taken[name]), None)
            if other is not None:
                found[place, name] = other
                came.remove(other)
    return found


def _parameters(plan: Plan) -> dict[str, dict[str, str]]:
    """Write which values the arguments of each screen and each tap have, by their names."""
    found = {screen.name: {each.name: _value(each) for each in screen.takes} for screen in plan.screens}
    for move in plan.moves:
        if isinstance(move.trigger, triggers.TapTrigger):
            found.setdefault(move.trigger.name, {}).update((each.name, _value(each)) for each in move.trigger.carries)
    return found


def _results(plan: Plan, renamed: Mapping[str, str]) -> dict[str, str]:
    """Write for each result of a plan where it is and which values it has."""
    found: dict[str, str] = {}
    for place in _places(plan):
        for each in getattr(place, "gives", ()):
            found[each.name] = found.get(each.name, "") + f"{renamed.get(place.name, place.name)}: {_value(each)}\n"
    return found


def _places(plan: Plan) -> list[Screen | Overlay]:
    return [*plan.screens, *plan.overlays]


def _value(each: Parameter) -> str:
    return f"{each.kind} {each.samples} {each.default} ({'; '.join(map(_value, each.parts))})"


def _facts(plan: Plan, renamed: Mapping[str, str]) -> dict[str, str]:
    """Write for each fact of a plan where it is, and its values."""
    found = {each.name: _fact(each) for each in plan.facts}
    for place in _places(plan):
        for each in place.holds:
            found[each.name] = found.get(each.name, "") + f"{renamed.get(place.name, place.name)}: {_fact(each)}\n"
    return found


def _fact(each: Fact) -> str:
    return f"{each.values} {each.lifetime} {each.allowed_changes}"


def _calls(plan: Plan) -> dict[str, str]:
    return {call.name: f"{call.again} {[outcome.takes for outcome in call.outcomes]}" for call in plan.calls}


def _replies(plan: Plan, renamed: Mapping[str, str]) -> dict[str, str]:
    return {
        _GIVES.join((call.name, outcome.name)): f"{renamed.get(call.name, call.name)} {place} {outcome.takes}"
        for call in plan.calls
        for place, outcome in enumerate(call.outcomes)
    }


def _says(place: Screen | Overlay) -> str:
    """Write what a screen or overlay is, without its name."""
    facts = [f"{fact.name}: {', '.join(fact.values)}" for fact in place.holds]
    results = [f"gives {result.name}" for result in place.gives]
    return "\n".join((*_takes(place), *facts, *results, *map(_move, place.moves), *(guard.name for guard in place.guards)))


def _takes(place: Screen | Overlay) -> list[str]:
    return [f"takes {taken.name}" for taken in getattr(place, "takes", ())]


def _move(move: Move) -> str:
    return f"{move.when}: {'; '.join(move.phrases)}"


def _taps(plan: Plan, renamed: Mapping[str, str]) -> dict[str, str]:
    """Write for each tap of a plan where it is and what it does."""
    found: dict[str, str] = {}
    for move in plan.moves:
        if isinstance(move.trigger, triggers.TapTrigger):
            owner = renamed.get(move.owner or "", move.owner or "")
            carries = ", ".join(carried.name for carried in move.trigger.carries)
            does = "; ".join(move.phrases)
            for old, new in renamed.items():
                does = does.replace(old, new)
            found[move.trigger.name] = found.get(move.trigger.name, "") + f"{owner} ({carries}): {does}\n"
    return found
