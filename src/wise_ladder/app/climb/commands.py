"""The commands of Climb; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.text import Text

from wise_ladder.app import messages
from wise_ladder.errors import LadderError
from wise_ladder.plan.events import Answer, Back, BackFinished, HeaderBack, Home, Reopen, Reply, Tap
from wise_ladder.semantics import Phase, descent
from wise_ladder.semantics.state import depth
from wise_ladder.semantics.text import ladder_words

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.app.tape_cursor import TapeCursor
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.plan import Event
    from wise_ladder.semantics import Step
    from wise_ladder.semantics.explain import Explanation
    from wise_ladder.walks.reply_branches import ReplyBranch


class ClimbCommands:
    """Does what is pressed in Climb."""

    def __init__(self, host: Workplace) -> None:
        """Act on the cursor of the application."""
        self.host = host
        self._twice = False

    @property
    def cursor(self) -> TapeCursor:
        """The current run."""
        return self.host.cursor

    def _did(self, done: Step | None, else_words: str = "") -> bool:
        """Show what came of a step; tell whether it was one."""
        if done is None or done.refused is not None:
            self.host.show_message(else_words if done is None else str(done.refused), wrong=True)
            return False
        self.host.moved()
        return True

    def do(self, event: Event) -> bool:
        """Do an event, or say why it cannot be done."""
        return self._did(self.cursor.do(event))

    def tap(self, number: int) -> None:
        """Tap what stands under a number; answer, while a question is open."""
        twice, self._twice = self._twice, False
        offers, answers = self.cursor.moment.offers, self.cursor.moment.answers
        if answers and number <= len(answers):
            self.do(Answer(answers[number - 1][0]))
            return
        if number > len(offers):
            self.host.show_message(messages.NO_SUCH_TAP.format(number=number) if offers else messages.NO_TAPS, wrong=True)
            return
        event = offers[number - 1].event
        self.do(Tap(event.name, event.arguments, twice=True) if twice and isinstance(event, Tap) else event)

    def cmd_back(self) -> None:
        self.do(self._next_back())

    def _next_back(self) -> Back | BackFinished:
        return BackFinished() if self.cursor.moment.state.begun is not None else Back()

    def cmd_header_back(self) -> None:
        self.do(HeaderBack())

    def cmd_time(self) -> None:
        self._did(self.cursor.let_time_run(), messages.NOTHING_DUE)

    def cmd_launch(self) -> None:
        self._did(self.cursor.launch())

    # Tape

    def cmd_tape_back(self) -> None:
        self.go(self.cursor.position - 1, messages.TAPE_START)

    def cmd_tape_forward(self) -> None:
        self.go(self.cursor.position + 1, messages.TAPE_END)

    def cmd_tape_first(self) -> None:
        self.go(0, messages.TAPE_START)

    def cmd_tape_last(self) -> None:
        self.go(len(self.cursor.tape.entries), messages.TAPE_END)

    def go(self, place: int, at_end: str = "") -> None:
        """Go to a step of the tape."""
        if self.cursor.go(place):
            self.host.moved()
        else:
            self.host.show_message(at_end)

    def cmd_again(self) -> None:
        self._did(self.cursor.repeat(), messages.NOTHING_TO_REPEAT)

    def cmd_again_ten(self) -> None:
        for times in range(10):
            done = self.cursor.repeat()
            if done is None or done.refused is not None:
                self.host.moved()
                why = done.refused if done else messages.NOTHING_DONE
                self.host.show_message(messages.STOPPED_AFTER.format(count=times, why=why), wrong=True)
                return
        self.host.moved()

    def cmd_double(self) -> None:
        self._twice = True
        self.host.show_message(messages.TAPS_TWICE)

    def cmd_descend(self) -> None:
        hops, ends = self.cursor.moment.descent.hops, self.cursor.moment.descent.end
        if not hops:
            words = {"no Back": messages.NO_SYSTEM_BACK, "root": messages.STAYS_AT_ROOT}
            self.host.show_message(words.get(ends, messages.NOT_RUNNING), wrong=True)
            return
        # A descent that was not forecast to its end is pressed until it ends or nothing happens.
        most = len(hops) if ends != "further" else depth(self.cursor.moment.state) + 64
        for _ in range(most):
            done = self.cursor.do(self._next_back())
            if done.refused is not None or done.state.question is not None or done.state.phase is not Phase.OPEN:
                break
        self.host.moved()

    def cmd_take_up(self) -> None:
        if self.cursor.resume_branch():
            self.host.moved()
            kept = messages.OTHER_TAPE if self.cursor.left == 1 else messages.OTHER_TAPES
            self.host.show_message(kept.format(count=self.cursor.left))
        else:
            self.host.show_message(messages.NO_OTHER_TAPE)

    def cmd_keep(self) -> None:
        self.host.document.keep()

    # The world

    def cmd_away(self) -> None:
        self.do(Reopen() if self.cursor.moment.state.phase in {Phase.AWAY, Phase.KILLED} else Home())

    def _choose_event(self, title: str, events: Sequence[Event], free: str = "", read: str = "") -> None:
        """Choose one of several events, each with what it would do; `read` comes before what is typed instead."""
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.plan.steps import event_phrase  # noqa: PLC0415
        from wise_ladder.semantics import forecast  # noqa: PLC0415
        from wise_ladder.semantics.text import log_text  # noqa: PLC0415

        plan, state = self.cursor.plan, self.cursor.moment.state
        choices = []
        for event in events:
            done = forecast(plan, state, event).step
            choices.append(ListItem(event_phrase(event), done.refused or log_text(done.log), event))

        def chosen(event: Event | str | None) -> None:
            if isinstance(event, str):
                wrong = self._do_words(f"{read}{event}")
                if wrong:
                    self.host.show_message(wrong, wrong=True)
            elif event is not None:
                self.do(event)

        self.host.push_screen(ListDialog(title, choices, free=free, soft=self.host.palette.soft), chosen)

    def cmd_world(self) -> None:
        from wise_ladder.semantics.offers import phone_events  # noqa: PLC0415

        self._choose_event(messages.WHICH_PHONE_EVENT, phone_events(self.host.plan))

    def cmd_link(self) -> None:
        from wise_ladder.semantics.offers import link_events  # noqa: PLC0415

        self._choose_event(messages.WHICH_LINK, link_events(self.cursor.plan), messages.FREE_ADDRESS, "link ")

    def cmd_fact(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.semantics.offers import outside_changes  # noqa: PLC0415

        plan, state = self.cursor.plan, self.cursor.moment.state
        if self.cursor.position:
            changes = outside_changes(plan, state)
            if changes:
                self._choose_event(messages.WHICH_CHANGE, changes)
            else:
                self.host.show_message(messages.NO_FACT_TO_SET)
            return
        choices = [
            ListItem(
                f"{fact.name} is {value}",
                messages.FACT_AS_IT_IS if value == now else messages.FACT_TO_BEGIN_WITH,
                (fact.name, value),
            )
            for fact, now in zip(plan.facts, state.facts, strict=True)
            for value in fact.values
        ]

        def chosen(given: tuple[str, str] | str | None) -> None:
            if isinstance(given, tuple):
                self.cursor.give(*given)
                self.host.moved()

        self.host.push_screen(ListDialog(messages.SET_WHICH_FACT, choices, soft=self.host.palette.soft), chosen)

    def cmd_words(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.plan.completion import complete  # noqa: PLC0415
        from wise_ladder.plan.scopes import scope_of  # noqa: PLC0415

        plan = self.cursor.plan
        line = FormField("", "", lambda typed: complete(plan, "event", typed, scope_of(plan)))
        hint = messages.TYPE_STEP_HINT
        self.host.push_screen(FormDialog(messages.TYPE_STEP, [line], lambda typed: self._do_words(typed[0]), hint=hint))

    def _do_words(self, typed: str) -> str:
        """Do what a phrase says; return what is wrong with it."""
        from wise_ladder.plan.scopes import parse_event  # noqa: PLC0415

        try:
            event = parse_event(self.cursor.plan, typed)
        except LadderError as error:
            return str(error)
        done = self.cursor.do(event)
        if done.refused is not None:
            return done.refused
        self.host.moved()
        return ""

    def cmd_reply(self) -> None:
        from wise_ladder.app.dialogs.info_dialog import replies  # noqa: PLC0415
        from wise_ladder.walks.reply_branches import SILENCE, reply_branches  # noqa: PLC0415

        calls = [call for call in self.cursor.moment.state.calls if not call.reply]
        if not calls:
            self.host.show_message(messages.NO_CALL_PENDING, wrong=True)
            return
        name = calls[0].name
        branches = reply_branches(self.cursor.tape, self.cursor.position, name)

        def chosen(number: int | None) -> None:
            if number is not None and branches[number - 1].outcome != SILENCE:
                self.do(Reply(name, branches[number - 1].outcome))

        rows = [self._ending_row(ending) for ending in branches]
        self.host.push_screen(replies(name, branches, rows, self.host.palette), chosen)

    def _ending_row(self, ending: ReplyBranch) -> tuple[str, str, str]:
        from wise_ladder.walks.comparison import back_words  # noqa: PLC0415
        from wise_ladder.walks.seen import seen_intervals, seen_now  # noqa: PLC0415

        if ending.refused and not ending.entries:
            return "–", ending.refused, ""
        seen = " · ".join([*(stretch.words for stretch in seen_intervals(ending.entries)), seen_now(ending.state)])
        ladder = ladder_words(ending.state) or "the ground"
        return (
            seen,
            f"{ladder}{f'; then {ending.refused}' if ending.refused else ''}",
            back_words(descent(self.cursor.plan, ending.state, 1)),
        )

    # Why

    def cmd_why(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415
        from wise_ladder.plan.steps import event_text  # noqa: PLC0415
        from wise_ladder.semantics.explain import explain  # noqa: PLC0415
        from wise_ladder.semantics.offers import link_events  # noqa: PLC0415

        moment, plan = self.cursor.moment, self.cursor.plan
        events: list[tuple[str, Event, bool]] = []
        if moment.entry is not None:
            events.append((messages.LAST_STEP.format(step=event_text(moment.entry.event)), moment.entry.event, True))
        events += [
            (messages.BACK_BY.format(way=way.name), way.forecast.event, False)
            for way in moment.ways
            if way.back and isinstance(way.forecast.event, (Back, HeaderBack))
        ]
        events += [(f"{offer.number} {event_text(offer.event)}", offer.event, False) for offer in moment.offers]
        events += [(event_text(link), link, False) for link in link_events(plan)]
        choices = [ListItem(name, "", (event, before)) for name, event, before in events]

        def reasons(value: tuple[Event, bool]) -> Explanation:
            event, before = value
            return explain(plan, moment.before if before else moment.state, event)

        def chosen(value: tuple[Event, bool] | str | None) -> None:
            if isinstance(value, tuple):
                self.host.edit_commands.edit_one_of(reasons(value).asked)

        dialog = ListDialog(
            messages.WHY,
            choices,
            more=lambda value: self._told(reasons(value)),
            soft=self.host.palette.soft,
        )
        self.host.push_screen(dialog, chosen)

    def _told(self, explanation: Explanation) -> Text:
        from wise_ladder.semantics.text import log_text  # noqa: PLC0415

        palette, text = self.host.palette, Text()
        shown = [asked for asked in explanation.asked if not asked.other_screen]
        styles = {"took it": f"bold {palette.lands}", "passed": palette.soft, "not asked": palette.muted}
        for asked in shown:
            text.append(f"{asked.kind:9}", style=palette.muted)
            text.append(asked.name, style="bold" if asked.verdict == "took it" else palette.soft)
            text.append(f"  {asked.verdict}", style=styles[asked.verdict])
            text.append(f"{messages.BECAUSE.format(why=asked.because) if asked.because else ''}\n", style=palette.soft)
        if len(shown) < len(explanation.asked):
            more = messages.MORE_PASSED.format(count=len(explanation.asked) - len(shown))
            text.append(f"{more}\n", style=palette.muted)
        words = explanation.step.refused or log_text(explanation.step.log) or messages.NOTHING_HAPPENED
        text.append(f"→ {words}", style=palette.text)
        return text

    # Sketching

    def cmd_sketch(self) -> None:
        moment = self.cursor.moment
        if moment.top is None:
            self.host.edit_commands.sketch(None, climbs=False)
            return
        modal = [overlay.name for overlay in moment.overlays if overlay.modal]
        self.host.edit_commands.sketch(modal[-1] if modal else moment.top.data.screen, climbs=True)
