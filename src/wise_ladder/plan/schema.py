"""The JSON Schema (2020-12) of plan files: what editors complete and check while one writes.

It knows the shape of a plan and the words that are one of a few; phrases are text to it. A test holds its keys against those
that are read.
"""

from __future__ import annotations

from typing import Any

from wise_ladder.plan import model, policies, world
from wise_ladder.plan.rules import RULES

Schema = dict[str, Any]

_TEXT: Schema = {"type": ["string", "number", "boolean"]}
_TIME: Schema = {"type": "string", "pattern": r"^[0-9]+(\.[0-9]+)?(ms|s|min)$", "examples": ["400ms", "1.5s"]}
_SIZE: Schema = {"type": "string", "pattern": r"^[0-9]+(\.[0-9]+)? ?(B|KB|MB|GB)$", "examples": ["24MB"]}
_FLAG: Schema = {"enum": ["yes", "no", True, False]}
_PHRASES: Schema = {"anyOf": [_TEXT, {"type": "array", "items": _TEXT}]}


def _map(about: str, keys: Schema, *, need: tuple[str, ...] = (), empty: bool = False) -> Schema:
    schema: Schema = {"type": ["object", "null"] if empty else "object", "description": about, "properties": keys}
    return {**schema, "additionalProperties": False, **({"required": list(need)} if need else {})}


def _named(about: str, each: Schema) -> Schema:
    return {"type": ["object", "null"], "description": about, "additionalProperties": each}


def _list(about: str, each: Schema) -> Schema:
    return {"type": ["array", "null"], "description": about, "items": each}


def _one_of(*words: str) -> Schema:
    return {"enum": list(words)}


def _words(words: tuple[str, ...]) -> Schema:
    return {"anyOf": [_one_of(*words), {"type": "array", "items": _one_of(*words)}]}


_CODE: Schema = {**_TEXT, "description": "Where it is in the app's own code: src/Hive:120."}
_MOVES = _list(
    "What happens here: a trigger, a condition, operations done as one.",
    _map(
        "A move.",
        {
            "when": {
                **_TEXT,
                "description": "tap NAME, 1500ms on ladder, shown, FACT becomes VALUE, CALL gives OUTCOME, TIMER runs out ...",
            },
            "if": {**_TEXT, "description": "FACT is VALUE, alone, depth over 2, S on the ladder, TAB in front; and, or, not"},
            "do": {**_PHRASES, "description": "push S(id=7), replace S, pop, pop to S, clear, set FACT VALUE, call C ..."},
            "for": _PHRASES,
            "except": _PHRASES,
            "code": _CODE,
        },
        need=("when",),
    ),
)
_RULE = _map(
    "A rule, and what it is about.",
    {
        "rule": _one_of(*RULES, "starter"),
        "name": _TEXT,
        "screens": _PHRASES,
        "from": _PHRASES,
        "lands on": _PHRASES,
        "if": _TEXT,
        "ways": _words(policies.WAYS),
        "rungs": {"type": "integer"},
        "size": _SIZE,
        "time": _TIME,
        "once left": _FLAG,
        "any arguments": _FLAG,
        "double taps": _FLAG,
        "without": _words(tuple(RULES)),
        "not splash": _PHRASES,
        "not sign in": _PHRASES,
        "not protected": _PHRASES,
        "note": _TEXT,
    },
    need=("rule",),
)
_GUARDS = _list(
    "What stands in the way of leaving.",
    _map(
        "A guard.",
        {
            "name": _TEXT,
            "code": _CODE,
            "if": _TEXT,
            "block": _FLAG,
            "ask": _map(
                "A question.",
                {"text": _TEXT, "answers": _list("The answers.", _named("An answer and what it does.", _PHRASES))},
            ),
            "do": _PHRASES,
            "ways": _words(policies.WAYS),
            "watches": _one_of("its own", "everything inside", "what is put over it"),
            "first in line": _FLAG,
            "scope": _one_of("place", "app"),
            "decides": _one_of("by its condition", "at the press"),
        },
        need=("name",),
    ),
)
_VALUES = {"type": "array", "items": _TEXT, "minItems": 1}
_FACT = {
    "anyOf": [
        _FLAG,
        _VALUES,
        _map(
            "A fact.",
            {
                "values": _VALUES,
                "kept": _one_of(*model.HELD_LIFETIMES),
                "from outside": _PHRASES,
            },
            need=("values",),
        ),
    ]
}
_TYPE = {"anyOf": [_one_of("whole number", "text", "yes or no"), _VALUES]}
_PARAMETER = {"anyOf": [*_TYPE["anyOf"], _map("An argument.", {"type": _TYPE, "samples": _PHRASES, "default": _TEXT})]}
_PARTS = _map("A result of several parts.", {"parts": _named("The parts.", _PARAMETER)})
_PLACE: Schema = {
    "code": _CODE,
    "takes": _named("The arguments, each with its type.", _PARAMETER),
    "holds": _named("The facts that each rung, or the open overlay, has for itself.", _FACT),
    "gives": _named(
        "The results it may return, each with its type or values.",
        {
            "anyOf": [
                *_PHRASES["anyOf"],
                _PARAMETER,
                _PARTS,
            ]
        },
    ),
    "moves": _MOVES,
    "guards": _GUARDS,
    "weight": _SIZE,
}
_POLICIES: Schema = {
    "back at root": _one_of("leave", "away", "stay"),
    "pop at root": _one_of("finding", "nothing", "leave"),
    "push of a twin": _one_of("stack", "nothing"),
    "tab back": _one_of("first tab, then outwards", "last used", "outwards"),
    "taps in transition": _one_of("taken", "ignored"),
    "pop meets overlay": _one_of("goes with its rung", "closes instead"),
    "bars left unsaid": _one_of("shown", "as they were"),
    "system back": _FLAG,
    "restore": _one_of("all", "top", "nothing"),
    "leaving ends": _one_of("everything", "screens"),
    "shown acts": _one_of("before the first frame", "after it"),
    "cover after death": _FLAG,
    "back gesture": _FLAG,
    "results of other apps": _one_of("survive death", "are lost"),
    "remakes screens": _FLAG,
    "shown when remade": _FLAG,
    "pending when remade": _one_of("goes on", "is lost"),
    "question when remade": _one_of("stays", "goes"),
    "guards see": _words(policies.WAYS),
}
_CALL: Schema = {
    "type": "object",
    "description": "A request: its replies with their least times, and what a second one does meanwhile.",
    "properties": {"again": _one_of(*world.ON_REPEAT), "never silent": _FLAG},
    "additionalProperties": {"anyOf": [_TIME, _map("A reply.", {"takes": _TIME, "if": _TEXT})]},
}
_STEPS: Schema = {"type": "array", "items": {"anyOf": [_TEXT, {"type": "object"}]}}

SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "A plan of Wise Ladder",
    **_map(
        "What an app's screens and moves are.",
        {
            "format": {"enum": [1, "1"]},
            "app": {**_TEXT, "description": "The name of the app."},
            "about": _TEXT,
            "include": {**_PHRASES, "description": "Other files of the plan, each a path from the plan's folder."},
            "start": {
                "description": "The first screen, or a list of choices decided when the cover goes.",
                "anyOf": [
                    _TEXT,
                    {"type": "array", "items": _map("A choice of the start.", {"if": _TEXT, "put": _TEXT}, need=("put",))},
                ],
            },
            "cover": _map("The cover.", {"least": _TIME, "until": _TEXT, "most": _TIME}),
            "policies": _map("Policies.", _POLICIES, empty=True),
            "phones": _named("Named sets of policies.", _map("A phone.", {"like": _TEXT, **_POLICIES}, empty=True)),
            "facts": _named("Named pieces of state.", _FACT),
            "timers": _named(
                "Timers of the app, started and stopped by name.",
                {"anyOf": [_TIME, _map("A timer.", {"after": _TIME, "anew at each touch": _FLAG}, need=("after",))]},
            ),
            "calls": _named("Requests and their replies.", _CALL),
            "screens": _named(
                "The screens.",
                _map(
                    "A screen.",
                    {
                        **_PLACE,
                        "of": _one_of("another app"),
                        "apart": _FLAG,
                        "hidden": _SIZE,
                        "drop oldest over": {"type": "integer", "minimum": 1},
                        "plays": _TIME,
                        "top bar": _one_of(*model.BARS),
                        "bottom bar": _one_of(*model.BARS),
                        "header": _one_of("arrow", "menu", "none"),
                        "menu": _TEXT,
                        "arrow": {"anyOf": [_TEXT, {"type": "array"}, {"type": "object"}]},
                    },
                    empty=True,
                ),
            ),
            "flows": _named(
                "Screens that hold ladders of their own.",
                _map(
                    "A flow.",
                    {
                        **{key: value for key, value in _PLACE.items() if key != "weight"},
                        "tabs": _named("Each tab with its first screen.", _TEXT),
                        "screens": _PHRASES,
                        "start": _TEXT,
                    },
                ),
            ),
            "overlays": _named(
                "What lies over a rung and is no screen.",
                _map(
                    "An overlay.",
                    {
                        "kind": _one_of(*model.OVERLAY_KINDS),
                        "of": _TEXT,
                        "back": _one_of("closes", "blocked", "passes"),
                        "for": _TIME,
                        "code": _CODE,
                        "gives": _PLACE["gives"],
                        "holds": _PLACE["holds"],
                        "moves": _MOVES,
                        "guards": _GUARDS,
                    },
                    need=("kind",),
                ),
            ),
            "anywhere": _MOVES,
            "guards": _GUARDS,
            "redirects": _list(
                "Puts that go elsewhere; the first match wins.",
                _map(
                    "A redirect.",
                    {"to": _PHRASES, "except": _PHRASES, "if": _TEXT, "send to": _TEXT, "remember": _FLAG},
                    need=("send to",),
                ),
            ),
            "rules": _list("What must hold on every path.", {"anyOf": [_TEXT, _RULE]}),
            "links": _list(
                "Addresses from outside.",
                _map(
                    "A link.",
                    {"address": _TEXT, "code": _CODE, "build": _PHRASES, "mode": _one_of(*world.LINK_MODES)},
                    need=("address", "build"),
                ),
            ),
            "unknown address": _TEXT,
            "memory": _map("The memory.", {"warn": _SIZE, "dies": _SIZE}),
            "givens": _named("Named sets of what the app begins with: facts, and replies that come by themselves.", _PHRASES),
            "walks": _named(
                "Written paths: what is done and what must be seen.",
                {"anyOf": [_STEPS, _map("A walk.", {"given": _PHRASES, "phone": _TEXT, "steps": _STEPS}, need=("steps",))]},
            ),
        },
        need=("app", "start", "screens"),
    ),
}
