"""What may come next in a phrase: only what the grammar takes, and all of it."""

import unittest

from tests.plans import COMBFIELD
from wise_ladder.errors import WalkError
from wise_ladder.plan.completion import Kind, complete
from wise_ladder.plan.events import OpenLink, Tap, Wait
from wise_ladder.plan.parse_operations import parse_operation
from wise_ladder.plan.phrases import parse_condition
from wise_ladder.plan.scopes import parse_event, scope_of
from wise_ladder.plan.tokens import PhraseError


class Completing(unittest.TestCase):
    def words(self, kind: Kind, phrase: str, where: str | None = "hive") -> list[str]:
        return [phrase[: found.start] + found.text for found in complete(COMBFIELD, kind, phrase, scope_of(COMBFIELD, where))]

    def test_table(self) -> None:
        cases: list[tuple[Kind, str, list[str]]] = [
            ("operation", "pu", ["push"]),
            ("operation", "push sig", ["push sign in"]),
            ("operation", "push sign i", ["push sign in"]),
            ("operation", "push fra", ["push frames(id=$id)"]),
            (
                "operation",
                "set session ",
                ["set session unknown", "set session none", "set session valid", "set session expired"],
            ),
            ("operation", "switch ", ["switch hives", "switch diary", "switch supplies"]),
            ("operation", "pop to hives ", ["pop to hives else", "pop to hives and drop it", "pop to hives on"]),
            ("condition", "session is v", ["session is valid"]),
            ("condition", "id i", ["id is"]),
            ("condition", "session is valid ", ["session is valid and", "session is valid or"]),
            ("trigger", "check session gives off", ["check session gives offline"]),
            ("target", "com", ["comb(id=$id, n=1)"]),
            ("event", "see", []),
            ("step", "back would l", ["back would land on", "back would leave"]),
            ("step", "never saw spl", ["never saw splash"]),
            ("step", "answer st", ["answer stay here"]),
            ("step", "send picture replies ", ["send picture replies ok", "send picture replies failed"]),
        ]
        for kind, phrase, expected in cases:
            with self.subTest(phrase):
                self.assertEqual(self.words(kind, phrase), expected)

    def test_nothing_is_offered_where_a_name_may_be_anything(self) -> None:
        self.assertEqual(self.words("trigger", "tap "), [])
        self.assertEqual(self.words("operation", "push hive(id=$id) once once "), [])

    def test_what_is_offered_is_never_wrong(self) -> None:
        for kind, read in (("operation", parse_operation), ("condition", parse_condition)):
            for begun in ("", "p", "push ", "set ", "not ", "session ", "session is "):
                for phrase in self.words(kind, begun):  # type: ignore[arg-type]
                    wrong: list[int] = []
                    scope = scope_of(COMBFIELD, "hive")
                    scope.note = lambda at, _what, _instead="", _lacks=(), wrong=wrong: wrong.append(at)
                    try:
                        read(phrase, scope)
                    except PhraseError as error:
                        wrong.append(error.at)
                    self.assertTrue(all(at >= len(phrase) for at in wrong), phrase)


class TypedEvents(unittest.TestCase):
    def test_what_a_walk_can_do_can_be_typed(self) -> None:
        for typed, event in (
            ("tap hive(id=99)", Tap("hive", (("id", 99),))),
            ("wait 2s", Wait(2000)),
            ("link combfield://hives/99", OpenLink("combfield://hives/99")),
        ):
            self.assertEqual(parse_event(COMBFIELD, typed), event)

    def test_what_is_wrong_is_told(self) -> None:
        for typed, words in (
            ("tpa hive", 'did you mean "tap"'),
            ("tap hvie(id=7)", 'did you mean "hive"'),
            ("see hives", "does nothing"),
            ("", "something is missing here"),
        ):
            with self.subTest(typed), self.assertRaisesRegex(WalkError, words):
                parse_event(COMBFIELD, typed)


if __name__ == "__main__":
    unittest.main()
