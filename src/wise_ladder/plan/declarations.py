"""The first pass over a plan: what is declared, before any phrase is read."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

from msgspec.structs import replace

from wise_ladder.plan import messages, model, operations, policies, values, world
from wise_ladder.plan.map_reader import MapReader, as_scalar, as_scalars, parse_or_report, reporter_for
from wise_ladder.plan.phrases import Scope
from wise_ladder.plan.source import ListNode, MapNode, Node, ScalarNode, Source, is_empty
from wise_ladder.plan.suggest import suggest
from wise_ladder.plan.tokens import parse_time

if TYPE_CHECKING:
    from wise_ladder.plan.model import Fact, Lifetime, Overlay, Screen
    from wise_ladder.plan.policies import Policies
    from wise_ladder.plan.values import Parameter, Span, Value
    from wise_ladder.plan.world import Call, Timer

MOST_SCREENS = 2_000
_KINDS = ("whole number", "text", "yes or no")


@dataclass(frozen=True)
class Declarations:
    """The names a phrase may use; `sections` are the screens with what of them is still to be read."""

    source: Source
    app: str
    facts: tuple[Fact, ...]
    policies: Policies
    sections: tuple[tuple[Screen, MapReader | None], ...]
    """Screens, then flows."""
    overlay_sections: tuple[tuple[Overlay, MapReader | None], ...] = ()

    calls: tuple[tuple[Call, MapReader | None], ...] = ()
    phones: tuple[tuple[str, Policies], ...] = ()
    timers: tuple[Timer, ...] = ()

    @cached_property
    def outcomes(self) -> dict[str, tuple[str, ...]]:
        """The names of the outcomes of each call."""
        return {call.name: tuple(outcome.name for outcome in call.outcomes) for call, _ in self.calls}

    @cached_property
    def overlays(self) -> dict[str, Overlay]:
        """Each declared overlay by its name."""
        return {overlay.name: overlay for overlay, _ in self.overlay_sections}

    @cached_property
    def results(self) -> dict[str, Parameter]:
        """Each result that some screen or overlay gives, with every value it may have."""
        places: list[Screen | Overlay] = [*self.screens.values(), *self.overlays.values()]
        return values.merged(given for place in places for given in place.gives)

    @cached_property
    def screens(self) -> dict[str, Screen]:
        """Each declared screen by its name."""
        return {screen.name: screen for screen, _ in self.sections}

    @cached_property
    def by_name(self) -> dict[str, Fact]:
        """Each fact of the app by its name."""
        return {fact.name: fact for fact in self.facts}

    @cached_property
    def held_somewhere(self) -> dict[str, Fact]:
        """Each fact that the rungs of some screen hold, or some overlay, with every value that one of them can have."""
        held: dict[str, Fact] = {}
        places: list[Screen | Overlay] = [*self.screens.values(), *self.overlays.values()]
        for place in places:
            for fact in place.holds:
                before = held[fact.name].values if fact.name in held else ()
                held[fact.name] = replace(fact, values=tuple(dict.fromkeys((*before, *fact.values))))
        return held

    def scope(self, scalar: ScalarNode) -> Scope:
        """Begin the scope of a phrase that stands on no screen."""
        return Scope(
            reporter_for(self.source, scalar), self.screens, self.by_name, overlays=self.overlays, results=self.results,
            calls=self.outcomes, timers=tuple(timer.name for timer in self.timers),
        )  # fmt: skip


def read_declared(source: Source, top: MapReader) -> Declarations:
    """Read the app's name, its facts, policies and screens, but none of the phrases."""
    written = top.scalar("format")
    if written is not None and written.text != "1":
        source.add_error(written.at, messages.UNKNOWN_FORMAT.format(name=written.text), messages.WRITE_FORMAT)
    top.require("app", "the name of the app")
    app = top.scalar("app")
    facts = tuple(_fact(source, name, node) for name, node in top.entries("facts"))
    usual = _changed(_policies(source, top.node("policies"), "policies"), policies.Policies())
    phones = _phones(source, top, usual)
    top.require("screens", "{NAME: {moves: [...]}}")
    screens = tuple(_screen(source, name, node) for name, node in top.entries("screens"))
    flows = tuple(_flow(source, name, node) for name, node in top.entries("flows"))
    overlays = tuple(_overlay(source, name, node) for name, node in top.entries("overlays"))
    if len(screens) > MOST_SCREENS:
        source.add_error(
            top.at_of("screens"), messages.MORE_THAN_SCREENS.format(most=MOST_SCREENS), messages.SPLIT_IT_INTO_SEVERAL_PLANS
        )
    _one_name_each(
        source, [*((place.name, place.at) for place, _ in (*screens, *flows)), *((o.name, o.at) for o, _ in overlays)]
    )
    calls = tuple(_call(source, name, node) for name, node in top.entries("calls"))
    return Declarations(
        source,
        app.text if app else "",
        facts,
        phones[0][1] if phones else usual,
        (*screens, *flows),
        overlays,
        calls,
        phones,
        tuple(_timer(source, name, node) for name, node in top.entries("timers")),
    )


def _one_name_each(source: Source, places: list[tuple[str, Span]]) -> None:
    seen = {"app"}
    for name, at in places:
        if name in seen:
            source.add_error(at, messages.NAME_TAKEN.format(name=name), messages.CHOOSE_ANOTHER_NAME)
        seen.add(name)


def _policies(source: Source, node: Node | None, what: str) -> MapReader | None:
    if node is None or isinstance(node, MapNode):
        return None if node is None else MapReader(source, node, what)
    source.add_error(node.at, messages.MUST_BE_A_MAP.format(name=what), messages.WRITE_POLICIES.format(name=what))
    return None


def _changed(section: MapReader | None, usual: Policies) -> Policies:
    """Read a set of policies; what it does not say is as in `usual`."""
    if section is None:
        return usual
    choices = (
        ("back at root", ("leave", "away", "stay")),
        ("pop at root", ("finding", "nothing", "leave")),
        ("push of a twin", ("stack", "nothing")),
        ("tab back", ("first tab, then outwards", "last used", "outwards")),
        ("taps in transition", ("taken", "ignored")),
        ("pop meets overlay", ("goes with its rung", "closes instead")),
        ("bars left unsaid", ("shown", "as they were")),
        ("system back", ("yes", "no")),
        ("restore", ("all", "top", "nothing")),
        ("leaving ends", ("everything", "screens")),
        ("shown acts", ("before the first frame", "after it")),
        ("cover after death", ("yes", "no")),
        ("back gesture", ("no", "yes")),
        ("results of other apps", ("survive death", "are lost")),
        ("remakes screens", ("no", "yes")),
        ("shown when remade", ("yes", "no")),
        ("pending when remade", ("goes on", "is lost")),
        ("question when remade", ("stays", "goes")),
    )
    changes = {key.replace(" ", "_"): section.word(key, words) for key, words in choices if section.node(key) is not None}
    ways = section.words("guards see", policies.WAYS)
    section.report_unknown_keys()
    # Each word was held against the choices of its key.
    return replace(usual, **changes, **({"guards_see": ways} if ways else {}))


def _phones(source: Source, top: MapReader, usual: Policies) -> tuple[tuple[str, Policies], ...]:
    phones: dict[str, Policies] = {}
    for name, node in top.entries("phones"):
        section = _policies(source, None if is_empty(node) else node, "a phone")
        like = section.scalar("like") if section is not None else None
        if like is not None and like.text not in phones:
            source.add_error(like.at, messages.NO_SUCH_PHONE_ABOVE.format(name=like.text), suggest(like.text, phones))
        phones[name.text] = _changed(section, phones.get(like.text, usual) if like is not None else usual)
    return tuple(phones.items())


def _call(source: Source, name: ScalarNode, node: Node) -> tuple[Call, MapReader | None]:
    """Read a call: its outcomes, each a time or a map; the conditions are phrases and read later."""
    if not isinstance(node, MapNode):
        source.add_error(node.at, messages.REPLIES_ARE_A_MAP.format(name=name.text), messages.WRITE_A_REPLY)
        return world.Call(name.text, (), at=name.at), None
    section = MapReader(source, node, "a call")
    again = section.word("again", world.ON_REPEAT)
    silent = not section.flag("never silent")
    outcomes: list[world.Outcome] = []
    for key, inner in node.entries:
        if key.text in {"again", "never silent"}:
            continue
        section.node(key.text)
        if isinstance(inner, MapNode):
            part = MapReader(source, inner, "a reply")
            outcomes.append(world.Outcome(key.text, part.time("takes") or 0))
            part.node("if")
            part.report_unknown_keys()
        else:
            outcomes.append(world.Outcome(key.text, section.time(key.text) or 0))
    if not outcomes:
        source.add_error(name.at, messages.NOTHING_EVER_REPLIES.format(name=name.text), messages.WRITE_A_REPLY)
    return world.Call(name.text, tuple(outcomes), again, silent, name.at), section


def _timer(source: Source, name: ScalarNode, node: Node) -> Timer:
    if not isinstance(node, MapNode):
        written = as_scalar(source, node, f'the time of "{name.text}"')
        after = parse_or_report(source, written, lambda: parse_time(written.text)) if written is not None else None
        return world.Timer(name.text, after or 0, at=name.at)
    section = MapReader(source, node, "a timer")
    section.require("after", "30min")
    timer = world.Timer(name.text, section.time("after") or 0, section.flag("anew at each touch"), name.at)
    section.report_unknown_keys()
    return timer


def _screen(source: Source, name: ScalarNode, node: Node) -> tuple[Screen, MapReader | None]:
    if not isinstance(node, MapNode):
        if not is_empty(node):
            source.add_error(node.at, messages.MUST_BE_A_MAP.format(name=name.text), messages.WRITE_WHAT_IT_TAKES_OR_NOTHING)
        return model.Screen(name.text, at=name.at), None
    section = MapReader(source, node, "a screen")
    takes = tuple(_parameter(source, key, inner) for key, inner in section.entries("takes"))
    if section.node("of") is not None:
        section.word("of", ("another app",))
        return _foreign(source, name, section, takes), section
    if (apart := section.node("apart")) is not None:
        source.add_error(apart.at, messages.NOT_ANOTHER_APP.format(name=name.text), messages.WRITE_OF_ANOTHER_APP)
    holds = _held(source, section)
    screen = model.Screen(
        name.text,
        takes,
        holds,
        gives=_gives(source, section),
        weight=section.size("weight") or 0,
        hidden=section.size("hidden"),
        most=section.count("drop oldest over"),
        plays=section.time("plays") or 0,
        top_bar=section.word("top bar", model.BARS),
        bottom_bar=section.word("bottom bar", model.BARS),
        header=section.word("header", ("arrow", "menu", "none")),
        at=name.at,
    )
    return screen, section


def _foreign(source: Source, name: ScalarNode, section: MapReader, takes: tuple[Parameter, ...]) -> Screen:
    """Read a screen of another app: of it only what it takes and gives is ours."""
    section.what = "a screen of another app"
    return model.Screen(
        name.text, takes, gives=_gives(source, section), header="none", foreign=True, apart=section.flag("apart"), at=name.at
    )


def _flow(source: Source, name: ScalarNode, node: Node) -> tuple[Screen, MapReader | None]:
    if not isinstance(node, MapNode):
        source.add_error(node.at, messages.MUST_BE_A_MAP.format(name=name.text), messages.WRITE_A_FLOW)
        return model.Screen(name.text, at=name.at), None
    section = MapReader(source, node, "a flow")
    takes = tuple(_parameter(source, key, inner) for key, inner in section.entries("takes"))
    holds = _held(source, section)
    gives = _gives(source, section)
    tabs = tuple((tab.text, operations.Target(tab.text)) for tab, _ in section.entries("tabs"))
    start = section.scalar("start")
    if not tabs and start is None:
        source.add_error(name.at, messages.FLOW_HAS_NO_START.format(name=name.text), messages.WRITE_START_OR_TABS)
        start = ScalarNode("", name.at, verbatim=True, quote_width=0)
    # Where each leads is a phrase and read later; that there are such tabs must be known before.
    inside = tabs or (("", operations.Target(start.text if start else "")),)
    return model.Screen(name.text, takes, holds, gives=gives, inside=inside, tabs=bool(tabs), at=name.at), section


def _overlay(source: Source, name: ScalarNode, node: Node) -> tuple[Overlay, MapReader | None]:
    if not isinstance(node, MapNode):
        source.add_error(node.at, messages.MUST_BE_A_MAP.format(name=name.text), messages.WRITE_AN_OVERLAY)
        return model.Overlay(name.text, "dialog", at=name.at), None
    section = MapReader(source, node, "an overlay")
    section.require("kind", "dialog")
    kind = section.word("kind", model.OVERLAY_KINDS)
    of = section.scalar("of")
    overlay = model.Overlay(
        name.text,
        kind,
        "" if of is None or of.text == "rung" else of.text,
        model.DEFAULT_BACK[kind] if section.node("back") is None else section.word("back", ("closes", "blocked", "passes")),
        section.time("for"),
        _gives(source, section),
        at=name.at,
        holds=_held(source, section),
    )
    if kind == "notice" and overlay.time is None:
        source.add_error(name.at, messages.NOTICE_NEVER_GOES.format(name=name.text), messages.WRITE_FOR)
    return overlay, section


def _gives(source: Source, section: MapReader) -> tuple[Parameter, ...]:
    return tuple(_result(source, name, node) for name, node in section.entries("gives"))


def _result(source: Source, name: ScalarNode, node: Node) -> Parameter:
    """Read the type of a result: that of an argument, or its values."""
    if isinstance(node, MapNode) and (section := MapReader(source, node, "a result")).node("parts") is not None:
        parts = tuple(_result(source, key, inner) for key, inner in section.entries("parts"))
        section.report_unknown_keys()
        for key, inner in section.entries("parts"):
            if isinstance(inner, MapNode) and any(part.parts for part in parts if part.name == key.text):
                source.add_error(key.at, messages.PART_OF_A_PART, messages.WRITE_ITS_TYPE)
        return values.Parameter(name.text, "one of", (), parts=parts)
    if isinstance(node, MapNode) or (isinstance(node, ScalarNode) and node.text in _KINDS):
        return _parameter(source, name, node)
    return values.Parameter(name.text, "one of", _values(source, name, node))


# Arguments


def _parameter(source: Source, name: ScalarNode, node: Node) -> Parameter:
    if isinstance(node, ListNode):
        choices = tuple(scalar.text for scalar in as_scalars(source, node, "a value"))
        if not choices:
            source.add_error(node.at, messages.HAS_NO_VALUE.format(name=name.text), messages.WRITE_AT_LEAST_ONE)
        return values.Parameter(name.text, "one of", choices or ("",))
    if isinstance(node, ScalarNode):
        return _simple_parameter(source, name, node)
    section = MapReader(source, node, "an argument")
    kind = section.require("type", "whole number")
    parameter = _free_text(name) if kind is None or isinstance(kind, MapNode) else _parameter(source, name, kind)
    samples = _typed(source, parameter, section.scalars("samples")) or parameter.samples
    default = _typed(source, parameter, section.scalars("default"))
    section.report_unknown_keys()
    return replace(parameter, samples=samples, default=default[0] if default else None)


def _simple_parameter(source: Source, name: ScalarNode, node: ScalarNode) -> Parameter:
    if node.text == "whole number":
        return values.Parameter(name.text, "whole number", (1, 2))
    if node.text == "yes or no":
        return values.Parameter(name.text, "one of", ("yes", "no"))
    if node.text != "text":
        instead = suggest(node.text, _KINDS) + ", or a list of values"
        source.add_error(node.at, messages.NO_SUCH_TYPE.format(name=node.text), instead)
    return _free_text(name)


def _free_text(name: ScalarNode) -> Parameter:
    return values.Parameter(name.text, "text", ("some", "other"))


def _typed(source: Source, parameter: Parameter, scalars: list[ScalarNode]) -> tuple[Value, ...]:
    samples: list[Value] = []
    for scalar in scalars:
        value = values.parse_value(parameter, scalar.text)
        if value is None:
            source.add_error(
                scalar.at, messages.NOT_A_VALUE_OF.format(text=scalar.text, name=parameter.name, kind=parameter.kind)
            )
        else:
            samples.append(value)
    return tuple(samples)


# Facts


def _held(source: Source, section: MapReader) -> tuple[Fact, ...]:
    """Read the facts that a place holds itself."""
    return tuple(_fact(source, key, inner, model.HELD_LIFETIMES) for key, inner in section.entries("holds"))


def _fact(source: Source, name: ScalarNode, node: Node, lifetimes: tuple[Lifetime, ...] = model.LIFETIMES) -> Fact:
    if isinstance(node, ScalarNode):
        if node.text not in {"yes", "no"}:
            source.add_error(
                node.at, messages.NEEDS_ITS_VALUES.format(name=name.text), messages.WRITE_VALUES.format(name=name.text)
            )
        return model.Fact(name.text, (node.text, "yes" if node.text == "no" else "no"), lifetimes[0], at=name.at)
    if isinstance(node, ListNode):
        return model.Fact(name.text, _values(source, name, node), lifetimes[0], at=name.at)
    section = MapReader(source, node, "a fact")
    written = section.require("values", "[no, yes]")
    values = _values(source, name, written) if written is not None else ("no",)
    kept = section.word("kept", lifetimes)
    outside = tuple(_change(source, name, scalar, values) for scalar in section.scalars("from outside"))
    section.report_unknown_keys()
    return model.Fact(name.text, values, kept, outside, name.at)


def _values(source: Source, name: ScalarNode, node: Node) -> tuple[str, ...]:
    seen: dict[str, None] = {}
    for scalar in as_scalars(source, node, f'a value of "{name.text}"'):
        if scalar.text in seen:
            source.add_error(scalar.at, messages.VALUE_TWICE.format(name=scalar.text), messages.REMOVE_ONE)
        seen[scalar.text] = None
    if not seen:
        source.add_error(node.at, messages.HAS_NO_VALUE.format(name=name.text), messages.WRITE_AT_LEAST_ONE)
    return tuple(seen) or ("no",)


def _change(source: Source, name: ScalarNode, scalar: ScalarNode, values: tuple[str, ...]) -> tuple[str, str]:
    first, middle, second = scalar.text.partition(" to ")
    if not middle:
        source.add_error(
            scalar.at,
            messages.IS_NOT_A_CHANGE.format(name=scalar.text),
            messages.WRITE_A_CHANGE.format(first=values[0], last=values[-1]),
        )
        return values[0], values[0]
    for value in (first.strip(), second.strip()):
        if value not in values:
            source.add_error(scalar.at, messages.HAS_NOT_THE_VALUE.format(name=name.text, value=value), suggest(value, values))
    return first.strip(), second.strip()
