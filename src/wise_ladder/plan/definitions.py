"""The second pass over a plan: what stands on screens, flows, overlays and anywhere, in phrases that may name everything."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, TypeAlias

from msgspec.structs import replace

from wise_ladder.plan import messages, model, operations, triggers
from wise_ladder.plan.addresses import template
from wise_ladder.plan.map_reader import MapReader, as_scalars, parse_or_report, reporter_for
from wise_ladder.plan.parse_operations import OPERATION_PARSERS, parse_operation
from wise_ladder.plan.phrases import parse_arrow, parse_condition, parse_lone_target, parse_trigger
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from wise_ladder.plan.declarations import Declarations
    from wise_ladder.plan.model import (
        AnswerOption,
        Arrow,
        Call,
        Cover,
        Guard,
        Link,
        MemoryLimits,
        Move,
        Outcome,
        Overlay,
        Redirect,
        Screen,
    )
    from wise_ladder.plan.operations import Condition, Operation, Target
    from wise_ladder.plan.phrases import Scope
    from wise_ladder.plan.values import Parameter

CarriedArguments: TypeAlias = "dict[str, Parameter | None]"
_BEFORE_THE_FIRST = (operations.SetFact, operations.StartCall, operations.CancelCall)
_MAY_GO_ON = (operations.SetFact, operations.SetRungFact, operations.Open, operations.StartCall, operations.CancelCall)


class DefinitionReader:
    """Reads what stands on each place; a mistake is noted, and reading goes on."""

    def __init__(self, source: Source, declared: Declarations) -> None:
        """Begin with everything that is declared."""
        self._source, self._declared = source, declared

    # Places

    def screen(self, screen: Screen, section: MapReader | None) -> Screen:
        """Read what of a screen or flow are phrases: its moves, guards, arrow, menu, and what a flow starts with."""
        if section is None:
            return screen
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

    def overlay(self, overlay: Overlay, section: MapReader | None) -> Overlay:
        """Read the moves and guards of an overlay, and check where it belongs."""
        if section is None:
            return overlay
        at = section.scalar("of")
        flows = [name for name, screen in self._declared.screens.items() if screen.inside]
        if at is not None and overlay.of not in {"", "app", *flows}:
            instead = suggest(overlay.of, ["rung", "app", *flows])
            self._source.add_error(at.at, messages.OVERLAY_BELONGS_ELSEWHERE.format(of=overlay.of), instead)
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

    def _target(self, scalar: ScalarNode, screen: Screen | None) -> Target | None:
        scope = self._scope(scalar, screen, {})
        return parse_or_report(self._source, scalar, lambda: parse_lone_target(scalar.text, scope))

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

    def _scope(
        self, scalar: ScalarNode, place: Screen | Overlay | None, carried: CarriedArguments, *, of_guard: bool = False
    ) -> Scope:
        scope = self._declared.scope(scalar)
        scope.carried = carried
        if place is not None:
            scope.gives = {given.name: given for given in place.gives}
        if isinstance(place, model.Screen):
            scope.own = {fact.name: fact for fact in place.holds}
            # What a guard does cannot pass on arguments: its rung may be gone by then.
            scope.takes = {} if of_guard else {parameter.name: parameter for parameter in place.takes}
        return scope

    def _operations(
        self, lines: list[ScalarNode], place: Screen | Overlay | None, carried: CarriedArguments, *, of_guard: bool = False
    ) -> tuple[Operation, ...]:
        scopes = ((line, self._scope(line, place, carried, of_guard=of_guard)) for line in lines)
        read = (parse_or_report(self._source, line, partial(parse_operation, line.text, scope)) for line, scope in scopes)
        return tuple(operation for operation in read if operation is not None)

    def _condition(
        self, asked: ScalarNode | None, place: Screen | Overlay | None, carried: CarriedArguments
    ) -> Condition | None:
        if asked is None:
            return None
        return parse_or_report(self._source, asked, lambda: parse_condition(asked.text, self._scope(asked, place, carried)))

    def _carries(self, written: ScalarNode, carried: CarriedArguments, start: int, what: str) -> tuple[Parameter, ...]:
        for name, parameter in carried.items():
            if parameter is None:
                at = written.text.find(name, start)
                reporter_for(self._source, written)(
                    at, messages.NOTHING_USES.format(name=name, what=what), messages.HAND_IT_ON.format(name=name)
                )
        return tuple(parameter for parameter in carried.values() if parameter is not None)

    def _listed(self, section: MapReader, key: str) -> tuple[str, ...]:
        scalars = section.scalars(key)
        for scalar in scalars:
            self._known_screen(scalar)
        return tuple(scalar.text for scalar in scalars)

    def _known_screen(self, scalar: ScalarNode) -> None:
        known = self._declared.screens
        if scalar.text not in known:
            what = messages.NO_SUCH_SCREEN.format(name=scalar.text)
            self._source.add_error(scalar.at, what, suggest(scalar.text, known), lacks=("screen", scalar.text))

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
            section.words("ways", model.WAYS) or model.DEFAULT_WAYS,
            section.word("watches", ("its own", "everything inside", "what is put over it")),
            section.flag("first in line"),
            section.word("scope", ("place", "app")) == "app",
            section.word("decides", ("by its condition", "at the press")) == "at the press",
            section.at,
        )
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

    # Calls, cover, links

    def calls(self) -> tuple[Call, ...]:
        """Read the conditions of the outcomes of each call."""
        calls: list[Call] = []
        for call, section in self._declared.calls:
            if section is None:
                continue
            outcomes: list[Outcome] = []
            for outcome in call.outcomes:
                node = section.node(outcome.name)
                asked = MapReader(self._source, node, "a reply").scalar("if") if isinstance(node, MapNode) else None
                outcomes.append(replace(outcome, condition=self._condition(asked, None, {})))
            section.report_unknown_keys()
            calls.append(replace(call, outcomes=tuple(outcomes)))
        return tuple(calls)

    def cover(self, node: Node | None) -> Cover | None:
        """Read what is shown while the app starts."""
        if node is None:
            return None
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.COVER_MUST_BE_A_MAP, messages.WRITE_A_COVER)
            return None
        section = MapReader(self._source, node, "the cover")
        least, until, most = (
            section.time("least") or 0,
            self._condition(section.scalar("until"), None, {}),
            section.time("most"),
        )
        section.report_unknown_keys()
        if most is not None and most < least:
            self._source.add_error(section.at_of("most"), messages.MOST_IS_LESS_THAN_LEAST, messages.WRITE_A_LONGER_TIME)
        return model.Cover(least, until, most, node.at)

    def links(self, nodes: tuple[Node, ...]) -> tuple[Link, ...]:
        """Read the links, in the order in which they are tried."""
        links = (self._link(node) for node in nodes)
        return tuple(link for link in links if link is not None)

    def _link(self, node: Node) -> Link | None:
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.LINK_IS_A_MAP, messages.WRITE_A_LINK)
            return None
        section = MapReader(self._source, node, "a link")
        section.require("address", "'app://hives/{id}'")
        section.require("build", "[SCREEN]")
        address, mode, steps = section.scalar("address"), section.word("mode", model.LINK_MODES), section.scalars("build")
        section.report_unknown_keys()
        pattern = parse_or_report(self._source, address, lambda: template(address.text)) if address is not None else None
        if address is None or pattern is None:
            return None
        carried: CarriedArguments = dict.fromkeys(pattern.names)
        build = [target for line in steps if (target := self._link_target(line, carried)) is not None]
        self._build_stands(steps, build)
        carries = self._carries(address, carried, address.text.find("{"), "address")
        for parameter in carries:
            if parameter.name in pattern.asked and parameter.default is None:
                what = messages.NO_DEFAULT.format(name=parameter.name)
                self._source.add_error(address.at, what, messages.GIVE_A_DEFAULT.format(kind=parameter.kind))
        return model.Link(address.text, tuple(build), mode, carries, section.at)

    def _link_target(self, line: ScalarNode, carried: CarriedArguments) -> Target | None:
        scope = self._scope(line, None, carried)
        return parse_or_report(self._source, line, lambda: parse_lone_target(line.text, scope))

    def _build_stands(self, lines: list[ScalarNode], build: list[Target]) -> None:
        """After tabs the next of a build must be the first screen of a tab: it says which one."""
        for before, target, line in zip(build, build[1:], lines[1:], strict=False):
            holder = self._declared.screens.get(before.screen)
            first = self._firsts(before.screen) if holder is not None and holder.tabs else []
            if first and target.screen not in first:
                what = messages.NO_TAB_BEGINS_SO.format(screen=target.screen, tabs=before.screen)
                self._source.add_error(line.at, what, suggest(target.screen, first))

    def _firsts(self, tabs: str) -> list[str]:
        """List the names of the first screens of tabs."""
        section = next(entries for screen, entries in self._declared.sections if screen.name == tabs)
        nodes = (node for _, node in section.entries("tabs")) if section is not None else ()
        scalars = (scalar for node in nodes for scalar in as_scalars(self._source, node, "the first screen of a tab"))
        return [scalar.text.partition("(")[0].strip() for scalar in scalars]

    def unknown(self, scalar: ScalarNode | None) -> Target | None:
        """Read where an address leads that no link matches; it may take the address."""
        if scalar is None:
            return None
        carried: CarriedArguments = {"address": None}
        return self._link_target(scalar, carried)

    def memory(self, node: Node | None) -> MemoryLimits:
        """Read how much all rungs may weigh."""
        if node is None:
            return model.MemoryLimits()
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.MEMORY_MUST_BE_A_MAP, messages.WRITE_MEMORY)
            return model.MemoryLimits()
        section = MapReader(self._source, node, "the memory")
        limits = model.MemoryLimits(section.size("warn"), section.size("dies"))
        section.report_unknown_keys()
        return limits

    # Redirects and start

    def redirects(self, nodes: tuple[Node, ...]) -> tuple[Redirect, ...]:
        """Read the redirects, in the order in which they are tried."""
        redirects = (self._redirect(node) for node in nodes)
        return tuple(redirect for redirect in redirects if redirect is not None)

    def _redirect(self, node: Node) -> Redirect | None:
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.REDIRECT_IS_A_MAP, messages.WRITE_A_REDIRECT)
            return None
        section = MapReader(self._source, node, "a redirect")
        section.require("send to", "SCREEN")
        send, condition = section.scalar("send to"), self._condition(section.scalar("if"), None, {})
        only, but, remember = self._listed(section, "to"), self._listed(section, "except"), section.flag("remember")
        section.report_unknown_keys()
        target = self._target(send, None) if send is not None else None
        return None if target is None else model.Redirect(target, only, but, condition, remember, section.at)

    def start(self, node: Node | None) -> tuple[model.StartChoice, ...]:
        """Read the start: one screen, or a list of choices that ends in one without a condition."""
        if isinstance(node, ScalarNode):
            return self._choice(node, None)
        if isinstance(node, MapNode):
            self._source.add_error(node.at, messages.START_IS_A_SCREEN_OR_A_LIST, messages.WRITE_START)
        if not isinstance(node, ListNode):
            return ()
        choices: list[model.StartChoice] = []
        for item in node.items:
            if not isinstance(item, MapNode):
                self._source.add_error(item.at, messages.START_IS_A_MAP, messages.WRITE_A_CHOICE_OF_THE_START)
                continue
            section = MapReader(self._source, item, "a choice of the start")
            section.require("put", "SCREEN")
            put = section.scalar("put")
            choices += self._choice(put, section.scalar("if")) if put is not None else ()
            section.report_unknown_keys()
        if choices and choices[-1].condition is not None:
            self._source.add_error(node.at, messages.NO_START_WITHOUT_CONDITION, messages.END_WITH_PUT)
        return tuple(choices)

    def _choice(self, put: ScalarNode, asked: ScalarNode | None) -> tuple[model.StartChoice, ...]:
        target = self._target(put, None)
        if target is None:
            return ()
        return (model.StartChoice(operations.Target(target.screen, target.fixed), self._condition(asked, None, {})),)


def _of_another_operation(key: str) -> str:
    """Where brackets are missing, the second operation of a move reads as a key."""
    return messages.WRITE_IN_BRACKETS if key.partition(" ")[0] in OPERATION_PARSERS else ""
