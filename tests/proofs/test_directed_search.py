"""The search for a run that breaks a rule: it finds a shortest one, although the distances are only lower limits."""

import unittest
from types import SimpleNamespace
from typing import TYPE_CHECKING, Any, cast
from unittest.mock import patch

from wise_ladder.proofs.directed_search import shortest_break
from wise_ladder.rules.verdicts import Counterexample

if TYPE_CHECKING:
    from wise_ladder.proofs.fixpoint import Fixpoint

STEPS = {"start": "ab", "a": "c", "c": "d", "d": "x", "b": "x", "x": "y", "y": "z", "z": "!"}
"""Where each state leads, a letter each; `!` breaks the rule. To x it is two steps by b, four by d."""


def leaf(name: str) -> Any:
    candidates = [SimpleNamespace(rule=0)] if name == "!" else []
    return SimpleNamespace(action=name, successor=None, candidates=candidates, breaks=lambda _: 0 if candidates else None)


class States(SimpleNamespace):
    """States each of which lies in an abstract one of its own; from some a step seems to break the rule."""

    def __init__(self, seems_to_break: str) -> None:
        graph = SimpleNamespace(
            first="start",
            edges=lambda at: [(leaf(to), to) for to in STEPS.get(at, "")],
            taken=lambda _core, action, _successor: action,
        )
        known = {at: SimpleNamespace(edges=[SimpleNamespace(target=to) for to in after]) for at, after in STEPS.items()}
        suspects = SimpleNamespace(items=lambda: [(leaf("!"), seems_to_break)])
        super().__init__(graph=graph, states=known, suspects=suspects, abstract=str)


class Shortest(unittest.TestCase):
    def path(self, seems_to_break: str) -> str:
        tried: list[str] = []
        whole = cast("Fixpoint", States(seems_to_break))
        shortest_break(whole, 0, 5, lambda path, _: cast("Any", tried.append("".join(map(str, path)))))
        return tried[0]

    def test_a_shorter_way_that_is_met_later_counts(self) -> None:
        """From d a step only seems to break the rule, so the longer way looks nearer at first."""
        self.assertEqual(self.path("zd"), "bxyz!")

    def test_after_a_run_that_does_not_break_the_rule_the_next_need_not_be_the_shortest(self) -> None:
        for rejected, shortest in ((0, True), (1, False)):
            tried: list[Any] = [None] * rejected
            run = Counterexample(cast("Any", None), cast("Any", None), 5)
            whole = cast("Fixpoint", States("z"))
            with self.subTest(rejected=rejected), patch.dict(STEPS, {"z": "!!"}):
                found = shortest_break(whole, 0, 5, lambda *_, tried=tried, run=run: tried.pop() if tried else run)
                self.assertEqual(found, run._replace(shortest=shortest))

    def test_exact_distances_lead_straight_there(self) -> None:
        self.assertEqual(self.path("z"), "bxyz!")


if __name__ == "__main__":
    unittest.main()
