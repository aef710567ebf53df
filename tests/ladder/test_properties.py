"""What holds for every plan and every run."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.random_plans import events, plans
from wise_ladder.ladder import Phase, State, first_state, forecast, step
from wise_ladder.ladder.deciding import Beneath, decide
from wise_ladder.ladder.doing import Doing
from wise_ladder.ladder.state import Face, Rung, all_rungs, without_time
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Back

RUNS = st.tuples(plans(), st.lists(events(), max_size=25))


def states(plan: Plan, done: list[Event]) -> list[State]:
    found = [first_state(plan)]
    for event in done:
        found.append(step(plan, found[-1], event).state)
    return found


class Properties(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(RUNS)
    def test_no_step_fails_and_a_refused_one_changes_nothing(self, run: tuple[Plan, list[Event]]) -> None:
        plan, done = run
        state = first_state(plan)
        for event in done:
            found = step(plan, state, event)
            if found.refused is not None:
                self.assertIs(found.state, state)
                self.assertEqual(found.happened, ())
            state = found.state
            self.assertEqual(state.phase is Phase.OUTSIDE, not state.ladder)
            for rung in all_rungs(state.ladder):
                self.assertIn(rung.face.screen, plan.screen)
            serials = [rung.serial for rung in all_rungs(state.ladder)]
            self.assertEqual(len(serials), len(set(serials)))
            self.assertTrue({timer.serial for timer in state.pending} <= set(serials))

    @settings(max_examples=100, deadline=None)
    @given(RUNS)
    def test_a_forecast_is_what_the_step_then_does(self, run: tuple[Plan, list[Event]]) -> None:
        plan, done = run
        state = states(plan, done)[-1]
        self.assertEqual(forecast(plan, state, Back()).step, step(plan, state, Back()))

    @settings(max_examples=100, deadline=None)
    @given(RUNS, st.data())
    def test_deciding_sees_the_head_alone(self, run: tuple[Plan, list[Event]], data: st.DataObject) -> None:
        """Whatever lies beneath: the decision is the same, or it says that it looks beneath."""
        plan, done = run
        state = states(plan, done)[-1]
        event = data.draw(events())
        if len(state.ladder) < 2:
            return
        other = data.draw(st.sampled_from([screen.name for screen in plan.screens if not screen.takes]))
        planted = (*(Rung(Face(other), -1 - place) for place in range(len(state.ladder) - 1)), state.ladder[-1])
        answers = []
        for ladder in (state.ladder, planted):
            try:
                answers.append(repr(decide(plan, Doing(plan, state._replace(ladder=ladder)).head(), event)))
            except Beneath as asked:
                answers.append(repr(asked.question))
            except KeyError:  # time is not decided at the head
                answers.append("time")
        self.assertEqual(*answers)

    @settings(max_examples=60, deadline=None)
    @given(RUNS)
    def test_states_that_differ_in_time_alone_go_on_alike(self, run: tuple[Plan, list[Event]]) -> None:
        plan, done = run
        state = states(plan, done)[-1]
        later = state._replace(
            clock=state.clock + 77, pending=tuple(timer._replace(due=timer.due + 77) for timer in state.pending)
        )
        self.assertEqual(without_time(step(plan, state, Back()).state), without_time(step(plan, later, Back()).state))
