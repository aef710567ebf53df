"""What goes over the wire between the tool and an app: JSON-RPC 2.0, and the vocabulary of its methods as plain data.

The tool calls `hello`, `begin`, `do`, `where` and `advance`; the app sends `happened` by itself. Fields that an app leaves out
are things it does not tell. Unknown fields are ignored, so that later versions may add some.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal, TypeAlias, get_args

import msgspec
from msgspec import UNSET, Struct, UnsetType, field

from wise_ladder.plan import events
from wise_ladder.plan.model import HeaderButton
from wise_ladder.plan.values import Value

if TYPE_CHECKING:
    from wise_ladder.plan.events import Event

PROTOCOL = 1
"""The version of the vocabulary."""

EventName: TypeAlias = Literal[
    "launch", "tap", "back", "back begun", "back finished", "back cancelled", "header back", "home", "reopen", "answer",
    "reply", "change", "link", "swiped away", "killed", "low memory", "remade",
]  # fmt: skip
"""What an app may be told to do."""
Aspect: TypeAlias = Literal[
    "ladder", "over", "asked", "facts", "shown", "calls", "results", "bars", "header", "address", "back"
]
"""What an app may tell of itself."""
EVENT_NAMES: tuple[EventName, ...] = get_args(EventName)
ASPECTS: tuple[Aspect, ...] = get_args(Aspect)


class Hello(Struct):
    """The tool says who it is, and which versions of the vocabulary it speaks."""

    protocols: list[int]
    tool: str
    plan: str = ""
    """The name of the app in the plan."""


class Welcome(Struct):
    """The app says who it is, which version it speaks, what it can do and what it tells."""

    protocol: int
    app: str
    version: str = ""
    screens: list[str] = []
    does: list[str] = []
    """The events that it can be told to do."""
    tells: list[str] = []
    """The aspects that it tells."""
    begins: bool = False
    """Whether it can begin anew with facts and replies."""
    advances: bool = False
    """Whether its clock can be advanced."""


class ComingReply(Struct):
    """How a call is answered by itself, and how many milliseconds after it was made."""

    outcome: str
    after: int = 0


class Begin(Struct):
    """The app is to be as if it had never run, with these facts, and these replies to come."""

    facts: dict[str, str] = {}
    replies: dict[str, list[ComingReply]] = {}
    """How each call is answered by itself: the first time, the second time ..., and as the last one ever after."""
    phone: str = ""
    """The phone of the plan, if it has several."""


class Begun(Struct):
    """What of that the app could not do, each by its name: facts, calls, or the phone."""

    lacks: list[str] = []


class Do(Struct, omit_defaults=True):
    """An event that is to happen now; only those fields are there that its kind needs."""

    event: EventName
    name: str = ""
    """The tap or the answer; for Back, the guard that takes it, if that guard decides only at the press."""
    values: dict[str, Value] = field(default_factory=dict, name="with")
    """What a tap carries."""
    twice: bool = False
    call: str = ""
    outcome: str = ""
    """The call that is answered, and the reply to it."""
    fact: str = ""
    value: str = ""
    """The fact that the world changes, and its new value."""
    address: str = ""


class Done(Struct, omit_defaults=True):
    """Whether the event could happen, else why not; the answer comes when all that follows at once has happened."""

    done: bool
    why: str = ""


class Over(Struct, omit_defaults=True):
    """An open overlay."""

    name: str
    facts: dict[str, str] | UnsetType = UNSET


class RungReport(Struct, omit_defaults=True):
    """A rung: its screen with its arguments and facts, and what it holds inside: the ladder of a flow, or of each tab."""

    screen: str
    values: dict[str, Value] | UnsetType = field(default=UNSET, name="with")
    facts: dict[str, str] | UnsetType = UNSET
    over: list[Over] | UnsetType = UNSET
    inside: list[RungReport] | UnsetType = UNSET
    tab: str | UnsetType = UNSET
    """The tab in front."""
    tabs: dict[str, list[RungReport]] | UnsetType = UNSET


class BackReport(Struct, omit_defaults=True):
    """What Back would do now; `lands` and `stays` name the screen, `asks` the guard."""

    does: Literal["lands", "stays", "closes", "asks", "blocked", "leaves", "goes away"]
    screen: str | UnsetType = UNSET
    values: dict[str, Value] | UnsetType = field(default=UNSET, name="with")
    asks: str | UnsetType = UNSET


class Report(Struct, omit_defaults=True):
    """Where the app is, as far as it tells."""

    phase: Literal["outside", "open", "away", "killed"]
    cover: bool | UnsetType = UNSET
    """Whether the cover of the start is seen."""
    ladder: list[RungReport] | UnsetType = UNSET
    """The rungs of the app's ladder, lowest first."""
    over: list[Over] | UnsetType = UNSET
    """The overlays of the app itself, opened last at the end."""
    asked: str | UnsetType | None = UNSET
    """The question that is open, by the name of its guard."""
    facts: dict[str, str] | UnsetType = UNSET
    bars: tuple[bool, bool] | UnsetType = UNSET
    """Whether the top bar and the bottom bar are shown."""
    header: HeaderButton | UnsetType = UNSET
    address: str | UnsetType | None = UNSET
    back: BackReport | UnsetType = UNSET


class Advance(Struct):
    """The app's clock is to go on by so many milliseconds; what falls due on the way happens."""

    by: int


class Advanced(Struct):
    """What the app's clock says then, in milliseconds since it began."""

    clock: int


class Happened(Struct, omit_defaults=True):
    """What the app did by itself: another screen is seen, a call was made, a result came; at which millisecond of its clock."""

    what: str
    at: int
    screen: str | None = None
    """Of `shown`: the screen that is seen from now on, none for none."""
    waiting: Literal["", "cover", "wait"] = ""
    """Of `shown`: whether the cover or a wait overlay is seen."""
    name: str = ""
    """Of `called` the call, of `result` the result."""
    value: Value | dict[str, Value] | None = None
    """Of `result`: what it brings, none if it was cancelled."""


METHODS: dict[str, tuple[type[Struct], type[Struct]]] = {
    "hello": (Hello, Welcome),
    "begin": (Begin, Begun),
    "do": (Do, Done),
    "where": (Struct, Report),
    "advance": (Advance, Advanced),
}
"""What each method takes and gives."""

_PLAIN: dict[type, EventName] = {
    events.Launch: "launch", events.Back: "back", events.BackBegun: "back begun", events.BackFinished: "back finished",
    events.BackCancelled: "back cancelled", events.HeaderBack: "header back", events.Home: "home", events.Reopen: "reopen",
    events.SwipedAway: "swiped away", events.Killed: "killed", events.LowMemory: "low memory", events.Remade: "remade",
}  # fmt: skip
_EVENTS: dict[str, type] = {name: kind for kind, name in _PLAIN.items()}


def event_name(event: Event) -> EventName | None:
    """Return what an event is called on the wire; None for time that passes, which is no event there."""
    match event:
        case events.Tap():
            return "tap"
        case events.Answer():
            return "answer"
        case events.Reply():
            return "reply"
        case events.OutsideChange():
            return "change"
        case events.OpenLink():
            return "link"
        case events.Wait():
            return None
        case _:
            return _PLAIN[type(event)]


def as_do(event: Event) -> Do:
    """Write an event, but for time that passes, as it goes over the wire."""
    name = event_name(event)
    assert name is not None, "time is advanced, not done"  # noqa: S101
    match event:
        case events.Tap(tap, arguments, twice):
            return Do(name, name=tap, values=dict(arguments), twice=twice)
        case events.Answer(known) | events.Back(known):
            return Do(name, name=known)
        case events.Reply(call, outcome):
            return Do(name, call=call, outcome=outcome)
        case events.OutsideChange(fact, value):
            return Do(name, fact=fact, value=value)
        case events.OpenLink(address):
            return Do(name, address=address)
        case _:
            return Do(name)


def as_event(do: Do) -> Event:
    """Read an event from the wire."""
    match do.event:
        case "tap":
            return events.Tap(do.name, tuple(do.values.items()), do.twice)
        case "answer":
            return events.Answer(do.name)
        case "back":
            return events.Back(do.name)
        case "reply":
            return events.Reply(do.call, do.outcome)
        case "change":
            return events.OutsideChange(do.fact, do.value)
        case "link":
            return events.OpenLink(do.address)
        case _:
            event: Event = _EVENTS[do.event]()
            return event


def schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of every method's parameters and result, and of the notice `happened`."""
    kinds = [kind for pair in METHODS.values() for kind in pair if kind is not Struct] + [Happened]
    of_each, definitions = msgspec.json.schema_components(kinds, ref_template="#/$defs/{name}")
    known = dict(zip(kinds, of_each, strict=True))
    nothing = {"type": "object"}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Wise Ladder and the running app",
        "methods": {
            name: {"params": known.get(takes, nothing), "result": known[gives]} for name, (takes, gives) in METHODS.items()
        },
        "notices": {"happened": {"params": known[Happened]}},
        "$defs": definitions,
    }
