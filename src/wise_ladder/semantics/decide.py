"""The first half of a step: deciding, at the head and nowhere else.

`decide` answers an event, or what follows from one, with effects. It sees the head only. What is beneath it can ask
for, by raising a question; `step` looks the answer up and asks again with it. So each decision is a function of the plan, the
matter, the head and the answers, and is made once.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import events, operations, triggers
from wise_ladder.semantics import effects, messages, tasks
from wise_ladder.semantics.decide_back import BackDecider
from wise_ladder.semantics.decide_operations import OPERATIONS, OperationDecider
from wise_ladder.semantics.log import Finding, GuardSkipped, NoEffect, ReplyDropped
from wise_ladder.semantics.reasons import Reason, first_that_holds, move_words
from wise_ladder.semantics.state import Phase
from wise_ladder.semantics.taps import applies_to, bind, carries_all, in_another_app, taps_offered
from wise_ladder.semantics.tasks import Cause, OperationTask
from wise_ladder.semantics.text import named, rung_text, screen_words

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from wise_ladder.plan.model import Move
    from wise_ladder.plan.policies import Way
    from wise_ladder.plan.values import Value
    from wise_ladder.semantics.conditions import EvalContext
    from wise_ladder.semantics.effects import Decision, Effect


class Decider(BackDecider):
    """Decides each event and task, from a head and the answers at hand."""

    def _chosen(self, moves: Iterable[Move], view: EvalContext) -> Move | None:
        return first_that_holds(self.tables.asked, self.tables.reading(moves), view)

    # Taps

    def tap(self, event: events.Tap) -> Decision:
        """Decide a tap: the innermost place that has it with its condition true, first in the file among equals."""
        if refusal := self._not_seen() or self._asking() or self._touching():
            return refusal
        values = dict(event.arguments)
        offered, heard = False, self.tables.asked
        rest = self._tap_moves(event.name, values)
        for move, place, view, way in rest:
            offered = True
            if not carries_all(move, values):
                self.hear("move", move_words(move), "passed", messages.OTHER_ARGUMENTS, move)
            elif first_that_holds(heard, self.tables.reading((move,)), view) is not None:
                if heard is not None:
                    heard += (Reason("move", move_words(later), "not asked", thing=later) for later, *_ in rest)
                return self._move_effects(move, view.values, self._level(move, place), place, Cause(way))
        return self._no_tap(event, offered=offered)

    def _tap_moves(self, tap: str, values: dict[str, Value]) -> Iterator[tuple[Move, int, EvalContext, Way]]:
        """Go through the moves of a tap from the innermost place outwards: move, place, what it sees, which way it is.

        Notices are over everything, and the overlay that takes the taps over the rest.
        """
        path, inner = self.head.path, len(self.head.path) - 1
        if in_another_app(self.plan, self.head):
            yield from self._of_place(path[-1].data.screen, tap, inner, values, own=True)
            return
        for name, place in reversed(self.head.layers):
            if not self.plan.overlay[name].modal:
                yield from self._of_place(name, tap, place, values, own=place == inner)
        if (covered := self._covered()) is not None:
            yield from self._of_place(covered[0], tap, covered[1], values, own=covered[1] == inner)
            return
        for place in reversed(range(len(path))):
            yield from self._of_place(path[place].data.screen, tap, place, values, own=place == inner)
        seen = path[-1].data.screen
        anywhere = self._of_place(None, tap, -1, values, own=False)
        yield from (each for each in anywhere if applies_to(each[0], seen))

    def _of_place(
        self, where: str | None, tap: str, place: int, values: dict[str, Value], *, own: bool
    ) -> Iterator[tuple[Move, int, EvalContext, Way]]:
        if moves := self.tables.taps.get((where, tap)):
            view = self._view_of(where if where in self.plan.overlay else "", place, values)
            yield from ((move, place, view, "in-app" if own else "aside") for move in moves)

    def again(self, due: tasks.SecondTap) -> Decision:
        """The second of two taps finds its move again, on the place that took the first."""
        values = dict(due.arguments)
        view = self._seen_by(due, values)
        moves = [move for move in self.tables.taps.get((due.where, due.tap), ()) if carries_all(move, values)]
        move = self._chosen(moves, view)
        if move is None:
            return (effects.AddEntry(NoEffect(messages.SECOND_TAP_DOES_NOTHING.format(tap=due.tap))),)
        return self._move_effects(move, values, self._inside(due.where, due.level), None, Cause(due.way))

    def _level(self, move: Move, place: int) -> int:
        """The ladder a move acts on: of a screen or overlay its rung's, of a flow or tabs the one inside."""
        if place < 0:
            return 0
        screen = self.plan.screen.get(move.owner or "")
        return place + 1 if screen is not None and screen.inside else place

    def _no_tap(self, event: events.Tap, *, offered: bool) -> Decision:
        covered = self._covered()
        seen = named(covered[0]) if covered else rung_text(self.head.path[-1].data)
        if offered:
            return effects.Refusal(messages.TAP_DOES_NOTHING.format(tap=event.name, screen=seen))
        names = ", ".join(dict.fromkeys(trigger.name for _, trigger in taps_offered(self.plan, self.head))) or "none"
        return effects.Refusal(messages.NO_SUCH_TAP.format(screen=seen, tap=event.name, taps=names))

    def _move_effects(
        self, move: Move, values: dict[str, Value], level: int, place: int | None, cause: Cause | None
    ) -> tuple[Effect, ...]:
        dos = (effects.DecideNext(OperationTask(bind(operation, values), level, cause)) for operation in move.operations)
        return effects.TakeMove(move, place if place is not None and place >= 0 else None), *dos

    # Timers, and what follows from a move

    def due(self, due: tasks.TriggerTask) -> Decision:
        """A timer is due, or a call was answered: the place that began it reacts."""
        timer = due.trigger if isinstance(due.trigger, triggers.TimerTrigger) else None
        moves = self.tables.due.get((due.where, due.trigger), ())
        if due.gone and timer is None:
            return self._orphan_reply(due, bool(moves))
        values = dict(due.arguments)
        view = self._seen_by(due, values)
        whose = screen_words(due.screen, due.arguments) or self.plan.app
        move = self._chosen(moves if due.where is not None else self._for_seen(moves), view)
        if move is not None:
            level = due.level if due.gone else self._inside(due.where, due.level)
            steps = self._move_effects(move, values, level, None, Cause("by itself"))
            if all(done.record.quiet for done in move.operations):
                return steps
            if self.head.phase is Phase.OUTSIDE:
                return self._after_leaving(move, steps, whose)
            if due.hidden:
                words = messages.ACTED_HIDDEN["timer" if timer else "reply", "gone" if due.gone else "hidden"]
                return steps[0], effects.AddEntry(Finding("acted while hidden", words.format(place=whose))), *steps[1:]
            return steps
        return (effects.AddEntry(NoEffect(messages.NO_MOVE_TAKES_IT.format(place=whose))),)

    def _seen_by(self, due: tasks.TriggerTask | tasks.SecondTap | tasks.RungLeft, values: dict[str, Value]) -> EvalContext:
        """Return what the place sees that a matter is about: the app itself, or a rung."""
        overlay = self.plan.overlay.get(due.where or "")
        if due.where is None or (overlay is not None and overlay.of == "app"):
            view = self.view.at(-1, values)
            view.own = due.own
            return view
        return self.view.of(due.own, values, lowest=due.lowest)

    def _orphan_reply(self, due: tasks.TriggerTask, wanted: bool) -> tuple[Effect, ...]:
        assert isinstance(due.trigger, triggers.ReplyTrigger)  # noqa: S101
        call, outcome = due.trigger.call, due.trigger.outcome
        if not wanted:
            return (effects.AddEntry(ReplyDropped(call, outcome)),)
        words = messages.REPLY_TO_GONE_SCREEN.format(call=call, outcome=outcome, screen=screen_words(due.screen, due.arguments))
        return (effects.AddEntry(Finding("reply to a gone screen", words)),)

    def _after_leaving(self, move: Move, steps: tuple[Effect, ...], whose: str) -> tuple[Effect, ...]:
        """A timer that outlived the app puts a screen: the app jumps to the front."""
        entry = effects.AddEntry(Finding("acted after leaving", messages.TIMER_ACTED_AFTER_LEAVING.format(place=whose)))
        if any(isinstance(operations.inner(done), operations.Put) for done in move.operations):
            return effects.ToForeground(launched=False), entry, *steps
        return (entry,)

    def world(self, due: tasks.PhaseTask) -> Decision:
        """The world did something, and a place of the visible path reacts, an overlay over it, or the app itself."""
        where = self._at(due.place, due.overlay)
        return self._first(self._for_seen(self.tables.due.get((where, due.what), ())), due.place, {}, due.overlay)

    def _at(self, place: int, overlay: str) -> str | None:
        """Return what stands at a place: an overlay over it, else its screen, None for the app."""
        return overlay or (self.head.path[place].data.screen if place >= 0 else None)

    def _for_seen(self, moves: Iterable[Move]) -> Iterator[Move]:
        """Go through the moves that are for the screen that is seen."""
        for move in moves:
            limited = move.only or move.excluded
            if not limited or applies_to(move, self.head.path[-1].data.screen if self.head.path else ""):
                yield move

    def _inside(self, where: str | None, level: int) -> int:
        screen = self.plan.screen.get(where or "")
        return level + 1 if screen is not None and screen.inside else level

    def gone(self, due: tasks.OverlayExpired) -> Decision:
        """Close an overlay whose time is over."""
        return (effects.CloseOverlay(due.overlay, None),)

    def shown(self, due: tasks.BecameVisible) -> Decision:
        """Decide what a place does now that it is shown."""
        moves = self.tables.shown.get((self._at(due.place, due.overlay), due.first), ())
        return self._first(moves, due.place, {}, due.overlay)

    def delivered(self, due: tasks.ResultArrived) -> Decision:
        """Decide what a rung does with a result, or with its being cancelled."""
        data = self.head.path[due.place].data
        came = due.value
        values: dict[str, Value] = {} if came is None else dict(came) if isinstance(came, tuple) else {due.name: came}
        # What has another form than the result is delivered, but no move can use it.
        fits = came is None or isinstance(came, tuple) == (due.name in self.tables.with_parts)
        moves = self.tables.results.get((data.screen, due.name, came is None), ()) if fits else ()
        return effects.DeliverResult(due.place, due.name, due.value), *self._first(moves, due.place, values)

    def turned(self, due: tasks.FactTask) -> Decision:
        """Decide how a place reacts to a fact that has another value."""
        if due.hidden:
            view = self.view.of(due.own, dict(due.arguments), lowest=due.lowest)
            moves = (
                move
                for move in self.tables.turned.get((due.hidden, due.fact, due.value), ())
                if isinstance(move.trigger, triggers.BecomesTrigger) and move.trigger.even_hidden
            )
            move = self._chosen(moves, view)
            level = self._inside(due.hidden, due.level)
            return () if move is None else self._move_effects(move, view.values, level, None, Cause("by itself"))
        where = self._at(due.place, due.overlay)
        for_seen = self._for_seen(self.tables.turned.get((where, due.fact, due.value), ()))
        return self._first(for_seen, due.place, {}, due.overlay)

    def left(self, due: tasks.RungLeft) -> Decision:
        """Decide what a rung does now that it has gone; of an app that was left only what it sets counts."""
        values = dict(due.arguments)
        move = self._chosen(self.tables.left.get(due.where, ()), self._seen_by(due, values))
        if move is None:
            return ()
        steps = self._move_effects(move, values, due.level, None, Cause("by itself"))
        return tuple(step for step in steps if not isinstance(step, effects.DecideNext) or _sets(step)) if due.out else steps

    def _view_of(self, overlay: str, place: int, values: dict[str, Value]) -> EvalContext:
        return self.view.over(overlay, place, values) if overlay else self.view.at(place, values)

    def _first(self, moves: Iterable[Move], place: int, values: dict[str, Value], overlay: str = "") -> tuple[Effect, ...]:
        view = self._view_of(overlay, place, values)
        move = self._chosen(moves, view)
        if move is None:
            return ()
        return self._move_effects(move, view.values, self._level(move, place), place, Cause("by itself"))

    def unasked(self, due: tasks.CheckUnasked) -> Decision:
        """Say which armed guards of a hidden rung were not asked when it went."""
        view = self.view.of(due.own, dict(due.arguments), lowest=due.lowest)
        guards = (guard for guard in self.tables.guards[due.screen] if guard.id not in due.asked)
        return tuple(effects.AddEntry(GuardSkipped(guard.name, due.screen)) for guard in guards if view.holds(guard.condition))

    # Operations

    def do(self, due: OperationTask) -> Decision:
        """Decide one operation of a move."""
        if isinstance(due.operation, operations.ChooseGoal):
            assert due.cause is not None  # noqa: S101 - Back is the cause
            return self._choose_goal(due.cause)
        return OPERATIONS[type(due.operation)](OperationDecider(self.view, self.tables, self.guards, due), due.operation)


def _sets(step: effects.DecideNext) -> bool:
    return isinstance(step.do.operation, operations.SetFact)
