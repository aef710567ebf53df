"""The list of rules with their verdicts, and how the sweep stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.app.canvas import Canvas, CellStyle, TextRun, cut
from wise_ladder.app.canvas_widget import heading
from wise_ladder.app.sweep_runner import time_left_text
from wise_ladder.rules.report_text import verdict_glyph
from wise_ladder.rules.titles import about, says

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette
    from wise_ladder.app.rules.selection import RuleSelection
    from wise_ladder.app.sweep_runner import SweepStatus
    from wise_ladder.rules.verdicts import Verdict

HIGH, WIDE = 14, 90
NAME, ABOUT = 26, 34


def draw_rules(case: RuleSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw the rules, broken ones first; a column for each other phone and named given where verdicts differ there."""
    canvas, air = Canvas(width, height, palette.ground_colour), 1 if height >= HIGH else 0
    verdicts, standing = case.verdicts, case.standing
    broken = sum(verdict.status == "broken" for verdict in verdicts)
    right = f"{len(verdicts)}, {broken} broken" if broken else f"{len(verdicts)}"
    if standing is not None and width < WIDE:
        right += f"  {'◔' if standing.running else ''} {standing.known.states:,} states, {standing.known.words}"
    others = list(standing.others) if standing is not None and width >= WIDE else []
    heading(canvas, palette, "rules", right.strip(), (0, 0, width - 12 * len(others) - (2 if others else 0)))
    if not verdicts:
        canvas.text(
            0,
            1 + air,
            "checking" if standing is None else messages.NO_RULES_WRITTEN,
            CellStyle(palette.muted),
        )
        return canvas
    for place, where in enumerate(others):
        x = width - 12 * (len(others) - place)
        canvas.text(x, 0, f" {cut(where.removeprefix('on ').removeprefix('given '), 10)} ", CellStyle(palette.soft, bold=True))
    rows = height - 1 - air
    begin = min(max(case.place - rows // 2, 0), max(len(verdicts) - rows, 0))
    for row, place in enumerate(range(begin, min(begin + rows, len(verdicts)))):
        _rule(canvas, palette, 1 + air + row, case, place, others)
    if begin + rows < len(verdicts):
        canvas.text(0, height - 1, f" {len(verdicts) - begin - rows + 1} more below ▾".ljust(width), CellStyle(palette.muted))
    return canvas


def _rule(canvas: Canvas, palette: Palette, y: int, case: RuleSelection, place: int, others: list[str]) -> None:
    verdict = case.verdicts[place]
    rule = verdict.rule
    click, here = f"app.choose({place})", place == case.place
    width = canvas.width - 12 * len(others)
    if here:
        canvas.fill(0, y, canvas.width, 1, palette.selected, click=click)
    colour = {"holds": palette.holds, "broken": palette.broken, "undecided": palette.undecided}[verdict.status]
    canvas.text(0, y, verdict_glyph(verdict), CellStyle(colour, bold=True, click=click))
    strong = here or verdict.status == "broken"
    canvas.text(2, y, cut(rule.short, NAME - 2), CellStyle(palette.text if strong else palette.soft, bold=strong, click=click))
    at = width - 28
    if at - NAME - 2 > 10:
        words = says(rule) if rule.title else about(rule)
        canvas.text(NAME + 2, y, cut(words, at - NAME - 4), CellStyle(palette.muted, click=click))
    canvas.text(at, y, cut(_short(verdict), 28), CellStyle(colour, bold=verdict.status == "broken", click=click))
    elsewhere = case.elsewhere(verdict)
    for column, where in enumerate(others):
        other = elsewhere.get(where)
        if other is not None:
            inks = {"holds": palette.holds, "broken": palette.broken, "undecided": palette.undecided}
            x = canvas.width - 12 * (len(others) - column)
            canvas.text(x + 1, y, f"{verdict_glyph(other)} {_elsewhere(other)}", CellStyle(inks[other.status], click=click))


def _elsewhere(verdict: Verdict) -> str:
    return f"{min(each.steps for each in verdict.counterexamples)} steps" if verdict.counterexamples else verdict.status


def _short(verdict: Verdict) -> str:
    if verdict.counterexamples:
        return verdict.broken_in
    if verdict.unused:
        return f"{len(verdict.unused)} never used"
    if verdict.proof is not None and not verdict.every_depth and verdict.status == "holds":
        others = verdict.proof.as_long_as
        return f"holds while {' and '.join(others)} {'does' if len(others) == 1 else 'do'}"
    return "undecided" if verdict.status == "undecided" else f"holds {verdict.depth_words}"


def _proofs(standing: SweepStatus) -> list[tuple[str, str, str]]:
    """Say how many rules are proved, where that is tried: the sweep has not met all states then."""
    open_rules = [verdict for verdict in standing.verdicts if verdict.status == "holds"]
    tried = standing.proving or any(verdict.proof is not None or verdict.not_proved for verdict in standing.verdicts)
    if standing.known.whole or not tried:
        return []
    proved = sum(verdict.proved for verdict in open_rules)
    conditional = sum(verdict.proof is not None for verdict in open_rules) - proved
    figure = f"{proved} + {conditional}" if conditional else f"{proved}"
    count = (messages.PROVED_OR_CONDITIONAL if conditional else messages.PROVED_COUNT).format(count=len(open_rules))
    return [("proofs", figure, f"◔ {messages.PROVING}" if standing.proving else count)]


def draw_sweep(case: RuleSelection, palette: Palette, width: int, height: int) -> Canvas:
    """Draw how far the sweep is, how fast, how long it may take yet, and what it never met."""
    canvas, standing = Canvas(width, height, palette.ground_colour), case.standing
    if width <= 0:
        return canvas
    if standing is None:
        heading(canvas, palette, "sweep", "begins")
        return canvas
    known = standing.known
    state = (
        f"◔ {messages.TIME_LEFT.format(time=time_left_text(standing))}"
        if standing.running
        else "all"
        if known.whole
        else "stopped"
    )
    heading(canvas, palette, "sweep", state)
    share = 1.0 if known.whole else min(known.seconds / standing.until, 1.0) if standing.until else 0.0
    full = round((width - 6) * share)
    canvas.fill(0, 2, width - 6, 1, palette.selected)
    canvas.fill(0, 2, full, 1, palette.undecided if standing.running else palette.holds)
    canvas.text(width - 5, 2, f"{share:4.0%}", CellStyle(palette.text))
    rows = [
        ("steps", f"{known.depth}", "checked completely" if not known.whole else messages.NO_OTHER_STEPS),
        (
            "states",
            f"{known.states:,}",
            messages.ALL_STATES if known.whole else f"stopped {known.stopped}" if known.stopped else "",
        ),
        ("speed", f"{standing.speed:,}", messages.SPEED),
        ("time", f"{known.seconds:.1f} s", messages.KEY_SWEEP if not standing.running and not known.whole else ""),
        *_proofs(standing),
    ]
    for row, (name, figure, more) in enumerate(rows):
        canvas.text(0, 4 + row, name, CellStyle(palette.muted))
        canvas.text(9, 4 + row, figure, CellStyle(palette.text, bold=True))
        canvas.text(20, 4 + row, cut(more, width - 20), CellStyle(palette.muted))
    y = 5 + len(rows)
    if height - y < 3:
        return canvas
    unused = standing.unused
    x = canvas.text(0, y, "never used", CellStyle(palette.soft, bold=True))
    canvas.runs(x + 1, y, [TextRun("─" * max(width - x - 6, 0), CellStyle(palette.line))], max(width - x - 6, 0))
    canvas.text(width - 4, y, f"{len(unused):4}", CellStyle(palette.muted))
    if not unused:
        canvas.text(0, y + 2, messages.ALL_USED, CellStyle(palette.holds))
    for row, place in enumerate(unused[: max(height - y - 2, 0)]):
        canvas.text(0, y + 2 + row, "◌", CellStyle(palette.undecided))
        canvas.text(2, y + 2 + row, cut(place.words, width - 2), CellStyle(palette.soft))
    return canvas
