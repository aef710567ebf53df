"""Deciding what Back, the header and answers do, and why nothing can be done."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.plan import events, operations
from wise_ladder.semantics import effects, messages, stack_queries
from wise_ladder.semantics.conditions import EvalContext
from wise_ladder.semantics.guards import GuardCheck, acting_for
from wise_ladder.semantics.log import NoEffect
from wise_ladder.semantics.plan_index import filled, index_of
from wise_ladder.semantics.reasons import Reason, unmet_part
from wise_ladder.semantics.state import Phase
from wise_ladder.semantics.taps import in_another_app
from wise_ladder.semantics.tasks import Cause, OperationTask
from wise_ladder.semantics.text import named, rung_text

if TYPE_CHECKING:
    from wise_ladder.plan.model import OnBack, Plan
    from wise_ladder.plan.operations import Operation
    from wise_ladder.semantics.effects import Decision, Effect
    from wise_ladder.semantics.reasons import ReasonKind, ReasonPart, Response
    from wise_ladder.semantics.stack_queries import StackAnswers
    from wise_ladder.semantics.state import Head


class BackDecider:
    """Decides Back, the header's button and answers, from a head and the answers at hand."""

    def __init__(self, plan: Plan, head: Head, known: StackAnswers) -> None:
        self.plan, self.head = plan, head
        self.view, self.tables = EvalContext(plan, head, known), index_of(plan)
        self.guards = GuardCheck(self.view, self.tables)

    def hear(self, kind: ReasonKind, name: str, verdict: Response, because: str = "", thing: ReasonPart | None = None) -> None:
        """Note what was asked, if reasons are collected."""
        if self.tables.asked is not None:
            self.tables.asked.append(Reason(kind, name, verdict, because, thing))

    def not_open(self) -> effects.Refusal | None:
        """Return why nothing can be done while the app is not in front, None while it is."""
        if self.head.phase is Phase.OUTSIDE:
            return effects.Refusal(messages.NOT_RUNNING_LAUNCH.format(app=self.plan.app))
        if self.head.phase is Phase.AWAY:
            return effects.Refusal(messages.AWAY_REOPEN.format(app=self.plan.app))
        if self.head.phase is Phase.KILLED:
            return effects.Refusal(messages.KILLED_REOPEN.format(app=self.plan.app))
        return None

    def _not_seen(self) -> effects.Refusal | None:
        """Why what is on the screen cannot be touched."""
        if refusal := self.not_open():
            return refusal
        return effects.Refusal(messages.COVERED) if self.head.cover else None

    def _asking(self) -> effects.Refusal | None:
        if self.head.question is None:
            return None
        guard = self.plan.guard[self.head.question]
        answers = ", ".join(answer.name for answer in guard.answers)
        return effects.Refusal(messages.QUESTION_OPEN.format(guard=guard.name, answers=answers))

    def _covered(self) -> tuple[str, int] | None:
        """The overlay that takes what is tapped: of those that do, the one opened last."""
        for name, place in reversed(self.head.layers):
            if self.plan.overlay[name].modal:
                return name, place
        return None

    def _touching(self) -> effects.Refusal | None:
        """Why the user can do nothing else: the finger is on the gesture of Back."""
        return effects.Refusal(messages.BACK_IS_BEGUN) if self.head.begun else None

    # Back, arrow, answers

    def back_begun(self, _event: events.BackBegun) -> Decision:
        """Decide whether the gesture of Back can begin."""
        if refusal := self._not_seen() or self._touching():
            return refusal
        no_gesture = self.plan.policies.back_gesture == "no" or self.plan.policies.system_back == "no"
        return effects.Refusal(messages.NO_GESTURE) if no_gesture else ()

    def back_ended(self, _event: events.BackFinished | events.BackCancelled) -> Decision:
        """Decide whether there is a gesture to finish or to cancel."""
        return self.not_open() or (() if self.head.begun else effects.Refusal(messages.BACK_NOT_BEGUN))

    def back(self, event: events.Back) -> Decision:
        """Decide system Back: the first answer of a question, else its goal."""
        if refusal := self.not_open() or self._touching():
            return refusal
        if self.plan.policies.system_back == "no":
            return effects.Refusal(messages.NO_SYSTEM_BACK)
        if self.head.cover:
            return (effects.ExitApp("back"),)
        if self.head.question is not None:
            return self.answered(self.plan.guard[self.head.question].answers[0].name)
        if in_another_app(self.plan, self.head):
            # Our app is not asked, and nothing of it is in the way.
            return self._ladder_goal(None)
        return (effects.DecideNext(OperationTask(operations.ChooseGoal(), 0, Cause("system", event.taken_by))),)

    def _choose_goal(self, cause: Cause) -> tuple[Effect, ...]:
        """Ask the guards that are first in line, then look for what Back takes."""
        met = self.guards.first_in_line(cause)
        if met.stopped is not None:
            return met.stopped
        passed = (effects.GuardsPassed(met.passed, len(self.head.path)),) if met.passed else ()
        return (*passed, *self._back_target(cause))

    def _back_target(self, cause: Cause) -> tuple[Effect, ...]:
        for name, place in reversed(self.head.layers):
            back = self.plan.overlay[name].back
            self.hear("overlay", name, *_OVERLAY_SAYS[back])
            if back == "blocked":
                return (effects.AddEntry(NoEffect(messages.BLOCKS_BACK.format(overlay=named(name)))),)
            if back == "closes":
                return (_part(operations.Close(overlay=name), max(place, 0), cause),)
        return self._ladder_goal(cause)

    def _ladder_goal(self, cause: Cause | None) -> tuple[Effect, ...]:
        """Go inside out: the first ladder with more than one rung pops, tabs may go to another tab, then outwards."""
        path = self.head.path
        for level in reversed(range(len(path))):
            if not path[level].lowest:
                self.hear("ladder", rung_text(path[level].data), "took it", messages.RUNG_BENEATH)
                return (_part(operations.Pop(), level, cause),)
            self.hear("ladder", rung_text(path[level].data), "passed", messages.LOWEST_OF_LADDER)
            if level and (tab := self._tab_back(level - 1)) is not None:
                self.hear("ladder", path[level - 1].data.screen, "took it", messages.BACK_GOES_TO_TAB.format(tab=tab))
                return (_part(operations.Switch(tab, going_back=True), level - 1, cause),)
        self.hear("ladder", "the phone", "took it", messages.PHONE_AT_ROOT.format(policy=self.plan.policies.back_at_root))
        match self.plan.policies.back_at_root:
            case "leave":
                return (_part(operations.LeaveByBack(), 0, cause),)
            case "away":
                return (_part(operations.LeaveByBack(away=True), 0, cause),)
            case "stay":
                return (effects.AddEntry(STAYS_AT_ROOT),)

    def _tab_back(self, place: int) -> str | None:
        data = self.head.path[place].data
        screen = self.plan.screen[data.screen]
        policy = self.plan.policies.tab_back
        if not screen.tabs or policy == "outwards":
            return None
        if policy == "last used":
            return screen.inside[data.tab_order[-2]][0] if len(data.tab_order) > 1 else None
        return screen.inside[0][0] if data.tab_order[-1] != 0 else None

    def header_back(self, _event: events.HeaderBack) -> Decision:
        """Decide the header's button: a menu, a declared arrow, or a pop that stays inside tabs."""
        if refusal := self._not_seen() or self._asking() or self._touching():
            return refusal
        if (covered := self._covered()) is not None:
            return effects.Refusal(messages.HEADER_COVERED.format(overlay=named(covered[0])))
        level = len(self.head.path) - 1
        screen = self.plan.screen[self.head.path[level].data.screen]
        cause = Cause("header")
        if screen.header == "menu":
            if not screen.menu:
                return effects.Refusal(messages.HEADER_MENU_EMPTY)
            return (effects.DecideNext(OperationTask(operations.Open(screen.menu), level, cause)),)
        if screen.header == "none":
            return effects.Refusal(messages.HEADER_EMPTY)
        view = self.view.at(level)
        for arrow in screen.arrow:
            leads = view.holds(arrow.condition)
            why = "" if leads else unmet_part(view, arrow.condition)
            self.hear("arrow", f"the arrow of {screen.name} to {arrow.target.screen}", "took it" if leads else "passed", why)
            if leads:
                return self._arrow(filled(arrow.target, view.values), level, cause, fresh=arrow.fresh)
        for out in reversed(range(level + 1)):
            if not self.head.path[out].lowest:
                return (effects.DecideNext(OperationTask(operations.Pop(), out, cause)),)
            if out and self.plan.screen[self.head.path[out - 1].data.screen].tabs:
                break
        return effects.Refusal(messages.NO_ARROW)

    def _arrow(self, target: operations.Target, level: int, cause: Cause, *, fresh: bool) -> Decision:
        if not fresh and self.tables.data(target).same_screen(self.head.path[level].data):
            return effects.Refusal(messages.ARROW_LEADS_HERE)
        is_there = self.view.ask(stack_queries.IsThere(level, target.screen, target.fixed))
        put = effects.DecideNext(OperationTask(operations.Replace(target), level, cause))
        if not is_there:
            return (put,)
        down = effects.DecideNext(OperationTask(operations.PopTo(target), level, cause))
        return (down, put) if fresh else (down,)

    def answer(self, event: events.Answer) -> Decision:
        """Decide an answer to the open question."""
        if refusal := self.not_open() or self._touching():
            return refusal
        if self.head.question is None:
            return effects.Refusal(messages.NO_QUESTION)
        return self.answered(event.name)

    def answered(self, name: str) -> Decision:
        """Return what an answer does: its operations, and the blocked move if it goes on."""
        assert self.head.question is not None  # noqa: S101 - both callers have looked
        guard = self.plan.guard[self.head.question]
        for answer in guard.answers:
            if answer.name == name:
                done = acting_for(guard.id, answer.operations) if answer.operations else ()
                end = () if answer.stays else (effects.ResumeBlocked(),)
                return effects.AnswerQuestion(guard.name, name), *done, *end
        names = ", ".join(answer.name for answer in guard.answers)
        return effects.Refusal(messages.NO_SUCH_ANSWER.format(guard=guard.name, answer=name, answers=names))


_OVERLAY_SAYS: dict[OnBack, tuple[Response, str]] = {
    "closes": ("took it", messages.CLOSES),
    "blocked": ("took it", messages.BLOCKS),
    "passes": ("passed", messages.LETS_THROUGH),
}
STAYS_AT_ROOT = NoEffect(messages.STAYS_AT_ROOT)


def _part(operation: Operation, level: int, cause: Cause | None) -> effects.DecideNext:
    return effects.DecideNext(OperationTask(operation, level, cause), part=True)
