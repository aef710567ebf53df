"""What one can do in Rules: each `press_NAME` is one entry of the table of actions."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from wise_ladder.app.bench import Bench
    from wise_ladder.app.rules.case import Case
    from wise_ladder.app.rules.view import RulesView


class Deeds:
    """Does what is pressed in Rules."""

    def __init__(self, bench: Bench, view: RulesView) -> None:
        """Act on the case of a view."""
        self.bench, self.view = bench, view

    @property
    def case(self) -> Case:
        """The rules and the chosen one."""
        return self.view.case

    def press_up(self) -> None:
        self.case.choose(self.case.place - 1)
        self.view.moved()

    def press_down(self) -> None:
        self.case.choose(self.case.place + 1)
        self.view.moved()

    def press_frame_back(self) -> None:
        self.case.go(-1)
        self.view.moved()

    def press_frame_on(self) -> None:
        self.case.go(1)
        self.view.moved()

    def press_next_guilty(self) -> None:
        if self.case.next_guilty():
            self.view.moved()
        else:
            self.bench.say("no other place breaks this rule, as far as is known")

    def press_climb_there(self) -> None:
        found = self.case.counterexample
        if found is None:
            self.bench.say("this rule is not broken: there is nothing to climb", wrong=True)
            return
        at = self.case.at + 1
        self.bench.climb_tape(found.tape.until(at))
        self.bench.say(f"{found.guilt.words}: step {at} of {len(found.tape.entries)}")

    def press_keep(self) -> None:
        found = self.case.counterexample
        if found is None:
            self.bench.say("this rule is not broken: there is nothing to keep", wrong=True)
            return
        self.bench.take_up_tape(found.tape)
        self.bench.desk.keep()

    def press_sweep(self) -> None:
        self.bench.sweeping.press()

    def press_unused(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.sheets.shown import Shown  # noqa: PLC0415
        from wise_ladder.walks.coverage import coverage  # noqa: PLC0415

        standing = self.case.standing
        if standing is None:
            self.bench.say("nothing was swept yet", wrong=True)
            return
        unmet = [Text(f"◌ {place.words}  :{place.at.line}") for place in standing.unused]
        parts = [part for part in coverage(self.bench.desk.plan) if not part.walks]
        walks = [Text(f"◌ {part.kind} {part.name}  :{part.at.line}") for part in parts]
        told = [Text(f"the sweep, {standing.known.words}: {len(unmet)}"), *unmet, Text("")]
        told += [Text(f"the walks: {len(walks)}"), *walks]
        self.bench.push_screen(Shown("What nothing ever used", told))

    def press_recognised(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.sheets.shown import Shown  # noqa: PLC0415
        from wise_ladder.plan.model import Starter  # noqa: PLC0415
        from wise_ladder.rules.starter import recognised_words  # noqa: PLC0415

        plan = self.bench.desk.plan
        starter = next((rule for rule in plan.rules if isinstance(rule, Starter)), None)
        if starter is None:
            self.bench.say("the plan names its rules itself: the starter set is not in force")
            return
        found = recognised_words(plan, starter)
        told = [
            Text(f"splash, never beneath and never landed on:  {', '.join(found.splash) or 'none'}"),
            Text(f"sign-in, where redirects that remember send to:  {', '.join(found.sign_in) or 'none'}"),
            Text(f"protected, what lies behind it:  {', '.join(found.protected) or 'none'}"),
            Text(f"signed in:  {found.signed_in or 'not recognised'}"),
            Text(f"not known yet, neither signed in nor out:  {', '.join(found.unsettled) or 'none'}"),
            Text(""),
            Text("To contradict, write in the plan under rules:"),
            Text("  - {rule: starter, not splash: SCREEN, not sign in: SCREEN, not protected: SCREEN}"),
            Text("  - {rule: starter, without: [no pile-up]} leaves a rule of the set out"),
        ]
        self.bench.push_screen(Shown("What the starter set recognised", told))
