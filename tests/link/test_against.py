"""Walks on a running app: all pass on a stand-in, and a planted fault fails the right walk at the right step."""

import asyncio
import unittest

from tests.link.pairs import PLAINLY, standing_in
from tests.plans import COMBFIELD, plan_of
from wise_ladder.demo import combfield
from wise_ladder.errors import LinkError, UsageError
from wise_ladder.link.against import run_against
from wise_ladder.link.explore import Explorer
from wise_ladder.link.faults import plant
from wise_ladder.link.stand_in import Manner
from wise_ladder.plan import Plan
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.walks.explored import Explored
from wise_ladder.walks.running import WalkRun

TEXT = combfield().read_text(encoding="utf-8")
FAULTS = {
    # an operation
    "frames: tap hive look: push": ("ten toggles, one Back", "tap hive look"),
    "splash: 1200ms on ladder: push": ("the splash never comes back", "wait 1200ms"),
    "treatment: tap done: nothing": ("half a treatment is not left by a button", "tap done"),
    "inspection: tap save: return yes": ("a saved inspection is clean and goes", "tap save"),
    "order: tap send: open sending": ("a sent order is not sent again", "tap send"),
    "sign in: tap sign in: pop": ("after sign-in, Back leaves the app", "tap sign in"),
    "settings: tap sign out: push sign in": ("sign out clears everything", "tap sign out"),
    "entry: tap its hive(hive): push hive(id=$hive)": ("an entry finds its hive", "tap its hive(hive=7)"),
    "alert: tap see to it: pop": ("an alert has a way back", None),
    "reset code: tap send code: pop": ("after sign-in you get where you wanted to go", "tap send code"),
    # tabs, an overlay, a reply, what happens outside
    "home: tap diary: nothing": ("an entry finds its hive", "tap diary"),
    "yard menu: tap settings: push settings once": ("the drawer takes Back first", "tap settings"),
    "order: send order gives ok: [close sending]": ("a sent order is not sent again", "send order replies ok"),
    "anywhere: session becomes expired: nothing": ("a session that expires leaves the form as it was", "set session expired"),
    # guards and redirects
    "guard unsaved inspection: gone": ("leaving a form asks, whichever way", "tap write"),
    "guard half a treatment: if: dose is whole": ("half a treatment is not left by a button", "tap done"),
    "guard signed out: gone": ("a session that expires leaves the form as it was", "set session expired"),
    "guard unpick: ways: [header]": ("what is picked takes Back first", "tap pick"),
    # what is kept, and what links build
    "fact token: kept: memory": ("the picture comes back though the app was killed", "killed"),
    "link combfield://alert/{hive}: build: [home, hives, alert(hive=$hive)]": ("an alert has a way back", "link combfield://alert/7"),
    "unknown address: hives": ("a mistyped address is shown as lost", "link combfield://hives/seven"),
    "argument from: default: month": ("a diary link may leave the look out", "link combfield://diary/3"),
    # times, the header, the phone
    "cover: least: 500ms": ("first start, to the sign-in form", "wait 300ms"),
    "call check session: valid: {takes: 800ms, if: token is kept}": ("start with a session that is valid", "wait 5s"),
    "screen comb: header: none": ("at most one comb is held", "tap comb"),
    "phone plain: tab back: outwards": ("tabs keep their ladders", "tap diary"),
    "phone stubborn: guards see: [system, header, in-app, aside]": ("on a stubborn phone Back does not ask", "tap write"),
}  # fmt: skip
"""Each fault with a walk that meets it and the step at which it does; none: the walk does not meet it."""


async def _runs(plan: Plan, app_plan: Plan, names: set[str] | None = None, manner: Manner = PLAINLY) -> list[WalkRun]:
    async with standing_in(app_plan, manner) as app:
        return [await run_against(plan, walk, app) for walk in plan.walks if names is None or walk.name in names]


def runs(plan: Plan, app_plan: Plan, names: set[str] | None = None, manner: Manner = PLAINLY) -> list[WalkRun]:
    return asyncio.run(_runs(plan, app_plan, names, manner))


class OnAStandIn(unittest.TestCase):
    def test_all_walks_pass_and_nearly_everything_is_compared(self) -> None:
        found = runs(COMBFIELD, COMBFIELD)
        self.assertEqual([run.walk.name for run in found if not run.passed], [])
        compared = sum(run.app.compared for run in found if run.app)
        lines = sum(run.app.lines for run in found if run.app)
        self.assertGreater(lines, 500)
        self.assertGreaterEqual(compared, 0.95 * lines)

    def test_each_fault_fails_the_right_walk_at_the_right_step(self) -> None:
        self.assertGreaterEqual(len(FAULTS), 25)
        for fault, (name, at) in FAULTS.items():
            with self.subTest(fault):
                (run,) = runs(COMBFIELD, read_plan_text(plant(TEXT, fault)), {name})
                text = None if run.failed is None else run.played[run.failed].line.text
                self.assertEqual(text, at)

    def test_walks_that_do_not_meet_a_fault_pass(self) -> None:
        app_plan = read_plan_text(plant(TEXT, "frames: tap hive look: push"))
        self.assertEqual([run.walk.name for run in runs(COMBFIELD, app_plan) if not run.passed], ["ten toggles, one Back"])

    def test_where_they_differ_is_told_with_both_ladders(self) -> None:
        (run,) = runs(COMBFIELD, read_plan_text(plant(TEXT, "frames: tap hive look: push")), {"ten toggles, one Back"})
        assert run.failed is not None
        assert run.app is not None
        failed = run.played[run.failed]
        assert failed.unmet is not None
        self.assertEqual(failed.unmet.words, "rung 2 of the tab hives is frames id 7 in the app, hive id 7 in the plan")
        self.assertEqual([line.split() for line in run.app.beside[:3]], [
            ["plan", "app"], ["✗", "missing", "hive", "id", "7"], ["✗", "hive", "id", "7", "frames", "id", "7"],
        ])  # fmt: skip

    def test_a_slow_stand_in_is_waited_for_and_a_silent_one_is_not(self) -> None:
        names = {"at most one comb is held"}
        self.assertTrue(runs(COMBFIELD, COMBFIELD, names, Manner(slow=0.01))[0].passed)

        async def silent(manner: Manner) -> None:
            async with standing_in(COMBFIELD, manner, seconds=0.2) as app:
                await run_against(COMBFIELD, COMBFIELD.walks[0], app)

        for manner, words in (
            (Manner(silent="where"), "did not answer where within 0.2 s"),
            (Manner(silent="hello"), "did not answer hello"),
            (Manner(drop_after=4), "the app ended the connection"),
        ):
            with self.subTest(words), self.assertRaisesRegex(LinkError, words):
                asyncio.run(silent(manner))

    def test_what_an_app_cannot_be_told_is_not_compared(self) -> None:
        plan = plan_of("""
            facts: {mood: [good, bad]}
            screens: {hives: {moves: [{when: tap in, do: push hive}]}, hive: }
            walks:
              simple: [launch, tap in, see hive, back would land on hives, mood is good, no findings]
              turned: [launch, remade, see hives]
              given: {given: [mood is bad], steps: [launch]}
        """)

        async def run() -> list[WalkRun]:
            async with standing_in(plan) as app:
                app.welcome.does.remove("remade")
                app._tells -= {"back", "facts"}
                found = [await run_against(plan, walk, app) for walk in plan.walks]
                app.welcome.begins = False
                return [*found, await run_against(plan, plan.walks[0], app)]

        simple, turned, given, anew = asyncio.run(run())
        assert simple.app is not None
        # The fact is told all the same; what Back would do and findings are not.
        self.assertEqual((simple.passed, simple.app.compared, simple.app.lines), (True, 4, 6))
        self.assertEqual((turned.not_comparable, turned.failed), ("the app cannot be told: remade", None))
        self.assertTrue(given.passed)
        self.assertEqual(anew.not_comparable, "the app cannot begin anew")

    def test_a_walk_that_fails_on_the_plan_fails(self) -> None:
        plan = plan_of("screens: {hives: }\nwalks: {wrong: [launch, see hives, outside]}")
        (run,) = runs(plan, plan)
        self.assertEqual((run.passed, run.failed), (False, 2))


class OwnClock(unittest.TestCase):
    """An app whose clock cannot be advanced: waits are real, and times may differ by the tolerance."""

    TEXT = """\
app: Combfield
start: splash
screens:
  splash: {moves: [{when: 300ms on ladder, do: replace hives}]}
  hives: {moves: [{when: tap hive, do: push hive}]}
  hive: {moves: [{when: 200ms on ladder, do: pop}]}
walks:
  a splash: [launch, wait 299ms, see splash, wait 1ms, see hives, saw splash at least 300ms, tap hive, wait 500ms, see hives]
"""

    def run_on(self, text: str, tolerance: int) -> WalkRun:
        async def run() -> WalkRun:
            async with standing_in(read_plan_text(text), Manner(own_clock=True), tolerance=tolerance) as app:
                plan = read_plan_text(self.TEXT)
                return await run_against(plan, plan.walks[0], app)

        return asyncio.run(run())

    def test_what_is_a_little_early_or_late_is_the_same(self) -> None:
        run = self.run_on(self.TEXT, 2000)
        self.assertTrue(run.passed, run.failed is not None and run.played[run.failed].unmet)

    def test_what_is_later_than_that_is_not(self) -> None:
        run = self.run_on(self.TEXT.replace("300ms on ladder", "5s on ladder"), 150)
        assert run.failed is not None
        self.assertEqual(run.played[run.failed].line.text, "wait 1ms")


class OwnWays(unittest.TestCase):
    def explored(self, fault: str | None, steps: int, seed: int = 3) -> Explored:
        async def run() -> Explored:
            app_plan = read_plan_text(plant(TEXT, fault)) if fault else COMBFIELD
            async with standing_in(app_plan) as app:
                return await Explorer(COMBFIELD, app, seed).run(steps)

        return asyncio.run(run())

    def test_nothing_is_found_where_nothing_differs(self) -> None:
        explored = self.explored(None, 400)
        self.assertEqual((explored.found, explored.steps), (None, 400))
        self.assertGreater(explored.moves, 60)

    def test_a_difference_is_shortened_to_the_fewest_steps(self) -> None:
        explored = self.explored("month: tap entry(id): push entry(id=$id, from=week)", 400)
        assert explored.found is not None
        # A link to the month, whose entry leads back there: shorter than the way by taps.
        steps = explored.found.tape.as_steps()
        self.assertEqual((len(steps), steps[-2]), (5, "tap entry(id=5)"), steps)
        self.assertIn("entry id 5, from week in the app", explored.found.words)

    def test_an_app_that_can_do_nothing_ends_it(self) -> None:
        plan = plan_of("screens: {hives: {moves: [{when: tap in, do: push hive}]}, hive: }")

        async def run(*, begins: bool, does: list[str]) -> Explored:
            async with standing_in(plan) as app:
                app.welcome.begins, app.welcome.does = begins, does
                return await Explorer(plan, app, 1).run(100)

        self.assertEqual(asyncio.run(run(begins=True, does=[])).steps, 0)
        self.assertEqual(asyncio.run(run(begins=True, does=["launch"])).found, None)
        with self.assertRaisesRegex(LinkError, "cannot begin anew"):
            asyncio.run(run(begins=False, does=["launch"]))

    def test_the_same_seed_goes_the_same_way(self) -> None:
        once, again = (self.explored("order: tap check: push about", 900, seed=8) for _ in range(2))
        assert once.found is not None
        assert again.found is not None
        self.assertEqual(once.found.tape.as_steps(), again.found.tape.as_steps())


class Faults(unittest.TestCase):
    def test_what_is_no_fault_is_told(self) -> None:
        for fault, words in {
            "frames": "is not a fault",
            "frames: tap nothing: push": "the plan has no frames",
            "guard nobody: gone": "the plan has no guard nobody",
            "guard full basket: if: basket is full": "changes nothing",
            "frames: tap hive look: push nowhere": "there is no screen",
            "guard full basket: colour: red": "colour",
        }.items():
            with self.subTest(fault), self.assertRaisesRegex(UsageError, words):
                plant(TEXT, fault)
