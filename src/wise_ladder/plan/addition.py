"""A part of the plan typed in one line: `fact session: none, valid`, `2s on ladder: replace hives`, `redirect hive to sign in`.

A line that begins with no kind of part is a move of the place one is at: its trigger, perhaps its condition, then what it does.
What the line names and the plan lacks (a screen, a fact, an argument) is added in the same step.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.errors import WriteError
from wise_ladder.plan import messages
from wise_ladder.plan.edit_moves import SEPARATOR, PlanField, place_path
from wise_ladder.plan.edit_parts import set_part_fields
from wise_ladder.plan.insert import insert_entry, insert_item
from wise_ladder.plan.loader import problems_in
from wise_ladder.plan.model import OVERLAY_KINDS
from wise_ladder.plan.parts import parts
from wise_ladder.plan.phrases import parse_trigger
from wise_ladder.plan.rules import EXAMPLES, RULES
from wise_ladder.plan.scopes import scope_of
from wise_ladder.plan.steps import quoted
from wise_ladder.plan.tokens import PhraseError
from wise_ladder.plan.world import LINK_MODES
from wise_ladder.plan.yaml_text import add_walk, scalar

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from wise_ladder.plan.model import Plan

_ROUNDS = 20
_NAME_AND_REST = re.compile(r"^(.*?)(?::(?:\s+(.*))?)?$", re.DOTALL)
_LISTED = re.compile(r"^(.*?)\(\s*([\w ,]*?)\s*\)$", re.DOTALL)
PAIRS = {
    "screen": ("top bar", "bottom bar", "takes", "holds", "gives", "header", "arrow", "menu", "weight", "hidden", "plays"),
    "overlay": ("kind", "back", "of", "for", "gives"),
    "call": ("again", "never silent"),
    "cover": ("least", "until", "most"),
    "memory": ("warn", "dies"),
    "rule": (
        "screens",
        "from",
        "lands on",
        "if",
        "ways",
        "rungs",
        "size",
        "time",
        "once left",
        "any arguments",
        "double taps",
        "name",
        "note",
    ),
}
"""The keys that may begin a piece of a line, for each kind of part."""


class Addition(NamedTuple):
    """The text with what was typed, what was added in words, and the names that are new with it."""

    text: str
    words: str
    new: tuple[str, ...]


def add_typed(text: str, where: str | None, typed: str) -> Addition:
    """Add what was typed to a plan; `where` is the screen, flow or overlay one is at, None for none.

    Raises WriteError if the line says nothing that can be added, PlanError if the text is not YAML.
    """
    kind, rest = kind_of_line(typed.strip())
    added, words = ADDERS[kind](text, where, rest.strip()) if kind else _add_move(text, where, typed.strip())
    return _complete(added, words)


def is_addition(plan: Plan, where: str | None, typed: str) -> bool:
    """Whether a line begins with a kind of part, or with a trigger and a colon."""
    kind, rest = kind_of_line(typed.strip())
    if kind:
        return bool(rest.strip())
    head, found, _ = typed.partition(":")
    try:
        parse_trigger(split_condition(head.strip())[0], scope_of(plan, where))
    except PhraseError:
        return False
    return bool(found)


def kind_of_line(typed: str) -> tuple[str, str]:
    """Return the kind of part that a line begins with, nothing if it is none, and what follows."""
    for kind in ADDERS:
        if typed == kind or typed.startswith((f"{kind} ", f"{kind}:")):
            return kind, typed[len(kind) :].removeprefix(":")
    return "", typed


def _complete(text: str, words: str) -> Addition:
    """Add what the new part names and the plan lacks."""
    new: dict[str, list[str]] = {}
    for _ in range(_ROUNDS):
        problems = problems_in(text)
        changed = text
        for problem in problems:
            changed = _supplied(changed, problem.lacks, new)
        if not problems:
            return Addition(text, words, tuple(new))
        if changed == text:
            what = f"{problems[0].what}; {problems[0].hint}" if problems[0].hint else problems[0].what
            raise WriteError(what)
        text = changed
    raise WriteError(problems[0].what)


def _supplied(text: str, lacks: tuple[str, ...], new: dict[str, list[str]]) -> str:
    match lacks:
        case ("screen", name) if f"screen {name}" not in new:
            new[f"screen {name}"] = []
            return insert_entry(text, ("screens",), name, "")
        case ("fact", name) if f"fact {name}" not in new:
            new[f"fact {name}"] = []
            return insert_entry(text, ("facts",), name, "no")
        case ("value", name, value) if f"fact {name}" in new and value not in new[f"fact {name}"]:
            values = new[f"fact {name}"]
            values.append(value)
            if not set(values) <= {"yes", "no"}:
                return set_part_fields(text, ("facts", name), {"": PlanField("", _list(values), verbatim=True)})
        case ("argument", screen, name) if f"argument {name} of {screen}" not in new:
            new[f"argument {name} of {screen}"] = []
            return insert_entry(text, (*place_path(text, screen), "takes"), name, "whole number")
        case ("needed", screen, name) if new.get(f"argument {name} of {screen}") == []:
            # Where the screen was put so far, nothing is said of it.
            new[f"argument {name} of {screen}"] = ["a default"]
            optional = PlanField("", "{type: whole number, default: 1}", verbatim=True)
            return set_part_fields(text, (*place_path(text, screen), "takes", name), {"": optional})
    return text


# Pieces of a line


def _split(line: str, mark: str = ",") -> list[str]:
    """Split at a mark that stands in no brackets and no quotes."""
    pieces, depth, quote, start = [], 0, "", 0
    for at, char in enumerate(line):
        if quote:
            quote = "" if char == quote else quote
        elif char in "\"'":
            quote = char
        elif char in "([{":
            depth += 1
        elif char in ")]}":
            depth -= 1
        elif char == mark and not depth:
            pieces.append(line[start:at])
            start = at + 1
    return [piece.strip() for piece in (*pieces, line[start:]) if piece.strip()]


def _named(rest: str) -> tuple[str, str]:
    match = _NAME_AND_REST.match(rest)
    name, body = (match[1].strip(), (match[2] or "").strip()) if match else (rest, "")
    if not name:
        raise WriteError(messages.NAME_FIRST)
    return name, body


def _list(values: Iterable[str]) -> str:
    return f"[{', '.join(scalar(value, flow=True) for value in values)}]"


def _map(pairs: dict[str, str]) -> str:
    return f"{{{', '.join(f'{scalar(key, flow=True)}: {value}' for key, value in pairs.items())}}}"


def _value(text: str) -> str:
    return text if text.startswith(("[", "{")) else scalar(text, flow=True)


def _pairs(kind: str, pieces: Iterable[str]) -> dict[str, str]:
    """Read pieces such as `header none` or `header: none`; raises WriteError if one begins with no key of the kind."""
    pairs: dict[str, str] = {}
    for piece in pieces:
        key = next((key for key in PAIRS[kind] if re.match(rf"{key}(?:[:\s]|$)", piece)), None)
        if key is None:
            raise WriteError(messages.NOT_A_PIECE.format(piece=piece, keys=", ".join(PAIRS[kind])))
        said = piece[len(key) :].removeprefix(":").strip()
        if key in {"takes", "holds", "gives"} and not said.startswith("{"):
            name, _, rest = said.partition(" ")
            rest = rest.strip() or {"takes": "whole number", "holds": "no", "gives": "[done]"}[key]
            inner = pairs.get(key, "{}")[1:-1]
            pairs[key] = f"{{{inner}{', ' if inner else ''}{scalar(name, flow=True)}: {_value(rest)}}}"
        else:
            pairs[key] = _value(said or "yes")
    return pairs


def split_condition(words: str) -> tuple[str, str]:
    """Split `A if CONDITION`; the second is empty if there is no condition."""
    head, found, condition = words.partition(" if ")
    return (head.strip(), condition.strip()) if found else (words.strip(), "")


# Kinds of parts


def _screen(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    pairs = _pairs("screen", _split(body)) if not body.startswith("{") else {}
    if listed := _LISTED.match(name):
        name = listed[1].strip()
        pairs["takes"] = _map({each.strip(): "whole number" for each in listed[2].split(",") if each.strip()})
    value = body if body.startswith("{") else _map(pairs) if pairs else ""
    return insert_entry(text, ("screens",), name, value), f"screen {name}"


def _fact(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    return insert_entry(text, ("facts",), name, _of_fact(body)), f"fact {name}"


def _of_fact(body: str) -> str:
    if body.startswith(("{", "[")):
        return body
    values, more, changes = [], {}, []
    for piece in _split(body):
        if piece.startswith("kept "):
            more["kept"] = piece.removeprefix("kept ").strip()
        elif piece.startswith("from outside "):
            changes.append(piece.removeprefix("from outside ").strip())
        else:
            values.append(piece)
    written = _list(values or ["no", "yes"])
    if changes:
        more["from outside"] = _list(changes)
    if more:
        return _map({"values": written, **more})
    return written if values and values != ["no", "yes"] else "no"


def _held(key: str) -> Callable[[str, str | None, str], tuple[str, str]]:
    def add(text: str, where: str | None, rest: str) -> tuple[str, str]:
        name, body = _named(rest)
        value = _of_fact(body) if key == "holds" else _value(body or "whole number") if key == "takes" else _list(_split(body))
        return insert_entry(text, (*_place(text, where), key), name, value), f"{key} {name}"

    return add


def _place(text: str, where: str | None) -> tuple[str, str]:
    if where is None:
        raise WriteError(messages.NO_PLACE)
    return place_path(text, where)


def _call(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    pairs: dict[str, str] = {}
    for piece in _split(body):
        if piece.startswith(PAIRS["call"]):
            pairs |= _pairs("call", [piece])
        else:
            reply, _, time = piece.replace(":", " ").rpartition(" ")
            pairs[reply.strip() or time] = _value(time) if reply.strip() else "1s"
    return insert_entry(text, ("calls",), name, body if body.startswith("{") else _map(pairs or {"ok": "1s"})), f"call {name}"


def _overlay(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    pieces = _split(body)
    kind = pieces.pop(0) if pieces and pieces[0] in OVERLAY_KINDS else ""
    given = body.startswith("{")
    pairs = {} if given else {**({"kind": kind} if kind else {}), **_pairs("overlay", pieces)}
    return insert_entry(text, ("overlays",), name, body if given else _map(pairs or {"kind": "dialog"})), f"overlay {name}"


def _flow(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    screens = _split(body)
    if not screens:
        raise WriteError(messages.FLOW_NEEDS_SCREENS)
    return insert_entry(text, ("flows",), name, _map({"screens": _list(screens), "start": _value(screens[0])})), f"flow {name}"


def _tabs(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    tabs = {tab: _value(screen or tab) for tab, screen in (_named(piece) for piece in _split(body))}
    if not tabs:
        raise WriteError(messages.TABS_NEED_TABS)
    text = insert_entry(text, ("flows",), name, _map({"tabs": _map(tabs)}))
    for tab in tabs:
        move = {"when": f"tap {quoted(tab)}", "do": f"switch {quoted(tab)}"}
        text = insert_item(text, ("flows", name, "moves"), _map({key: _value(phrase) for key, phrase in move.items()}))
    return text, f"tabs {name}, with a tap for each"


def _tab(text: str, where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    homes = [str(part.path[1]) for part in parts(text) if part.kind == "tab"]
    home = where if where in homes else homes[0] if homes else ""
    if not home:
        raise WriteError(messages.NO_TABS)
    return insert_entry(text, ("flows", home, "tabs"), name, _value(body or name)), f"tab {name} of {home}"


def _link(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    address, _, body = rest.partition(" ")
    address, pieces = address.removesuffix(":"), _split(body.strip())
    mode = pieces.pop() if pieces and pieces[-1] in LINK_MODES else ""
    pairs = {"address": scalar(address, flow=True), "build": _list(pieces), **({"mode": mode} if mode else {})}
    return insert_item(text, ("links",), _map(pairs)), f"link {address}"


def _redirect(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    words, remember = (rest.rsplit(", remember", 1)[0], True) if rest.rstrip().endswith(", remember") else (rest, False)
    head, condition = split_condition(words)
    only, found, target = head.partition(" to ")
    if not found:
        raise WriteError(messages.WRITE_REDIRECT)
    pairs = {"to": _list(_split(only)), **({"if": _value(condition)} if condition else {}), "send to": _value(target.strip())}
    return insert_item(
        text, ("redirects",), _map({**pairs, **({"remember": "yes"} if remember else {})})
    ), f"redirect of {only}"


def _guard(text: str, where: str | None, rest: str) -> tuple[str, str]:
    head, body = _named(rest)
    name, condition = split_condition(head)
    pieces = _split(body, SEPARATOR)
    if not pieces:
        raise WriteError(messages.WRITE_GUARD)
    pairs = {"name": scalar(name, flow=True), **({"if": _value(condition)} if condition else {})}
    if pieces == ["block"]:
        pairs["block"] = "yes"
    elif pieces[0].startswith("ask "):
        answers = [_map({answer: _done(_split(does or "stay"))}) for answer, does in (_named(piece) for piece in pieces[1:])]
        answers = answers or ["{stay here: stay}", "{leave: go on}"]
        pairs["ask"] = _map({"text": _value(pieces[0].removeprefix("ask ").strip()), "answers": f"[{', '.join(answers)}]"})
    else:
        pairs["do"] = _done(pieces)
    path = (*_place(text, where), "guards") if where else ("guards",)
    return insert_item(text, path, _map(pairs)), f"guard {name}"


def _done(phrases: list[str]) -> str:
    """Write what is done; `nothing` says that nothing is meant to happen."""
    if phrases in (["nothing"], ["[]"]):
        return "[]"
    return scalar(phrases[0], flow=True) if len(phrases) == 1 else _list(phrases)


def _section(kind: str) -> Callable[[str, str | None, str], tuple[str, str]]:
    def add(text: str, _where: str | None, rest: str) -> tuple[str, str]:
        return insert_entry(text, (), kind, _map(_pairs(kind, _split(rest)))), kind

    return add


def _policy(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    return insert_entry(text, ("policies",), name, _value(body)), f"policy {name}"


def _phone(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    policies = {key: _value(value) for key, value in (_named(piece) for piece in _split(body))}
    return insert_entry(text, ("phones",), name, _map(policies) if policies else ""), f"phone {name}"


def _rule(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    pairs = _pairs("rule", _split(body))
    if name in RULES and (missing := [key for key in RULES[name].required if pairs.get(key, "yes") == "yes"]):
        example = ", ".join(f"{key} {EXAMPLES[key].strip('[]')}" for key in missing)
        raise WriteError(messages.RULE_NEEDS_MORE.format(rule=name, example=example))
    # Without rules the starter set applies: it goes on to apply beside the first one.
    if not any(part.path[:1] == ("rules",) for part in parts(text)):
        text = insert_item(text, ("rules",), "starter")
    return insert_item(text, ("rules",), _map({"rule": _value(name), **pairs}) if pairs else _value(name)), f"rule {name}"


def _unknown(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    return insert_entry(text, (), "unknown address", _value(rest)), "unknown address"


def _on(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    names = [str(part.path[1]) for part in parts(text) if part.kind in {"screen", "flow", "overlay"}]
    place = max((name for name in names if rest.startswith(f"{name} ")), key=len, default="")
    if not place:
        raise WriteError(messages.ON_WHAT)
    kind, inner = kind_of_line(rest[len(place) :].strip())
    return ADDERS[kind](text, place, inner.strip()) if kind else _add_move(text, place, rest[len(place) :].strip())


def _anywhere(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    return _add_move(text, None, rest)


def _add_move(text: str, where: str | None, typed: str) -> tuple[str, str]:
    """Read `TRIGGER: OPERATIONS`, with a condition after the trigger."""
    head, body = _named(typed)
    when, condition = split_condition(head)
    phrases = [phrase.removesuffix(",") for phrase in _split(body, SEPARATOR)]
    if not body:
        raise WriteError(messages.WRITE_MOVE)
    pairs = {"when": scalar(when, flow=True), **({"if": _value(condition)} if condition else {}), "do": _done(phrases)}
    path = (*_place(text, where), "moves") if where else ("anywhere",)
    return insert_item(text, path, _map(pairs)), f"{where or 'anywhere'}, when {when}"


def _walk(text: str, _where: str | None, rest: str) -> tuple[str, str]:
    name, body = _named(rest)
    return add_walk(text, name, _split(body) or ["launch"], []), f"walk {name}"


ADDERS: dict[str, Callable[[str, str | None, str], tuple[str, str]]] = {
    "screen": _screen,
    "fact": _fact,
    "takes": _held("takes"),
    "holds": _held("holds"),
    "gives": _held("gives"),
    "call": _call,
    "overlay": _overlay,
    "flow": _flow,
    "tabs": _tabs,
    "tab": _tab,
    "guard": _guard,
    "redirect": _redirect,
    "link": _link,
    "unknown address": _unknown,
    "cover": _section("cover"),
    "memory": _section("memory"),
    "policy": _policy,
    "phone": _phone,
    "rule": _rule,
    "walk": _walk,
    "anywhere": _anywhere,
    "on": _on,
}
"""What adds each kind of part that a line may begin with."""
