"""Faults planted in deciding and doing, one at a time: each must be noticed by the second reading.

`python -m tests.second.faults NUMBER` plants one and prints the first seed that notices it, or -1.
"""

from __future__ import annotations

import importlib.abc
import importlib.machinery
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from collections.abc import Sequence
    from importlib.machinery import ModuleSpec
    from types import CodeType, ModuleType

MOST_SEEDS = 400


class Fault(NamedTuple):
    """What is wrong with it, in which module of `wise_ladder`, and the text that is put in place of another."""

    what: str
    module: str
    right: str
    wrong: str


FAULTS = (
    Fault("1 a hidden rung acts on the app's ladder", "semantics.apply", "rung.serial, (*chain, *inside)", "rung.serial, ()"),
    Fault("1 a hidden rung's result is not delivered", "semantics.consequences", "for serial in dict.fromkeys(doing.hidden_results):", "for serial in ():"),
    Fault("2 flow and tabs get no result from inside", "semantics.apply_rungs", "inside = place < level", "inside = False"),
    Fault("3 an older place stays the wanted one's stand-in", "semantics.apply_world", "    if standing_in and doing.wanted:", "    if False:"),
    Fault("4 a link to the background is one move with the reopening", "semantics.decide_phases", "return effects.ToForeground(launched=False), effects.Next(event.address)", 'return effects.ToForeground(launched=False), effects.DecideNext(OperationTask(operations.Follow(event.address), 0, Cause("aside")))'),
    Fault("5 guards are asked at the first leaving only", "semantics.run", "cause = do.cause and replace(", "cause = None if doing.consulted else do.cause and replace("),
    Fault("5 a guard is asked twice in a move", "semantics.guards", "if (guard.id, place) in cause.asked:", "if False:"),
    Fault("6 the second tap does not read its condition", "semantics.decide", "move = self._chosen(moves, view)\n        if move is None:\n            return (effects.AddEntry(NoEffect(messages.SECOND_TAP_DOES_NOTHING", "move = moves[0] if moves else None\n        if move is None:\n            return (effects.AddEntry(NoEffect(messages.SECOND_TAP_DOES_NOTHING"),
    Fault("7 a guard acts for nobody", "semantics.apply_guards", "        doing.owner = doing.guards_rung\n", "        doing.owner = NOBODY\n"),
    Fault("8 the first rung of a tab is not redirected", "semantics.decide_operations", "first, before = self.redirects.resolve(filled(screen.inside[spot.inside][1], dict(spot.data.arguments)))", "first, before = self.redirects._built(filled(screen.inside[spot.inside][1], dict(spot.data.arguments)), frozenset()), ()"),
    Fault("9 a caller between is not told", "semantics.apply_rungs", "for rung in reversed(gone[:-1]):", "for rung in ():"),
    Fault("10 going on forgets who was answered before", "semantics.run", "doing.granted = (*stopped.passed, question.guard)", "doing.granted = (question.guard,)"),
    Fault("10 the move's own place is lost at going on", "semantics.run", "= stopped.owner, stopped.chain, stopped.layer", "= NOBODY, None, question.layer"),
    Fault("11 facts in memory are set without memory", "semantics.apply_world", 'return doing.alive if doing.phase is Phase.OUTSIDE else fact.lifetime == "ladder"', "return True"),
    Fault("12 what follows a flow that went acts on the app", "semantics.run", "way = doing.still_there(own if doing.inside is None else doing.inside)", "way = doing.still_there(own if doing.inside is None else doing.inside)\n        way = way if way == own or doing.inside is not None else ()"),
    Fault("13 a wanted link is pushed", "semantics.decide_operations", "operations.Follow(wanted.address, whole=True)", "operations.Follow(wanted.address)"),
    Fault("14 an overlay answers whoever awaits its name", "semantics.apply_overlays", "asker = find(doing.ladder, layer.asker) if layer.asker else None", "asker = next((each for each in __import__('wise_ladder.semantics.paths', fromlist=['x']).spotted(doing.ladder) if any(mark.overlay == do.overlay for mark in each.rung.data.awaits)), None)"),
    Fault("15 leaving the app tells nobody", "semantics.run", "frozenset(get_args(effects.Drop))", "frozenset(get_args(effects.Drop)) - {effects.ExitApp}"),
    Fault("16 a descent answers one question", "semantics.forecast", "for _ in plan.guard:", "for _ in range(1):"),
    Fault("16 the root counts as a Back", "semantics.forecast", "if _at_root(plan, hop):", "if False:"),
    Fault("17 a guard that is gone takes every Back", "semantics.working_state", "return entry.data is None or self.guard_holds", "return True or self.guard_holds"),
    Fault("17 a hidden guard that is first in line is forgotten", "semantics.apply_world", "for rung, _ in spotted(doing.ladder):\n        for screen, guards", "for rung in doing.path:\n        for screen, guards"),
    Fault("18 notices cannot be tapped", "semantics.decide", "            if not self.plan.overlay[name].modal:\n                yield", "            if False:\n                yield"),
    Fault("18 overlays are not shown", "semantics.apply_world", "layers += [(layer, place) for place, rung in enumerate(doing.path) for layer in rung.overlays]", "pass"),
    Fault("18 timers of overlays do not start", "semantics.apply_overlays", "for after, runs in doing.tables.timers.get(do.overlay, ()):", "for after, runs in ():"),
    Fault("19 shown fires under the cover", "semantics.consequences", "return phase is Phase.OPEN and not cover", "return phase is Phase.OPEN"),
    Fault("19 a restored timer does not start", "semantics.apply_phone", "    doing.log.append(log.Restored(do.what))\n    start_on_ladder(doing)\n", "    doing.log.append(log.Restored(do.what))\n"),
    Fault("19 no left when the app is left", "semantics.apply_world", "if not do.whole and doing.tables.left:", "if False:"),
    Fault("20 the world never takes the cover off", "semantics.run", "    allowed = True\n    while allowed:", "    allowed = False\n    while allowed:"),
    Fault("20 an arrow leads to where one is", "semantics.decide_back", "if not fresh and self.tables.data(target)", "if False and self.tables.data(target)"),
    Fault("21 a slash at the end matters", "plan.addresses", 'return path[:start] + path[start:].rstrip("/")', "return path"),
    Fault("22 a value is lost in silence when the app is left", "semantics.apply_world", "        for result in rung.data.undelivered:\n            tell_lost", "        for result in ():\n            tell_lost"),
    Fault("22 a return at the root says that it is a pop", "semantics.decide_operations", "return self._at_root_with(value)", "return self._at_root()"),
    Fault("22 beneath ends at the flow", "semantics.paths", "for ladder, serial in reversed(way):", "for ladder, serial in way[-1:]:"),
    Fault("Back closes the overlay opened first", "semantics.decide_back", "for name, place in reversed(self.head.layers):\n            back", "for name, place in self.head.layers:\n            back"),
    Fault("replace drops the duty to answer", "semantics.apply_rungs", "_owing(do.build, gone.data.owes)", "_owing(do.build, None)"),
    Fault("the top comes back wrong", "semantics.apply_phone", "for rung in ladder[-1:]\n", "for rung in ladder[:1]\n"),
)  # fmt: skip


class _Planting(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Loads one module with a fault in it."""

    def __init__(self, fault: Fault) -> None:
        self.fault, self.name = fault, f"wise_ladder.{fault.module}"

    def find_spec(self, name: str, path: Sequence[str] | None, target: ModuleType | None = None) -> ModuleSpec | None:
        if name != self.name:
            return None
        spec = importlib.machinery.PathFinder.find_spec(name, path, target)
        assert spec is not None
        self.path = Path(spec.origin or "")
        spec.loader = self
        return spec

    def exec_module(self, module: ModuleType) -> None:
        text = self.path.read_text(encoding="utf-8")
        assert text.count(self.fault.right) == 1, f"{self.fault.what}: {text.count(self.fault.right)} places"
        code: CodeType = compile(text.replace(self.fault.right, self.fault.wrong), str(self.path), "exec")
        exec(code, module.__dict__)


def noticed(number: int) -> int:
    """Plant a fault and return the first seed that notices it, -1 if none does."""
    sys.meta_path.insert(0, _Planting(FAULTS[number]))
    from tests.deep import addresses, second_reading  # noqa: PLC0415 - read with the fault in it

    if addresses(0)["found"]:
        return 0
    return next((seed for seed in range(MOST_SEEDS) if second_reading(seed)["found"]), -1)


if __name__ == "__main__":
    print(noticed(int(sys.argv[1])))
