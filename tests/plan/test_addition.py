"""A part of the plan typed in one line: what it becomes in the file, what is new with it, and what is said if it cannot be."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from wise_ladder.demo import combfield
from wise_ladder.errors import LadderError, WriteError
from wise_ladder.plan.addition import ADDERS, add_typed, is_addition
from wise_ladder.plan.complete_addition import complete_addition
from wise_ladder.plan.loader import problems_in, read_plan_text
from wise_ladder.plan.parts import parts
from wise_ladder.plan.templates import minimal_plan

SMALL = """\
app: Combfield
start: hives

screens:
  hives:
    moves:
      - {when: tap hive(id), do: push hive(id=$id)}
  hive: {takes: {id: whole number}}

walks:
  w: [launch]
"""
CASES: tuple[tuple[str | None, str, str, tuple[str, ...]], ...] = (
    (None, "screen week", "  week:\n", ()),
    (None, "screen comb(id, n)", "  comb: {takes: {id: whole number, n: whole number}}\n", ()),
    (None, "screen note: holds draft [none, written], header none", "  note: {holds: {draft: [none, written]}, header: none}\n", ()),
    (None, "fact seen", "facts:\n  seen: no\n\nscreens:", ()),
    (None, "fact session: none, valid", "  session: [none, valid]\n", ()),
    (None, "fact token: none, held, kept disk, from outside held to none",
     "  token: {values: [none, held], kept: disk, from outside: [held to none]}\n", ()),
    ("hive", "takes look: {type: [plain, big], default: plain}", "{id: whole number, look: {type: [plain, big], default: plain}}", ()),
    ("hives", "holds picked: none, some", "    holds: {picked: [none, some]}\n", ()),
    ("hive", "gives mark: white, yellow", "gives: {mark: [white, yellow]}", ()),
    (None, "call sync: ok 400ms, failed 2s, again ignore", "calls:\n  sync: {ok: 400ms, failed: 2s, again: ignore}\n", ()),
    (None, "overlay sure: dialog, back blocked", "overlays:\n  sure: {kind: dialog, back: blocked}\n", ()),
    (None, "flow tour: welcome, rules", "flows:\n  tour: {screens: [welcome, rules], start: welcome}\n", ("screen welcome", "screen rules")),
    (None, "tabs home: hives, diary: week",
     "  home:\n    tabs: {hives: hives, diary: week}\n    moves:\n      - {when: tap hives, do: switch hives}\n"
     "      - {when: tap diary, do: switch diary}\n", ("screen week",)),
    ("hive", "guard unsaved: block", "    guards:\n      - {name: unsaved, block: yes}\n", ()),
    ("hive", "guard unsaved if seen is yes: ask Leave?; stay here: stay; leave: set seen no, go on",
     "{name: unsaved, if: seen is yes, ask: {text: 'Leave?', answers: [{stay here: stay}, {leave: [set seen no, go on]}]}}", ("fact seen",)),
    (None, "redirect hive to sign in if session is none, remember",
     "redirects:\n  - {to: [hive], if: session is none, send to: sign in, remember: yes}\n", ("screen sign in", "fact session")),
    (None, "link bees://hive/{id} hives, hive(id=$id)", "links:\n  - {address: 'bees://hive/{id}', build: [hives, hive(id=$id)]}\n", ()),
    (None, "link bees://week week, on top", "build: [week], mode: on top}", ("screen week",)),
    (None, "cover: least 300ms, most 5s", "cover: {least: 300ms, most: 5s}\n", ()),
    (None, "memory: warn 60MB, dies 90MB", "memory: {warn: 60MB, dies: 90MB}\n", ()),
    (None, "policy tab back: outwards", "policies:\n  tab back: outwards\n", ()),
    (None, "phone bare: system back: no", "phones:\n  bare: {system back: no}\n", ()),
    (None, "rule no twins", "rules:\n  - starter\n  - no twins\n", ()),
    (None, "walk there and back: launch, tap hive(id=7), back", "  there and back:\n    - launch\n    - tap hive(id=7)\n    - back\n", ()),
    (None, "rule never beneath: screens hives", "  - {rule: never beneath, screens: hives}\n", ()),
    (None, "unknown address: hives", "unknown address: hives\n", ()),
    (None, "anywhere launched: set seen yes", "anywhere:\n  - {when: launched, do: set seen yes}\n", ("fact seen",)),
    ("hives", "2s on ladder if seen is no: replace week; set seen yes",
     "      - {when: 2s on ladder, if: seen is no, do: [replace week, set seen yes]}\n", ("screen week", "fact seen")),
    (None, "on hive shown: nothing", "  hive:\n    takes: {id: whole number}\n    moves:\n      - {when: shown, do: []}\n", ()),
    ("hives", "tap comb: push hive(id=7, n=2)", "takes: {id: whole number, n: {type: whole number, default: 1}}", ("argument n of hive",)),
)  # fmt: skip


class Adding(unittest.TestCase):
    def test_each_kind(self) -> None:
        for where, typed, expected, new in CASES:
            with self.subTest(typed):
                added = add_typed(SMALL, where, typed)
                self.assertIn(expected, added.text)
                self.assertEqual(sorted(added.new), sorted(new))
                self.assertEqual(problems_in(added.text), [])
                self.assertTrue(is_addition(read_plan_text(SMALL), where, typed))

    def test_a_tab_goes_to_the_tabs_that_are_there(self) -> None:
        text = add_typed(SMALL, None, "tabs home: hives").text
        self.assertIn("tabs: {hives: hives, diary: week}", add_typed(text, None, "tab diary: week").text)

    def test_every_kind_has_a_case(self) -> None:
        tried = {typed.partition(" ")[0].rstrip(":") for _, typed, _, _ in CASES} | {"unknown address", "tab"}
        self.assertEqual(set(ADDERS) - tried, set())

    def test_sections_come_in_the_order_of_the_documents(self) -> None:
        text = minimal_plan("Bees", "hives")
        for line in (
            "rule no twins",
            "link a://b hives",
            "overlay sure: dialog",
            "call sync: ok 1s",
            "fact seen",
            "cover: most 5s",
        ):
            text = add_typed(text, None, line).text
        sections = [part.path[0] for part in parts(text) if len(part.path) < 3]
        self.assertEqual(list(dict.fromkeys(sections)), ["cover", "facts", "calls", "screens", "overlays", "links", "rules"])
        self.assertNotIn("\n\n\n", text)

    def test_what_cannot_be_added_is_told(self) -> None:
        cases = {
            (None, "fact"): "write a name first",
            (None, "screen hive"): '"hive" is there already',
            (None, "screen x: colour red"): "begin it with one of: top bar",
            (None, "takes id: text"): "go to a screen first",
            (None, "flow tour"): "name its screens",
            (None, "tabs home"): "name its tabs",
            (None, "tab diary: week"): "there are no tabs yet",
            (None, "redirect hive"): "write redirect SCREEN to SCREEN",
            (None, "guard unsaved"): "say what it does",
            (None, "on nowhere shown: pop"): "write on SCREEN",
            (None, "rule no twin"): 'did you mean "no twins"',
            (None, "rule depth at most"): "write rule depth at most: rungs 3",
            (None, "rule in every state: screens hive"): "write rule in every state: if FACT is VALUE",
            ("hives", "2s on ladder"): "write TRIGGER: OPERATION",
            ("hives", "2s on ladder: jump"): 'unknown operation "jump"',
            ("hives", "call check"): "",
        }
        for (where, typed), words in cases.items():
            with self.subTest(typed):
                if words:
                    with self.assertRaisesRegex(WriteError, words):
                        add_typed(SMALL, where, typed)
                else:
                    self.assertIn("check: {ok: 1s}", add_typed(SMALL, where, typed).text)

    def test_a_tap_or_a_screen_alone_is_a_sketch(self) -> None:
        plan = read_plan_text(SMALL)
        for typed in ("week", "done: pop", "item(id)", "screen", "rules"):
            self.assertFalse(is_addition(plan, "hives", typed), typed)
        for typed in ("shown: pop", "tap week: push week", "rule no twins", "1200ms on ladder: replace hives"):
            self.assertTrue(is_addition(plan, "hives", typed), typed)

    def test_the_kind_that_a_view_is_about_comes_first(self) -> None:
        plan = read_plan_text(SMALL)
        for typed, first in (("", "rule never beneath: screens "), ("no d", "rule no dead taps"), ("fact session", None)):
            offered = [each.text for each in complete_addition(plan, None, typed, "rule")]
            self.assertEqual(next(iter(offered), None), first)

    def test_what_may_come_next(self) -> None:
        plan = read_plan_text(SMALL.replace("screens:", "facts: {session: [none, valid]}\nscreens:", 1))
        cases = {
            "re": "redirect ",
            "rule no t": "no twins",
            "rule depth": "depth at most: rungs ",
            "redirect hive to hi": "hives",
            "redirect hive to hives if se": "session",
            "redirect hive to hives if session is v": "valid",
            "cover: least 3s, mo": "most",
            "screen week: hea": "header",
            "2s on ladder: rep": "replace",
            "2s on ladder: set session va": "valid",
            "anywhere session becomes v": "valid",
            "guard g if session is no": "none",
            "link a://b hi": "hives",
        }
        for typed, expected in cases.items():
            self.assertIn(expected, [each.text for each in complete_addition(plan, "hives", typed)], typed)

    def test_each_beginning_of_a_line_is_taken_or_told(self) -> None:
        plan = read_plan_text(SMALL)
        for where, typed, _, _ in CASES:
            for end in range(len(typed)):
                complete_addition(plan, where, typed[:end])
                try:
                    add_typed(SMALL, where, typed[:end])
                except LadderError:
                    continue

    @settings(max_examples=150)
    @given(
        st.sampled_from([None, "hives", "hive"]), st.sampled_from(list(ADDERS)), st.text("ab :;,{}[]()'\"#-$=\n", max_size=24)
    )
    def test_whatever_is_typed(self, where: str | None, kind: str, rest: str) -> None:
        try:
            added = add_typed(SMALL, where, f"{kind} {rest}")
        except LadderError:
            return
        self.assertEqual(problems_in(added.text), [])

    def test_on_the_demo(self) -> None:
        text = combfield().read_text(encoding="utf-8")
        for where, typed in (
            ("hives", "5s shown: show saved note"),
            (None, "fact tired: no, yes"),
            ("inspection", "holds page: first, last"),
        ):
            added = add_typed(text, where, typed)
            kept = [line for line in added.text.splitlines() if line in set(text.splitlines())]
            self.assertGreaterEqual(len(kept), len(text.splitlines()) - 2)


if __name__ == "__main__":
    unittest.main()
