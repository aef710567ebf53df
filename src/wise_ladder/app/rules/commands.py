"""The commands of Rules; `app/commands.py` lists each `cmd_NAME` with its keys and texts."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages

if TYPE_CHECKING:
    from collections.abc import Callable

    from wise_ladder.app.rules.selection import RuleSelection
    from wise_ladder.app.workplace import Workplace


class RulesCommands:
    """Does what is pressed in Rules."""

    def __init__(self, host: Workplace, selection: RuleSelection, refresh: Callable[[], None]) -> None:
        """Act on what is selected in a view, which `refresh` shows again."""
        self.host, self.selection, self.refresh = host, selection, refresh

    def cmd_up(self) -> None:
        self.selection.choose(self.selection.place - 1)
        self.refresh()

    def cmd_down(self) -> None:
        self.selection.choose(self.selection.place + 1)
        self.refresh()

    def cmd_frame_back(self) -> None:
        self.selection.go(-1)
        self.refresh()

    def cmd_frame_on(self) -> None:
        self.selection.go(1)
        self.refresh()

    def cmd_next_guilty(self) -> None:
        if self.selection.next_guilty():
            self.refresh()
        else:
            self.host.show_message(messages.NO_OTHER_VIOLATION)

    def cmd_climb_there(self) -> None:
        counterexample = self.selection.counterexample
        if counterexample is None:
            self.host.show_message(messages.NOTHING_TO_CLIMB, wrong=True)
            return
        at = self.selection.at + 1
        self.host.climb_tape(counterexample.tape.prefix(at))
        words, count = counterexample.guilt.words, len(counterexample.tape.entries)
        self.host.show_message(messages.COUNTEREXAMPLE_CLIMBED.format(violation=words, number=at, count=count))

    def cmd_keep(self) -> None:
        counterexample = self.selection.counterexample
        if counterexample is None:
            self.host.show_message(messages.NO_COUNTEREXAMPLE, wrong=True)
            return
        self.host.take_up_tape(counterexample.tape)
        self.host.document.keep()

    def cmd_sketch(self) -> None:
        self.host.edit_commands.sketch(None, climbs=False, first="rule")

    def cmd_delete(self) -> None:
        verdict = self.selection.verdict
        if verdict is None or not verdict.rule.starter:
            self.host.part_commands.cmd_delete_part()
        else:
            self.host.show_message(messages.RULE_OF_STARTER.format(rule=verdict.rule.name), wrong=True)

    def cmd_sweep(self) -> None:
        self.host.sweep_runner.press()

    def cmd_why(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.dialogs.info_dialog import InfoDialog  # noqa: PLC0415
        from wise_ladder.rules.report_text import how_known  # noqa: PLC0415

        verdict, standing = self.selection.verdict, self.selection.standing
        if verdict is None or standing is None:
            self.host.show_message(messages.NOT_CHECKED_YET, wrong=True)
            return
        told = [*how_known(verdict), *([messages.STILL_PROVING] if standing.proving and not verdict.every_depth else [])]
        paragraphs = [Text(f"{words}\n") for words in told]
        self.host.push_screen(InfoDialog(messages.HOW_KNOWN.format(rule=verdict.rule.called), paragraphs))

    def cmd_unused(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.dialogs.info_dialog import InfoDialog  # noqa: PLC0415
        from wise_ladder.walks.coverage import coverage  # noqa: PLC0415

        standing = self.selection.standing
        if standing is None:
            self.host.show_message(messages.NOT_CHECKED_YET, wrong=True)
            return
        unmet = [Text(f"◌ {place.words}  {place.at.short}") for place in standing.unused]
        parts = [part for part in coverage(self.host.plan) if not part.walks]
        walks = [Text(f"◌ {part.kind} {part.name}  {part.at.short}") for part in parts]
        lines = [Text(messages.UNUSED_BY_SWEEP.format(extent=standing.known.words, count=len(unmet))), *unmet, Text("")]
        lines += [Text(messages.UNUSED_IN_WALKS.format(count=len(walks))), *walks]
        self.host.push_screen(InfoDialog(messages.NEVER_USED_TITLE, lines))

    def cmd_recognised(self) -> None:
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.dialogs.info_dialog import InfoDialog  # noqa: PLC0415
        from wise_ladder.plan.rule import StarterSet  # noqa: PLC0415
        from wise_ladder.rules.starter import recognised_words  # noqa: PLC0415

        plan = self.host.plan
        starter = next((rule for rule in plan.rules if isinstance(rule, StarterSet)), None)
        if starter is None:
            self.host.show_message(messages.STARTER_OFF)
            return
        lines = recognised_words(plan, starter)
        paragraphs = [
            Text(messages.SPLASH_FOUND.format(names=", ".join(lines.splash) or "none")),
            Text(messages.SIGN_IN_FOUND.format(names=", ".join(lines.sign_in) or "none")),
            Text(messages.PROTECTED_FOUND.format(names=", ".join(lines.protected) or "none")),
            Text(messages.SIGNED_IN_FOUND.format(what=lines.signed_in or "not recognised")),
            Text(messages.UNSETTLED_FOUND.format(names=", ".join(lines.unsettled) or "none")),
            Text(""),
            Text(messages.STARTER_OVERRIDE),
        ]
        self.host.push_screen(InfoDialog(messages.STARTER_FOUND, paragraphs))
