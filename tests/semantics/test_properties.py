"""What holds for every plan and every run."""

import unittest
from typing import Any

import msgspec
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.plans import plan_of, run
from tests.random_plans import events, runs
from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Answer, Back, Launch
from wise_ladder.semantics import Phase, State, descent, forecast, initial_state, offers, step
from wise_ladder.semantics.apply_world import OF_RUNGS
from wise_ladder.semantics.conditions import QueryNeeded
from wise_ladder.semantics.dispatch import decide
from wise_ladder.semantics.log import AppLeft, Awaits, Finding, QuestionOpened, ResultCame, ResultDropped, SeenFor
from wise_ladder.semantics.plan_index import index_of
from wise_ladder.semantics.serials import timeless
from wise_ladder.semantics.state import Rung, RungData, all_rungs, visible_top
from wise_ladder.semantics.text import entry_text, log_text
from wise_ladder.semantics.working_state import WorkingState
from wise_ladder.walks import Tape

RUNS = runs()
Run = tuple[Plan, list[Event]]


def states(plan: Plan, done: list[Event]) -> list[State]:
    found = [initial_state(plan)]
    for event in done:
        found.append(step(plan, found[-1], event).state)
    return found


def marks(state: State) -> int:
    """Count the results that some rung still waits for."""
    return sum(len(rung.data.awaits) + len(rung.data.undelivered) for rung in all_rungs(state.ladder))


class Properties(unittest.TestCase):
    @settings(max_examples=200)
    @given(RUNS)
    def test_no_step_fails_and_the_state_is_whole(self, run: Run) -> None:
        plan, done = run
        state = initial_state(plan)
        for event in done:
            found = step(plan, state, event)
            if found.refused is not None:
                self.assertIs(found.state, state)
                self.assertEqual(found.log, ())
            self.assertIsInstance(log_text(found.log), str)
            self.assertTrue(all(entry_text(happening) for happening in found.log))
            state = found.state
            if not state.cover and state.phase is not Phase.KILLED:
                self.assertEqual(state.phase is Phase.OUTSIDE, not state.ladder)
            rungs = list(all_rungs(state.ladder))
            for rung in rungs:
                self.assertIn(rung.data.screen, plan.screen)
                self.assertTrue(not rung.inner or rung.front, "what is in front holds a rung")
            serials = [rung.serial for rung in rungs]
            layers = [layer.serial for layer in (*state.overlays, *(layer for rung in rungs for layer in rung.overlays))]
            self.assertEqual(len(serials + layers), len({*serials, *layers}))
            stops = (*OF_RUNGS, "overlay")
            self.assertLessEqual({timer.serial for timer in state.deadlines if timer.kind in stops}, {*serials, *layers})
            answered = {timer.serial for timer in state.deadlines if timer.kind == "reply"}
            self.assertLessEqual(answered, {call.number for call in state.calls})
            self.assertLessEqual(set(state.never_shown), set(serials))

    @settings(max_examples=100)
    @given(RUNS)
    def test_what_was_said_before_is_what_is_done(self, run: Run) -> None:
        plan, done = run
        state = states(plan, done)[-1]
        for offer in offers(plan, state):
            self.assertEqual(offer.forecast.step, step(plan, state, offer.event))
        hops = descent(plan, state).hops
        for hop in hops:
            found = step(plan, state, Back())
            while found.state.question is not None and found.state != hop.step.state:
                guard = plan.guard[found.state.question.guard]
                onward = next(answer.name for answer in guard.answers if not answer.stays)
                found = step(plan, found.state, Answer(onward))
            self.assertEqual(hop.step.state, found.state)
            state = found.state
        self.assertEqual(forecast(plan, state, Back()).step, step(plan, state, Back()))

    @settings(max_examples=150)
    @given(RUNS)
    def test_every_awaited_result_ends_exactly_once(self, run: Run) -> None:
        plan, done = run
        state = initial_state(plan)
        for event in done:
            found = step(plan, state, event)
            begun = sum(isinstance(happening, Awaits) for happening in found.log)
            ended = sum(isinstance(happening, (ResultCame, ResultDropped)) for happening in found.log)
            ended += sum(isinstance(happening, Finding) and happening.name == "result lost" for happening in found.log)
            if not any(isinstance(happening, AppLeft) for happening in found.log):
                self.assertEqual(marks(state) + begun, marks(found.state) + ended, found.log)
            state = found.state

    @settings(max_examples=150)
    @given(RUNS)
    def test_a_move_that_a_guard_stays_leaves_no_trace(self, run: Run) -> None:
        plan, done = run
        state = initial_state(plan)
        for event in done:
            found = step(plan, state, event)
            if len(found.log) == 1 and isinstance(found.log[0], QuestionOpened) and found.refused is None:
                after = found.state
                self.assertEqual(
                    (after.ladder, after.facts, after.overlays, after.wanted),
                    (state.ladder, state.facts, state.overlays, state.wanted),
                )
            state = found.state

    @settings(max_examples=100)
    @given(RUNS, st.data())
    def test_deciding_sees_the_head_alone(self, run: Run, data: st.DataObject) -> None:
        """Whatever lies beneath: the decision is the same, or it says that it looks beneath."""
        plan, done = run
        state = states(plan, done)[-1]
        event = data.draw(events().filter(lambda event: type(event).__name__ != "Wait"))
        if len(state.ladder) < 2:
            return
        other = data.draw(st.sampled_from([screen.name for screen in plan.screens if not screen.takes and not screen.inside]))
        planted = (*(Rung(RungData(other), -1 - place) for place in range(len(state.ladder) - 1)), state.ladder[-1])
        answers = []
        for ladder in (state.ladder, planted):
            try:
                answers.append(repr(decide(plan, WorkingState(plan, replace(state, ladder=ladder)).head(), event)))
            except QueryNeeded as asked:
                answers.append(repr(asked.question))
        self.assertEqual(*answers)

    @settings(max_examples=100)
    @given(RUNS)
    def test_what_is_remembered_is_what_would_be_done(self, run: Run) -> None:
        plan, done = run
        again = [*done, Back(), *done]
        quick, remembered = states(plan, again), index_of(plan).steps
        self.assertTrue(remembered)
        state = initial_state(plan)
        for event, expected in zip(again, quick[1:], strict=True):
            remembered.clear()
            state = step(plan, state, event).state
            self.assertEqual(state, expected)

    @settings(max_examples=100)
    @given(RUNS)
    def test_the_stretches_seen_add_up_to_the_clock(self, run: Run) -> None:
        plan, done = run
        state, until = initial_state(plan), 0
        for event in done:
            found = step(plan, state, event)
            for saw in (happening for happening in found.log if isinstance(happening, SeenFor)):
                self.assertEqual(saw.since, until)
                self.assertGreaterEqual(saw.until, saw.since)
                until = saw.until
            state = found.state
            self.assertEqual(state.seen.since, until)
            top = visible_top(state) if state.phase is Phase.OPEN and not state.cover else None
            self.assertEqual(state.seen.serial, top.serial if top else 0)
            self.assertEqual(state.seen.waiting == "cover", state.phase is Phase.OPEN and state.cover)

    @settings(max_examples=100)
    @given(RUNS)
    def test_a_state_survives_json(self, run: Run) -> None:
        plan, done = run
        state = states(plan, done)[-1]
        self.assertEqual(msgspec.json.decode(msgspec.json.encode(state), type=State), state)

    @settings(max_examples=60)
    @given(RUNS)
    def test_stepping_back_gives_the_very_state(self, run: Run) -> None:
        plan, done = run
        tape = Tape(plan, initial_state(plan))
        seen = [tape.first]
        for event in done:
            tape, found = tape.with_event(event)
            if found.refused is None:
                seen.append(found.state)
        self.assertEqual([tape.state_at(count) for count in range(len(tape.entries) + 1)], seen)

    def test_states_that_differ_in_serials_alone_are_one_if_all_of_them_still_mean_the_same(self) -> None:
        plan = plan_of("""
            facts: {held: [yes, no]}
            calls: {fetch: {ok: 1s}}
            screens:
              hives:
                moves:
                  - {when: 5s on ladder, do: set held no}
                  - {when: shown, do: call fetch}
                  - {when: fetch gives ok, do: []}
                guards: [{name: stay, if: held is yes, scope: app, block: yes}]
        """)
        state = run(plan, Launch())
        parts = {"deadlines": state.deadlines, "calls": state.calls, "armed": state.armed}
        moved: dict[str, Any] = {name: tuple(replace(each, serial=7) for each in part) for name, part in parts.items()}
        ladder = (replace(state.ladder[0], serial=7),)
        self.assertEqual(timeless(replace(state, ladder=ladder, **moved)), timeless(state))
        for name, part in moved.items():
            self.assertNotEqual(
                timeless(replace(state, **{name: part})), timeless(state), f"{name} of a rung that is not there"
            )

    @settings(max_examples=60)
    @given(RUNS)
    def test_states_that_differ_in_time_alone_go_on_alike(self, run: Run) -> None:
        plan, done = run
        state = states(plan, done)[-1]
        later = replace(
            state,
            clock=state.clock + 77,
            deadlines=tuple(replace(timer, due=timer.due + 77) for timer in state.deadlines),
            calls=tuple(replace(call, started=call.started + 77) for call in state.calls),
        )
        self.assertEqual(timeless(step(plan, state, Back()).state), timeless(step(plan, later, Back()).state))
