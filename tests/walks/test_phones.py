"""The same walks on each phone of a plan: where they part is told."""

import unittest

from tests.plans import plan_of
from wise_ladder.walks.phones import differences

PLAN = plan_of("""
    phones: {plain: , stubborn: {back at root: stay}}
    screens:
      hives: {moves: [{when: tap hive, do: push hive}]}
      hive: {}
    walks:
      same on both: [launch, tap hive, back, see hives]
      stays or leaves: [launch, tap hive, back, back]
      would stay or leave: [launch, back would leave]
      only there: {phone: stubborn, steps: [launch, back, see hives]}
""")


class Phones(unittest.TestCase):
    def told(self, *names: str) -> list[str]:
        return list(differences({name: PLAN.on_phone(name) for name in names}))

    def test_the_step_they_part_at_and_where_each_is_then(self) -> None:
        self.assertEqual(
            self.told("plain", "stubborn"),
            [
                "stays or leaves: from step 4 on, back, plain: outside; stubborn: ladder hives",
                "would stay or leave: in what it expects, plain: passes; stubborn: fails",
            ],
        )

    def test_the_first_phone_is_what_the_others_are_compared_with(self) -> None:
        self.assertEqual(
            self.told("stubborn", "plain")[0],
            "stays or leaves: from step 4 on, back, stubborn: ladder hives; plain: outside",
        )

    def test_one_phone_does_not_differ_from_itself(self) -> None:
        self.assertEqual(self.told("plain"), [])

    def test_a_named_given_is_compared_in_what_comes_of_it(self) -> None:
        """That a fact has another value is no difference; a tap that applies only then is one."""
        plan = plan_of("""
            facts: {role: [guest, keeper]}
            givens: {keeper: [role is keeper]}
            screens:
              hives: {moves: [{when: tap hive, do: push hive}, {when: tap shop, if: role is keeper, do: push shop}]}
              hive: {}
              shop: {}
            walks:
              alike: [launch, tap hive, back]
              the shop: [launch, tap shop]
              its own: {given: keeper, steps: [launch, tap shop]}
        """)
        told = list(differences({"as declared": plan, **plan.others()}))
        self.assertEqual(
            told, ["the shop: from step 2 on, tap shop, as declared: ladder hives; given keeper: ladder hives > shop"]
        )


if __name__ == "__main__":
    unittest.main()
