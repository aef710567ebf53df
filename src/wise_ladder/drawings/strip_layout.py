"""Where everything of a film strip stands: rows of frames on one ground each, on as many pages as they need."""

from __future__ import annotations

import textwrap
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.drawings.map_layout import Frame, Point, Size
from wise_ladder.drawings.map_texts import HEADING, LEADING, LETTERS, SLACK, TextLine, shortened, width_of
from wise_ladder.drawings.placed_text import PlacedText, placed
from wise_ladder.drawings.strip_frames import BackLine, Strip, StripFrame, back_lines
from wise_ladder.semantics import Phase
from wise_ladder.semantics.state import visible_rungs
from wise_ladder.semantics.text import rung_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wise_ladder.semantics import Rung, State

MARGIN, TITLE_ROOM, FOOT = 22.0, 40.0, 26.0
FRAME, GAP, PITCH, BOARD, RAIL = 138.0, 24.0, 27.0, 19.0, 8.0
"""How wide a frame is and how far apart, how far apart rungs are, how high a board and how wide a rail is, in points."""
WORDS, NOTES, GROUND = 2 * LETTERS * LEADING + 8.0, 2 * LETTERS * LEADING + 6.0, 12.0
"""How high the words above a frame, the notes under it, and the ground is."""
BACKS = 92.0
"""The room for the lines of Back right of the last frame."""
MAX_RUNGS = 12
"""A higher ladder is folded in its middle."""


class Board(NamedTuple):
    """A rung: where it is drawn, and whether it is what the user sees."""

    frame: Frame
    here: bool


class PlacedBack(NamedTuple):
    """The line of a Back: its corners; its head is at the last one. A single corner: it leads to nothing that is drawn."""

    corners: tuple[Point, ...]


class StripPage(NamedTuple):
    """A page of a strip; the origin is at its lower left."""

    size: Size
    title: str
    boards: tuple[Board, ...]
    rails: tuple[Frame, ...]
    grounds: tuple[Frame, ...]
    badges: tuple[Frame, ...]
    backs: tuple[PlacedBack, ...]
    texts: tuple[PlacedText, ...]


def strip_pages(strip: Strip, paper: Size) -> list[StripPage]:
    """Place a strip on pages no larger than a paper, but for a single row that is higher."""
    across = max(int((paper.width - 2 * MARGIN - BACKS + GAP) // (FRAME + GAP)), 1)
    rows = [strip.frames[start : start + across] for start in range(0, len(strip.frames), across)] or [()]
    pages: list[list[Sequence[StripFrame]]] = [[]]
    room = paper.height - TITLE_ROOM - FOOT
    left = room
    for row in rows:
        height = _height(row)
        if height > left and pages[-1]:
            pages.append([])
            left = room
        pages[-1].append(row)
        left -= height
    width = min(max(len(strip.frames), 3), across) * (FRAME + GAP) - GAP + 2 * MARGIN + BACKS
    made = [_Page(strip, some, width, number, len(pages)) for number, some in enumerate(pages, 1)]
    return [page.placed() for page in made]


def _height(row: Sequence[StripFrame]) -> float:
    highest = max((min(len(_rungs(frame.state)), MAX_RUNGS + 1) for frame in row), default=1)
    return WORDS + max(highest, 1) * PITCH + GROUND + NOTES


def _rungs(state: State) -> list[Rung]:
    return [rung for rung, _ in visible_rungs(state.ladder)]


class _Page:
    def __init__(self, strip: Strip, rows: Sequence[Sequence[StripFrame]], width: float, number: int, count: int) -> None:
        self.strip, self.rows, self.last = strip, rows, number == count
        self.size = Size(width, TITLE_ROOM + FOOT + sum(map(_height, rows)))
        self.title = strip.title if count == 1 else messages.PAGE_OF.format(title=strip.title, number=number, count=count)
        self.boards: list[Board] = []
        self.rails: list[Frame] = []
        self.grounds: list[Frame] = []
        self.badges: list[Frame] = []
        self.backs: list[PlacedBack] = []
        self.texts: list[PlacedText] = []

    def placed(self) -> StripPage:
        self.head()
        bottom = self.size.height - TITLE_ROOM
        for row in self.rows:
            bottom -= _height(row)
            ground = bottom + NOTES + GROUND
            self.grounds.append(Frame(MARGIN / 2, bottom + NOTES, self.size.width - MARGIN, GROUND))
            for place, frame in enumerate(row):
                last = self.last and frame is self.strip.frames[-1]
                self.frame(frame, MARGIN + place * (FRAME + GAP), ground, bottom + _height(row), last=last)
        return StripPage(
            self.size, self.title, tuple(self.boards), tuple(self.rails), tuple(self.grounds), tuple(self.badges),
            tuple(self.backs), tuple(self.texts),
        )  # fmt: skip

    def head(self) -> None:
        """Write the title, under it what came of the run, and at the foot what the marks mean."""
        line = TextLine(shortened(self.title, (self.size.width - 2 * MARGIN) * LETTERS / HEADING / SLACK), HEADING, bold=True)
        y = self.size.height - TITLE_ROOM
        self.texts.append(placed(MARGIN, y + TITLE_ROOM - 6 - HEADING * LEADING, line))
        outcome = shortened(self.strip.outcome, self.size.width - 2 * MARGIN)
        if outcome:
            self.texts.append(placed(MARGIN, y + 2, TextLine(outcome), "wrong" if self.strip.wrong else "soft"))
        self.texts.append(placed(MARGIN, (FOOT - LETTERS * LEADING) / 2, TextLine(messages.STRIP_LEGEND), "soft"))

    def frame(self, frame: StripFrame, x: float, ground: float, top: float, *, last: bool) -> None:
        self.words(frame, x, top)
        rungs = _rungs(frame.state)
        levels: dict[int, float] = {}
        if not rungs:
            self.text(x + FRAME / 3, ground + 4, messages.OUTSIDE, "soft")
        shown = _shown(rungs)
        for rail in (x + 11, x + FRAME - 11 - RAIL) if rungs else ():
            self.rails.append(Frame(rail, ground, RAIL, len(shown) * PITCH - PITCH + BOARD))
        for level, (rung, folded) in enumerate(shown):
            y = ground + level * PITCH + (PITCH - BOARD) / 2
            if folded:
                self.text(x + RAIL + 16, y + 4, messages.FOLDED.format(count=folded), "soft")
                continue
            levels[rung.serial] = y + BOARD / 2
            here = rung is rungs[-1] and frame.state.phase is Phase.OPEN and not frame.state.cover
            self.board(rung, Frame(x, y, FRAME, BOARD), here=here, came=rung.serial in frame.came)
        self.notes(frame, x, ground - GROUND)
        if last:
            for line in back_lines(self.strip):
                if not self.back(line, x + FRAME, ground, levels):
                    break

    def words(self, frame: StripFrame, x: float, top: float) -> None:
        number = placed(x + 4, top - 4 - LETTERS * LEADING, TextLine(frame.number, bold=True), "on_badge")
        self.texts.append(number)
        self.badges.append(Frame(x, number.frame.y - 1, number.frame.width + 6, number.frame.height + 2))
        left = x + number.frame.width + 12
        for row, words in enumerate(_lines(frame.words, x + FRAME + GAP / 2 - left)):
            self.text(left, number.frame.y - row * LETTERS * LEADING, words)

    def board(self, rung: Rung, room: Frame, *, here: bool, came: bool) -> None:
        self.boards.append(Board(room, here))
        role = "on_here" if here else "ink"
        y = room.y + (BOARD - LETTERS * LEADING) / 2
        mark = placed(room.x + FRAME - 5, y, TextLine(("▴" if came else "") + ("●" if here else "")), role, right=True)
        if mark.line.words:
            self.texts.append(mark)
        words = shortened(rung_text(rung.data), (FRAME - 14 - mark.frame.width) / (SLACK if here else 1.0))
        self.texts.append(placed(room.x + 6, y, TextLine(words, bold=here), role))

    def notes(self, frame: StripFrame, x: float, ground: float) -> None:
        """Say under a frame what is wrong there, what is asked or lies over it, or where the app is."""
        words, role = _note(frame)
        for row, line in enumerate(_lines(words, FRAME + GAP / 2), 1):
            self.text(x, ground - row * LETTERS * LEADING - 2, line, role)

    def back(self, line: BackLine, x: float, ground: float, levels: dict[int, float]) -> bool:
        """Draw the line of a Back beside the last frame; False if the next one has nothing to start from."""
        start = levels.get(line.start, ground)
        if line.end is None:
            self.text(x + 8, start - LETTERS * LEADING / 2, shortened(f"◀ {line.words}", BACKS - 8 + MARGIN / 2), "back")
            return False
        end = ground - GROUND / 2 if line.end == 0 else levels.get(line.end)
        if end is None:
            # It leads to a rung that is folded away.
            self.text(x + 8, start - LETTERS * LEADING / 2, shortened(f"◀ {line.words} …", BACKS - 8 + MARGIN / 2), "back")
            return False
        out = x + 12
        self.backs.append(PlacedBack(((x + 2, start - 3), (out, start - 3), (out, end + 3), (x + 3, end + 3))))
        self.text(
            out + 5,
            max((start + end - LETTERS * LEADING) / 2, ground + 2),
            shortened(line.words, BACKS - 17 + MARGIN / 2),
            "back",
        )
        return True

    def text(self, x: float, y: float, words: str, role: str = "ink") -> None:
        self.texts.append(placed(x, y, TextLine(words), role))


def _note(frame: StripFrame) -> tuple[str, str]:
    if frame.wrong:
        return f"✗ {frame.wrong}", "wrong"
    if frame.note:
        return frame.note, "asks"
    if frame.state.phase is Phase.OPEN:
        return messages.UNDER_COVER if frame.state.cover else "", "soft"
    return {Phase.AWAY: messages.IN_BACKGROUND, Phase.KILLED: messages.KILLED}.get(frame.state.phase, ""), "soft"


def _lines(words: str, room: float) -> list[str]:
    """Break words into two lines at most; what is left ends in `…`."""
    if not words:
        return []
    letters = max(int(len(words) * room / max(width_of(TextLine(words)) * SLACK, 1)), 4)
    first, *rest = textwrap.wrap(words, letters) or [""]
    return [shortened(each, room) for each in ([first, " ".join(rest)] if rest else [first])]


def _shown(rungs: list[Rung]) -> list[tuple[Rung, int]]:
    """List the rungs that are drawn, lowest first; a pair with a number stands for that many folded ones."""
    if len(rungs) <= MAX_RUNGS + 1:
        return [(rung, 0) for rung in rungs]
    keep = MAX_RUNGS - 1
    return [(rungs[0], 0), (rungs[1], len(rungs) - keep - 1), *((rung, 0) for rung in rungs[-keep:])]
