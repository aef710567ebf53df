"""Random plans and random events, for properties that must hold for all of them.

All is drawn from a seed: drawn choice by choice, most plans would be too plain to meet a guard or a result.
"""

from random import Random

from hypothesis import strategies as st

from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import (
    Answer,
    Back,
    HeaderBack,
    Home,
    Killed,
    Launch,
    LowMemory,
    OpenLink,
    OutsideChange,
    Reopen,
    Reply,
    SwipedAway,
    Tap,
    Wait,
)
from wise_ladder.plan.loader import read_plan_text
from wise_ladder.semantics import Phase, State, initial_state, step
from wise_ladder.semantics.taps import taps_offered
from wise_ladder.semantics.working_state import WorkingState

SCREENS = ("hives", "hive", "diary", "entry", "settings")
FLOWS = ("home", "tour")
TAPS = ("a", "b", "c")
CONDITIONS = (
    "two in front", "one at its root",
    "", "session is valid", "not session is valid", "draft is edited", "alone", "depth over 2", "diary on the ladder",
    "beneath is hives", "session is none and (alone or beneath is not diary)",
)  # fmt: skip
STARTS = "[{if: session is valid, put: home}, {put: hives}]"
COVER = "cover: {least: 100ms}"
OVERLAYS = """
calls:
  ask: {ok: 300ms, late: {takes: 700ms, if: session is valid}}
  twice over: {again: restart, ok: 100ms}
anywhere:
  - {when: launched, do: call ask}
  - {when: ask gives ok, do: set session valid}
links:
  - {address: 'x://hive/{id}', build: [hives, hive(id=$id)]}
  - {address: 'x://tabs', build: [home, diary, entry]}
  - {address: 'x://on/top', build: [settings], mode: on top}
overlays:
  menu: {kind: drawer, of: home, moves: [{when: tap a, do: [close, push settings]}, {when: tap b, do: switch two}]}
  sure: {kind: dialog, gives: {r: [yes, no]}, moves: [{when: tap a, do: close with yes}, {when: tap b, do: pop}]}
  looked: {kind: notice, of: app, for: 300ms}
  busy: {kind: wait}
flows:
  home: {tabs: {one: hives, two: diary}, moves: [{when: tap c, do: switch two}, {when: session becomes none, do: switch one to root}]}
  tour: {start: entry, moves: [{when: left, do: set session none}]}
"""


def targets(random: Random) -> str:
    screen = random.choice((*SCREENS, *SCREENS, *FLOWS))
    return f"{screen}(id={random.choice((7, 12))})" if screen == "hive" else screen


def operations(random: Random) -> str:
    target = targets(random)
    simple = random.choice((
        f"push {target}", f"push {target} once", f"push {target} awaiting r", f"push {target} on app", f"replace {target}", "pop",
        "pop 2", f"pop to {target}", "pop to root", f"pop to {target} and drop it", f"reach {target}", f"reach {target} exactly",
        "leave", "set session valid", "set session none", "set draft edited", "return yes", "return no from tour", "close tour",
        "open sure awaiting r", "open menu", "open busy", "show looked", "close", "switch two", "switch one to root",
        "remember this place", "go to wanted else pop", "pop on app", "call ask", "call ask", "cancel ask", "call twice over",
        f"follow x://hive/{random.choice((7, 'none'))}", "follow x://tabs", "follow x://on/top",
    ))  # fmt: skip
    shape = random.randint(0, 5)
    if shape == 0:
        return f"[clear, push {target}]"
    if shape == 1 and simple in {"pop", "pop 2", f"pop to {target}"}:
        return f"{simple} else replace {target}"
    return f"[set session valid, {simple}]" if shape == 2 else simple


def guards(random: Random) -> str:
    if random.randint(0, 2):
        return ""
    condition = random.choice(("draft is edited", "session is valid"))
    does = random.choice((
        "block: yes", "do: set draft clean", "ask: {text: Leave?, answers: [{no: stay}, {yes: [set draft clean, go on]}]}",
        "ask: {text: Leave?, answers: [{no: set draft clean}, {yes: go on}]}, watches: what is put over it",
    ))  # fmt: skip
    more = random.choice(("", "ways: [system], ", "first in line: yes, ", "scope: app, ", "decides: at the press, "))
    return f", guards: [{{name: g, if: {condition}, {more}{does}}}]"


def moves(random: Random) -> str:
    found = []
    follows = (
        "shown",
        "first shown",
        "left",
        "session becomes valid",
        "session becomes none even hidden",
        "r comes back",
        "r is cancelled",
        "ask gives ok",
        "ask gives late",
        "low memory",
        "cover gone",
    )
    timer = random.choice(("400ms on ladder", "400ms shown", "900ms whatever happens"))
    for trigger in (*(f"tap {tap}" for tap in TAPS), timer, random.choice(follows), random.choice(follows)):
        if random.randint(0, 3) > (2 if trigger.startswith("tap") else 0):
            continue
        condition = random.choice(CONDITIONS)
        found.append(f"{{when: {trigger}, {f'if: {condition}, ' if condition else ''}do: {operations(random)}}}")
    return ", ".join(found)


def plan_of_seed(random: Random) -> Plan:
    policies = {
        "back at root": ("leave", "away", "stay"),
        "pop at root": ("finding", "nothing", "leave"),
        "push of a twin": ("stack", "nothing"),
        "tab back": ("first tab, then outwards", "last used", "outwards"),
        "taps in transition": ("taken", "ignored"),
        "pop meets overlay": ("goes with its rung", "closes instead"),
        "bars left unsaid": ("shown", "as they were"),
        "restore": ("all", "top", "nothing"),
        "leaving ends": ("everything", "screens"),
        "shown acts": ("before the first frame", "after it"),
        "system back": ("yes", "yes", "yes", "no"),
    }
    lines = ["app: Combfield", f"start: {random.choice((*('hives', 'home', 'tour') * 2, STARTS))}", "phones:", "  one:"]
    lines += [f"    {name}: '{random.choice(choices)}'" for name, choices in policies.items()]
    lines += ["  two: {like: one, restore: nothing, guards see: [header, aside]}"]
    kept = random.choice(("memory", "disk", "ladder"))
    lines += [f"facts: {{session: {{values: [none, valid], kept: {kept}, from outside: [none to valid, valid to none]}}}}"]
    lines += random.choices(
        ("", "", "", "", COVER, f"cover: {{least: 200ms, until: session is valid{random.choice(('', ', most: 900ms'))}}}", "")
    )
    lines += [random.choice(("unknown address: hives", "")), "memory: {warn: 20MB, dies: 40MB}", "screens:"]
    for screen in SCREENS:
        takes = ", takes: {id: {type: whole number, samples: [7, 12]}}" if screen == "hive" else ""
        arrow = random.choice(("", ", arrow: to diary", ", arrow: to hives fresh", ", header: none", ", top bar: hidden"))
        kept = random.choice(("memory", "ladder"))
        more = f"weight: 9MB, hidden: 1MB, plays: {random.choice((0, 500))}ms"
        body = f"{more}, holds: {{draft: {{values: [clean, edited], kept: {kept}}}}}, gives: {{r: [yes, no]}}{takes}{arrow}, moves: [{moves(random)}]{guards(random)}"
        lines.append(f"  {screen}: {{{body}}}")
    if random.random() < 0.5:
        remember = random.choice(("", ", remember: yes"))
        lines.append(
            f"redirects: [{{to: [diary, entry], if: session is valid, send to: settings{remember}}}, {{to: settings, if: session is none, send to: hives}}]"
        )
    return read_plan_text("\n".join(lines) + OVERLAYS).on_phone(random.choice(("one", "one", "two")))


EVENTS: tuple[Event, ...] = (
    Launch(), Launch(), *(Back() for _ in range(9)), Back("g"), HeaderBack(), HeaderBack(), Home(), Reopen(), Reopen(), Wait(150),
    Wait(400), Wait(2000), *(Answer(name) for name in ("yes", "no") for _ in range(2)), Tap("a", (), twice=True),
    Reply("ask", "ok"), Reply("ask", "ok"), Reply("ask", "late"), Reply("twice over", "ok"), Killed(), SwipedAway(), LowMemory(),
    OpenLink("x://hive/7"), OpenLink("x://hive/none"), OpenLink("x://tabs"), OpenLink("x://on/top"), OpenLink("x://nowhere"),
    *(Tap(name) for name in TAPS for _ in range(14)), OutsideChange("session", "valid"), OutsideChange("session", "none"),
)  # fmt: skip


def plans() -> st.SearchStrategy[Plan]:
    """Any plan."""
    return st.integers(0, 10**9).map(lambda seed: plan_of_seed(Random(seed)))


def events() -> st.SearchStrategy[Event]:
    """Any event."""
    return st.sampled_from(EVENTS)


def runs(length: int = 40) -> st.SearchStrategy[tuple[Plan, list[Event]]]:
    """A plan and what is done in it; it begins with a launch."""

    def run(seed: int) -> tuple[Plan, list[Event]]:
        random = Random(seed)
        plan = plan_of_seed(random)
        state, done = initial_state(plan), list[Event]()
        for _ in range(random.randint(1, length)):
            done.append(likely(random, plan, state) if random.random() < 0.7 else random.choice(EVENTS))
            state = step(plan, state, done[-1]).state
        return plan, done

    return st.integers(0, 10**9).map(run)


def likely(random: Random, plan: Plan, state: State) -> Event:
    """An event that applies: drawn blindly, most would be refused."""
    if state.phase is Phase.OUTSIDE:
        return Launch()
    if state.phase in {Phase.AWAY, Phase.KILLED}:
        return Reopen()
    if state.cover:
        return Wait(2000)
    if state.question is not None:
        return Answer(random.choice(("yes", "no")))
    taps = [Tap(trigger.name) for _, trigger in taps_offered(plan, WorkingState(plan, state).head())]
    could: tuple[Event, ...] = (*taps, *taps, Back(), Back(), Wait(400))
    return random.choice(could)
