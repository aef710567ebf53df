"""Random plans and random events, for properties that must hold for all of them."""

from hypothesis import strategies as st

from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Answer, Back, HeaderBack, Home, Launch, OutsideChange, Reopen, Tap, Wait
from wise_ladder.plan.reading import read_plan_text

SCREENS = ("hives", "hive", "diary", "entry", "settings")
FLOWS = ("home", "tour")
TAPS = ("a", "b", "c")
CONDITIONS = (
    "", "session is valid", "not session is valid", "draft is edited", "alone", "depth over 2", "diary on the ladder",
    "beneath is hives", "session is none and (alone or beneath is not diary)",
)  # fmt: skip
OVERLAYS = """
overlays:
  menu: {kind: drawer, of: home, moves: [{when: tap a, do: [close, push settings]}, {when: tap b, do: switch two}]}
  sure: {kind: dialog, gives: {r: [yes, no]}, moves: [{when: tap a, do: close with yes}, {when: tap b, do: pop}]}
  looked: {kind: notice, of: app, for: 300ms}
  busy: {kind: wait}
flows:
  home: {tabs: {one: hives, two: diary}, moves: [{when: tap c, do: switch two}, {when: session becomes none, do: switch one to root}]}
  tour: {start: entry, moves: [{when: left, do: set session none}]}
"""


@st.composite
def targets(draw: st.DrawFn) -> str:
    screen = draw(st.sampled_from((*SCREENS, *SCREENS, *FLOWS)))
    return f"{screen}(id={draw(st.sampled_from((7, 12)))})" if screen == "hive" else screen


@st.composite
def operations(draw: st.DrawFn) -> str:
    target = draw(targets())
    simple = draw(st.sampled_from((
        f"push {target}", f"push {target} once", f"push {target} awaiting r", f"push {target} on app", f"replace {target}", "pop",
        "pop 2", f"pop to {target}", "pop to root", f"pop to {target} and drop it", f"reach {target}", f"reach {target} exactly",
        "leave", "set session valid", "set session none", "set draft edited", "return yes", "return no from tour", "close tour",
        "open sure awaiting r", "open menu", "open busy", "show looked", "close", "switch two", "switch one to root",
        "remember this place", "go to wanted else pop", "pop on app",
    )))  # fmt: skip
    shape = draw(st.integers(0, 5))
    if shape == 0:
        return f"[clear, push {target}]"
    if shape == 1 and simple in {"pop", "pop 2", f"pop to {target}"}:
        return f"{simple} else replace {target}"
    return f"[set session valid, {simple}]" if shape == 2 else simple


@st.composite
def guards(draw: st.DrawFn) -> str:
    if draw(st.integers(0, 2)):
        return ""
    condition = draw(st.sampled_from(("draft is edited", "session is valid")))
    does = draw(st.sampled_from((
        "block: yes", "do: set draft clean", "ask: {text: Leave?, answers: [{no: stay}, {yes: [set draft clean, go on]}]}",
        "ask: {text: Leave?, answers: [{no: set draft clean}, {yes: go on}]}, watches: what is put over it",
    )))  # fmt: skip
    more = draw(st.sampled_from(("", "ways: [system], ", "first in line: yes, ", "scope: app, ", "decides: at the press, ")))
    return f", guards: [{{name: g, if: {condition}, {more}{does}}}]"


@st.composite
def moves(draw: st.DrawFn) -> str:
    found = []
    follows = (
        "shown",
        "first shown",
        "left",
        "session becomes valid",
        "session becomes none even hidden",
        "r comes back",
        "r is cancelled",
    )
    for trigger in (*(f"tap {tap}" for tap in TAPS), "400ms on ladder", draw(st.sampled_from(follows))):
        if draw(st.integers(0, 3)) > (2 if trigger.startswith("tap") else 0):
            continue
        condition = draw(st.sampled_from(CONDITIONS))
        found.append(f"{{when: {trigger}, {f'if: {condition}, ' if condition else ''}do: {draw(operations())}}}")
    return ", ".join(found)


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    policies = {
        "back at root": ("leave", "away", "stay"),
        "pop at root": ("finding", "nothing", "leave"),
        "push of a twin": ("stack", "nothing"),
        "tab back": ("first tab, then outwards", "last used", "outwards"),
        "taps in transition": ("taken", "ignored"),
        "pop meets overlay": ("goes with its rung", "closes instead"),
        "bars left unsaid": ("shown", "as they were"),
    }
    lines = ["app: Combfield", f"start: {draw(st.sampled_from(('hives', 'home', 'tour')))}", "policies:"]
    lines += [f"  {name}: '{draw(st.sampled_from(choices))}'" for name, choices in policies.items()]
    lines += ["facts: {session: {values: [none, valid], from outside: [none to valid, valid to none]}}", "screens:"]
    for screen in SCREENS:
        takes = ", takes: {id: {type: whole number, samples: [7, 12]}}" if screen == "hive" else ""
        arrow = draw(
            st.sampled_from(("", ", arrow: to diary", ", arrow: to hives fresh", ", header: none", ", top bar: hidden"))
        )
        body = f"holds: {{draft: [clean, edited]}}, gives: {{r: [yes, no]}}{takes}{arrow}, moves: [{draw(moves())}]{draw(guards())}"
        lines.append(f"  {screen}: {{{body}}}")
    if draw(st.booleans()):
        remember = draw(st.sampled_from(("", ", remember: yes")))
        lines.append(
            f"redirects: [{{to: [diary, entry], if: session is valid, send to: settings{remember}}}, {{to: settings, if: session is none, send to: hives}}]"
        )
    return read_plan_text("\n".join(lines) + OVERLAYS)


def events() -> st.SearchStrategy[Event]:
    return st.sampled_from((
        Launch(), Launch(), Back(), Back(), Back("g"), HeaderBack(), Home(), Reopen(), Wait(150), Wait(400), Wait(2000),
        Answer("yes"), Answer("no"), Tap("a", (), twice=True), *(Tap(name) for name in TAPS for _ in range(5)),
        OutsideChange("session", "valid"), OutsideChange("session", "none"),
    ))  # fmt: skip
