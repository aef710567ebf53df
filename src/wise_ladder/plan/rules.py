"""Reading the rules of a plan: which there are, what each is told, and what they say."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

from wise_ladder.plan import model
from wise_ladder.plan.nearest import instead_of
from wise_ladder.plan.phrases import read_condition
from wise_ladder.plan.sections import Section, phrase
from wise_ladder.plan.source import Entries, Node, Scalar, Source

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.declared import Declared
    from wise_ladder.plan.model import Plan, Rule, Starter
    from wise_ladder.plan.operations import Condition

Key: TypeAlias = Literal[
    "screens", "from", "lands on", "if", "ways", "rungs", "size", "time", "once left", "any arguments", "double taps"
]


class Told(NamedTuple):
    """What a rule must be told, what it may be told besides, and when it holds, in a sentence."""

    needs: tuple[Key, ...]
    may: tuple[Key, ...]
    holds: str


RULES: dict[str, Told] = {
    "never beneath": Told(("screens",), ("once left",), "none of these screens is ever under another rung"),
    "never land on": Told(
        ("screens",),
        ("if",),
        "no way back (system, header, a pop of the app's own) lands on these screens while the condition holds",
    ),
    "no twins": Told((), ("screens", "any arguments", "double taps"), "no two neighbouring rungs are equal"),
    "no pile-up": Told(
        (), ("screens",), "no round of steps that can be repeated for ever makes the ladder grow; a bounded chain holds"
    ),
    "depth at most": Told(("rungs",), (), "never more rungs than this can be seen one under the other"),
    "memory at most": Told(("size",), (), "all rungs together never weigh more than this"),
    "back lands": Told(
        ("from", "lands on"), ("if", "ways"), "Back by this way from there lands on one of these, while the condition holds"
    ),
    "leaves only from": Told(
        ("screens",), (), "Back leaves the app only from these screens, also where a guard answers it by leaving"
    ),
    "no traps": Told(
        (), (), "from everywhere some number of Backs gets out of the app, or to the root where the phone stays there"
    ),
    "at most": Told(("rungs", "screens"), (), "of these screens never more rungs than this are on the ladder"),
    "guarded": Told(("screens",), ("if", "ways"), "no way out of this screen goes without asking while the condition holds"),
    "way back without system": Told(
        (), ("screens",), "on each rung but the lowest, the header or a tap of its own reaches what lies beneath"
    ),
    "no dead taps": Told((), ("screens",), "each tap that is offered does something, or says why not"),
    "waiting ends": Told((), (), "no cover, and no wait overlay that stops Back, can stay for ever; a call may be silent"),
    "results come back": Told(
        (), (), "every awaited result ends exactly once, none is lost, and none comes that nobody awaits"
    ),
    "redirects end": Told((), (), "no chain of redirects comes round"),
    "protected": Told(("screens", "if"), (), "these screens are never seen while the condition does not hold"),
    "no flash": Told((), ("screens", "time"), "no screen is seen for less than this and goes by itself"),
    "links have a way back": Told(
        (), ("lands on",), "after each link Back lands in the app; only what the app begins with may stand alone"
    ),
    "survives death": Told(
        (), ("screens",), "killed and reopened, the same is seen, and nothing is lost that the phone promises to keep"
    ),
    "forecast is known": Told((), (), "what Back will do is known before it is pressed"),
    "in every state": Told(("if",), ("screens",), "the condition holds in every state"),
    "in no state": Told(("if",), ("screens",), "the condition holds in no state"),
    "everything is used": Told((), (), "each screen can be seen; each move, guard, redirect, link and reply can happen"),
}
"""Each rule by its name, in the order of the documents."""
FLASH = 300
_EXAMPLES: dict[Key, str] = {
    "screens": "[SCREEN]",
    "from": "SCREEN",
    "lands on": "[SCREEN]",
    "if": "FACT is VALUE",
    "rungs": "3",
    "size": "200MB",
}
USUAL_WAYS: dict[str, tuple[model.Way, ...]] = {"back lands": ("system",), "guarded": model.WAYS}
"""The ways that a rule is about where it is told none."""


def read_rules(source: Source, top: Section, declared: Declared, plan: Plan) -> tuple[Rule | Starter, ...]:
    """Read the rules; the starter set where there are none."""
    if top.node("rules") is None:
        return (model.Starter(),)
    reading = _Reading(source, declared, plan)
    found = (reading.rule(node) for node in top.items("rules"))
    return tuple(rule for rule in found if rule is not None)


class _Reading:
    def __init__(self, source: Source, declared: Declared, plan: Plan) -> None:
        self.source, self.declared, self.plan = source, declared, plan
        self.titles: set[str] = set()

    def rule(self, node: Node) -> Rule | Starter | None:
        if isinstance(node, Scalar) and node.text == "starter":
            return model.Starter(at=node.at)
        if isinstance(node, Scalar) and node.text in RULES and not RULES[node.text].needs:
            return model.Rule(node.text, ways=USUAL_WAYS.get(node.text, ()), limit=_usual_limit(node.text), at=node.at)
        if not isinstance(node, Entries):
            word = node.text if isinstance(node, Scalar) else ""
            needs = RULES[word].needs if word in RULES else ()
            example = ", ".join(f"{key}: {_EXAMPLES[key]}" for key in needs)
            instead = f"write {{rule: {word}, {example}}}" if needs else instead_of(word, [*RULES, "starter"], most=8)
            self.source.problem(node.at, f'"{word}" alone is no rule' if needs else f'there is no rule "{word}"', instead)
            return None
        section = Section(self.source, node, "a rule")
        section.need("rule", "never beneath")
        name = section.scalar("rule")
        if name is None:
            return None
        if name.text == "starter":
            return self._starter(section)
        if name.text not in RULES:
            self.source.problem(name.at, f'there is no rule "{name.text}"', instead_of(name.text, [*RULES, "starter"], most=8))
            return None
        return self._told(section, name.text)

    def _starter(self, section: Section) -> Starter:
        found = model.Starter(
            section.words("without", tuple(RULES)),
            self._screens(section, "not splash"),
            self._screens(section, "not sign in"),
            self._screens(section, "not protected"),
            section.at,
        )
        section.scalar("note")
        section.done()
        return found

    def _told(self, section: Section, name: str) -> Rule:
        told = RULES[name]
        section.what = f'the rule "{name}"'
        for key in told.needs:
            section.need(key, _EXAMPLES[key])
        keys = (*told.needs, *told.may)
        screens = self._screens(section, "from" if "from" in keys else "screens") if {"from", "screens"} & {*keys} else ()
        lands = self._screens(section, "lands on", model.THE_GROUND) if "lands on" in keys else ()
        text = section.scalar("if") if "if" in keys else None
        note = section.scalar("note")
        found = model.Rule(
            name,
            screens,
            lands,
            self._condition(text, screens) if text is not None else None,
            text.text if text is not None else "",
            (section.words("ways", model.WAYS) if "ways" in keys else ()) or USUAL_WAYS.get(name, ()),
            self._limit(section, keys) if {"rungs", "size", "time"} & {*keys} else None,
            "once left" in keys and section.flag("once left"),
            "any arguments" in keys and section.flag("any arguments"),
            "double taps" in keys and section.flag("double taps"),
            note.text if note is not None else "",
            self._title(section),
            at=section.at,
        )
        section.done()
        return found

    def _title(self, section: Section) -> str:
        title = section.scalar("name")
        if title is None:
            return ""
        if title.text in self.titles:
            self.source.problem(title.at, f'there is a rule "{title.text}" already', "choose another name")
        self.titles.add(title.text)
        return title.text

    def _condition(self, text: Scalar, screens: tuple[str, ...]) -> Condition | None:
        about = [self.declared.screens[name] for name in screens if name in self.declared.screens]
        about = about or list(self.declared.screens.values())
        own = {fact.name: fact for screen in about for fact in screen.holds}
        takes = {parameter.name: parameter for screen in about for parameter in screen.takes}
        scope = replace(self.declared.scope(text), own=own, takes=takes)
        return phrase(self.source, text, lambda: read_condition(text.text, scope))

    def _limit(self, section: Section, keys: Iterable[str]) -> int | None:
        if "size" in keys:
            return section.size("size")
        if "time" in keys:
            time = section.time("time")
            return FLASH if time is None else time
        scalar = section.scalar("rungs")
        if scalar is None:
            return None
        if not scalar.text.isdecimal() or len(scalar.text) > 9:
            self.source.problem(scalar.at, f'"{scalar.text}" is no number of rungs', "write 3")
            return None
        return int(scalar.text)

    def _screens(self, section: Section, key: str, *besides: str) -> tuple[str, ...]:
        known = [*self.declared.screens, *besides]
        for scalar in (scalars := section.scalars(key)):
            if scalar.text not in known:
                self.source.problem(scalar.at, f'there is no screen "{scalar.text}"', instead_of(scalar.text, known))
        return tuple(scalar.text for scalar in scalars)


def _usual_limit(name: str) -> int | None:
    return FLASH if name == "no flash" else None
