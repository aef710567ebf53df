"""What one can do in Climb: each `press_NAME` is one entry of the table of actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.text import Text

from wise_ladder.errors import LadderError
from wise_ladder.ladder import Phase, descent
from wise_ladder.ladder.state import depth, screens_beneath
from wise_ladder.ladder.words import face_words
from wise_ladder.plan.events import Answer, Back, HeaderBack, Home, Reopen, Reply, Tap

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.app.bench import Bench
    from wise_ladder.app.climb.climber import Climber
    from wise_ladder.ladder import Step
    from wise_ladder.ladder.why import Why
    from wise_ladder.plan import Event
    from wise_ladder.walks.outcomes import Ending


class Deeds:
    """Does what is pressed in Climb."""

    def __init__(self, bench: Bench) -> None:
        """Act on the climber of a bench."""
        self.bench = bench
        self._twice = False

    @property
    def climber(self) -> Climber:
        """The run one is in."""
        return self.bench.climber

    def _did(self, done: Step | None, else_words: str = "") -> bool:
        """Show what came of a step; tell whether it was one."""
        if done is None or done.refused is not None:
            self.bench.say(else_words if done is None else str(done.refused), wrong=True)
            return False
        self.bench.moved()
        return True

    def do(self, event: Event) -> bool:
        """Do an event, or say why it cannot be done."""
        return self._did(self.climber.do(event))

    def tap(self, number: int) -> None:
        """Tap what stands under a number; answer, while a question is open."""
        twice, self._twice = self._twice, False
        offers, answers = self.climber.moment.offers, self.climber.moment.answers
        if answers and number <= len(answers):
            self.do(Answer(answers[number - 1][0]))
            return
        if number > len(offers):
            self.bench.say(f"there is no tap {number} here" if offers else "nothing can be tapped here", wrong=True)
            return
        event = offers[number - 1].event
        self.do(Tap(event.name, event.arguments, twice=True) if twice and isinstance(event, Tap) else event)

    def press_back(self) -> None:
        self.do(Back())

    def press_header_back(self) -> None:
        self.do(HeaderBack())

    def press_time(self) -> None:
        self._did(self.climber.let_time_run(), "nothing is due: time alone changes nothing")

    def press_launch(self) -> None:
        self._did(self.climber.launch())

    # Tape

    def press_tape_back(self) -> None:
        self.go(self.climber.place - 1, "this is the beginning of the tape")

    def press_tape_forward(self) -> None:
        self.go(self.climber.place + 1, "this is the end of the tape")

    def press_tape_first(self) -> None:
        self.go(0, "this is the beginning of the tape")

    def press_tape_last(self) -> None:
        self.go(len(self.climber.tape.entries), "this is the end of the tape")

    def go(self, place: int, at_end: str = "") -> None:
        """Go to a step of the tape."""
        if self.climber.go(place):
            self.bench.moved()
        else:
            self.bench.say(at_end)

    def press_again(self) -> None:
        self._did(self.climber.repeat(), "nothing was done yet")

    def press_again_ten(self) -> None:
        for times in range(10):
            done = self.climber.repeat()
            if done is None or done.refused is not None:
                self.bench.moved()
                self.bench.say(f"stopped after {times}: {done.refused if done else 'nothing was done yet'}", wrong=True)
                return
        self.bench.moved()

    def press_double(self) -> None:
        self._twice = True
        self.bench.say("the next number taps twice in quick succession")

    def press_descend(self) -> None:
        hops, ends = self.climber.moment.descent.hops, self.climber.moment.descent.end
        if not hops:
            words = {"no Back": "this phone has no Back of its own", "root": "Back does nothing at the root of this phone"}
            self.bench.say(words.get(ends, "the app does not run"), wrong=True)
            return
        # A descent that nobody looked at to its end is pressed until it ends, or comes to nothing.
        most = len(hops) if ends != "further" else depth(self.climber.moment.state) + 64
        for _ in range(most):
            done = self.climber.do(Back())
            if done.refused is not None or done.state.question is not None or done.state.phase is not Phase.OPEN:
                break
        self.bench.moved()

    def press_take_up(self) -> None:
        if self.climber.take_up_left():
            self.bench.moved()
            self.bench.say(f"this is the tape you left; {self.climber.left} kept")
        else:
            self.bench.say("no other tape was left yet")

    def press_keep(self) -> None:
        self.bench.desk.keep()

    # The world

    def press_away(self) -> None:
        self.do(Reopen() if self.climber.moment.state.phase in {Phase.AWAY, Phase.KILLED} else Home())

    def _choose_event(self, title: str, found: Sequence[Event], free: str = "", read: str = "") -> None:
        """Choose one of several events, each with what it would do; `read` comes before what is typed instead."""
        from wise_ladder.app.sheets.choose import Choice, Choose  # noqa: PLC0415
        from wise_ladder.ladder import forecast  # noqa: PLC0415
        from wise_ladder.ladder.words import happened_words  # noqa: PLC0415
        from wise_ladder.plan.steps import event_words  # noqa: PLC0415

        plan, state = self.climber.plan, self.climber.moment.state
        choices = []
        for event in found:
            done = forecast(plan, state, event).step
            choices.append(Choice(event_words(event), done.refused or happened_words(done.happened), event))

        def chosen(event: Event | str | None) -> None:
            if isinstance(event, str):
                wrong = self._do_words(f"{read}{event}")
                if wrong:
                    self.bench.say(wrong, wrong=True)
            elif event is not None:
                self.do(event)

        self.bench.push_screen(Choose(title, choices, free=free, soft=self.bench.palette.soft), chosen)

    def press_world(self) -> None:
        from wise_ladder.ladder.offers import phone_events  # noqa: PLC0415

        self._choose_event("What does the phone, or its user, do?", phone_events())

    def press_link(self) -> None:
        from wise_ladder.ladder.offers import link_events  # noqa: PLC0415

        self._choose_event("Which link is opened?", link_events(self.climber.plan), "or type any address", "link ")

    def press_fact(self) -> None:
        from wise_ladder.app.sheets.choose import Choice, Choose  # noqa: PLC0415
        from wise_ladder.ladder.offers import outside_changes  # noqa: PLC0415

        plan, state = self.climber.plan, self.climber.moment.state
        if self.climber.place:
            found = outside_changes(plan, state)
            if found:
                self._choose_event("What does the world change?", found)
            else:
                self.bench.say(
                    "the plan lets nothing change from outside now; before the first step (Home) any fact can be given"
                )
            return
        choices = [
            Choice(f"{fact.name} is {value}", "as it is" if value == now else "to begin with", (fact.name, value))
            for fact, now in zip(plan.facts, state.facts, strict=True)
            for value in fact.values
        ]

        def chosen(given: tuple[str, str] | str | None) -> None:
            if isinstance(given, tuple):
                self.climber.give(*given)
                self.bench.moved()

        self.bench.push_screen(Choose("What is so before the first step?", choices, soft=self.bench.palette.soft), chosen)

    def press_words(self) -> None:
        from wise_ladder.app.sheets.line import Line, Lines  # noqa: PLC0415
        from wise_ladder.plan.completing import complete  # noqa: PLC0415
        from wise_ladder.plan.scopes import scope_of  # noqa: PLC0415

        plan = self.climber.plan
        line = Line("", "", lambda typed: complete(plan, "event", typed, scope_of(plan)))
        hint = "any step of a walk that does something; Enter does it, Esc does not"
        self.bench.push_screen(Lines("Do by words", [line], lambda typed: self._do_words(typed[0]), hint=hint))

    def _do_words(self, typed: str) -> str:
        """Do what a phrase says; return what is wrong with it."""
        from wise_ladder.plan.scopes import read_event  # noqa: PLC0415

        try:
            event = read_event(self.climber.plan, typed)
        except LadderError as error:
            return str(error)
        done = self.climber.do(event)
        if done.refused is not None:
            return done.refused
        self.bench.moved()
        return ""

    def press_reply(self) -> None:
        from wise_ladder.app.sheets.shown import replies  # noqa: PLC0415
        from wise_ladder.walks.outcomes import SILENCE, endings  # noqa: PLC0415

        calls = [call for call in self.climber.moment.state.calls if not call.reply]
        if not calls:
            self.bench.say("no call is under way", wrong=True)
            return
        name = calls[0].name
        found = endings(self.climber.tape, self.climber.place, name)

        def chosen(number: int | None) -> None:
            if number is not None and found[number - 1].outcome != SILENCE:
                self.do(Reply(name, found[number - 1].outcome))

        rows = [self._ending_row(ending) for ending in found]
        self.bench.push_screen(replies(name, found, rows, self.bench.palette), chosen)

    def _ending_row(self, ending: Ending) -> tuple[str, str, str]:
        from wise_ladder.walks.comparing import back_words  # noqa: PLC0415
        from wise_ladder.walks.seen import seen_now, stretches  # noqa: PLC0415

        if ending.refused and not ending.entries:
            return "–", ending.refused, ""
        seen = " · ".join([*(stretch.words for stretch in stretches(ending.entries)), seen_now(ending.state)])
        ladder = " > ".join(face_words(rung.face) for rung in screens_beneath(ending.state.ladder)) or "the ground"
        return (
            seen,
            f"{ladder}{f'; then {ending.refused}' if ending.refused else ''}",
            back_words(descent(self.climber.plan, ending.state, 1)),
        )

    # Why

    def press_why(self) -> None:
        from wise_ladder.app.sheets.choose import Choice, Choose  # noqa: PLC0415
        from wise_ladder.ladder.offers import link_events  # noqa: PLC0415
        from wise_ladder.ladder.why import why  # noqa: PLC0415
        from wise_ladder.plan.steps import event_said  # noqa: PLC0415

        moment, plan = self.climber.moment, self.climber.plan
        events: list[tuple[str, Event, bool]] = []
        if moment.entry is not None:
            events.append((f"the last step: {event_said(moment.entry.event)}", moment.entry.event, True))
        events += [
            (f"Back by the {way.name}", way.forecast.event, False)
            for way in moment.ways
            if way.back and not way.name.startswith("tap")
        ]
        events += [(f"{offer.number} {event_said(offer.event)}", offer.event, False) for offer in moment.offers]
        events += [(event_said(link), link, False) for link in link_events(plan)]
        choices = [Choice(name, "", (event, before)) for name, event, before in events]

        def reasons(value: tuple[Event, bool]) -> Why:
            event, before = value
            return why(plan, moment.before if before else moment.state, event)

        def chosen(value: tuple[Event, bool] | str | None) -> None:
            if isinstance(value, tuple):
                self.bench.changes.edit_one_of(reasons(value).asked)

        sheet = Choose(
            "Why? Enter edits what took it",
            choices,
            more=lambda value: self._told(reasons(value)),
            soft=self.bench.palette.soft,
        )
        self.bench.push_screen(sheet, chosen)

    def _told(self, found: Why) -> Text:
        from wise_ladder.ladder.words import happened_words  # noqa: PLC0415

        palette, text = self.bench.palette, Text()
        shown = [asked for asked in found.asked if not asked.because.startswith("it is not for")]
        styles = {"took it": f"bold {palette.lands}", "passed": palette.soft, "not asked": palette.muted}
        for asked in shown:
            text.append(f"{asked.kind:9}", style=palette.muted)
            text.append(asked.name, style="bold" if asked.verdict == "took it" else palette.soft)
            text.append(f"  {asked.verdict}", style=styles[asked.verdict])
            text.append(f", because {asked.because}\n" if asked.because else "\n", style=palette.soft)
        if len(shown) < len(found.asked):
            text.append(f"{len(found.asked) - len(shown)} more passed: they are for other screens\n", style=palette.muted)
        said = found.step.refused or happened_words(found.step.happened) or "nothing happened"
        text.append(f"→ {said}", style=palette.text)
        return text

    # Sketching

    def press_sketch(self) -> None:
        moment = self.climber.moment
        if moment.top is None:
            self.bench.say("there is no screen here to tap on: launch the app first", wrong=True)
            return
        modal = [overlay.name for overlay in moment.overlays if overlay.modal]
        self.bench.changes.sketch(modal[-1] if modal else moment.top.face.screen, climbs=True)
