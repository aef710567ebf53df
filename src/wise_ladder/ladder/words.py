"""Faces and happenings in plain words: the one place the screen, the tape and the messages take them from."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.ladder import happenings
from wise_ladder.ladder.state import all_rungs

if TYPE_CHECKING:
    from collections.abc import Iterable

    from wise_ladder.ladder.happenings import Happening
    from wise_ladder.ladder.state import Face, Pending, State
    from wise_ladder.plan.values import Arguments


def argument_words(face: Face) -> str:
    """Write a rung's arguments for reading: `id 7`."""
    return ", ".join(f"{name} {value}" for name, value in face.arguments)


def face_words(face: Face | None) -> str:
    """Write a rung for reading: `hive id 7`; the ground for none."""
    return "the ground" if face is None else screen_words(face.screen, face.arguments)


def screen_words(screen: str, arguments: Arguments) -> str:
    """Write a screen with arguments for reading."""
    return " ".join([screen, ", ".join(f"{name} {value}" for name, value in arguments)]).strip()


def named(name: str) -> str:
    """Write the name of something that is no screen: "yard menu"."""
    return f'"{name}"'


def length_words(time: int) -> str:
    """Write a stretch of time for reading: 300 ms, 1.2 s."""
    return f"{time} ms" if time < 1000 else f"{time / 1000:.2f}".rstrip("0").rstrip(".") + " s"


def clock_words(time: int) -> str:
    """Write a moment: 4.20 s."""
    return f"{time / 1000:.2f} s"


def happening_words(happening: Happening) -> str:
    """Tell one thing that happened."""
    match happening:
        case happenings.Came(rung):
            return f"{face_words(rung.face)} came"
        case happenings.Went(rung):
            return f"{face_words(rung.face)} went"
        case happenings.Replaced(gone, came):
            return f"{face_words(came.face)} in place of {face_words(gone.face)}"
        case happenings.Handed(was, now):
            return f"{face_words(was)} is {face_words(now)} now"
        case happenings.FactTurned(name, _, now, _):
            return f"{name} {now}"
        case happenings.TimerStarted(face, after):
            return f"timer of {face_words(face)} runs, due in {length_words(after)}"
        case happenings.TimerCancelled(face, _):
            return f"timer of {face_words(face)} cancelled"
        case happenings.TimerFired(whose, after):
            return f"timer of {whose} fired after {length_words(after)}"
        case happenings.CallMade(call):
            return f"{call} is under way"
        case happenings.CallDropped(call):
            return f"{call} given up"
        case happenings.Replied(call, outcome):
            return f"{call}: {outcome}"
        case happenings.ReplyDropped(call, outcome):
            return f"{outcome} of {call} reaches nobody"
        case happenings.CoverUp():
            return "the cover is up"
        case happenings.CoverGone(over):
            return "the cover has gone, its time was over" if over else "the cover has gone"
        case happenings.LinkFollowed(address):
            return f"{address} opened"
        case happenings.UnknownAddress(address, why):
            return f"{address} leads nowhere: {why}"
        case happenings.Killed(crash):
            return "the app crashed" if crash else "the phone ended the app"
        case happenings.Restored(what):
            return {"all": "the ladder came back", "top": "the top came back", "nothing": "nothing came back"}[what]
        case happenings.MemoryLow(freed):
            return f"the phone is short of memory, {freed} hidden screens gave up what they held"
        case happenings.Opened(overlay):
            return f"{overlay} opened"
        case happenings.Closed(overlay, by_itself):
            return f"{overlay} went by itself" if by_itself else f"{overlay} closed"
        case happenings.Switched(_, tab):
            return f"tab {tab} in front"
        case happenings.Redirected(wanted, to):
            return f"{wanted} sent to {to}"
        case happenings.Remembered(face):
            return f"{face_words(face)} remembered"
        case happenings.Forgotten(why):
            return f"wanted place forgotten: {why}"
        case happenings.Asked(guard, text):
            return f"asks “{text or guard}”"
        case happenings.Answered(_, answer):
            return f"answered: {answer}"
        case happenings.QuestionGone(guard):
            return f"the question of {guard} went unanswered"
        case happenings.Blocked(guard):
            return f"{guard} blocks"
        case happenings.DidInstead(guard):
            return f"{guard} does something else instead"
        case happenings.LeftUnasked(guard, screen):
            return f"{screen} went without {guard} being asked"
        case happenings.Awaits(name, screen):
            return f"{screen} awaits {name}"
        case happenings.ResultCame(name, value, screen):
            return f"{screen} got {name}: {value or 'cancelled'}"
        case happenings.ResultDropped(name, screen):
            return f"{name} dropped: {screen} is gone"
        case happenings.Launched(app):
            return f"{app} starts"
        case happenings.WentAway(by_back):
            return "Back puts the app in the background" if by_back else "the app is in the background"
        case happenings.CameBack(app):
            return f"{app} is in front again"
        case happenings.LeftApp(how):
            return f"the app was left {how}"
        case happenings.Nothing(why):
            return f"nothing: {why}"
        case happenings.Finding(name, words):
            return f"{name}: {words}"
        case happenings.Saw(face, since, until, look):
            what = "the cover" if look == "cover" else f"{face_words(face)}, waiting," if look else face_words(face)
            return f"saw {what} for {length_words(until - since)}"


def pending_words(state: State, timer: Pending) -> str:
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
            layers = (*state.layers, *(layer for rung in all_rungs(state.ladder) for layer in rung.layers))
            return f"{next(layer.name for layer in layers if layer.serial == timer.serial)} goes"
        case "first frame" | "frame":
            return "the first frame"
        case "on ladder" | "shown" | "whatever happens":
            rung = next((rung for rung in all_rungs(state.ladder) if rung.serial == timer.serial), None)
            return f"{face_words(rung.face if rung else timer.face)} timer"


def happened_words(happened: Iterable[Happening]) -> str:
    """Tell a step in one line: findings first, then the ladder, then facts; many rungs that went are counted."""
    shown = sorted((happening for happening in happened if not isinstance(happening, _QUIET)), key=_rank)
    went = sum(isinstance(happening, happenings.Went) for happening in shown)
    words: list[str] = []
    for happening in shown:
        if isinstance(happening, happenings.Launched) and len(shown) > 1:
            continue
        if isinstance(happening, happenings.Went) and went > 2:
            words += [f"{went} rungs went"]
            went = 0
        elif not isinstance(happening, happenings.Went) or went:
            words.append(happening_words(happening))
    return ", ".join(words)


_QUIET = (happenings.Awaits, happenings.TimerStarted, happenings.TimerCancelled, happenings.TimerFired, happenings.Saw)
_RANKS: dict[type, int] = {happenings.Finding: 0, happenings.Came: 1, happenings.Replaced: 1, happenings.Went: 2}


def _rank(happening: Happening) -> int:
    return _RANKS.get(type(happening), 3)
