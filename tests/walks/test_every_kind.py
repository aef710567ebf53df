"""Each kind of step and of expectation: one that holds, and one that does not, with the words that say so."""

import typing
import unittest

from tests.plans import plan_of
from wise_ladder.plan import events
from wise_ladder.walks import run_walk
from wise_ladder.walks.running import expand_repeats

PLAN = """
policies: {back gesture: yes}
cover: {least: 200ms}
facts: {session: {values: [none, valid], from outside: [none to valid]}}
calls: {check: {valid: 400ms, offline: {if: session is valid}}}
memory: {warn: 30MB}
overlays: {note: {kind: dialog}, busy: {kind: wait}}
screens:
  hives:
    weight: 10MB
    top bar: hidden
    bottom bar: hidden
    header: none
    moves:
      - {when: tap in, do: push hive(id=7) awaiting mark}
      - {when: tap ask, do: call check}
      - {when: tap over, do: show note}
      - {when: tap busy, do: show busy}
      - {when: tap root, do: pop}
      - {when: mark comes back, do: []}
      - {when: mark is cancelled, do: []}
      - {when: check gives valid, do: []}
  hive:
    takes: {id: {type: whole number, samples: [7]}}
    weight: 25MB
    gives: {mark: [red, blue]}
    moves: [{when: tap red, do: return red}, {when: tap write, do: set session valid}]
    guards: [{name: unsaved, if: session is valid, ask: {text: Leave?, answers: [{stay here: stay}, {leave: go on}]}}]
links: [{address: 'x://hive/{id}', build: [hives, hive(id=$id)]}]
"""

START = ["launch", "wait 200ms"]
IN = [*START, "tap in"]
ASKED = [*IN, "tap write", "back"]
# Kind; steps of which the last holds; steps of which the last does not, and why.
TABLE: tuple[tuple[type, list[str], list[str], str], ...] = (
    (events.Launch, ["launch"], ["launch", "launch"], "Combfield already runs"),
    (events.Tap, IN, [*START, "tap red"], 'hives has no tap "red"; taps here: in, ask, over, busy, root'),
    (events.Back, [*IN, "back"], ["back"], "Combfield is not running: launch it first"),
    (events.HeaderBack, [*IN, "header back"], [*START, "header back"], "the header is empty here"),
    (events.Home, [*START, "home"], ["home"], "Combfield is not running: launch it first"),
    (events.Reopen, [*START, "home", "reopen"], [*START, "reopen"], "Combfield is not in the background"),
    (events.Wait, [*START, "wait 1s"], [], ""),
    (events.OutsideChange, ["set session valid"], ["set session none"], "the plan lets nothing outside change session from none to none"),
    (events.Reply, [*START, "tap ask", "check replies valid"], [*START, "check replies valid"], "check is not pending"),
    (events.OpenLink, ["link x://hive/7"], ["link x://nowhere"], "no link matches x://nowhere, and there is no screen for unknown addresses"),
    (events.SwipedAway, [*START, "swiped away"], ["swiped away"], "Combfield is not running"),
    (events.Killed, [*START, "killed"], ["killed"], "Combfield is not running"),
    (events.LowMemory, [*START, "low memory"], ["low memory"], "Combfield is not running"),
    (events.Remade, [*START, "remade"], ["remade"], "Combfield is not running: launch it first"),
    (events.BackBegun, [*IN, "back begun"], [*IN, "back begun", "back begun"], "Back is begun: finish it or cancel it first"),
    (events.BackFinished, [*IN, "back begun", "back finished"], [*IN, "back finished"], "Back was not begun"),
    (events.BackCancelled, [*IN, "back begun", "back cancelled"], [*IN, "back cancelled"], "Back was not begun"),
    (events.AddressIs, [*IN, "address is x://hive/7"], [*START, "address is x://hive/7"], "this place has no address"),
    (events.Answer, [*ASKED, "answer leave"], [*IN, "answer leave"], "no question is open"),
    (events.StartFrom, ["start from other"], [], ""),
    (events.See, [*IN, "see hive(id=7)"], [*IN, "see hives"], "you stand on hive id 7"),
    (events.LadderIs, [*IN, "ladder hives > hive"], [*IN, "ladder hives"], "1 more on the ladder"),
    (events.DepthIs, [*IN, "depth 2"], [*IN, "depth 3"], "the depth is 2"),
    (events.Outside, ["outside"], [*START, "outside"], "you stand on hives"),
    (events.Away, [*START, "home", "away"], [*START, "away"], "you stand on hives"),
    (events.ValueIs, ["session is none"], ["session is valid"], "session is none"),
    (events.NeverSaw, [*START, "never saw hive"], [*IN, "never saw hive"], "hive was seen"),
    (events.SawAtLeast, [*IN, "wait 1s", "saw hive at least 800ms"], [*IN, "saw hive at least 800ms"], "hive was seen for 0 ms"),
    (events.Called, [*START, "tap ask", "called check 1 time"], [*START, "called check 1 time"], "check was made 0 times"),
    (events.WaitedAtMost, [*START, "waited at most 500ms"], [*START, "tap busy", "wait 1s", "waited at most 500ms"], "the wait was 1.2 s"),
    (events.MemoryAtMost, [*START, "memory at most 20MB"], [*IN, "memory at most 20MB"], "the rungs weighed 35MB"),
    (events.QuestionIs, [*ASKED, "asked unsaved"], [*IN, "asked unsaved"], "no question is open"),
    (events.ResultIs, [*IN, "tap red", "got mark = red"], [*IN, "back", "got mark = red"], "mark was cancelled"),
    (events.HeaderButtonIs, [*IN, "header button is arrow"], [*START, "header button is arrow"], "the header shows none"),
    (events.BarsAre, [*START, "bars hidden"], [*IN, "bars hidden"], "the top bar is shown, the bottom bar shown"),
    (events.FindingIs, [*START, "tap root", "finding pop at the root"], [*START, "finding pop at the root"], "findings: none"),
    (events.BackLandsOn, [*IN, "back would land on hives"], [*IN, "back would land on hive"], "Back would land on hives"),
    (events.BackLeaves, [*START, "back would leave"], [*IN, "back would leave"], "Back would land on hives"),
    (events.BackAsks, [*IN, "tap write", "back would ask unsaved"], [*IN, "back would ask unsaved"], "Back would land on hives"),
)  # fmt: skip


class EveryKind(unittest.TestCase):
    def test_no_kind_is_left_out(self) -> None:
        kinds = {*typing.get_args(events.Event), *typing.get_args(events.Expectation)}
        self.assertEqual({kind for kind, *_ in TABLE}, kinds)

    def test_one_holds_and_one_does_not(self) -> None:
        for kind, good, bad, why in TABLE:
            with self.subTest(kind.__name__):
                written = {"other": ["launch"], "good": good, **({"bad": bad} if bad else {})}
                walks = "".join(f"  {name}: [{', '.join(f'{step!r}' for step in steps)}]\n" for name, steps in written.items())
                plan = plan_of(f"{PLAN}walks:\n{walks}")
                results = {walk.name: run_walk(plan, walk) for walk in plan.walks}
                lasts = [list(expand_repeats(walk.steps))[-1] for walk in plan.walks[1:]]
                self.assertTrue(all(type(last.what) is kind for last in lasts))
                self.assertTrue(results["good"].passed, results["good"].played[-1].unmet)
                if bad:
                    failed = results["bad"]
                    self.assertEqual(failed.failed, len(failed.played) - 1)
                    unmet = failed.played[-1].unmet
                    self.assertEqual(unmet.words if unmet else "", why)

    def test_what_never_fails_is_told_apart(self) -> None:
        """Time always passes, and where a walk starts from is settled when the plan is read."""
        self.assertEqual({kind for kind, _, bad, _ in TABLE if not bad}, {events.Wait, events.StartFrom})


if __name__ == "__main__":
    unittest.main()
