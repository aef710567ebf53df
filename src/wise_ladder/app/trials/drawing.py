"""Two ladders side by side, the path beneath them with what differs at its chosen step, and the list of differences."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.cells import cell_len

from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut, wrap
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.climb import ladder_drawing
from wise_ladder.app.trials import messages

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.trials.selection import ListedPath, TrialSelection

HIGH, HIGH_LIST = 30, 16
"""From so many rows on there is room for air between the parts, and for what differs beneath each row of the list."""
TWO_LADDERS = 84
"""From so many columns on both ladders are drawn."""
MOST_TOLD = 4
"""So many differences are told beneath the ladders."""
BETWEEN = 3


def draw_ladders(trial: TrialSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw both ladders at the chosen step, one of them if there is no room for two, and the path beneath."""
    canvas = Canvas(width, height, palette.ground_colour)
    moments = trial.moments
    if moments is None:
        words = messages.NO_PATH if trial.old is not None else messages.NO_VERSION
        for row, line in enumerate(wrap(words, width - 2, 3)):
            canvas.text(0, 1 + row, line, CellStyle(palette.soft))
        return canvas
    beneath = _beneath(trial, palette, width, height)
    high = height - len(beneath) - (3 if height >= HIGH else 1)
    both, marks = width >= TWO_LADDERS, trial.marks
    shown = [0, 1] if both else [0 if trial.front == "before" else 1]
    wide = (width - BETWEEN) // 2 if both else width
    for place, number in enumerate(shown):
        x = place * (wide + BETWEEN)
        _head(trial, canvas, palette, number, (x, 0, wide))
        ladder = ladder_drawing.draw(moments[number], palette, wide, high, marks[number])
        canvas.blit(x, 2 if height >= HIGH else 1, ladder)
    for row, runs in enumerate(beneath, height - len(beneath)):
        canvas.runs(0, row, runs, width)
    return canvas


def _head(trial: TrialSelection, canvas: Canvas, palette: Palette, number: int, at: tuple[int, int, int]) -> None:
    """Draw over a ladder which version it is, and whether the step is not possible there."""
    title = trial.against if number == 0 else trial.now
    stopped = trial.stopped is trial.tapes[number]
    right = messages.STOPS_HERE if stopped else ""
    heading(canvas, palette, cut(title, at[2] - 4), right, at, CellStyle(palette.broken, bold=True) if stopped else None)


def _beneath(trial: TrialSelection, palette: Palette, width: int, height: int) -> list[list[TextRun]]:
    """Write the path with its chosen step, and what differs there."""
    soft = CellStyle(palette.soft)
    rows = [_path(trial, palette, width)]
    found = trial.differences_at(trial.step)
    most = MOST_TOLD if height >= HIGH else 1
    for words, grade in found[:most]:
        colour = palette.came if grade == "noticed" else palette.soft
        lead = "≠ " if grade == "noticed" else f"≠ {messages.GROUPS['kept']}: "
        rows.append([TextRun(lead, CellStyle(colour, bold=True)), TextRun(words, CellStyle(colour))])
    if len(found) > most:
        rows[-1].append(TextRun(f"   {messages.MORE.format(count=len(found) - most)}", soft))
    if not found:
        rows.append([TextRun(f"= {messages.NOTHING_HERE}", soft)])
    return [[], *rows, *([[]] * (most - max(len(found), 1)))] if height >= HIGH else rows


def _path(trial: TrialSelection, palette: Palette, width: int) -> list[TextRun]:
    """Write the steps in one line, the chosen one lit and in sight."""
    events, here = trial.events, trial.step - 1
    first = max(here, 0)
    room = width - cell_len(events[first]) - 4 if events else width
    # As many steps before the chosen one as fit into two thirds of the line.
    while first > 0 and sum(cell_len(each) + 3 for each in events[first - 1 : here]) <= room * 2 // 3:
        first -= 1
    runs = [TextRun("… · ", CellStyle(palette.muted))] if first else []
    for number in range(first, len(events)):
        click = f"app.go({number + 1})"
        style = CellStyle(palette.text, palette.selected, bold=True, click=click)
        if number != here:
            style = CellStyle(palette.soft if number < here else palette.muted, click=click)
        runs += [TextRun(" · ", CellStyle(palette.muted))] if number > first else []
        runs.append(TextRun(events[number], style))
    return runs


def draw_list(trial: TrialSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the path that was brought along and all that differs, each with what it is, and how far was looked."""
    canvas, air = Canvas(width, height, palette.ground_colour), 1 if height >= HIGH else 0
    differences = sum(row.kind != "path" for row in trial.rows)
    heading(canvas, palette, messages.DIFFERENCES, str(differences) if trial.versions is not None else "")
    foot = _foot(trial, palette, width, most=2 if height >= HIGH else 1)
    lines = _lines(trial, palette, width, tall=height >= HIGH_LIST)
    room = height - 1 - air - len(foot) - air
    chosen = [number for number, (place, _) in enumerate(lines) if place == trial.place]
    middle = chosen[0] if chosen else 0
    begin = min(max(middle - room // 3, 0), max(len(lines) - room, 0))
    for row, (place, line) in enumerate(lines[begin : begin + room], 1 + air):
        click = f"app.choose({place})" if place is not None else None
        if place is not None and place == trial.place:
            canvas.fill(0, row, width, 1, palette.selected, click=click)
        canvas.runs(0, row, [run._replace(ink=run.ink._replace(click=click)) for run in line], width)
    for row, runs in enumerate(foot, height - len(foot)):
        canvas.runs(0, row, runs, width)
    return canvas


def _lines(trial: TrialSelection, palette: Palette, width: int, *, tall: bool) -> list[tuple[int | None, list[TextRun]]]:
    """Write the rows of the list, each with its place; those under a heading follow it."""
    lines: list[tuple[int | None, list[TextRun]]] = []
    kind = "path"
    for place, row in enumerate(trial.rows):
        if row.kind != kind and tall:
            kind = row.kind
            lines += [(None, [])] if lines else []
            count = sum(each.kind == kind for each in trial.rows)
            lines.append((None, [TextRun(f"{messages.GROUPS[kind]}  {count}", CellStyle(palette.muted))]))
        glyph, colour = _glyph(row, palette)
        here = place == trial.place
        title = CellStyle(palette.text if here or row.kind != "kept" else palette.soft, bold=here)
        runs = [TextRun(f" {glyph} ", CellStyle(colour, bold=True)), TextRun(row.title, title)]
        if tall:
            lines.append((place, runs))
            told = wrap(row.words, width - 4, 2) if row.words else []
            lines += [(place, [TextRun(f"   {line}", CellStyle(palette.soft))]) for line in told]
        else:
            lead = f"{messages.GROUPS[row.kind]}: " if row.kind in {"kept", "saved"} else ""
            lines.append((place, [*runs, TextRun(f"  {lead}{row.words}", CellStyle(palette.soft))]))
    return lines


def _glyph(row: ListedPath, palette: Palette) -> tuple[str, str]:
    match row.kind:
        case "path":
            return "·", palette.muted
        case "kept":
            return "≠", palette.soft
        case "walk fails":
            return "✗", palette.broken
        case "walk passes":
            return "✓", palette.holds
        case "rule":
            return ("✗", palette.broken) if row.words.startswith("broken") else ("✓", palette.holds)
        case _:
            return "≠", palette.came


def _foot(trial: TrialSelection, palette: Palette, width: int, *, most: int) -> list[list[TextRun]]:
    """Say how far was looked, and which names are taken for the same."""
    if trial.old is None:
        return []
    words = [messages.COMPARING] if trial.comparing else []
    if trial.versions is not None:
        if not trial.comparing and trial.versions.same:
            words.append(messages.NOTHING_DIFFERS)
        extent = trial.versions.extent
        looked = messages.LOOKED_AT.format(pairs=extent.pairs, depth=extent.depth)
        # Where something differs the search goes no further: only of versions that are the same can it have looked at all.
        everything = trial.versions.whole and not trial.versions.differences
        words += [messages.ALL_LOOKED_AT if everything else looked] if extent.pairs else []
        words += [messages.ONLY_GUESSED.format(words=each) for each in trial.names.words]
    return [[TextRun(line, CellStyle(palette.muted))] for line in wrap(", ".join(words), width, most)]
