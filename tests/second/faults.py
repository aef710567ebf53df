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
    Fault("1 a hidden rung acts on the app's ladder", "ladder.applying", "rung.serial, (*chain, *inside)", "rung.serial, ()"),
    Fault("1 a hidden rung's result is not delivered", "ladder.moving", "for serial in dict.fromkeys(doing.hidden_results):", "for serial in ():"),
    Fault("2 flow and tabs get no result from inside", "ladder.rungs", "inside = place < level", "inside = False"),
    Fault("3 an older place stays the wanted one's stand-in", "ladder.world", "    if doing.wanted:\n        for rung in [", "    if False:\n        for rung in ["),
    Fault("4 a link to the background is one move with the reopening", "ladder.starting", "return small.ComeBack(launched=False), small.Next(event.address)", 'return small.ComeBack(launched=False), small.Then(Do(operations.Follow(event.address), 0, Cause("aside")))'),
    Fault("5 guards are asked at the first leaving only", "ladder.moving", "cause = do.cause and replace(", "cause = None if doing.consulted else do.cause and replace("),
    Fault("5 a guard is asked twice in a move", "ladder.guarding", "if (guard.id, place) in cause.asked:", "if False:"),
    Fault("6 the second tap does not read its condition", "ladder.deciding", "move = self._chosen(moves, view)\n        if move is None:\n            return (small.Say(Nothing(f'the second", "move = moves[0] if moves else None\n        if move is None:\n            return (small.Say(Nothing(f'the second"),
    Fault("7 a guard acts for nobody", "ladder.doing", "            self.owner = self.guards_rung\n", "            self.owner = NOBODY\n"),
    Fault("8 the first rung of a tab is not redirected", "ladder.operating", "first, before = self._redirected(filled(screen.inside[spot.inside][1], dict(spot.face.arguments)))", "first, before = self._built(filled(screen.inside[spot.inside][1], dict(spot.face.arguments)), frozenset()), ()"),
    Fault("9 a caller between is not told", "ladder.rungs", "for rung in reversed(gone[:-1]):", "for rung in ():"),
    Fault("10 going on forgets who was answered before", "ladder.moving", "doing.granted = (*question.passed, question.guard)", "doing.granted = (question.guard,)"),
    Fault("10 the move's own place is lost at going on", "ladder.moving", "doing.owner, doing.chain = question.owner, question.chain", "doing.owner, doing.chain = NOBODY, None"),
    Fault("11 facts in memory are set without memory", "ladder.world", 'return doing.alive if doing.phase is Phase.OUTSIDE else fact.kept == "ladder"', "return True"),
    Fault("12 what follows a flow that went acts on the app", "ladder.moving", "way = doing.still_there(own if doing.inside is None else doing.inside)", "way = doing.still_there(own if doing.inside is None else doing.inside)\n        way = way if way == own or doing.inside is not None else ()"),
    Fault("13 a wanted link is pushed", "ladder.operating", "operations.Follow(wanted.address, whole=True)", "operations.Follow(wanted.address)"),
    Fault("14 an overlay answers whoever awaits its name", "ladder.overlays", "asker = find(doing.ladder, layer.asker) if layer.asker else None", "asker = next((each for each in __import__('wise_ladder.semantics.paths', fromlist=['x']).spotted(doing.ladder) if any(mark.overlay == do.overlay for mark in each.rung.face.awaits)), None)"),
    Fault("15 leaving the app tells nobody", "ladder.moving", "small.DropAll, small.GoOut}", "small.DropAll}"),
    Fault("16 a descent answers one question", "ladder.forecast", "for _ in plan.guard:", "for _ in range(1):"),
    Fault("16 the root counts as a Back", "ladder.forecast", "if _at_root(plan, hop):", "if False:"),
    Fault("17 a guard that is gone takes every Back", "ladder.doing", "return entry.face is None or self.guard_holds", "return True or self.guard_holds"),
    Fault("17 a hidden guard that is first in line is forgotten", "ladder.world", "for rung, _ in spotted(doing.ladder):\n        for screen, guards", "for rung in doing.path:\n        for screen, guards"),
    Fault("18 notices cannot be tapped", "ladder.deciding", "            if not self.plan.overlay[name].modal:\n                yield", "            if False:\n                yield"),
    Fault("18 overlays are not shown", "ladder.world", "found += [(layer, place) for place, rung in enumerate(doing.path) for layer in rung.layers]", "pass"),
    Fault("18 timers of overlays do not start", "ladder.overlays", "for after, runs in doing.tables.timers.get(do.overlay, ()):", "for after, runs in ():"),
    Fault("19 shown fires under the cover", "ladder.moving", "return phase is Phase.OPEN and not cover", "return phase is Phase.OPEN"),
    Fault("19 a restored timer does not start", "ladder.world", 'if runs == "on ladder":', "if False:"),
    Fault("19 no left when the app is left", "ladder.world", "if not do.whole and doing.tables.left:", "if False:"),
    Fault("20 the world never takes the cover off", "ladder.moving", "    found = True\n    while found:", "    found = False\n    while found:"),
    Fault("20 an arrow leads to where one is", "ladder.deciding", "if not fresh and self.tables.face(target)", "if False and self.tables.face(target)"),
    Fault("21 a slash at the end matters", "plan.addresses", 'return path[:start] + path[start:].rstrip("/")', "return path"),
    Fault("22 a value is lost in silence when the app is left", "ladder.world", "        for result in rung.face.undelivered:\n            tell_lost", "        for result in ():\n            tell_lost"),
    Fault("22 a return at the root says that it is a pop", "ladder.operating", "return self._at_root_with(operation.value)", "return self._at_root()"),
    Fault("22 beneath ends at the flow", "ladder.paths", "for ladder, serial in reversed(way):", "for ladder, serial in way[-1:]:"),
    Fault("Back closes the overlay opened first", "ladder.deciding", "for name, place in reversed(self.head.layers):\n            back", "for name, place in self.head.layers:\n            back"),
    Fault("replace drops the duty to answer", "ladder.rungs", "_owing(do.build, gone.face.owes)", "_owing(do.build, None)"),
    Fault("the top comes back wrong", "ladder.world", "for rung in ladder[-1:])", "for rung in ladder[:1])"),
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
