"""The start check of the documents: what is seen for how long, in both ways of starting, and where the form flashes."""

import unittest

from tests.test_docs import samples
from wise_ladder.plan import Plan
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.semantics.log import SeenFor
from wise_ladder.walks import run_walk

SEEN = {
    "It starts on the sign-in form.": {
        "none": [("sign in", 5000)],
        "valid": [("sign in", 400), ("hives", 4600)],
        "expired": [("sign in", 5000)],
        "offline": [("sign in", 5000)],
        "silence": [("sign in", 5000)],
    },
    "It starts on the hives.": {
        "none": [("sign in", 5000)],
        "valid": [("hives", 5000)],
        "expired": [("hives", 300), ("sign in", 4700)],
        "offline": [("hives", 5000)],
        "silence": [("hives", 5000)],
    },
}


def seen(plan: Plan) -> dict[str, list[tuple[str, int]]]:
    """List what each walk of a plan shows, with milliseconds; the cover counts as a screen."""
    found = {}
    for walk in plan.walks:
        result = run_walk(plan, walk)
        stretches = [saw for played in result.played if played.step for saw in played.step.log if isinstance(saw, SeenFor)]
        last = result.played[-1].state
        stretches.append(SeenFor(last.seen.data, last.seen.since, last.clock, last.seen.waiting))
        told = [(saw.look or saw.data.screen if saw.data else saw.look, saw.until - saw.since) for saw in stretches]
        found[walk.name] = [(screen, time) for screen, time in told if screen and time]
    return found


class StartCheck(unittest.TestCase):
    PLANS = tuple(text for page, text in samples() if page == "start-check.md")

    def test_what_is_seen_for_how_long(self) -> None:
        self.assertEqual({plan.about: seen(plan) for plan in map(read_plan_text, self.PLANS)}, SEEN)

    def test_the_form_flashes_in_exactly_one(self) -> None:
        flashes = [
            (about, walk)
            for about, walks in SEEN.items()
            for walk, stretches in walks.items()
            if "sign in" in [screen for screen, _ in stretches[:-1]]
        ]
        self.assertEqual(flashes, [("It starts on the sign-in form.", "valid")])

    def test_a_cover_bridges_both(self) -> None:
        waits = {"none": 0, "valid": 400, "expired": 300, "offline": 3000, "silence": 5000}
        for text in self.PLANS:
            covered = text.replace("facts:\n", "cover: {until: session is not unknown, most: 5s}\nfacts:\n").replace(
                "gives offline, do: []", "gives offline, do: set session none"
            )
            plan = read_plan_text(covered)
            for walk, stretches in seen(plan).items():
                with self.subTest(f"{plan.about} {walk}"):
                    self.assertEqual(sum(time for screen, time in stretches if screen == "cover"), waits[walk])
                    self.assertLessEqual(len([screen for screen, _ in stretches if screen != "cover"]), 1)
