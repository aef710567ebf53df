"""Pictures for others: SVG and PDF, with a title, without a date, the same bytes each time; a map also as GraphML and DOT."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.drawings import messages
from wise_ladder.drawings.paper import A2, SLIDE, Look, paper_of, room_of
from wise_ladder.plan.crossings import GLYPHS, crossings, places
from wise_ladder.plan.files import save
from wise_ladder.plan.screen_map import around, screen_map

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from pathlib import Path

    from wise_ladder.drawings.strip_frames import Strip
    from wise_ladder.drawings.table_layout import GlyphTable
    from wise_ladder.plan import Plan
    from wise_ladder.rules.landings import Landing
    from wise_ladder.rules.witnesses import Witness
    from wise_ladder.walks import WalkRun
    from wise_ladder.walks.tape import Tape

ENDINGS = (".svg", ".pdf")
MAP_ENDINGS = (*ENDINGS, ".graphml", ".dot")
"""What the name of a map's file may end in."""


class MapWish(NamedTuple):
    """What of a map is wanted: only what is near a screen, a path traced on it with its name, and for what it is drawn."""

    around: str = ""
    tape: Tape | None = None
    path_name: str = ""
    look: Look = Look()


def draw_walk(plan: Plan, result: WalkRun, output: Path, look: Look = Look(), wrong: str = "") -> None:  # noqa: B008
    """Draw a walk as a film strip of ladders; the ending of the file's name tells the format.

    `wrong`: what is said instead of the verdict, where the walk breaks a rule. Raises WriteError if the file cannot be written.
    """
    from wise_ladder.drawings.strip_frames import strip_of_walk  # noqa: PLC0415

    _draw_strip(strip_of_walk(plan.for_walk(result.walk), result, wrong), output, look)


def draw_tape(tape: Tape, name: str, output: Path, look: Look = Look(), wrong: str = "") -> None:  # noqa: B008
    """Draw a tape as a film strip of ladders, as `draw_walk` does."""
    from wise_ladder.drawings.strip_frames import strip_of_tape  # noqa: PLC0415

    _draw_strip(strip_of_tape(tape, name, wrong), output, look)


def _draw_strip(strip: Strip, output: Path, look: Look) -> None:
    # The plotting library is slow to import, and only drawing needs it.
    from wise_ladder.drawings.figure_file import drawing, write_pages  # noqa: PLC0415
    from wise_ladder.drawings.strip_drawing import draw_strip_page  # noqa: PLC0415
    from wise_ladder.drawings.strip_layout import strip_pages  # noqa: PLC0415

    with drawing():
        write_pages(strip_pages(strip, room_of(look)), draw_strip_page, output, look, SLIDE.enlarged)


def draw_map(plan: Plan, output: Path, wish: MapWish = MapWish()) -> None:  # noqa: B008 - it is never changed
    """Draw the map of screens and moves; the ending of the file's name, one of `MAP_ENDINGS`, tells the format.

    Raises WriteError if the file cannot be written, QuestionError if there is no such screen.
    """
    drawn = screen_map(plan)
    if wish.around:
        drawn = around(plan, drawn, wish.around)
    if output.suffix not in ENDINGS:
        from wise_ladder.drawings.map_export import as_dot, as_graphml  # noqa: PLC0415

        save(output, as_dot(plan.app, drawn) if output.suffix == ".dot" else as_graphml(plan.app, drawn))
        return
    from wise_ladder.drawings.figure_file import drawing, write_pages  # noqa: PLC0415
    from wise_ladder.drawings.map_drawing import draw_map_page  # noqa: PLC0415
    from wise_ladder.drawings.map_pages import map_pages  # noqa: PLC0415
    from wise_ladder.drawings.map_trace import NO_TRACE, trace_on  # noqa: PLC0415

    drawn, trace = (drawn, NO_TRACE) if wish.tape is None else trace_on(drawn, wish.tape)
    title = f"{plan.app}: {wish.path_name or (f'around {wish.around}' if wish.around else 'map')}"
    with drawing():
        pages = map_pages(drawn, title, paper_of(wish.look), trace)
        write_pages(pages, partial(draw_map_page, trace=trace), output, wish.look)


def draw_time(runs: Sequence[tuple[str, Tape]], output: Path, look: Look = Look(), *, lanes: bool = True) -> None:  # noqa: B008
    """Draw a run along its clock, or two over one another, each with its name; without lanes only depth and weight.

    The ending of the file's name tells the format. Raises WriteError if the file cannot be written.
    """
    from wise_ladder.drawings.figure_file import drawing, write_pages  # noqa: PLC0415
    from wise_ladder.drawings.map_layout import Size  # noqa: PLC0415
    from wise_ladder.drawings.time_drawing import draw_time_page  # noqa: PLC0415
    from wise_ladder.drawings.time_layout import time_charts  # noqa: PLC0415
    from wise_ladder.walks.timeline import timeline  # noqa: PLC0415

    names = [name for name, _ in runs]
    paper = room_of(look) if look.slide else Size(SLIDE.size.width, A2.size.height)
    title = f"{runs[0][1].plan.app}: {' / '.join(names)}"
    with drawing():
        pages = time_charts([timeline(tape) for _, tape in runs], title, names, paper, lanes=lanes)
        write_pages(pages, draw_time_page, output, look, SLIDE.enlarged)


def draw_crossings(plan: Plan, output: Path, look: Look = Look()) -> None:  # noqa: B008
    """Draw every move, guard and redirect of a plan, from where to where, as a table.

    Raises WriteError if the file cannot be written.
    """
    from wise_ladder.drawings.table_layout import GlyphTable  # noqa: PLC0415

    ways = [way for way in crossings(plan) if way.kind != "stay"]
    rows, columns = places(plan, ways)
    glyphs: dict[tuple[str, str], list[str]] = {}
    for way in ways:
        glyphs.setdefault((way.start, way.end), []).append(way.glyph)
    cells = {place: "".join(dict.fromkeys(some)) for place, some in glyphs.items()}
    used = {way.kind for way in ways}
    legend = tuple(f"{glyph} {kind}" for kind, glyph in GLYPHS.items() if kind in used)
    title = messages.CROSSINGS.format(app=plan.app)
    _draw_table(GlyphTable(title, rows, columns, cells, frozenset(), legend), output, look)


def draw_backs(plan: Plan, landings: Mapping[Landing, Witness], extent: str, output: Path, look: Look = Look()) -> None:  # noqa: B008
    """Draw where Back leads from every screen as a table; `extent` says for how many steps it is known.

    Raises WriteError if the file cannot be written.
    """
    from wise_ladder.drawings.table_layout import GlyphTable  # noqa: PLC0415
    from wise_ladder.rules.back_cells import back_cells, back_places  # noqa: PLC0415
    from wise_ladder.rules.back_table import back_table  # noqa: PLC0415

    cells = back_cells(back_table(plan, landings))
    rows, columns = back_places(plan, cells)
    marked = frozenset((cell.start, cell.end) for cell in cells if cell.surprise)
    title = messages.BACKS.format(app=plan.app, extent=extent)
    glyphs = {(cell.start, cell.end): cell.glyph for cell in cells}
    _draw_table(GlyphTable(title, rows, columns, glyphs, marked, messages.BACK_LEGEND), output, look)


def _draw_table(table: GlyphTable, output: Path, look: Look) -> None:
    from wise_ladder.drawings.figure_file import drawing, write_pages  # noqa: PLC0415
    from wise_ladder.drawings.table_drawing import draw_table_page  # noqa: PLC0415
    from wise_ladder.drawings.table_layout import table_pages  # noqa: PLC0415

    with drawing():
        write_pages(table_pages(table, room_of(look)), partial(draw_table_page, table=table), output, look, SLIDE.enlarged)


__all__ = [
    "ENDINGS",
    "MAP_ENDINGS",
    "Look",
    "MapWish",
    "draw_backs",
    "draw_crossings",
    "draw_map",
    "draw_tape",
    "draw_time",
    "draw_walk",
]
