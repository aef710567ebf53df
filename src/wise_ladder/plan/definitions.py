"""The second pass over a plan: what stands on screens, flows, overlays and anywhere, in phrases that may name everything."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec.structs import replace

from wise_ladder.plan import messages, model, operations, policies, triggers
from wise_ladder.plan.map_reader import MapReader, as_scalars, parse_or_report
from wise_ladder.plan.parse_operations import OPERATION_PARSERS
from wise_ladder.plan.phrase_reader import CarriedArguments, PhraseReader
from wise_ladder.plan.phrases import parse_arrow, parse_trigger
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from wise_ladder.plan.model import (
        AnswerOption,
        Arrow,
        Guard,
        Move,
        Overlay,
        Screen,
    )
    from wise_ladder.plan.operations import Target

_BEFORE_THE_FIRST = (
    operations.SetFact,
    operations.StartCall,
    operations.CancelCall,
    operations.StartTimer,
    operations.StopTimer,
)
_MAY_GO_ON = (*_BEFORE_THE_FIRST, operations.SetRungFact, operations.Open)


class PlaceReader(PhraseReader):
    """Reads what stands on each place; a mistake is noted, and reading goes on."""

    # Places

    def screen(self, screen: Screen, section: MapReader | None) -> Screen:
        """Read what of a screen or flow are phrases: its moves, guards, arrow, menu, and what a flow starts with."""
        if section is None:
            return screen
        section.code(screen.at)
        if screen.foreign:
            moves = self.moves(section.items("moves"), screen)
            section.report_unknown_keys()
            self._does_little(moves)
            return replace(screen, moves=moves)
        fields: dict[str, Any] = {
            "moves": self.moves(section.items("moves"), screen),
            "guards": self.guards(section.items("guards"), screen),
        }
        if screen.inside:
            fields["inside"] = self._inside(screen, section)
        else:
            fields["arrow"] = self._arrow(section.node("arrow"), screen)
            fields["menu"] = self._overlay_name(section, "menu")
        section.report_unknown_keys()
        return replace(screen, **fields)

    def _does_little(self, moves: tuple[Move, ...]) -> None:
        """A screen of another app is tapped, and it returns something or goes."""
        for move in moves:
            ends = all(isinstance(operation, (operations.Return, operations.Pop)) for operation in move.operations)
            if not isinstance(move.trigger, triggers.TapTrigger) or not ends or move.condition is not None:
                self._source.add_error(move.at, messages.NOT_OURS.format(when=move.when), messages.WRITE_A_RETURN)

    def overlay(self, overlay: Overlay, section: MapReader | None) -> Overlay:
        """Read the moves and guards of an overlay, and check where it belongs."""
        if section is None:
            return overlay
        at = section.scalar("of")
        flows = [name for name, screen in self._declared.screens.items() if screen.inside]
        if at is not None and overlay.of not in {"", "app", *flows}:
            instead = suggest(overlay.of, ["rung", "app", *flows])
            self._source.add_error(at.at, messages.OVERLAY_BELONGS_ELSEWHERE.format(of=overlay.of), instead)
        section.code(overlay.at)
        moves, guards = self.moves(section.items("moves"), overlay), self.guards(section.items("guards"), overlay)
        section.report_unknown_keys()
        return replace(overlay, moves=moves, guards=guards)

    def _inside(self, screen: Screen, section: MapReader) -> tuple[tuple[str, Target], ...]:
        for scalar in section.scalars("screens"):
            self._known_screen(scalar)
        if not screen.tabs:
            start = section.scalar("start")
            target = self._target(start, screen) if start is not None else None
            return (("", target),) if target is not None else screen.inside
        inside: list[tuple[str, Target]] = []
        for tab, node in section.entries("tabs"):
            scalars = as_scalars(self._source, node, "the first screen of a tab")
            if len(scalars) == 1 and (target := self._target(scalars[0], screen)) is not None:
                inside.append((tab.text, target))
        return tuple(inside)

    def _overlay_name(self, section: MapReader, key: str) -> str:
        scalar = section.scalar(key)
        known = self._declared.overlays
        if scalar is not None and scalar.text not in known:
            self._source.add_error(scalar.at, messages.NO_SUCH_OVERLAY.format(name=scalar.text), suggest(scalar.text, known))
        return scalar.text if scalar is not None else ""

    def _arrow(self, node: Node | None, screen: Screen) -> tuple[Arrow, ...]:
        if node is None:
            return ()
        if isinstance(node, ScalarNode):
            arrow = parse_or_report(self._source, node, lambda: parse_arrow(node.text, self._scope(node, screen, {})))
            return (model.Arrow(*arrow),) if arrow else ()
        choices: list[Arrow] = []
        for item in node.items if isinstance(node, ListNode) else (node,):
            if not isinstance(item, MapNode):
                self._source.add_error(item.at, messages.ARROW_IS_A_MAP, messages.WRITE_AN_ARROW)
                continue
            section = MapReader(self._source, item, "a choice of the arrow")
            section.require("to", "SCREEN")
            to, asked, fresh = section.scalar("to"), section.scalar("if"), section.flag("fresh")
            section.report_unknown_keys()
            target = self._target(to, screen) if to is not None else None
            if target is not None:
                choices.append(model.Arrow(target, self._condition(asked, screen, {}), fresh))
        return tuple(choices)

    # Moves

    def moves(self, nodes: tuple[Node, ...], place: Screen | Overlay | None) -> tuple[Move, ...]:
        """Read the moves that stand on a place, None for those that stand anywhere."""
        moves = (self._move(node, place, number) for number, node in enumerate(nodes))
        return tuple(move for move in moves if move is not None)

    def _move(self, node: Node, place: Screen | Overlay | None, number: int) -> Move | None:
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.MOVE_IS_A_MAP, messages.WRITE_A_MOVE)
            return None
        section = MapReader(self._source, node, "a move")
        section.require("when", "tap NAME")
        section.require("do", "push SCREEN")
        when, asked, do = section.scalar("when"), section.scalar("if"), section.scalars("do")
        only, but = ((), ()) if place else (self._listed(section, "for"), self._listed(section, "except"))
        section.code(section.at)
        section.report_unknown_keys(_of_another_operation)
        if when is None:
            return None
        carried: CarriedArguments = {}
        scope = self._scope(when, place, carried)
        trigger = parse_or_report(self._source, when, lambda: parse_trigger(when.text, scope))
        # Operations before the condition: what a tap carries learns its type from the screen it is handed to.
        done = self._operations(do, place, carried)
        condition = self._condition(asked, place, carried)
        if trigger is None:
            return None
        if operations.TakeBack() in done and not isinstance(place, model.Overlay):
            self._source.add_error(section.at_of("do"), messages.NOTHING_TO_TAKE_BACK, messages.PUT_IT_ON_AN_OVERLAY)
        if isinstance(trigger, triggers.TapTrigger):
            trigger = replace(trigger, carries=self._carries(when, carried, when.text.find("("), "tap"))
        elif place is None and not trigger.record.anywhere:
            self._source.add_error(when.at, messages.NOT_ANYWHERE.format(name=when.text), messages.PUT_MOVE_ON_A_SCREEN)
        elif trigger == triggers.PhaseTrigger("launched"):
            if place is not None:
                self._source.add_error(when.at, messages.LADDER_STILL_EMPTY, messages.PUT_MOVE_UNDER_ANYWHERE)
            if not all(isinstance(operation, _BEFORE_THE_FIRST) for operation in done):
                what = messages.LADDER_STILL_EMPTY_SO
                self._source.add_error(when.at, what, messages.CHOOSE_FIRST_SCREEN_UNDER_START)
        written = section.node("do")
        return model.Move(
            trigger,
            condition,
            done,
            place.name if place else None,
            number,
            only,
            but,
            when.text,
            tuple(line.text for line in do),
            section.at,
            written.at if written is not None else section.at,
        )

    # Guards

    def guards(self, nodes: tuple[Node, ...], place: Screen | Overlay | None) -> tuple[Guard, ...]:
        """Read the guards of a place, None for those of the app."""
        guards = (self._guard(node, place, number) for number, node in enumerate(nodes))
        return tuple(guard for guard in guards if guard is not None)

    def _guard(self, node: Node, place: Screen | Overlay | None, number: int) -> Guard | None:
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.GUARD_IS_A_MAP, messages.WRITE_A_GUARD)
            return None
        section = MapReader(self._source, node, "a guard")
        section.require("name", "what it guards")
        name, condition = section.scalar("name"), self._condition(section.scalar("if"), place, {})
        block, ask, do = section.flag("block"), section.node("ask"), section.scalars("do")
        if block + (ask is not None) + bool(do) != 1:
            self._source.add_error(section.at, messages.GUARD_DOES_ONE_THING, messages.WRITE_BLOCK_ASK_OR_DO)
        text, answers = self._question(ask, place)
        guard = model.Guard(
            name.text if name else "",
            model.GuardId(place.name if place else None, number),
            condition,
            "ask" if ask is not None else "do" if do else "block",
            text,
            answers,
            self._operations(do, place, {}, of_guard=True),
            section.words("ways", policies.WAYS) or policies.DEFAULT_WAYS,
            section.word("watches", ("its own", "everything inside", "what is put over it")),
            section.flag("first in line"),
            section.word("scope", ("place", "app")) == "app",
            section.word("decides", ("by its condition", "at the press")) == "at the press",
            section.at,
        )
        section.code(section.at)
        section.report_unknown_keys()
        return guard

    def _question(self, node: Node | None, place: Screen | Overlay | None) -> tuple[str, tuple[AnswerOption, ...]]:
        if node is None:
            return "", ()
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.ASK_IS_A_MAP, messages.WRITE_ASK)
            return "", ()
        section = MapReader(self._source, node, "a question")
        text = section.scalar("text")
        section.require("answers", "[{stay here: stay}, {leave: go on}]")
        answers: list[AnswerOption] = []
        for item in section.items("answers"):
            if not isinstance(item, MapNode):
                self._source.add_error(item.at, messages.ANSWER_IS_A_MAP, messages.WRITE_AN_ANSWER)
                continue
            answers += (self._answer(key, inner, place) for key, inner in item.entries)
        if answers and not answers[0].stays:
            self._source.add_error(section.at_of("answers"), messages.FIRST_ANSWER_MUST_STAY, messages.MOVE_OR_ADD_ONE)
        section.report_unknown_keys()
        return text.text if text else "", tuple(answers)

    def _answer(self, key: ScalarNode, node: Node, place: Screen | Overlay | None) -> AnswerOption:
        lines = as_scalars(self._source, node, "what an answer does")
        words = {line.text for line in lines}
        goes_on = "go on" in words
        if goes_on and "stay" in words:
            self._source.add_error(key.at, messages.STAYS_AND_GOES_ON.format(name=key.text), messages.WRITE_ONE_OF_TWO)
        rest = [line for line in lines if line.text not in {"stay", "go on"}]
        done = self._operations(rest, place, {}, of_guard=True)
        if goes_on and any(not isinstance(operation, _MAY_GO_ON) for operation in done):
            what = messages.ANSWER_DOES_TOO_MUCH.format(name=key.text)
            self._source.add_error(key.at, what, messages.DONE_AFTERWARDS)
        return model.AnswerOption(key.text, not goes_on, done)


def _of_another_operation(key: str) -> str:
    """Where brackets are missing, the second operation of a move reads as a key."""
    return messages.WRITE_IN_BRACKETS if key.partition(" ")[0] in OPERATION_PARSERS else ""
