"""Results with a type: whole numbers and texts that an argument hands over, read, written and said in walks."""

import unittest

from tests.plans import plan_of
from wise_ladder.errors import PlanError
from wise_ladder.plan import Plan
from wise_ladder.plan.operations import Push, Return, Variable
from wise_ladder.plan.values import Parameter
from wise_ladder.walks import run_walk
from wise_ladder.walks.report_text import walk_lines

PICKER = """
facts: {last: {values: [none, seven]}}
screens:
  hives:
    moves:
      - {when: tap pick, do: push picker awaiting hive}
      - {when: hive comes back, if: hive is 7, do: [set last seven, push hive(id=$hive)]}
      - {when: hive comes back, do: push hive(id=$hive)}
  hive:
    takes: {id: {type: whole number, samples: [7, 12]}}
    moves: [{when: tap pick another, do: push picker awaiting hive}, {when: hive comes back, do: replace hive(id=$hive)}]
  picker:
    gives: {hive: {type: whole number, samples: [7, 12]}}
    moves: [{when: tap hive(id), do: return $id}, {when: tap none, do: return 0}]
walks:
"""
WALKS = {
    "what the tap carries is returned and used": "[launch, tap pick, tap hive(id=12), got hive = 12, ladder hives > hive(id=12), last is none]",
    "the value decides": "[launch, tap pick, tap hive(id=7), got hive = 7, last is seven]",
    "zero is a value": "[launch, tap pick, tap none, got hive = 0, ladder hives > hive(id=0)]",
    "Back gives none": "[launch, tap pick, back, got hive is cancelled, ladder hives]",
    "each caller uses it in its own way": "[launch, tap pick, tap hive(id=7), tap pick another, tap hive(id=12), ladder hives > hive(id=12)]",
}


def wrong(change: tuple[str, str]) -> str:
    with unittest.TestCase().assertRaises(PlanError) as raised:
        plan_of(PICKER.replace(*change).removesuffix("walks:\n"))
    return str(raised.exception)


class TypedResults(unittest.TestCase):
    def plan(self) -> Plan:
        return plan_of(PICKER + "".join(f"  {name}: {steps}\n" for name, steps in WALKS.items()))

    def test_what_a_plan_says(self) -> None:
        plan = self.plan()
        self.assertEqual(plan.screen["picker"].gives, (Parameter("hive", "whole number", (7, 12)),))
        self.assertEqual([move.operations for move in plan.screen["picker"].moves], [(Return(Variable("id")),), (Return(0),)])
        (push,) = plan.screen["hives"].moves[2].operations
        assert isinstance(push, Push)
        self.assertEqual(push.target.arguments, (("id", Variable("hive")),))
        self.assertEqual({warning.what for warning in plan.warnings}, {'nothing happens when "hive" is cancelled'})

    def test_what_happens(self) -> None:
        plan = self.plan()
        for walk in plan.walks:
            result = run_walk(plan, walk)
            self.assertTrue(result.passed, "\n".join(walk_lines(result, "plan")))

    def test_the_argument_of_a_screen_may_be_returned(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap see, do: push hive(id=7) awaiting last}, {when: last comes back, do: replace hive(id=$last)}]}
              hive: {takes: {id: whole number}, gives: {last: whole number}, moves: [{when: tap done, do: return $id}]}
            walks: {it comes back: [launch, tap see, tap done, got last = 7, ladder hive(id=7)]}
        """)
        self.assertTrue(run_walk(plan, plan.walks[0]).passed)

    def test_an_overlay_closes_with_what_was_tapped(self) -> None:
        plan = plan_of("""
            screens:
              hives: {moves: [{when: tap choose, do: open chooser awaiting hive}, {when: hive comes back, do: push hive(id=$hive)}]}
              hive: {takes: {id: whole number}}
            overlays: {chooser: {kind: sheet, gives: {hive: whole number}, moves: [{when: tap hive(id), do: close with $id}]}}
            walks: {chosen: [launch, tap choose, tap hive(id=3), got hive = 3, ladder hives > hive(id=3)]}
        """)
        self.assertTrue(run_walk(plan, plan.walks[0]).passed)

    def test_a_guard_cannot_pass_on_an_argument(self) -> None:
        """It was lost without a word: the rung that the guard stands on may be gone by then."""
        for does in ("do: 'push hive(id=$id)'", "ask: {text: Leave?, answers: [{stay: 'replace hive(id=$id)'}, {go: go on}]}"):
            with self.assertRaisesRegex(PlanError, r'there is no "\$id" here'):
                plan_of(
                    f"screens: {{hives: {{moves: [{{when: tap a, do: 'push hive(id=7)'}}]}}, hive: {{takes: {{id: whole number}}, guards: [{{name: g, {does}}}]}}}}"
                )

    def test_what_is_wrong_is_said_with_what_to_write(self) -> None:
        for change, told in (
            (("return $id", "return $idd"), 'there is no "$idd" here; did you mean "id"?'),
            (("return $id", "return seven"), 'no result here has the value "seven"'),
            (("return $id", "return id"), "write $id"),
            (("push hive(id=$hive)", "push hive(id=$hvie)"), '"$hvie"'),
            (("hive is 7", "hive is seven"), "whole number"),
            (("{id: {type: whole number, samples: [7, 12]}}", "{id: text}"), '"$hive" is a whole number, "id" takes a text'),
            (
                ("gives: {hive: {type: whole number, samples: [7, 12]}}", "gives: {hive: number}"),
                'no result here has the value "0"',
            ),
        ):
            self.assertIn(told, wrong(change), change)


if __name__ == "__main__":
    unittest.main()
