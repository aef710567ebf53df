"""Pages about screens: how to get there, what Back does over what, and what the plan says of it; as a parser reads them."""

import unittest
from pathlib import Path

from tests.plans import COMBFIELD, plan_of
from tests.reports.pages import Page
from tests.test_cli import InAFolder, call
from wise_ladder.plan.scopes import parse_event
from wise_ladder.reports.screen_page import ScreenPage, screen_pages
from wise_ladder.semantics import State, initial_state, step
from wise_ladder.semantics.state import visible_path, visible_top

PLAN = """
app: Yard
start: hives
facts: {session: {values: [none, valid]}}
screens:
  hives:
    moves:
      - {when: tap hive(id), do: "push hive(id=$id) awaiting mark"}
      - {when: tap diary, do: push diary}
      - {when: mark comes back, do: set session valid}
  hive:
    takes: {id: {type: whole number, samples: [7, 12]}}
    holds: {draft: [clean, edited]}
    gives: {mark: [red, blue]}
    weight: 6MB
    moves:
      - {when: tap write, do: set draft edited}
      - {when: tap red, if: session is valid, do: return red}
      - {when: 2s shown, do: []}
    guards: [{name: unsaved, if: draft is edited, ask: {text: Leave?, answers: [{stay: stay}, {leave: go on}]}}]
  diary: {moves: [{when: tap hive, do: "replace hive(id=7)"}]}
  attic: {}
redirects: [{to: [diary], send to: hives, if: session is valid}]
links: [{address: "yard://hive/{id}", build: [hives, "hive(id=$id)"]}]
rules: [{rule: no twins, screens: [hive]}]
walks:
  look: [launch, "tap hive(id=7)", back]
  other: [launch]
"""


def page(name: str) -> ScreenPage:
    made = screen_pages(plan_of(PLAN), [name], 20)
    assert made.extent.whole
    return made.pages[0]


def rows(made: ScreenPage, title: str) -> list[tuple[str, ...]]:
    return [row for section in made.sections if section.title == title for row in section.rows]


def run(path: str) -> State:
    """Do the events of a path on Combfield."""
    state = initial_state(COMBFIELD)
    for phrase in path.split(" · "):
        done = step(COMBFIELD, state, parse_event(COMBFIELD, phrase))
        assert done.refused is None, phrase
        state = done.state
    return state


class Pages(unittest.TestCase):
    def setUp(self) -> None:
        self.hive = page("hive")

    def test_what_kind_of_screen_it_is(self) -> None:
        self.assertEqual(self.hive.about, ("takes id, such as 7, 12", "holds draft: clean, edited", "weighs 6MB"))

    def test_how_to_get_there(self) -> None:
        self.assertEqual(
            rows(self.hive, "How to get there"),
            [
                ("shortest", "1", "link yard://hive/7"),
                ("by the link yard://hive/{id}", "1", "link yard://hive/7"),
                ("after the app was killed", "3", "link yard://hive/7 · killed · reopen"),
            ],
        )
        self.assertEqual(rows(page("attic"), "How to get there")[0], ("shortest", "", "not met at every depth"))

    def test_what_leads_here(self) -> None:
        self.assertEqual(
            rows(self.hive, "What leads here"),
            [("hives", "↑ tap hive(id)"), ("diary", "⇄ tap hive"), ("", "⇥ yard://hive/{id}")],
        )

    def test_what_back_does_over_each_screen(self) -> None:
        backs = [row[:4] for row in rows(self.hive, "What Back does")]
        self.assertIn(("hives", "system", "lands on hives", "2"), backs)
        self.assertIn(("hives", "system", "asks (unsaved)", "3"), backs)
        self.assertEqual({row[0] for row in backs}, {"hives"})
        self.assertEqual({row[0] for row in rows(page("hives"), "What Back does")}, {"nothing beneath"})

    def test_what_leads_away_and_what_goes_by_itself(self) -> None:
        self.assertEqual(
            rows(self.hive, "What leads away"),
            [("tap write", "", "set draft edited"), ("tap red", "session is valid", "return red")],
        )
        self.assertEqual(rows(self.hive, "What goes by itself"), [("2s shown", "", "nothing")])
        self.assertEqual(
            rows(page("diary"), "What leads away")[-1], ("when it is to be shown, redirect to", "session is valid", "hives")
        )

    def test_guards_and_results(self) -> None:
        self.assertEqual(
            rows(self.hive, "Guards"),
            [("unsaved", "draft is edited", "asks “Leave?”: stay, leave", "system, header, in-app, aside")],
        )
        self.assertEqual(rows(self.hive, "Results"), [("gives mark", "red, blue"), ("awaited as mark", "hives, tap hive(id)")])
        self.assertEqual(rows(page("hives"), "Results"), [("waits: mark comes back", "set session valid")])

    def test_walks_and_rules(self) -> None:
        self.assertEqual(rows(self.hive, "Walks that show it"), [("look", "passes")])
        (rule,) = rows(self.hive, "Rules that name it")
        self.assertEqual(rule[0], "no twins: hive")
        self.assertTrue(rule[1].startswith("holds at every depth"), rule)

    def test_every_path_ends_where_it_says(self) -> None:
        """Each path to a screen of Combfield, and each Back, done again by `step`."""
        names = [screen.name for screen in COMBFIELD.screens if not screen.inside]
        made = screen_pages(COMBFIELD, names, 4)
        met = 0
        for each in made.pages:
            for how, steps, path in rows(each, "How to get there"):
                self.assertTrue(how == "shortest" or how.startswith(("by the link", "after the app")))
                if steps.isdigit():
                    names_there = {rung.data.screen for rung in visible_path(run(path).ladder)}
                    self.assertIn(each.screen, names_there, path)
                    met += 1
            for _, _, does, _, path in rows(each, "What Back does"):
                top = visible_top(run(path))
                if does.startswith("lands on "):
                    self.assertEqual(top and top.data.screen, does.removeprefix("lands on "), path)
        self.assertGreater(met, 30)

    def test_a_walk_tells_where_the_sweep_did_not_come(self) -> None:
        made = screen_pages(COMBFIELD, ["receipt"], 0.2)
        (shortest, *_) = rows(made.pages[0], "How to get there")
        self.assertRegex(shortest[1], r"^\d+( in a walk, perhaps not the fewest)?$")
        self.assertIn("launch", shortest[2])


class Files(InAFolder):
    def report(self, *words: str, code: int = 0) -> str:
        done = call("report", str(self.plan()), *words, folder=self.folder)
        self.assertEqual((done.returncode, done.stderr if not code else ""), (code, ""))
        return done.stdout or done.stderr

    def plan(self) -> Path:
        path = self.folder / "yard.ladder.yaml"
        path.write_text(PLAN, encoding="utf-8")
        return path

    def test_a_page_with_the_map_around_its_screen(self) -> None:
        self.assertEqual(self.report("--screen", "hive", "-o", "hive.md"), "hive.md and hive.svg written\n")
        read = Page(self.folder / "hive.md")
        self.assertEqual(read.headings()[:2], ["# hive", "## How to get there"])
        self.assertEqual(
            read.table_after("Guards"),
            [
                ["guard", "if", "does", "ways"],
                ["unsaved", "draft is edited", "asks “Leave?”: stay, leave", "system, header, in-app, aside"],
            ],
        )
        self.assertEqual(read.dead_links(), [])
        self.assertIn("Yard: around hive</text>", (self.folder / "hive.svg").read_text(encoding="utf-8"))

    def test_all_screens_with_links_that_lead_somewhere(self) -> None:
        self.assertEqual(self.report("--all-screens", "-o", "all.md"), "all.md and 4 maps written\n")
        read = Page(self.folder / "all.md")
        self.assertEqual(
            [each for each in read.headings() if each.startswith("## ")], ["## hives", "## hive", "## diary", "## attic"]
        )
        self.assertEqual(read.items()[:4], ["hives", "hive", "diary", "attic"])
        self.assertEqual(read.dead_links(), [])

    def test_exactly_one_is_asked_for(self) -> None:
        for words, told in (
            (("--screen", "hvie", "-o", "a.md"), 'there is no screen "hvie"; did you mean "hive"?'),
            (("--screen", "hive", "-o", "a.txt"), "reports are .md"),
            (("--screen", "hive", "--script", "-o", "a.md"), "not allowed with argument"),
            (("-o", "a.md"), "one of the arguments --walk --rule --screen --all-screens --script is required"),
        ):
            self.assertIn(told, self.report(*words, code=2))
        self.assertEqual([path.name for path in self.folder.iterdir()], ["yard.ladder.yaml"])


if __name__ == "__main__":
    unittest.main()
