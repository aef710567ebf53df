"""Reading the walks of a plan."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import events, messages
from wise_ladder.plan.events import Event, Repeat, StartFrom, WalkStep
from wise_ladder.plan.map_reader import MapReader, as_scalar, parse_or_report
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source
from wise_ladder.plan.steps import parse_given, parse_step, taps_by_name
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.declarations import Declarations
    from wise_ladder.plan.events import Walk
    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.phrases import Scope

MAX_REPEATS = 1_000


def read_walks(source: Source, top: MapReader, declared: Declarations, plan: Plan) -> tuple[Walk, ...]:
    """Read every walk; what is wrong in one is noted and the others are read all the same."""
    reader = _Walks(source, declared, plan)
    return _started(source, tuple(reader.walk(name, node) for name, node in top.entries("walks")))


def _started(source: Source, walks: tuple[Walk, ...]) -> tuple[Walk, ...]:
    """Put what another walk does in front of each that starts from it, its facts, replies and phone with it."""
    by_name = {walk.name: walk for walk in walks}
    done: dict[str, Walk] = {}

    def started(walk: Walk, within: tuple[str, ...]) -> Walk:
        if walk.name in done:
            return done[walk.name]
        first = walk.steps[0] if walk.steps else None
        if not (isinstance(first, WalkStep) and isinstance(first.what, StartFrom)):
            return walk
        name = first.what.walk
        if name in within or name not in by_name:
            what = messages.WALKS_IN_A_CIRCLE.format(name=name) if name in within else messages.NO_SUCH_WALK.format(name=name)
            source.add_error(first.at, what, suggest(name, [other for other in by_name if other not in within]))
            return walk
        other = started(by_name[name], (*within, name))
        acts = _acts(other.steps)
        done[walk.name] = replace(
            walk, steps=(*acts, *walk.steps), given=(*other.given, *walk.given), replies=(*other.replies, *walk.replies),
            phone=walk.phone or other.phone, named_given=walk.named_given or other.named_given,
        )  # fmt: skip
        return done[walk.name]

    return tuple(started(walk, (walk.name,)) for walk in walks)


def _starts(steps: tuple[WalkStep | Repeat, ...]) -> Iterator[WalkStep]:
    for step in steps:
        if isinstance(step, Repeat):
            yield from _starts(step.steps)
        elif isinstance(step.what, StartFrom):
            yield step


def _acts(steps: tuple[WalkStep | Repeat, ...]) -> tuple[WalkStep | Repeat, ...]:
    """Return what a walk does, without what it expects."""
    return tuple(
        replace(step, steps=_acts(step.steps)) if isinstance(step, Repeat) else step
        for step in steps
        if isinstance(step, Repeat) or isinstance(step.what, Event)
    )


class _Walks:
    def __init__(self, source: Source, declared: Declarations, plan: Plan) -> None:
        self._source, self._declared, self._taps = source, declared, taps_by_name(plan.moves)
        self._givens = [given.name for given in plan.givens]
        guards = plan.guard.values()
        self._guards = tuple(guard.name for guard in guards)
        self._answers = tuple(dict.fromkeys(answer.name for guard in guards for answer in guard.answers))

    def walk(self, name: ScalarNode, node: Node) -> Walk:
        given: tuple[tuple[str, str], ...] = ()
        replies: tuple[tuple[str, str], ...] = ()
        phone: ScalarNode | None = None
        named = ""
        steps: Node | None = node
        if isinstance(node, MapNode):
            section = MapReader(self._source, node, "a walk")
            written = section.scalars("given")
            named, phrases = self._named(written)
            entries = [entry for scalar in phrases if (entry := self._given(scalar)) is not None]
            given = tuple((name, value) for what, name, value in entries if what == "fact")
            replies = tuple((name, value) for what, name, value in entries if what == "reply")
            phone = section.scalar("phone")
            known = [name for name, _ in self._declared.phones]
            if phone is not None and phone.text not in known:
                self._source.add_error(phone.at, messages.NO_SUCH_PHONE.format(name=phone.text), suggest(phone.text, known))
            steps = section.require("steps", "[launch, ...]")
            section.report_unknown_keys()
        if steps is not None and not isinstance(steps, ListNode):
            self._source.add_error(steps.at, messages.STEPS_MUST_BE_A_LIST.format(name=name.text), messages.BEGIN_WITH_DASHES)
        lines = self._steps(steps.items, 1) if isinstance(steps, ListNode) else ()
        for late in _starts(lines if lines and isinstance(lines[0], Repeat) else lines[1:]):
            self._source.add_error(late.at, messages.START_FROM_MUST_BE_FIRST_STEP, messages.PUT_IT_FIRST)
        return events.Walk(name.text, lines, given, replies, phone.text if phone is not None else "", named, name.at)

    def _scope(self, scalar: ScalarNode) -> Scope:
        scope = self._declared.scope(scalar)
        scope.own = self._declared.held_somewhere
        scope.guards, scope.answers = self._guards, self._answers
        return scope

    def _named(self, written: list[ScalarNode]) -> tuple[str, list[ScalarNode]]:
        """Part the named given of a walk from the facts and replies that it is given besides."""
        named = [scalar for scalar in written if scalar.text in self._givens]
        for second in named[1:]:
            self._source.add_error(second.at, messages.TWO_NAMED_GIVENS.format(name=second.text), messages.KEEP_ONE_OF_THEM)
        return named[0].text if named else "", [scalar for scalar in written if scalar.text not in self._givens]

    def _given(self, scalar: ScalarNode) -> tuple[str, str, str] | None:
        if self._givens and " is " not in scalar.text and " replies " not in scalar.text:
            what = messages.NO_SUCH_GIVEN.format(name=scalar.text)
            self._source.add_error(scalar.at, what, suggest(scalar.text, self._givens), lacks=("given", scalar.text))
            return None
        return parse_or_report(self._source, scalar, lambda: parse_given(scalar.text, self._declared.scope(scalar)))

    def _steps(self, nodes: tuple[Node, ...], times: int) -> tuple[WalkStep | Repeat, ...]:
        steps: list[WalkStep | Repeat] = []
        for node in nodes:
            if isinstance(node, MapNode):
                steps += (repeat for key, inner in node.entries if (repeat := self._repeat(key, inner, times)))
            elif (scalar := as_scalar(self._source, node, "a step")) is not None:
                steps += self._step(scalar)
        return tuple(steps)

    def _step(self, scalar: ScalarNode) -> tuple[WalkStep, ...]:
        what = parse_or_report(self._source, scalar, lambda: parse_step(scalar.text, self._scope(scalar), self._taps))
        return () if what is None else (events.WalkStep(what, scalar.text, scalar.at),)

    def _repeat(self, key: ScalarNode, inner: Node, times: int) -> Repeat | None:
        words = key.text.split()
        if len(words) != 2 or words[0] != "repeat" or not (words[1].isascii() and words[1].isdigit()):
            self._source.add_error(key.at, messages.IS_NOT_A_STEP.format(name=key.text), messages.WRITE_REPEAT_OR_QUOTE)
            return None
        most = MAX_REPEATS // times
        if len(words[1]) > 6 or not 1 <= int(words[1]) <= most:
            self._source.add_error(
                key.at, messages.BAD_REPEAT.format(count=words[1]), messages.WRITE_A_NUMBER_TO.format(most=most)
            )
            return None
        if not isinstance(inner, ListNode):
            self._source.add_error(inner.at, messages.REPEATED_MUST_BE_A_LIST, messages.WRITE_A_REPEAT.format(name=key.text))
            return None
        return events.Repeat(int(words[1]), self._steps(inner.items, times * int(words[1])))
