"""Reading the rules of a plan: which there are, what each is told, and what they say."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan import messages, model, policies
from wise_ladder.plan.map_reader import MapReader, parse_or_report
from wise_ladder.plan.phrases import parse_condition
from wise_ladder.plan.rule import Rule, StarterSet
from wise_ladder.plan.source import MapNode, Node, ScalarNode, Source
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.conditions import Condition
    from wise_ladder.plan.declarations import Declarations
    from wise_ladder.plan.model import Plan

Key: TypeAlias = Literal[
    "screens", "from", "lands on", "if", "ways", "rungs", "size", "time", "once left", "any arguments", "double taps"
]


class RuleSpec(NamedTuple):
    """What a rule must be told, what it may be told besides, and when it holds, in a sentence."""

    required: tuple[Key, ...]
    optional: tuple[Key, ...]
    meaning: str
    ways: tuple[policies.Way, ...] = ()
    """The ways it is about where it is told none."""
    limit: int | None = None
    """Its limit where it is told none; times in milliseconds."""
    of_guards: bool = False
    """Whether it says that screens are to be guarded."""


FLASH = 300
RULES: dict[str, RuleSpec] = {
    "never beneath": RuleSpec(("screens",), ("once left",), "none of these screens is ever under another rung"),
    "never land on": RuleSpec(
        ("screens",),
        ("if",),
        "no way back (system, header, a pop of the app's own) lands on these screens while the condition holds",
    ),
    "no twins": RuleSpec((), ("screens", "any arguments", "double taps"), "no two neighbouring rungs are equal"),
    "no pile-up": RuleSpec(
        (), ("screens",), "no loop of steps that can repeat for ever makes the ladder grow; a bounded chain holds"
    ),
    "depth at most": RuleSpec(("rungs",), (), "the visible ladder never has more rungs than this"),
    "memory at most": RuleSpec(("size",), (), "all rungs together never weigh more than this"),
    "back lands": RuleSpec(
        ("from", "lands on"),
        ("if", "ways"),
        "Back by this way from there lands on one of these, while the condition holds",
        ways=("system",),
    ),
    "leaves only from": RuleSpec(
        ("screens",), (), "Back leaves the app only from these screens, also if a guard answers it by leaving"
    ),
    "no traps": RuleSpec((), (), "from anywhere enough Backs leave the app, or to the root if the phone stays there"),
    "at most": RuleSpec(("rungs", "screens"), (), "at most this many rungs of these screens are on the ladder"),
    "guarded": RuleSpec(
        ("screens",),
        ("if", "ways"),
        "every way out of this screen asks while the condition holds",
        ways=policies.WAYS,
        of_guards=True,
    ),
    "way back without system": RuleSpec(
        (), ("screens",), "on each rung but the lowest, the header or a tap of its own reaches the rung beneath"
    ),
    "no dead taps": RuleSpec((), ("screens",), "each tap that is offered does something, or says why not"),
    "waiting ends": RuleSpec((), (), "no cover, and no wait overlay that stops Back, can stay for ever; a call may be silent"),
    "results come back": RuleSpec(
        (), (), "every awaited result ends exactly once, none is lost, and none comes that nothing awaits"
    ),
    "back keeps its promise": RuleSpec(
        (), (), "a gesture of Back that is finished does what it showed when it was begun, whatever happens meanwhile"
    ),
    "redirects end": RuleSpec((), (), "redirects never form a loop"),
    "protected": RuleSpec(("screens", "if"), (), "these screens are never seen while the condition does not hold"),
    "no flash": RuleSpec((), ("screens", "time"), "no screen is seen for less than this and goes by itself", limit=FLASH),
    "links have a way back": RuleSpec(
        (), ("lands on",), "after each link Back stays in the app; only what the app begins with may stand alone"
    ),
    "addresses lead back": RuleSpec(
        (),
        ("screens",),
        "the address of each place, read backwards from the links, shows the same screen again and has a way back",
    ),
    "survives death": RuleSpec(
        (), ("screens",), "after kill and reopen the same is seen, and nothing is lost that the phone promises to keep"
    ),
    "survives remaking": RuleSpec(
        (),
        ("screens",),
        "the same is seen after the screens are remade, nothing is lost, and nothing is called or opened a second time",
    ),
    "forecast is known": RuleSpec((), (), "what Back will do is known before it is pressed"),
    "in every state": RuleSpec(("if",), ("screens",), "the condition holds in every state"),
    "in no state": RuleSpec(("if",), ("screens",), "the condition holds in no state"),
    "everything is used": RuleSpec((), (), "each screen can be seen; each move, guard, redirect, link and reply can happen"),
}
"""Each rule by its name, in the order of the documents."""
EXAMPLES: dict[Key, str] = {
    "screens": "[SCREEN]",
    "from": "SCREEN",
    "lands on": "[SCREEN]",
    "if": "FACT is VALUE",
    "rungs": "3",
    "size": "200MB",
}


def read_rules(source: Source, top: MapReader, declared: Declarations, plan: Plan) -> tuple[Rule | StarterSet, ...]:
    """Read the rules; the starter set if there are none."""
    if top.node("rules") is None:
        return (StarterSet(),)
    reading = _Reading(source, declared, plan)
    rules = (reading.rule(node) for node in top.items("rules"))
    return tuple(rule for rule in rules if rule is not None)


class _Reading:
    def __init__(self, source: Source, declared: Declarations, plan: Plan) -> None:
        self.source, self.declared, self.plan = source, declared, plan
        self.titles: set[str] = set()

    def rule(self, node: Node) -> Rule | StarterSet | None:
        if isinstance(node, ScalarNode) and node.text == "starter":
            return StarterSet(at=node.at)
        if isinstance(node, ScalarNode) and node.text in RULES and not RULES[node.text].required:
            return Rule(node.text, ways=RULES[node.text].ways, limit=RULES[node.text].limit, at=node.at)
        if not isinstance(node, MapNode):
            word = node.text if isinstance(node, ScalarNode) else ""
            needs = RULES[word].required if word in RULES else ()
            example = ", ".join(f"{key}: {EXAMPLES[key]}" for key in needs)
            instead = f"write {{rule: {word}, {example}}}" if needs else suggest(word, [*RULES, "starter"], most=8)
            self.source.add_error(
                node.at,
                messages.NOT_A_RULE_ALONE.format(word=word) if needs else messages.NO_SUCH_RULE.format(name=word),
                instead,
            )
            return None
        section = MapReader(self.source, node, "a rule")
        section.require("rule", "never beneath")
        name = section.scalar("rule")
        if name is None:
            return None
        if name.text == "starter":
            return self._starter(section)
        if name.text not in RULES:
            self.source.add_error(
                name.at, messages.NO_SUCH_RULE.format(name=name.text), suggest(name.text, [*RULES, "starter"], most=8)
            )
            return None
        return self._told(section, name.text)

    def _starter(self, section: MapReader) -> StarterSet:
        starter = StarterSet(
            section.words("without", tuple(RULES)),
            self._screens(section, "not splash"),
            self._screens(section, "not sign in"),
            self._screens(section, "not protected"),
            section.at,
        )
        section.scalar("note")
        section.report_unknown_keys()
        return starter

    def _told(self, section: MapReader, name: str) -> Rule:
        spec = RULES[name]
        section.what = f'the rule "{name}"'
        for key in spec.required:
            section.require(key, EXAMPLES[key])
        keys = (*spec.required, *spec.optional)
        screens = self._screens(section, "from" if "from" in keys else "screens") if {"from", "screens"} & {*keys} else ()
        lands = self._screens(section, "lands on", model.THE_GROUND) if "lands on" in keys else ()
        text = section.scalar("if") if "if" in keys else None
        note = section.scalar("note")
        said = Rule(
            name,
            screens,
            lands,
            self._condition(text, screens) if text is not None else None,
            text.text if text is not None else "",
            (section.words("ways", policies.WAYS) if "ways" in keys else ()) or RULES[name].ways,
            self._limit(section, keys, RULES[name].limit) if {"rungs", "size", "time"} & {*keys} else None,
            "once left" in keys and section.flag("once left"),
            "any arguments" in keys and section.flag("any arguments"),
            "double taps" in keys and section.flag("double taps"),
            note.text if note is not None else "",
            self._title(section),
            at=section.at,
        )
        section.report_unknown_keys()
        return said

    def _title(self, section: MapReader) -> str:
        title = section.scalar("name")
        if title is None:
            return ""
        if title.text in self.titles:
            self.source.add_error(title.at, messages.RULE_NAMED_ALREADY.format(name=title.text), messages.CHOOSE_ANOTHER_NAME)
        self.titles.add(title.text)
        return title.text

    def _condition(self, text: ScalarNode, screens: tuple[str, ...]) -> Condition | None:
        about = [self.declared.screens[name] for name in screens if name in self.declared.screens]
        about = about or list(self.declared.screens.values())
        own = {fact.name: fact for screen in about for fact in screen.holds}
        takes = {parameter.name: parameter for screen in about for parameter in screen.takes}
        scope = replace(self.declared.scope(text), own=own, takes=takes)
        return parse_or_report(self.source, text, lambda: parse_condition(text.text, scope))

    def _limit(self, section: MapReader, keys: Iterable[str], default: int | None) -> int | None:
        if "size" in keys:
            return section.size("size")
        if "time" in keys:
            time = section.time("time")
            return default if time is None else time
        scalar = section.scalar("rungs")
        if scalar is None:
            return None
        if not scalar.text.isdecimal() or len(scalar.text) > 9:
            self.source.add_error(scalar.at, messages.IS_NOT_A_NUMBER.format(name=scalar.text), messages.WRITE_A_NUMBER)
            return None
        return int(scalar.text)

    def _screens(self, section: MapReader, key: str, *besides: str) -> tuple[str, ...]:
        known = [*self.declared.screens, *besides]
        for scalar in (scalars := section.scalars(key)):
            if scalar.text not in known:
                self.source.add_error(scalar.at, messages.NO_SUCH_SCREEN.format(name=scalar.text), suggest(scalar.text, known))
        return tuple(scalar.text for scalar in scalars)
