"""What lies over a rung, beside the ladder and in the phone in hand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.canvas import CellStyle, TextRun, cut, wrap
from wise_ladder.semantics.text import promise_text

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.tape_cursor import Snapshot
    from wise_ladder.plan.model import Overlay


def overlay_glyph(overlay: Overlay) -> str:
    """Return the sign of an overlay: whether it takes the taps, stays as a bar, or goes by itself."""
    if overlay.modal:
        return "▌"
    return "▬" if overlay.kind == "bar" else "◷"


def in_front(moment: Snapshot, palette: Palette, width: int) -> list[TextRun]:
    """Write what is over the screen in hand: the question, what a begun Back would do, else the overlays."""
    question = moment.question
    if question is not None:
        ink = CellStyle(palette.asks, bold=True)
        return [TextRun(line, ink) for line in wrap(f"? {question.text or question.name}", width, 2)]
    if (begun := moment.state.begun) is not None:
        ink = CellStyle(palette.asks, bold=True)
        return [TextRun(line, ink) for line in wrap(messages.BACK_BEGUN.format(what=promise_text(begun)), width, 3)]
    # Nothing of ours lies over a screen of another app.
    foreign = moment.top is not None and moment.plan.screen[moment.top.data.screen].foreign
    return [
        TextRun(cut(f"{overlay_glyph(overlay)} {overlay.name}, {overlay.kind}", width),
            CellStyle(palette.asks if overlay.modal else palette.soft, bold=overlay.modal))
        for overlay in (() if foreign else moment.overlays)
    ]  # fmt: skip
