"""Which screens, overlays and taps of two versions are the same under another name: as told, or guessed by what they do."""

from __future__ import annotations

from difflib import SequenceMatcher
from typing import TYPE_CHECKING, NamedTuple

from msgspec.structs import replace

from wise_ladder.plan import events, triggers

if TYPE_CHECKING:
    from collections.abc import Mapping

    from wise_ladder.plan import Event, Move, Plan
    from wise_ladder.plan.model import Overlay, Screen

ALIKE = 0.6
"""From this share of what they say on two parts may be the same under another name."""


class Names(NamedTuple):
    """What screens, overlays and taps of the old version are called in the new one, where that is something else."""

    screens: Mapping[str, str]
    overlays: Mapping[str, str]
    taps: Mapping[str, str]

    @property
    def words(self) -> list[str]:
        """List each name that changed."""
        kinds = (("screen", self.screens), ("overlay", self.overlays), ("tap", self.taps))
        return [f"{kind} {old} is {new} now" for kind, names in kinds for old, new in names.items()]

    def renamed(self, event: Event) -> Event:
        """Return an event of the old version as it is called in the new one."""
        if isinstance(event, events.Tap) and event.name in self.taps:
            return replace(event, name=self.taps[event.name])
        return event

    @property
    def backwards(self) -> Names:
        """The same from the new version to the old one."""
        return Names(*({new: old for old, new in names.items()} for names in self))


SAME = Names({}, {}, {})


def match(old: Plan, new: Plan) -> Names:
    """Guess which names of the old version are others in the new one.

    A name that is in both is the same. Of the others those are matched that say most alike, from `ALIKE` on, each once.
    """
    screens = _matched({each.name: _says(each) for each in old.screens}, {each.name: _says(each) for each in new.screens})
    overlays = _matched({each.name: _says(each) for each in old.overlays}, {each.name: _says(each) for each in new.overlays})
    return Names(screens, overlays, _matched(_taps(old, screens), _taps(new, {})))


def _matched(old: Mapping[str, str], new: Mapping[str, str]) -> dict[str, str]:
    gone, came = [name for name in old if name not in new], [name for name in new if name not in old]
    alike = sorted(
        ((SequenceMatcher(None, old[one], new[other]).ratio(), one, other) for one in gone for other in came), reverse=True
    )
    found: dict[str, str] = {}
    for share, one, other in alike:
        if share >= ALIKE and one not in found and other not in found.values():
            found[one] = other
    return found


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
