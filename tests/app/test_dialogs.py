"""Dialogs: lists that are searched, lines that are typed and pasted, and what comes when a dialog has closed."""

import asyncio
import unittest
from collections.abc import Awaitable, Callable

from textual.app import App
from textual.events import Paste
from textual.pilot import Pilot
from textual.widgets import Static

from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField
from wise_ladder.app.dialogs.info_dialog import InfoDialog
from wise_ladder.app.dialogs.line_input import MAX_TYPED, LineInput
from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem

FRUIT = [ListItem(name, about, name, also=also) for name, about, also in (
    ("apple", "red or green", ""), ("pear", "green", "orchard"), ("green plum", "blue", ""), ("fig", "sweet", "green inside"))]  # fmt: skip


class Bare(App[None]):
    """An application with nothing in it; what waits for a pause in typing can be held back."""

    def __init__(self) -> None:
        super().__init__()
        self.waiting: list[Callable[[], object]] = []
        self.holds_back = False

    def when_done(self, callback: Callable[[], object]) -> None:
        if self.holds_back:
            self.waiting.append(callback)
        else:
            callback()


class Dialogs(unittest.TestCase):
    def within(self, dialog: Callable[[], object], act: Callable[[Bare, Pilot[None], list[object]], Awaitable[None]]) -> None:
        """Open a dialog and act in it; the list takes what it answers."""

        async def run() -> None:
            app, answers = Bare(), list[object]()
            async with app.run_test(size=(80, 24)) as pilot:
                app.push_screen(dialog(), answers.append)  # type: ignore[call-overload]
                await pilot.pause()
                await act(app, pilot, answers)

        asyncio.run(run())

    def choose(self, *keys: str, free: str = "", told: list[str] | None = None) -> list[object]:
        found: list[object] = []

        async def act(_app: Bare, pilot: Pilot[None], answers: list[object]) -> None:
            await pilot.press(*keys)
            found.extend(answers)

        def more(name: str) -> str:
            if told is not None:
                told.append(name)
            return f"about {name}"

        self.within(lambda: ListDialog("Which?", FRUIT, free=free, more=more), act)  # type: ignore[arg-type]
        return found

    def test_what_is_named_so_comes_first_then_what_shows_the_words_then_what_holds_them(self) -> None:
        self.assertEqual(self.choose(*"green", "enter"), ["green plum"])
        for count, name in enumerate(("green plum", "apple", "pear", "fig", "green plum")):
            self.assertEqual(self.choose(*"green", *["down"] * count, "enter"), [name])

    def test_up_goes_round_to_the_last(self) -> None:
        self.assertEqual(self.choose("up", "enter"), ["fig"])
        self.assertEqual(self.choose("down", "tab", "up", "enter"), ["pear"])

    def test_a_page_goes_to_the_end_and_back(self) -> None:
        self.assertEqual(self.choose("pagedown", "enter"), ["fig"])
        self.assertEqual(self.choose("pagedown", "pageup", "enter"), ["apple"])

    def test_nothing_fits(self) -> None:
        self.assertEqual(self.choose(*"kiwi", "enter"), [])
        self.assertEqual(self.choose(*"kiwi", "enter", free="or type"), ["kiwi"])
        self.assertEqual(self.choose("space", "enter", free="or type"), ["apple"])

    def test_more_is_told_of_the_marked_one(self) -> None:
        told: list[str] = []
        self.choose("down", *"fig", told=told)
        self.assertEqual([told[0], told[1], told[-1]], ["apple", "pear", "fig"])

    def test_enter_and_arrows_find_first_what_was_typed_while_keys_waited(self) -> None:
        for keys, chosen in ((("enter",), "fig"), (("down", "enter"), "fig")):

            async def act(app: Bare, pilot: Pilot[None], answers: list[object], keys: tuple[str, ...] = keys) -> None:
                app.holds_back = True
                await pilot.press(*"fig", *keys)
                for callback in app.waiting:
                    callback()
                await pilot.pause()
                self.assertEqual(answers, [chosen])  # noqa: B023 - acted at once

            self.within(lambda: ListDialog("Which?", FRUIT), act)

    def test_only_the_first_answer_counts(self) -> None:
        async def act(app: Bare, pilot: Pilot[None], answers: list[object]) -> None:
            dialog = app.screen
            assert isinstance(dialog, ListDialog)
            self.assertTrue(dialog.there)
            dialog.dismiss("first")
            dialog.dismiss("second")
            await pilot.pause()
            self.assertEqual((answers, dialog.there, len(app.screen_stack)), (["first"], False, 1))

        self.within(lambda: ListDialog("Which?", FRUIT), act)

    def test_a_dialog_under_another_does_not_close(self) -> None:
        async def act(app: Bare, pilot: Pilot[None], answers: list[object]) -> None:
            below = app.screen
            await pilot.press("f1")
            self.assertIsInstance(app.screen, InfoDialog)
            assert isinstance(below, ListDialog)
            below.dismiss("apple")
            await pilot.press("escape")
            self.assertEqual((answers, app.screen), ([], below))

        self.within(lambda: ListDialog("Which?", FRUIT), act)

    def test_a_line_that_is_wrong_stays_and_says_why(self) -> None:
        async def act(app: Bare, pilot: Pilot[None], _answers: list[object]) -> None:
            await pilot.press("enter")
            self.assertEqual(str(app.screen.query_one(".hint", Static).render()), "✗ write more")
            await pilot.press("x")
            self.assertEqual(str(app.screen.query_one(".hint", Static).render()), "Enter applies, Esc cancels")
            await pilot.press("down", "y", "shift+tab", "end", "z", "enter")
            self.assertEqual((taken, len(app.screen_stack)), ([["one", "two"], ["xz", "y"]], 1))

        taken: list[list[str]] = []

        def take(typed: list[str]) -> str:
            taken.append(typed)
            return "write more" if typed == ["one", "two"] else ""

        self.within(lambda: FormDialog("Type", [FormField("a", "one"), FormField("b", "two")], take), act)

    def test_a_paste_is_one_line_and_no_longer_than_a_phrase(self) -> None:
        async def act(app: Bare, pilot: Pilot[None], _answers: list[object]) -> None:
            line = app.screen.query_one(LineInput)
            for pasted, stands in (
                ("  push hive  \nand more", "push hive"),
                ("\x1b[31mred", "\\u001b[31mred"),
                ("x" * (MAX_TYPED + 9), "x" * MAX_TYPED),
            ):
                line.value = ""
                line.post_message(Paste(pasted))
                await pilot.pause()
                self.assertEqual(line.value, stands)
            line.value = "y" * (MAX_TYPED - 3)
            line.cursor_position = len(line.value)
            line.post_message(Paste("abcdef"))
            await pilot.pause()
            self.assertEqual(line.value[-4:], "yabc")

        self.within(lambda: FormDialog("Type", [FormField("", "")], lambda _: ""), act)

    def test_a_number_chooses_only_what_there_is(self) -> None:
        async def act(_app: Bare, pilot: Pilot[None], answers: list[object]) -> None:
            await pilot.press("3")
            self.assertEqual(answers, [])
            await pilot.press("2")
            self.assertEqual(answers, [2])

        self.within(lambda: InfoDialog("Replies", [], choices=2), act)


if __name__ == "__main__":
    unittest.main()
