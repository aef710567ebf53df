"""Random plans and random events, for properties that must hold for all of them."""

from hypothesis import strategies as st

from wise_ladder.plan import Event, Plan
from wise_ladder.plan.events import Back, HeaderBack, Home, Launch, OutsideChange, Reopen, Tap, Wait
from wise_ladder.plan.reading import read_plan_text

SCREENS = ("hives", "hive", "diary", "entry", "settings")
TAPS = ("a", "b", "c")
CONDITIONS = (
    "", "session is valid", "not session is valid", "draft is edited", "alone", "depth over 2", "diary on the ladder",
    "beneath is hives", "session is none and (alone or beneath is not diary)",
)  # fmt: skip


@st.composite
def targets(draw: st.DrawFn) -> str:
    screen = draw(st.sampled_from(SCREENS))
    return f"{screen}(id={draw(st.sampled_from((7, 12)))})" if screen == "hive" else screen


@st.composite
def operations(draw: st.DrawFn) -> str:
    target = draw(targets())
    simple = draw(st.sampled_from((
        f"push {target}", f"push {target} once", f"replace {target}", "pop", "pop 2", f"pop to {target}", "pop to root",
        f"pop to {target} and drop it", f"reach {target}", f"reach {target} exactly", "leave", "set session valid",
        "set session none", "set draft edited",
    )))  # fmt: skip
    shape = draw(st.integers(0, 5))
    if shape == 0:
        return f"[clear, push {target}]"
    if shape == 1 and simple.startswith("pop") and simple != "pop to root":
        return f"{simple} else replace {target}"
    return f"[set session valid, {simple}]" if shape == 2 else simple


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    policy = st.sampled_from
    lines = [
        "app: Combfield", "start: hives", "facts: {session: {values: [none, valid], from outside: [none to valid, valid to none]}}",
        f"policies: {{back at root: {draw(policy(('leave', 'away', 'stay')))}, pop at root: "
        f"{draw(policy(('finding', 'nothing', 'leave')))}, push of a twin: {draw(policy(('stack', 'nothing')))}}}",
        "screens:",
    ]  # fmt: skip
    for screen in SCREENS:
        takes = ", takes: {id: {type: whole number, samples: [7, 12]}}" if screen == "hive" else ""
        moves = []
        for trigger in (*(f"tap {tap}" for tap in TAPS), "400ms on ladder"):
            condition = draw(st.sampled_from(CONDITIONS))
            if draw(st.integers(0, 3)) > (2 if trigger.startswith("tap") else 0):
                continue
            moves.append(f"{{when: {trigger}, {f'if: {condition}, ' if condition else ''}do: {draw(operations())}}}")
        lines.append(f"  {screen}: {{holds: {{draft: [clean, edited]}}{takes}, moves: [{', '.join(moves)}]}}")
    return read_plan_text("\n".join(lines))


def events() -> st.SearchStrategy[Event]:
    return st.sampled_from((
        Launch(), Launch(), Back(), HeaderBack(), Home(), Reopen(), Wait(150), Wait(400), Wait(2000),
        *(Tap(name) for name in TAPS for _ in range(4)), OutsideChange("session", "valid"), OutsideChange("session", "none"),
    ))  # fmt: skip
