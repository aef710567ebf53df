"""Renaming a name everywhere in a plan's text.

The grammar itself finds the references: once the declarations have the new name, reading the plan reports each place that still
uses the old one. So nothing that the grammar looks up can be forgotten here.
"""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.loader import problems_in
from wise_ladder.plan.parts import entries, kind_of
from wise_ladder.plan.source import MapNode, ScalarNode, Source, parse
from wise_ladder.plan.steps import quoted, taps_by_name
from wise_ladder.plan.tokens import Cursor, Name, PhraseError
from wise_ladder.plan.yaml_text import scalar
from wise_ladder.safe import named, unsafe

if TYPE_CHECKING:
    from collections.abc import Iterator

    from wise_ladder.plan.model import Plan
    from wise_ladder.plan.values import Parameter

RENAMED = ("screen", "flow", "overlay", "fact", "argument", "result", "call", "reply", "timer", "tab", "tap", "guard", "answer",
           "phone", "given", "rule", "walk")  # fmt: skip
"""Kinds of names that can be changed."""
_SAME_SPACE = (("screen", "flow", "overlay"), ("fact", "argument", "result"))
"""Kinds whose names may not be equal, or could be taken for each other in a condition."""
_VALUES = {"guard": "name", "rule": "name"}
_ROUNDS = 50


def rename(text: str, kind: str, old: str, new: str) -> str:
    """Return the text with another name for every thing of a kind that has the old one, and for every reference to it.

    Raises WriteError if the new name cannot be used or a reference cannot follow, PlanError if the text is not a plan.
    """
    _check_name(text, kind, old, new)
    declared = [place for place, name in _declared(text, kind) if name == old]
    if not declared:
        raise WriteError(messages.NOTHING_TO_RENAME.format(kind=kind, name=old))
    text = _put(text, declared, old, new)
    for _ in range(_ROUNDS):
        problems = problems_in(text)
        if not problems:
            return text
        changed = _put(text, _places(text, [problem.at.start for problem in problems]), old, new)
        if changed == text:
            raise WriteError(messages.CANNOT_FOLLOW_NAME.format(place=problems[0].at.words, what=problems[0].what))
        text = changed
    raise WriteError(messages.CANNOT_FOLLOW_NAME.format(place=problems[0].at.words, what=problems[0].what))


def names(text: str, kind: str) -> list[str]:
    """List the names of a kind in the order of the file, each once."""
    return list(dict.fromkeys(name for _, name in _declared(text, kind)))


def tap_name(phrase: str) -> str:
    """Return the name of the tap that a trigger is, nothing if it is something else."""
    return next((name.text for name in _tap(phrase)[0]), "")


def carried_by(plan: Plan, phrase: str) -> tuple[Parameter, ...]:
    """Return what the tap of a trigger carries, with the types that the plan gives it."""
    return taps_by_name(plan.moves).get(tap_name(phrase), ())


def _check_name(text: str, kind: str, old: str, new: str) -> None:
    if not new or new != " ".join(new.split()) or '"' in new:
        raise WriteError(messages.NAME_NEEDED)
    if fault := unsafe(new, is_name=True):
        raise WriteError(messages.INVISIBLE_CHARACTER.format(character=named(fault.group())))
    if new == old:
        raise WriteError(messages.SAME_NAME)
    group = next((kinds for kinds in _SAME_SPACE if kind in kinds), (kind,))
    for other in group:
        if new in names(text, other):
            raise WriteError(messages.NAME_OF_ANOTHER.format(kind=other, name=new))
        if other != kind and old in names(text, other):
            raise WriteError(messages.NAME_SHARED.format(kind=other, name=old))


class _Place(NamedTuple):
    """A word or phrase of the file, whether it stands in brackets, and where in it something is."""

    node: ScalarNode
    in_brackets: bool
    at: int


def _declared(text: str, kind: str) -> Iterator[tuple[_Place, str]]:
    """Go through the declarations of a kind, each with the name."""
    for entry in entries(parse(Source("plan", text))):
        brackets = text[entry.holder.at.start] in "[{"
        if kind in {"tap", "argument"} and entry.path[-1] == "when" and isinstance(entry.node, ScalarNode):
            tap, carries = _tap(entry.node.text)
            yield from (
                (_Place(entry.node, brackets, name.start), name.text) for name in (carries if kind == "argument" else tap)
            )
        if kind_of(entry.path) != kind:
            continue
        if entry.key is not None:
            yield _Place(entry.key, brackets, 0), entry.key.text
        elif isinstance(entry.node, MapNode):
            brackets = text[entry.node.at.start] in "[{"
            for key, node in entry.node.entries:
                if kind == "answer":
                    yield _Place(key, brackets, 0), key.text
                elif key.text == _VALUES.get(kind) and isinstance(node, ScalarNode):
                    yield _Place(node, brackets, 0), node.text


def _tap(phrase: str) -> tuple[list[Name], list[Name]]:
    """Return the name of a tap and what it carries, nothing if the trigger is not a tap."""
    carries: list[Name] = []
    try:
        cursor = Cursor(phrase)
        if not cursor.accept("tap"):
            return [], []
        name = cursor.name("a tap")
        if cursor.accept("("):
            while not cursor.accept(")"):
                carries.append(cursor.name("an argument"))
                cursor.accept(",")
    except PhraseError:
        return [], []
    return [name], carries


def _places(text: str, at: list[int]) -> list[_Place]:
    """Find what stands at some offsets. The addresses of links stay as they are."""
    nodes = sorted(
        (
            _Place(node, text[entry.holder.at.start] in "[{", 0)
            for entry in entries(parse(Source("plan", text)))
            if entry.path[::2] != ("links", "address")
            for node in (entry.key, entry.node)
            if isinstance(node, ScalarNode)
        ),
        key=lambda place: place.node.at.start,
    )
    starts = [place.node.at.start for place in nodes]
    found: dict[int, _Place] = {}
    for offset in at:
        number = bisect_right(starts, offset) - 1
        if number >= 0 and nodes[number].node.at.end > offset:
            node = nodes[number].node
            found[offset] = nodes[number]._replace(at=max(offset - node.at.start - node.quote_width, 0))
    return list(found.values())


def _put(text: str, places: list[_Place], old: str, new: str) -> str:
    """Write the new name wherever the old one stands at one of the places."""
    phrases: dict[int, tuple[_Place, str]] = {}
    for place in sorted(places, key=lambda place: (place.node.at.start, -place.at)):
        node = place.node
        phrase = phrases[node.at.start][1] if node.at.start in phrases else node.text
        for was, now in ((f"${old}", f"${new}"), (f'"{old}"', quoted(new)), (old, new if node.text == old else quoted(new))):
            # What is not written as it reads has no places in it: the first one counts.
            begin = place.at if node.verbatim else max(phrase.find(was), 0)
            if phrase.startswith(was, begin) and not phrase[begin + len(was) : begin + len(was) + 1].isalnum():
                phrases[node.at.start] = (place, phrase[:begin] + now + phrase[begin + len(was) :])
                break
    for start, (place, phrase) in sorted(phrases.items(), reverse=True):
        text = text[:start] + _written(text, place, phrase) + text[place.node.at.end :]
    return text


def _written(text: str, place: _Place, phrase: str) -> str:
    """Write a phrase in the place of another one, in quotes if that was in quotes."""
    if place.node.verbatim and text[place.node.at.start] == "'":
        return "'" + phrase.replace("'", "''") + "'"
    return scalar(phrase, flow=place.in_brackets)
