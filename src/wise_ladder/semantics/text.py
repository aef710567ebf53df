"""Faces and happenings in plain words: the one place the screen, the tape and the messages take them from."""

from __future__ import annotations

from typing import TYPE_CHECKING, assert_never

from wise_ladder.plan.values import value_words
from wise_ladder.semantics import log
from wise_ladder.semantics.state import all_rungs, visible_screens

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.plan.operations import LeaveCause
    from wise_ladder.plan.values import Arguments
    from wise_ladder.semantics.log import LogEntry
    from wise_ladder.semantics.state import Deadline, Promise, RungData, State


def argument_words(data: RungData) -> str:
    """Write a rung's arguments for reading: `id 7`."""
    return ", ".join(f"{name} {value}" for name, value in data.arguments)


def rung_text(data: RungData | None) -> str:
    """Write a rung for reading: `hive id 7`; the ground for none."""
    return "the ground" if data is None else screen_words(data.screen, data.arguments)


def screen_words(screen: str, arguments: Arguments) -> str:
    """Write a screen with arguments for reading."""
    return " ".join([screen, ", ".join(f"{name} {value}" for name, value in arguments)]).strip()


def ladder_words(state: State) -> str:
    """Write the screens of the visible ladder, lowest first: `hives > hive id 7`; nothing if there is none."""
    return " > ".join(rung_text(rung.data) for rung in visible_screens(state.ladder))


def named(name: str) -> str:
    """Write the name of something that is not a screen: "yard menu"."""
    return f'"{name}"'


def duration_text(time: int) -> str:
    """Write a stretch of time for reading: 300 ms, 1.2 s."""
    return f"{time} ms" if time < 1000 else f"{time / 1000:.2f}".rstrip("0").rstrip(".") + " s"


def clock_words(time: int) -> str:
    """Write a moment: 4.20 s."""
    return f"{time / 1000:.2f} s"


def entry_text(happening: LogEntry) -> str:
    """Return one entry of the log as a sentence."""
    match happening:
        case log.Came(rung):
            return f"{rung_text(rung.data)} came"
        case log.Went(rung):
            return f"{rung_text(rung.data)} went"
        case log.Replaced(gone, came):
            return f"{rung_text(came.data)} in place of {rung_text(gone.data)}"
        case log.ArgumentsChanged(was, now):
            return f"{rung_text(was)} is now {rung_text(now)}"
        case log.FactChanged(name, _, now, _):
            return f"{name} {now}"
        case log.TimerStarted(data, after):
            return f"timer of {rung_text(data)} runs, due in {duration_text(after)}"
        case log.TimerCancelled(data, _):
            return f"timer of {rung_text(data)} cancelled"
        case log.TimerFired(whose, after):
            return f"timer of {whose} fired after {duration_text(after)}"
        case log.Opened(overlay):
            return f"{overlay} opened"
        case log.Closed(overlay, by_itself):
            return f"{overlay} went by itself" if by_itself else f"{overlay} closed"
        case log.Switched(_, tab):
            return f"tab {tab} in front"
        case log.Redirected(wanted, to):
            return f"{wanted} sent to {to}"
        case log.Remembered(data):
            return f"{rung_text(data)} remembered"
        case log.Forgotten(why):
            return f"wanted place forgotten: {why}"
        case log.Awaits(name, screen):
            return f"{screen} awaits {name}"
        case log.ResultCame(name, value, screen):
            return f"{screen} got {name}: {'cancelled' if value is None else value_words(value)}"
        case log.ResultDropped(name, screen):
            return f"{name} dropped: {screen} is gone"
        case _:
            return _phone_text(happening)


def _phone_text(happening: log.PhoneEntry | log.GuardEntry) -> str:
    match happening:
        case log.CallMade(call):
            return f"{call} is pending"
        case log.CallDropped(call):
            return f"{call} cancelled"
        case log.Replied(call, outcome):
            return f"{call}: {outcome}"
        case log.ReplyDropped(call, outcome):
            return f"{outcome} of {call} reaches no screen"
        case log.CoverUp():
            return "the cover is up"
        case log.CoverGone(over):
            return "the cover has gone, its time ran out" if over else "the cover has gone"
        case log.LinkFollowed(address):
            return f"{address} opened"
        case log.UnknownAddress(address, why):
            return f"{address} leads nowhere: {why}"
        case log.AppKilled(crash):
            return "the app crashed" if crash else "the app was killed"
        case log.Restored(what):
            return {"all": "the ladder came back", "top": "the top came back", "nothing": "nothing came back"}[what]
        case log.MemoryLow(freed):
            if not freed:
                return "memory is low, no hidden screen is there to free"
            if freed == 1:
                return "memory is low, 1 hidden screen freed what it held"
            return f"memory is low, {freed} hidden screens freed what they held"
        case log.BackPromised(promise):
            return f"Back is begun, and would {promise_text(promise)}"
        case log.BackTakenBack():
            return "Back was cancelled"
        case log.ScreensRemade():
            return "the screens are remade"
        case log.Launched(app):
            return f"{app} starts"
        case log.WentToBackground(by_back):
            return "Back puts the app in the background" if by_back else "the app is in the background"
        case log.CameToFront(app):
            return f"{app} is in front again"
        case log.AppLeft(cause):
            return f"the app was left {_leave_text(cause)}"
        case log.SeenFor(data, since, until, look):
            what = "the cover" if look == "cover" else f"{rung_text(data)}, waiting," if look else rung_text(data)
            return f"saw {what} for {duration_text(until - since)}"
        case _:
            return _guard_text(happening)


def _guard_text(happening: log.GuardEntry) -> str:
    match happening:
        case log.QuestionOpened(guard, text):
            return f"asks “{text or guard}”"
        case log.Answered(_, answer):
            return f"answered: {answer}"
        case log.QuestionGone(guard):
            return f"the question of {guard} went unanswered"
        case log.Blocked(guard):
            return f"{guard} blocks"
        case log.GuardActed(guard):
            return f"{guard} acts instead"
        case log.GuardSkipped(guard, screen):
            return f"{screen} went without asking {guard}"
        case log.NoEffect(why):
            return f"nothing: {why}"
        case log.Finding(name, words):
            return f"{name}: {words}"


def promise_text(promise: Promise) -> str:
    """Say what Back would do, or did."""
    where = screen_words(promise.screen, promise.arguments)
    return {
        "lands": f"land on {where}",
        "stays": "stay",
        "closes": "close what is over the screen",
        "asks": f"ask {promise.screen}",
        "blocked": "be blocked",
        "leaves": "leave the app",
        "goes away": "put the app in the background",
    }[promise.outcome]


def pending_words(state: State, timer: Deadline) -> str:
    """Say what is due."""
    match timer.kind:
        case "cover least":
            return "cover may go"
        case "cover most":
            return "cover must go"
        case "reply":
            call = next(call for call in state.calls if call.number == timer.serial)
            return f"{call.name}: {call.reply}"
        case "overlay":
            layers = (*state.overlays, *(layer for rung in all_rungs(state.ladder) for layer in rung.overlays))
            return f"{next(layer.name for layer in layers if layer.serial == timer.serial)} goes"
        case "first frame" | "frame":
            return "the first frame"
        case "of the app":
            return f"{timer.data.screen if timer.data else ''} runs out"
        case "on ladder" | "shown" | "whatever happens":
            rung = next((rung for rung in all_rungs(state.ladder) if rung.serial == timer.serial), None)
            return f"{rung_text(rung.data if rung else timer.data)} timer"


def log_text(happened: Iterable[LogEntry]) -> str:
    """Report a step in one line: findings first, then the ladder, then facts; many rungs that went are counted."""
    shown = sorted((happening for happening in happened if not isinstance(happening, _QUIET)), key=_rank)
    went = sum(isinstance(happening, log.Went) for happening in shown)
    words: list[str] = []
    for happening in shown:
        if isinstance(happening, log.Launched) and len(shown) > 1:
            continue
        if isinstance(happening, log.Went) and went > 2:
            words += [f"{went} rungs went"]
            went = 0
        elif not isinstance(happening, log.Went) or went:
            words.append(entry_text(happening))
    return ", ".join(words)


_QUIET = (log.Awaits, log.TimerStarted, log.TimerCancelled, log.TimerFired, log.SeenFor)
_RANKS: dict[type, int] = {log.Finding: 0, log.Came: 1, log.Replaced: 1, log.Went: 2}


def _rank(happening: LogEntry) -> int:
    return _RANKS.get(type(happening), 3)


def _leave_text(cause: LeaveCause) -> str:
    match cause:
        case "back":
            return "by Back"
        case "pop":
            return "by a pop at the root"
        case "own code":
            return "by its own code"
        case "empty":
            return "because nothing is on its ladder"
        case "swiped away":
            return "by swiping it away"
        case _:
            assert_never(cause)
