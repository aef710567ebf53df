"""One table of actions feeds keys, footer, help and the list of all commands: nothing can be done that they do not tell of."""

import asyncio
import unittest
from typing import Any
from unittest.mock import patch

from textual.widgets import OptionList

from tests.plans import COMBFIELD
from wise_ladder.app.application import LadderApp
from wise_ladder.app.climb import commands as climb
from wise_ladder.app.command_list import commands
from wise_ladder.app.commands import COMMANDS, TAP_KEYS, VIEWS, commands_in
from wise_ladder.app.crossings import commands as crossings
from wise_ladder.app.document import Document
from wise_ladder.app.draw_commands import DrawCommands
from wise_ladder.app.edit_commands import EditCommands
from wise_ladder.app.open_plans import OpenPlans
from wise_ladder.app.part_commands import PartCommands
from wise_ladder.app.path_commands import PathCommands
from wise_ladder.app.rules import commands as rules
from wise_ladder.app.seen.commands import SeenCommands
from wise_ladder.app.sheet_commands import SheetCommands
from wise_ladder.app.trials.commands import TrialsCommands
from wise_ladder.app.walks import commands as walks
from wise_ladder.demo import combfield
from wise_ladder.plan.plan_files import read_plan_files

OWNERS: dict[str, Any] = {
    "climb": climb.ClimbCommands,
    "crossings": crossings.CrossingsCommands,
    "walks": walks.WalksCommands,
    "rules": rules.RulesCommands,
    "trials": TrialsCommands,
    "seen": SeenCommands,
    "edit_commands": EditCommands,
    "part_commands": PartCommands,
    "document": Document,
    "open_plans": OpenPlans,
    "path_commands": PathCommands,
    "draw_commands": DrawCommands,
    "sheet_commands": SheetCommands,
    "application": LadderApp,
}


class OneTable(unittest.TestCase):
    def test_each_action_has_a_method_a_label_and_a_help(self) -> None:
        for action in COMMANDS:
            with self.subTest(action.name):
                self.assertTrue(callable(getattr(OWNERS[action.owner], f"cmd_{action.name}")))
                self.assertTrue(action.label)
                self.assertRegex(action.help, r"^[A-Z].{10,}[.?]$")

    def test_each_method_stands_in_the_table(self) -> None:
        for whose, owner in OWNERS.items():
            there = {name.removeprefix("cmd_") for name in vars(owner) if name.startswith("cmd_")}
            self.assertEqual(there, {action.name for action in COMMANDS if action.owner == whose})

    def test_commands_are_found_by_their_usual_names(self) -> None:
        usual = {
            "climb": {"export": "keep", "history": "tape_back", "explain": "why", "search": "commands", "exit": "quit"},
            "walks": {"rename": "rename", "remove": "delete", "copy": "copy", "search": "find", "coverage": "unused"},
            "crossings": {"search": "find", "add": "sketch", "diff": "compare", "device": "phone"},
            "rules": {"verify": "sweep", "export": "keep", "revert": "undo", "keys": "help"},
        }
        for view, wanted in usual.items():
            for word, name in wanted.items():
                with self.subTest(f"{view}: {word}"):
                    texts = {each.name: f"{each.label} {each.help} {each.also}".lower() for each in commands_in(view)}
                    self.assertIn(word, texts[name])

    def test_no_key_does_two_things_in_a_view(self) -> None:
        for view in VIEWS:
            keys = [key for action in commands_in(view) for key in action.keys] + list(TAP_KEYS)
            self.assertEqual(sorted(keys), sorted(set(keys)), view)

    def test_a_key_means_the_same_wherever_it_works(self) -> None:
        """A letter that several views have is one word: next, run, find ...; docs/keys.md says which."""
        words: dict[str, set[str]] = {}
        for action in COMMANDS:
            if action.owner in VIEWS and action.keys[0].isalpha() and len(action.keys[0]) == 1:
                words.setdefault(action.keys[0], set()).add(action.owner)
        shared = {key for key, owners in words.items() if len(owners) > 1}
        self.assertEqual(shared, {"n", "r", "e", "k", "U", "B", "y"} & shared)

    def test_every_view_can_be_gone_to_and_left(self) -> None:
        for view in VIEWS:
            self.assertTrue({*VIEWS, "help", "commands", "quit"} <= {action.name for action in commands_in(view)})


class OnTheBench(unittest.TestCase):
    """The list of all commands and the footer, as they stand in each view."""

    def told(self, view: str) -> tuple[list[tuple[str, str]], str]:
        async def run() -> tuple[list[tuple[str, str]], str]:
            bench = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            async with bench.run_test(size=(160, 50)) as pilot:
                await pilot.press("r", "n", "n", "1", "1", "1", "1", "1")
                bench.show(view)
                await pilot.pause()
                climb = bench.climb.commands if bench.view is bench.climb else None
                listed = [(command.label, command.about) for command in commands(bench, bench.action_press, climb)]
                rows = [strip.text for strip in bench.screen._compositor.render_strips()]
                return listed, rows[-1]

        return asyncio.run(run())

    def test_every_action_is_in_the_list_of_all_commands_with_its_help(self) -> None:
        for view in VIEWS:
            listed, _ = self.told(view)
            self.assertTrue(all(help_text for _, help_text in listed))
            for action in commands_in(view):
                self.assertIn((f"{action.label}  ({action.key})", action.help), listed)

    def test_commands_are_reached_with_the_mouse_alone(self) -> None:
        """By a click on "all commands" in the footer, and one on the row of the command."""

        async def run() -> None:
            bench = LadderApp(COMBFIELD, combfield(), read_plan_files(combfield()), example=True)
            pressed: list[str] = []
            async with bench.run_test(size=(160, 50)) as pilot:
                for view in VIEWS:
                    bench.show(view)
                    await pilot.pause()
                    footer = bench.screen._compositor.render_strips()[-1].text
                    # Another test says that the list holds every command: a few of them are clicked.
                    for action in commands_in(view)[len(view) % 6 :: 11]:
                        pressed.clear()
                        with patch.object(bench, "action_press", wraps=bench.action_press) as press:
                            await pilot.click(offset=(footer.index("all commands"), 49))
                            press.side_effect = pressed.append
                            rows = bench.screen.query_one(OptionList)
                            labels = [str(rows.get_option_at_index(number).prompt) for number in range(rows.option_count)]
                            place = next(
                                n for n, each in enumerate(labels) if each.startswith(f"{action.label}  ({action.key})")
                            )
                            rows.scroll_to(y=place, animate=False)
                            await pilot.pause()
                            await pilot.click(OptionList, offset=(2, place - round(rows.scroll_y)))
                        self.assertEqual(pressed, [action.name])

        asyncio.run(run())

    def test_the_footer_tells_keys_of_the_table_alone(self) -> None:
        for view in VIEWS:
            _, footer = self.told(view)
            known = {f"{action.key} {action.label}" for action in commands_in(view)} | {"1–9 tap", "1–0 tap"}
            shown = [entry.strip() for entry in footer.split("   ") if entry.strip()]
            self.assertTrue(shown)
            self.assertEqual([entry for entry in shown if entry not in known], [])

    def test_every_event_of_the_semantics_is_there(self) -> None:
        commands, _ = self.told("climb")
        titles = {title for title, _ in commands}
        for words in ("home", "killed", "swiped away", "low memory", "set session expired", "tap inspect", "run on stubborn"):
            self.assertIn(words, titles)
        self.assertTrue(any(title.startswith("link combfield://alert") for title in titles))


if __name__ == "__main__":
    unittest.main()
