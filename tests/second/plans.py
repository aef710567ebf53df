"""Random plans in which everything that a plan can say is said somewhere, and events for them."""

from __future__ import annotations

from random import Random

from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import (
    Answer,
    Back,
    BackBegun,
    BackCancelled,
    BackFinished,
    HeaderBack,
    Home,
    Killed,
    Launch,
    LowMemory,
    OpenLink,
    OutsideChange,
    Remade,
    Reopen,
    Reply,
    SwipedAway,
    Tap,
    Wait,
)  # fmt: skip
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.semantics import Phase, State
from wise_ladder.semantics.state import visible_top
from wise_ladder.semantics.taps import taps_offered
from wise_ladder.semantics.working_state import WorkingState

SCREENS = ("hives", "hive", "diary", "entry", "settings")
FOREIGN = ("camera", "bank")
FLOWS = ("home", "tour", "yard")
OVERLAYS = ("menu", "sure", "sheet", "busy", "looked", "note", "top")
TAPS = ("a", "b", "c")
POLICIES = {
    "back at root": ("leave", "leave", "away", "stay"),
    "pop at root": ("finding", "nothing", "leave"),
    "push of a twin": ("stack", "stack", "nothing"),
    "tab back": ("first tab, then outwards", "last used", "outwards"),
    "taps in transition": ("taken", "ignored"),
    "pop meets overlay": ("goes with its rung", "goes with its rung", "closes instead"),
    "bars left unsaid": ("shown", "as they were"),
    "restore": ("all", "top", "nothing"),
    "leaving ends": ("everything", "screens"),
    "shown acts": ("before the first frame", "before the first frame", "after it"),
    "system back": ("yes", "yes", "yes", "yes", "yes", "no"),
    "cover after death": ("yes", "no"),
    "shown when remade": ("yes", "yes", "no"),
    "pending when remade": ("goes on", "is lost"),
    "question when remade": ("stays", "goes"),
    "back gesture": ("yes", "yes", "no"),
    "results of other apps": ("survive death", "survive death", "are lost"),
}
CONDITIONS = (
    "session is valid", "not session is valid", "alone", "not alone", "depth over 2", "diary on the ladder", "home on the ladder",
    "beneath is hives", "beneath is not diary", "mood is up", "two in front", "one in front and one at its root", "not left at its root", "soon runs", "session is none and (alone or beneath is entry)",
)  # fmt: skip
WAYS = ("system", "header", "in-app", "aside", "by itself")
TRIGGERS = (
    "shown", "first shown", "left", "session becomes valid", "session becomes none", "session becomes none even hidden",
    "mood becomes up even hidden", "mood becomes down", "ask gives ok", "ask gives late", "twice over gives ok", "low memory",
    "cover gone", "soon runs out", "soon runs out", "idle runs out", "300ms on ladder", "400ms shown", "900ms whatever happens", "700ms on ladder",
)  # fmt: skip
RESULTS = (
    "r comes back", "r is cancelled", "q comes back", "q is cancelled", "n comes back", "n is cancelled", "p comes back",
    "d comes back",
)  # fmt: skip
GIVES = (
    "gives: {r: [yes, no], q: [yes], n: {type: whole number, samples: [7, 12]}, d: [clean, edited, none, valid], "
    "p: {parts: {k: {type: whole number, samples: [7, 12]}, m: [up, down]}}}"
)
USES = {
    "n": ("push hive(id=$n)", "replace hive(id=$n)", "return $n"),
    "p": ("push hive(id=$k)", "[set mood $m, push hive(id=$k)]", "'return (k=$k, m=$m)'", "set mood $m"),
}
ASKS = {"n": ("n is 7",), "p": ("k is 7", "m is up and k is 12"), "d": ("d is edited", "d is valid")}
LINKS = """
links:
  - {address: 'x://hive/{id}', build: [hives, hive(id=$id)]}
  - {address: 'x://tabs', build: [home, FIRST, entry]}
  - {address: 'x://tour', build: [hives, tour]}
  - {address: 'x://on/top', build: [settings], mode: on top}
  - {address: 'x://top/{id}', build: [hives, hive(id=$id)], mode: on top}
  - {address: 'x://over', build: [home, diary], mode: over all}
  - {address: 'x://over/tabs', build: [home, yard, settings]}
  - {address: 'x://reach', build: [diary], mode: reach}
"""


def target(random: Random) -> str:
    screen = random.choice((*SCREENS, *SCREENS, *SCREENS, *FLOWS, *FOREIGN))
    return f"{screen}(id={random.choice((7, 12))})" if screen == "hive" else screen


def operation(random: Random, place: str) -> str:
    to = target(random)
    own: tuple[str, ...] = () if not place else ("set draft edited", "set draft clean")
    own += ("take back", "take back") if place in OVERLAYS else ()
    number = "$id" if place == "hive" else "12"
    drawn: str = random.choice((
        f"push {to}", f"push {to}", f"push {to}", f"push {to} once", *[f"push {to} awaiting r"] * 4, f"push {to} awaiting q", *[f"push {to} awaiting n"] * 2, f"push {to} awaiting p", f"push {to} awaiting d",
        f"push {to} on app", f"push {to} awaiting r on app", f"push {to} on home", f"push {to} on tour", f"replace {to}", f"replace {to}", f"replace {to} on app", "pop", "pop",
        "pop 2", "pop 3", f"pop else push {to}", "pop on app", "pop on home", "pop 2 on app", f"pop to {to}", f"pop to {to} else pop", f"pop to {to} and drop it",
        "pop to root", "pop to root on app", f"reach {to}", f"reach {to} exactly", f"[clear, push {to}]", f"[clear on app, push {to} on app]",
        "leave", "set session valid", "set session none", "set mood up", "set mood down", *own, *own, *["return yes"] * 5, *[f"return {number}"] * 3, f"return {number} from tour", f"'return (k={number}, m=up)'", "'return (k=7, m=$mood) from yard'", "return $session", *["return $draft"] * bool(own), "return no from tour", "return yes from yard",
        "close tour", "close home", "close yard", *["open sure awaiting r"] * 3, "open sure awaiting q", "open sure", "open menu", "open sheet", "open sheet", "open busy", "show looked", "show note",
        "show top", "close", "close sure", *["close with yes"] * 3, "close with 7", "'close with (k=12, m=down)'", *["close with $draft"] * bool(own), "open sure awaiting p", "close busy", "switch one", "switch two", "switch two", "switch one to root", "switch left", "switch right",
        "remember this place", "go to wanted", f"go to wanted else push {to}", "call ask", "call ask", "call twice over", "call once", "cancel ask", "start soon", "start idle", "stop soon",
        "follow x://hive/7", "follow x://tabs", "follow x://on/top", "follow x://reach", "follow x://nowhere",
    ))  # fmt: skip
    return drawn


DROPS, PUTS = ("pop", "return", "clear"), ("push", "replace", "reach", "go to")


def operations(random: Random, place: str) -> str:
    """Draw one operation or two; on one ladder a move drops once and puts afterwards."""
    done = operation(random, place)
    if done.startswith("[") or random.random() < 0.5:
        return done
    first = random.choice(
        (
            "set session valid",
            "set mood down",
            "close",
            "pop",
            "switch two",
            "call ask",
            operation(random, place),
            operation(random, place),
        )
    )
    wrong = first.startswith("[") or (done.lstrip("'").startswith(DROPS) and first.lstrip("'").startswith((*DROPS, *PUTS)))
    return done if wrong else f"[{first}, {done}]"


def guard(random: Random, place: str, number: int) -> str:
    own = () if not place else ("draft is edited",) * 2
    condition = random.choice((*own, *own, *CONDITIONS))
    # What a guard does cannot pass on an argument.
    act = operations(random, place).replace("$id", "7")
    setting = "set draft clean" if own else "set mood down"
    does = random.choice((
        "block: yes", f"do: {setting}", f"do: {act}", f"ask: {{text: Leave?, answers: [{{no: stay}}, {{yes: [{setting}, go on]}}]}}",
        "ask: {text: Leave?, answers: [{no: stay}, {yes: go on}]}", f"ask: {{text: Sure?, answers: [{{no: {act}}}, {{yes: [set session none, show looked, go on]}}]}}",
    ))  # fmt: skip
    more = random.choice(
        (
            "",
            "",
            "",
            f"ways: [{', '.join(random.sample(WAYS, random.randint(1, 5)))}], ",
            "ways: [by itself, in-app], ",
            "first in line: yes, ",
            "scope: app, ",
            "decides: at the press, ",
            "first in line: yes, scope: app, ",
        )
    )
    watches = random.choice(("", "", "", "", ", watches: everything inside", ", watches: what is put over it"))
    return f"{{name: g{number}{place}, if: {condition}, {more}{does}{watches}}}"


def moves(random: Random, place: str, *, count: int = 6) -> str:
    found = []
    results = () if place in OVERLAYS or not place else RESULTS * 2
    fixed = [f"tap {tap}" for tap in TAPS]
    for trigger in (*fixed, *results[:2], *random.choices((*TRIGGERS, *results), k=count)):
        if not place and trigger.split()[0] not in {"tap", "session", "mood", "ask", "twice", "low", "cover", "soon", "idle"}:
            continue
        if random.random() < (0.15 if trigger.startswith(("tap", "r ", "n ", "p ", "d ")) else 0.5):
            continue
        came = trigger.removesuffix(" comes back")
        uses, own = USES.get(came, ()), ("draft is edited",) * (2 if place else 0)
        asked = (*CONDITIONS, *own, *ASKS.get(came, ()) * 4)
        condition = random.choice(asked) if random.random() < 0.35 else ""
        does = random.choice(uses) if uses and random.random() < 0.7 else ""
        found.append(
            f"{{when: {trigger.replace(' even hidden', '') if not place or place in OVERLAYS else trigger}, {f'if: {condition}, ' if condition else ''}do: {does or operations(random, place)}}}"
        )
    return f"moves: [{', '.join(found)}]"


def guards(random: Random, place: str, chance: float) -> str:
    count = 0 if random.random() > chance else random.randint(1, 2)
    return f", guards: [{', '.join(guard(random, place, number) for number in range(count))}]" if count else ""


def text_of(random: Random) -> str:
    start = random.choice(("hives", "hives", "home", "tour", "yard", "[{if: session is valid, put: home}, {put: hives}]"))
    lines = ["app: Combfield", f"start: {start}", "phones:", "  one:"]
    lines += [f"    {name}: '{random.choice(choices)}'" for name, choices in POLICIES.items()]
    if random.random() < 0.5:
        lines.append(f"    guards see: [{', '.join(random.sample(WAYS, random.randint(3, 5)))}]")
    lines += ["facts:"]
    for name, values in (("session", "[none, valid]"), ("mood", "[up, down]")):
        kept = random.choice(("memory", "memory", "disk", "ladder"))
        outside = random.choice(
            (
                "",
                f", from outside: [{values[1:-1].replace(', ', ' to ')}]",
                ", from outside: [none to valid, valid to none]" if name == "session" else "",
            )
        )
        lines.append(f"  {name}: {{values: {values}, kept: {kept}{outside}}}")
    lines.append(
        random.choice(
            (
                "",
                "",
                "",
                "cover: {least: 100ms}",
                f"cover: {{least: 200ms, until: session is valid{random.choice(('', ', most: 900ms'))}}}",
            )
        )
    )
    lines += ["unknown address: hives" if random.random() < 0.5 else "", "screens:"]
    for screen in SCREENS:
        takes = ", takes: {id: {type: whole number, samples: [7, 12]}}" if screen == "hive" else ""
        arrow = random.choice(
            (
                "",
                "",
                ", arrow: to diary",
                ", arrow: to hives fresh",
                ", header: none",
                ", top bar: hidden",
                ", header: menu, menu: menu",
                ", bottom bar: as they were",
                f", arrow: [{{if: session is valid, to: {target(random)}}}, {{to: entry}}]",
            )
        )
        kept = random.choice(("none", "memory", "ladder"))
        most = random.choice(("", "", "", ", drop oldest over: 1", ", drop oldest over: 2"))
        lines.append(
            f"  {screen}: {{plays: {random.choice((0, 500))}ms, holds: {{draft: {{values: [clean, edited], kept: {kept}}}}}, {GIVES}{takes}{arrow}{most}, {moves(random, screen)}{guards(random, screen, 0.4)}}}"
        )
    for screen, apart in zip(FOREIGN, ("no", "yes"), strict=True):
        taps = "{when: tap a, do: return yes}, {when: tap b, do: return 7}, {when: tap c, do: pop}"
        lines.append(f"  {screen}: {{of: another app, apart: {apart}, {GIVES}, moves: [{taps}]}}")
    lines.append("flows:")
    first = [
        random.choice((*SCREENS, "tour") if name != "tour" else SCREENS) for name in ("home", "home", "tour", "yard", "yard")
    ]
    first = [f"{name}(id=7)" if name == "hive" else name for name in first]
    own = f"holds: {{draft: [clean, edited]}}, {GIVES}"
    lines.append(
        f"  home: {{tabs: {{one: {first[0]}, two: {first[1]}}}, {own}, {moves(random, 'home')}{guards(random, 'home', 0.3)}}}"
    )
    lines.append(f"  tour: {{start: {first[2]}, {own}, {moves(random, 'tour')}{guards(random, 'tour', 0.3)}}}")
    lines.append(
        f"  yard: {{tabs: {{left: {first[3]}, right: {first[4]}}}, {own}, {moves(random, 'yard')}{guards(random, 'yard', 0.3)}}}"
    )
    lines.append("overlays:")
    kinds = {
        "menu": "drawer, of: home",
        "sure": "dialog",
        "sheet": random.choice(("sheet, of: tour", "sheet, of: yard", "sheet")),
        "busy": f"wait{random.choice(('', ', back: closes'))}",
        "looked": "notice, of: app, for: 300ms",
        "note": random.choice(("notice, for: 500ms", "bar")),
        "top": f"dialog, of: app, back: {random.choice(('closes', 'passes', 'blocked'))}",
    }
    lines += [
        f"  {name}: {{kind: {kind}, holds: {{draft: [clean, edited]}}, {GIVES}, {moves(random, name, count=4)}{guards(random, name, 0.2)}}}"
        for name, kind in kinds.items()
    ]
    lines += [
        "timers: {soon: 350ms, idle: {after: 700ms, anew at each touch: yes}}",
        "calls:",
        "  ask: {ok: 300ms, late: {takes: 700ms, if: session is valid}}",
        "  twice over: {again: restart, ok: 100ms}",
        "  once: {again: ignore, ok: 100ms}",
    ]
    lines.append(
        f"anywhere: [{{when: launched, do: {random.choice(('call ask', 'call ask', 'set mood down'))}}}, {{when: ask gives ok, do: set session valid}}, {moves(random, '').removeprefix('moves: [')}"
    )
    lines += [f"guards: [{', '.join(guard(random, '', number) for number in range(random.choice((0, 0, 0, 1, 2))))}]"]
    redirects = [
        f"{{to: [{', '.join(random.sample((*SCREENS, *FLOWS), 2))}], if: {random.choice(CONDITIONS)}, send to: {target(random)}{random.choice(('', ', remember: yes', ', remember: yes'))}}}"
        for _ in range(random.choice((0, 0, 1, 2)))
    ]
    links = LINKS.replace("FIRST", random.choice(first[:2]))
    return "\n".join([*lines, f"redirects: [{', '.join(redirects)}]"]) + links


def wide_plan(random: Random) -> Plan:
    return read_plan_text(text_of(random)).on_phone("one")


EVENTS: tuple[Event, ...] = (
    *(Back() for _ in range(9)), *(Back(f"g{n}{place}") for n in (0, 1) for place in ("hives", "diary", "")), BackBegun(), BackBegun(), BackBegun(), HeaderBack(), HeaderBack(), HeaderBack(), Home(), Reopen(), Wait(150),
    Wait(400), Wait(2000), *(Answer(name) for name in ("yes", "no") for _ in range(2)), *(Tap(tap, (), twice=True) for tap in TAPS),
    Reply("ask", "ok"), Reply("ask", "late"), Reply("twice over", "ok"), Reply("once", "ok"), Killed(), SwipedAway(), LowMemory(), Remade(), Remade(), Remade(),
    OpenLink("x://hive/7"), OpenLink("x://hive/none"), OpenLink("x://tabs"), OpenLink("x://tour"), OpenLink("x://on/top"), OpenLink("x://top/12"), OpenLink("x://reach"), OpenLink("x://over"), OpenLink("x://over/tabs"), OpenLink("x://nowhere"),
    *(Tap(name) for name in TAPS for _ in range(4)), OutsideChange("session", "valid"), OutsideChange("session", "none"), OutsideChange("mood", "down"),
)  # fmt: skip


def likely(random: Random, plan: Plan, state: State) -> Event:
    """Draw an event, most often one that applies."""
    if random.random() < 0.3:
        return random.choice(EVENTS)
    if state.phase is Phase.OUTSIDE:
        return random.choice(
            (Launch(), Launch(), Launch(), OpenLink("x://hive/7"), OpenLink("x://top/7"), OutsideChange("mood", "down"))
        )
    if state.phase in {Phase.AWAY, Phase.KILLED}:
        return random.choice((Reopen(), Reopen(), OpenLink("x://tabs"), OpenLink("x://on/top"), Wait(1000), Killed()))
    if state.cover:
        return random.choice(
            (
                Wait(2000),
                Wait(2000),
                Wait(150),
                OpenLink("x://on/top"),
                OpenLink("x://tabs"),
                Reply("ask", "ok"),
                Home(),
                Back(),
            )
        )
    if state.question is not None:
        return random.choice((Answer("yes"), Answer("yes"), Answer("no"), OpenLink("x://hive/7"), Wait(400)))
    if state.begun is not None:
        ends = (BackFinished(), BackFinished(), BackCancelled())
        return random.choice((*ends, Wait(400), Wait(300), Reply("ask", "ok"), OutsideChange("session", "valid"), Back()))
    top = visible_top(state)
    if top is not None and plan.screen[top.data.screen].foreign and random.random() < 0.5:
        return random.choice((Killed(), Killed(), Home(), Back(), HeaderBack(), OpenLink("x://on/top"), Remade()))
    taps = [
        Tap(trigger.name, (), twice=random.random() < 0.15)
        for _, trigger in taps_offered(plan, WorkingState(plan, state).head())
    ]
    likeliest: list[Event] = [*taps, *taps, Back(), Back(), HeaderBack(), Wait(400), Wait(300)]
    return random.choice(likeliest)
