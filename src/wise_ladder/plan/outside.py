"""The second pass over a plan: the start, redirects, and what comes from outside: replies, the cover, links, memory."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import messages, model, operations, world
from wise_ladder.plan.addresses import template
from wise_ladder.plan.map_reader import MapReader, as_scalars, parse_or_report
from wise_ladder.plan.phrase_reader import CarriedArguments, PhraseReader
from wise_ladder.plan.phrases import parse_lone_target
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode
from wise_ladder.plan.steps import parse_given

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.model import Redirect
    from wise_ladder.plan.operations import Target
    from wise_ladder.plan.world import Call, Cover, Given, Link, MemoryLimits, Outcome


class OutsideReader(PhraseReader):
    """Reads what stands on no place; a mistake is noted, and reading goes on."""

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
        return world.Cover(least, until, most, node.at)

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
        address, mode, steps = section.scalar("address"), section.word("mode", world.LINK_MODES), section.scalars("build")
        section.code(section.at)
        section.report_unknown_keys()
        pattern = parse_or_report(self._source, address, lambda: template(address.text)) if address is not None else None
        if address is None or pattern is None:
            return None
        carried: CarriedArguments = dict.fromkeys(pattern.names)
        build = [target for line in steps if (target := self._link_target(line, carried)) is not None]
        carries = self._carries(address, carried, address.text.find("{"), "address")
        for parameter in carries:
            if parameter.name in pattern.asked and parameter.default is None:
                what = messages.NO_DEFAULT.format(name=parameter.name)
                self._source.add_error(address.at, what, messages.GIVE_A_DEFAULT.format(kind=parameter.kind))
        return world.Link(address.text, tuple(build), mode, carries, section.at)

    def _link_target(self, line: ScalarNode, carried: CarriedArguments) -> Target | None:
        scope = self._scope(line, None, carried)
        return parse_or_report(self._source, line, lambda: parse_lone_target(line.text, scope))

    def unknown(self, scalar: ScalarNode | None) -> Target | None:
        """Read where an address leads that no link matches; it may take the address."""
        if scalar is None:
            return None
        carried: CarriedArguments = {"address": None}
        return self._link_target(scalar, carried)

    def memory(self, node: Node | None) -> MemoryLimits:
        """Read how much all rungs may weigh."""
        if node is None:
            return world.MemoryLimits()
        if not isinstance(node, MapNode):
            self._source.add_error(node.at, messages.MEMORY_MUST_BE_A_MAP, messages.WRITE_MEMORY)
            return world.MemoryLimits()
        section = MapReader(self._source, node, "the memory")
        limits = world.MemoryLimits(section.size("warn"), section.size("dies"))
        section.report_unknown_keys()
        return limits

    def givens(self, entries: Iterable[tuple[ScalarNode, Node]]) -> tuple[Given, ...]:
        """Read the named sets of what the app may begin with."""
        return tuple(self._named_given(name, node) for name, node in entries)

    def _named_given(self, name: ScalarNode, node: Node) -> Given:
        read: list[tuple[str, str, str]] = []
        for line in as_scalars(self._source, node, f'what "{name.text}" is given'):
            scope = self._declared.scope(line)
            entry = parse_or_report(self._source, line, partial(parse_given, line.text, scope))
            read += [entry] if entry is not None else []
        facts = tuple((fact, value) for what, fact, value in read if what == "fact")
        return world.Given(name.text, facts, tuple((call, outcome) for what, call, outcome in read if what == "reply"), name.at)

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
