"""The five minutes of the README and the tables of docs/bench.md, followed key by key in a real terminal."""

import re
from pathlib import Path

from tests.screen.terminal import ScreenCase, Terminal
from wise_ladder.plan.addition import add_typed
from wise_ladder.plan.loader import problems_in

TOP = Path(__file__).parent.parent.parent
Steps = tuple[tuple[str, str], ...]
"""Keys, each with a pattern of what the screen must show after it."""


def rows(page: str, heading: str) -> list[tuple[str, str]]:
    """Return the rows of the first table under a heading, without its head."""
    text = (TOP / page).read_text(encoding="utf-8").partition(f"\n{heading}\n")[2].partition("\n## ")[0]
    table = re.findall(r"^\| (.*?) \| (.*) \|$", text, re.MULTILINE)
    return [row for row in table if not row[0].startswith(("---", "key", "you "))]


def closed(title: str) -> str:
    """Return a pattern of a screen without the dialog of this title."""
    return rf"\A(?!(?s:.*){title})"


README: tuple[tuple[str, Steps], ...] = (
    ("`r`", (("r", r"The cover is up(?s:.*)splash(?s:.*)timer in 1\.2 s"),)),
    ("`n` `n`", (("n", "You stand on splash"), ("n", r"You stand on welcome +◀ Back leaves the app"))),
    (
        "`1` `1` `1`",
        (("1", "on rules of the yard"), ("1", "You stand on begin"), ("1", r"You stand on sign in .* 1 Back to the")),
    ),
    ("`1` `1`", (("1", "You stand on hives"), ("1", r"You stand on hive id 7(?s:.*)home +hives ▮▮"))),
    ("`1` `1` `1` `1`", tuple(("1", rf"You stand on {look} id 7(?s:.*)3 rungs") for look in ("frames", "hive") * 2)),
    ("`b` `b`", (("b", r"You stand on hives +◀ Back leaves the app"), ("b", "Combfield was left"))),
    ("`r` `1` `n`", (("r", "The cover is up"), ("1", r"session +valid"), ("n", "You stand on hives"))),
    (
        "`1` `2` `1` `b`",
        (
            ("1", "on hive id 7"),
            ("2", "on inspection id 7"),
            ("1", r"asks “Leave without saving\?”, then lands on hive id 7"),
            ("b", r"Leave without saving\?(?s:.*) 1 +keep writing(?s:.*) 2 +discard"),
            ("2", "You stand on hive id 7"),
        ),
    ),
    (
        "`e`",
        (
            ("1", "on frames id 7"),
            ("e", r"when +tap frames(?s:.*)do +replace frames"),
            ("Escape", closed("Enter applies")),
            ("o", r"no longer applies: .*greyed .*w  \d+ walks? fails? now"),
            ("=", "before the last edit, and now"),
            ("C", "You stand on"),
            ("C-z", r"edit undone|walks? passe?s? now"),
        ),
    ),
    ("`←` …", (("Left", r"You stand on hive id 7"), ("2", "on inspection id 7"), ("u", "the tape you left last; .* kept"))),
    (
        "`y`",
        (
            ("y", r"Why\? Enter edits what decided(?s:.*)Back by the system(?s:.*)Back by the header"),
            ("Escape", closed(r"Why\?")),
        ),
    ),
    ("`X`, `W`", (("X", r"crosses to"), ("W", r"✓ passes"), ("C", r"You stand on"))),
    (
        "`S`",
        (
            ("S", r"at [\d.]+ s, step \d+"),
            ("=", "Show which run over this one"),
            ("Escape", closed("Show which run")),
            ("C", "You stand on"),
        ),
    ),
    (
        "`T`",
        (
            ("T", "before the last edit, and now"),
            ("=", "Compare this plan with what"),
            ("Escape", closed("Compare this plan")),
            ("C", "You stand on"),
        ),
    ),
    (
        "`M`",
        (
            ("M", "Draw what(?s:.*)film strip"),
            ("Enter", r"Draw: film strip(?s:.*)combfield-strip.svg"),
            ("Enter", r"film strip: drawn in .*combfield-strip.svg"),
        ),
    ),
    (
        "`I`",
        (
            ("I", "All about which screen"),
            ("Enter", r"known for \d+ steps?(?s:.*)How to get there"),
            ("Escape", closed("How to get there")),
        ),
    ),
    (
        "`R`",
        (
            ("R", r"is broken: .*shortest path: \d+ steps"),
            ("k", "Save this tape as a walk"),
            ("Escape", closed("Save this tape")),
            ("Enter", r"You stand on"),
            ("R", r"is broken: "),
        ),
    ),
    (
        "`O`",
        (
            ("O", r"Which plan\?"),
            *((letter, "") for letter in "splash"),
            ("Enter", "has not been started"),
            ("r", "You stand on splash"),
            ("n", "You stand on hives .*Back lands on splash"),
            ("y", r"Why\?"),
            ("Escape", closed(r"Why\?")),
            ("o", "differs: before .* now"),
            ("=", "before the last edit, and now"),
            ("C", "You stand on"),
            ("N", r"combfield .*1 of 2"),
        ),
    ),
    ("`k`", (("k", r"Save this tape as a walk(?s:.*)a copy of the demo here"), ("Escape", closed("Save this tape")))),
    ("`F1`", (("F1", r"The ladder is the back stack"), ("Escape", closed("The ladder is the back")), ("C-p", "All commands"))),
)
"""The README's five minutes: the keys as its table has them, and what happens when they are pressed."""


HIVES: Steps = tuple(
    zip(
        "rnn1111",
        ("cover is up", *("on splash on welcome on rules on begin on sign on hives".replace(" on", "|on").split("|"))),
        strict=True,
    )
)
CLIMB: tuple[tuple[str, Steps], ...] = (
    (
        "start, tap, answer, go back, use the header button",
        (*HIVES, ("1", "on hive id 7"), ("a", "on hives"), ("b", "was left")),
    ),
    ("advance time to the next thing due", (("r", "cover is up"), ("1", r"session +valid"), ("n", "on hives"))),
    (
        "tap twice quickly; repeat the last step; repeat it ten times",
        (
            ("d", "the next number key taps twice"),
            ("1", "3 Backs to the ground"),
            ("b", "2 Backs"),
            (".", "1 Back to the"),
            ("x", "stopped after"),
        ),
    ),
    (
        "see what each reply of a pending call leads to, and no reply at all",
        (("r", "cover is up"), ("c", "each reply, and none"), ("Escape", closed("each reply"))),
    ),
    (
        "open a link, known or typed",
        (("l", r"Open which link\?(?s:.*)or type any address"), ("Escape", closed("Open which link"))),
    ),
    (
        "change a fact from outside; before the first step, set any start value",
        (("f", r"Which outside change\?"), ("Escape", closed("Which outside"))),
    ),
    ("put the app in the background and bring it back", (("z", "in the background"), ("z", "cover is up"))),
    (
        "have it killed, crashed, swiped away, short of memory",
        (("Z", r"Which phone event\?(?s:.*)killed(?s:.*)swiped away(?s:.*)low memory"), ("Escape", closed("Which phone"))),
    ),
    (
        "run the same steps on another phone",
        (("v", r"Run the same steps on which phone"), ("Escape", closed("on which phone"))),
    ),
    (
        "do any walk step that acts, such as `tap hive(id=99)` or `wait 2s`",
        (
            (":", "Type a step"),
            *((key, "") for key in "wait"),
            ("Space", ""),
            ("2", ""),
            ("s", "wait 2s"),
            ("Enter", r"wait 2s +\S"),
        ),
    ),
    ("know why", (("y", r"Why\?"), ("Escape", closed(r"Why\?")))),
    (
        "step back, do something else from there, return to the tape you left",
        (("Left", r"\d of \d"), ("b", "."), ("u", "the tape you left last")),
    ),
    ("press Back down to the ground", (("g", "was left|is in the background"),)),
    ("save the tape as a walk of the plan", (("k", "Save this tape as a walk"), ("Escape", closed("Save this tape")))),
)
WALKS: tuple[tuple[str, Steps], ...] = (
    ("select a walk; go into its steps and back", (("Down", "✓ passes"), ("Right", "✓ passes"), ("Left", "✓ passes"))),
    ("climb it, up to the selected step or to its end", (("Enter", "this is “"), ("W", "✓ passes"))),
    (
        "the next failing walk; only failing walks; those with certain words",
        (
            ("n", "no walk fails"),
            ("F", "showing only failing walks"),
            ("F", "showing all walks"),
            ("/", "Find walks"),
            ("Escape", closed("Find walks")),
        ),
    ),
    (
        "edit a step, add one after it (or any part of the plan), delete it",
        (
            ("e", "Enter applies, empty deletes it"),
            ("Escape", closed("empty deletes")),
            ("+", "any part of the plan.* Enter adds it"),
            ("Escape", closed("Enter adds")),
        ),
    ),
    (
        "copy, rename, delete the walk",
        (
            ("D", "The name of the copy"),
            ("Escape", closed("name of the copy")),
            ("m", "Rename the walk"),
            ("Escape", closed("Rename the walk")),
            ("DC", "deleted; ctrl.z restores it"),
            ("C-z", "42 walks"),
        ),
    ),
    (
        "run it again; run all; run the failing ones",
        (("r", "1 walk run in"), ("*", "42 walks run in"), ("!", "0 walks run in")),
    ),
    (
        "run all on the running app too, and see where it differs",
        (("A", "Where is the running app"), ("Escape", closed("Where is the running app"))),
    ),
    (
        "list the moves, guards, redirects, links and replies that no walk uses",
        (("U", r"No walk uses \d+ of \d+ parts"), ("Escape", closed("No walk uses"))),
    ),
)
RULES: tuple[tuple[str, Steps], ...] = (
    ("select a rule; go through the film", (("Left", r"frame \d of \d"), ("Down", "◕ .* holds for"), ("Up", "is broken"))),
    ("climb there, at the selected frame", (("Enter", "You stand on"), ("R", "is broken"))),
    ("the next violation of the rule", (("n", "no other violation|violation 2"),)),
    (
        "save the path as a walk; edit the move that caused it",
        (
            ("k", "Save this tape as a walk"),
            ("Escape", closed("Save this tape")),
            ("e", "Enter applies"),
            ("Escape", closed("Enter applies")),
        ),
    ),
    (
        "add a rule; delete the selected one",
        (
            ("+", "A new rule"),
            ("Escape", closed("A new rule")),
            ("Delete", r"Delete the rule .*\?|leaves this rule out"),
            ("Escape", ""),
        ),
    ),
    ("sweep half a minute longer; stop", (("s", "."), ("s", "."))),
    (
        "list what neither the sweep nor a walk ever used",
        (("U", "Never used"), ("Escape", closed("Never used"))),
    ),
    (
        "see what the starter set recognised, and how to override it",
        (("i", "What the starter set recognised|the starter set is off"),),
    ),
)
"""The tables of docs/bench.md: what one wants to do, and what happens when the keys are pressed."""


class Followed(ScreenCase):
    def follow(self, terminal: Terminal, steps: Steps) -> None:
        """Press keys, and wait each time for what must be on the screen."""
        for key, shown in steps:
            if key == "R":
                terminal.look_at_rules(shown)
            else:
                terminal.press(key, re.compile(shown))

    def test_the_five_minutes_of_the_readme(self) -> None:
        self.assertEqual([keys for keys, _ in rows("README.md", "## The first five minutes")], [keys for keys, _ in README])
        terminal = self.start("demo")
        terminal.wait("has not been started")
        for keys, steps in README:
            with self.subTest(keys):
                self.follow(terminal, steps)

    def follow_table(self, heading: str, table: tuple[tuple[str, Steps], ...], *first: tuple[str, str]) -> None:
        """Follow a table of docs/bench.md in a copy of the demo; nothing may be in it that is not followed."""
        self.assertEqual([wanted for wanted, _ in rows("docs/bench.md", heading)], [wanted for wanted, _ in table])
        terminal = self.start("demo")
        terminal.wait("has not been started")
        self.follow(terminal, first)
        for wanted, steps in table:
            with self.subTest(wanted):
                self.follow(terminal, steps)

    def test_climb(self) -> None:
        self.follow_table("## Climb: what does the app do when I ...?", CLIMB)

    def test_walks(self) -> None:
        self.follow_table("## Walks: does every path I care about still work?", WALKS, ("W", "✓ passes"))

    def test_rules(self) -> None:
        self.follow_table("## Rules: does it hold on every path?", RULES, ("R", "is broken"))

    def test_sketching(self) -> None:
        typed = [keys for keys, _ in rows("docs/bench.md", "## Sketch a new app")]
        typed, lines = typed[:4], typed[5:]
        self.assertEqual(typed, ["`list`", "`item(id)`", "`done: pop`", "`again: replace list`"])
        screens = "screens: {hives: , splash: , hive: {holds: {draft: [clean, edited]}, takes: {id: {type: text, default: a}}}}"
        others = {
            "tabs home": "flows: {home: {tabs: {hives: hives, diary: hive}}}", "fact session": "facts: {session: [none, valid]}",
            "call sync": "calls: {sync: {ok: 1s}}",
        }  # fmt: skip
        self.assertGreater(len(lines), 10)
        for line in (each for row in lines for each in re.findall(r"`([^`]+)`", row)):
            with self.subTest(line):
                text = "\n".join(
                    ["app: Shop", "start: hive", screens, *(part for said, part in others.items() if not line.startswith(said))]
                )
                self.assertEqual(problems_in(add_typed(text + "\n", "hive", line).text), [])
        terminal = self.start("demo")
        terminal.wait("has not been started")
        terminal.press("O", "Which plan?")
        terminal.fill("new", "a plan with one screen")
        terminal.press("Enter", "A new plan")
        terminal.fill("Shop", "Shop")
        terminal.press("Enter", "Shop has not been started")
        terminal.press("r", "You stand on start")
        for line, shown in zip(typed, ("list  ", "item", "list  ", "list  "), strict=True):
            terminal.press("+", "New on")
            terminal.fill(line.strip("`"), line.strip("`"))
            terminal.press("Enter", f"You stand on {shown}")
        terminal.press("C-s", "saved in shop.ladder.yaml")
        self.assertIn("{when: tap again, do: replace list}", (self.folder / "shop.ladder.yaml").read_text())

    def test_crossings(self) -> None:
        terminal = self.start("demo")
        terminal.wait("has not been started")
        steps = (
            ("X", "crosses to"), ("Down", "crosses to"), ("n", "taken by no walk"), ("p", "this plan has no warnings"),
            ("/", "Find crossings"), ("Escape", closed("Find crossings")), ("e", "Enter applies"), ("Escape", closed("Enter applies")),
            ("Enter", "You stand on|no path there is known"),
        )  # fmt: skip
        self.follow(terminal, steps)

    def test_new_asks_what_it_is_not_told(self) -> None:
        terminal = self.start("new")
        terminal.wait("The name of your app:")
        terminal.keys("-l", "Shop")
        terminal.press("Enter", "Does it have a splash? (y/n)")
        terminal.keys("-l", "y")
        terminal.press("Enter", "Does it have a sign-in? (y/n)")
        terminal.press("Enter", "Tab names, separated by commas")
        terminal.press("Enter", "shop.ladder.yaml written")
        self.assertIn("splash:", (self.folder / "shop.ladder.yaml").read_text())
