"""The command that draws: the selected run as a film strip or along its clock, the map, the tables, the view as it is."""

from __future__ import annotations

from enum import Enum
from functools import partial
from threading import Lock
from typing import TYPE_CHECKING, NamedTuple

from wise_ladder.app import messages
from wise_ladder.errors import LadderError
from wise_ladder.plan.completion import Completion
from wise_ladder.plan.files import save, typed_path
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from pathlib import Path

    from wise_ladder.app.sweep_runner import SweepStatus
    from wise_ladder.app.view import SelectedRun
    from wise_ladder.app.workplace import Workplace
    from wise_ladder.drawings import Look
    from wise_ladder.plan import Plan


class DrawnKind(Enum):
    """What can be drawn, as files are named after it."""

    STRIP = "strip"
    TIME = "time"
    DEPTH = "depth"
    MAP = "map"
    CROSSINGS = "crossings"
    BACKS = "backs"
    STILL = "still"


LOOKS = {"page": (False, False), "slide": (False, True), "dark": (True, False), "dark slide": (True, True)}
"""For what a drawing may be: whether it is dark, and a slide."""


class _Subject(NamedTuple):
    """What can be drawn, as it was when the key was pressed."""

    plan: Plan
    runs: Sequence[SelectedRun]
    swept: SweepStatus | None
    still: str = ""
    """The view as SVG, if that is what is drawn."""


class DrawCommands:
    """Draws what is asked for; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Workplace, name: Callable[[], str], still: Callable[[], str], first: Callable[[], str]) -> None:
        """Draw the open plan of a host, whose file has this name; `still`: the view as SVG, `first`: what it draws first."""
        self.host, self._name, self._still, self._first, self._drawing = host, name, still, first, Lock()

    def cmd_draw(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

        swept = self.host.sweep_runner.standing
        swept = swept if swept is not None and swept.plan is self.host.plan else None
        subject = _Subject(self.host.plan, self.host.selected_runs(), swept)
        names = " / ".join(run.name for run in subject.runs)
        missing = {DrawnKind.STRIP, DrawnKind.TIME, DrawnKind.DEPTH} if not subject.runs else set()
        missing |= {DrawnKind.BACKS} if swept is None else set()
        first = DrawnKind(self._first())
        kinds = [kind for kind in (first, *(kind for kind in DrawnKind if kind is not first)) if kind not in missing]
        items: list[ListItem[tuple[DrawnKind, _Subject]]] = []
        for kind in kinds:
            # A film strip is of one run; what is drawn along the time lays two over each other.
            alone = [subject._replace(runs=[run]) for run in subject.runs] if kind is DrawnKind.STRIP else [subject]
            for each in alone:
                title, about = messages.DRAWN[kind.value]
                one = kind in {DrawnKind.STRIP, DrawnKind.MAP} and subject.runs
                path = each.runs[0].name if one else names or messages.NO_PATH
                items.append(ListItem(title, about.format(path=path), (kind, each)))

        def chosen(value: tuple[DrawnKind, _Subject] | str | None) -> None:
            if isinstance(value, tuple):
                self._ask(value[1], value[0])

        self.host.push_screen(ListDialog(messages.DRAW_WHAT, items, soft=self.host.palette.soft), chosen)

    def _ask(self, subject: _Subject, kind: DrawnKind) -> None:
        """Ask for the file, and what more there is to choose."""
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.drawings import ENDINGS, MAP_ENDINGS, Look  # noqa: PLC0415

        if kind is DrawnKind.STILL:
            subject = subject._replace(still=self._still())
        endings = {DrawnKind.MAP: MAP_ENDINGS, DrawnKind.STILL: (".svg",)}.get(kind, ENDINGS)

        def take(typed: list[str]) -> str:
            output, look, around = typed_path(typed[0]), [*typed, ""][1].strip(), [*typed, "", ""][2].strip()
            if output.suffix not in endings:
                return messages.DRAWN_ENDINGS.format(endings=", ".join(endings))
            if look and look not in LOOKS:
                return messages.NO_SUCH_LOOK.format(name=look, instead=suggest(look, list(LOOKS)))
            if around and around not in subject.plan.screen:
                return messages.NO_SUCH_SCREEN.format(name=around, instead=suggest(around, list(subject.plan.screen)))
            self.host.show_message(messages.DRAWING.format(what=messages.DRAWN[kind.value][0]))
            work = partial(self._draw, subject, kind, output, Look(*LOOKS[look or "page"]), around)
            self.host.run_worker(work, thread=True, group="draw", exclusive=True)
            return ""

        def completing(names: Sequence[str]) -> Callable[[str], list[Completion]]:
            return lambda typed: [Completion(0, name) for name in names if typed and name.startswith(typed) and name != typed]

        fields = [FormField(messages.DRAWN_FILE, f"{self._name()}-{kind.value}.svg")]
        if kind is not DrawnKind.STILL:
            fields.append(FormField(messages.DRAWN_LOOK, next(iter(LOOKS)), completing(list(LOOKS))))
        if kind is DrawnKind.MAP:
            fields.append(FormField(messages.DRAWN_AROUND, "", completing(list(subject.plan.screen))))
        hint = messages.DRAW_HINTS.get(kind.value, messages.DRAW_HINT)
        self.host.push_screen(
            FormDialog(messages.DRAW_TITLE.format(what=messages.DRAWN[kind.value][0]), fields, take, hint=hint)
        )

    def _draw(self, subject: _Subject, kind: DrawnKind, output: Path, look: Look, around: str) -> None:
        try:
            # The plotting library keeps its settings for the whole process.
            with self._drawing:
                _write(subject, kind, output, look, around)
        except LadderError as error:
            words, wrong = str(error), True
        else:
            words, wrong = messages.IS_DRAWN.format(what=messages.DRAWN[kind.value][0], path=output.absolute()), False
        self.host.call_later(partial(self.host.show_message, words, wrong=wrong))


def _write(subject: _Subject, kind: DrawnKind, output: Path, look: Look, around: str) -> None:
    from wise_ladder import drawings  # noqa: PLC0415

    plan, runs = subject.plan, subject.runs
    match kind:
        case DrawnKind.STRIP:
            run = runs[0]
            if run.result is not None:
                drawings.draw_walk(plan, run.result, output, look)
            else:
                drawings.draw_tape(run.tape, run.name, output, look, run.wrong)
        case DrawnKind.TIME | DrawnKind.DEPTH:
            drawings.draw_time([(run.name, run.tape) for run in runs], output, look, lanes=kind is DrawnKind.TIME)
        case DrawnKind.MAP:
            tape, name = (runs[0].tape, runs[0].name) if runs else (None, "")
            drawings.draw_map(plan, output, drawings.MapWish(around, tape, name, look))
        case DrawnKind.CROSSINGS:
            drawings.draw_crossings(plan, output, look)
        case DrawnKind.BACKS:
            swept = subject.swept
            assert swept is not None  # noqa: S101 - it is offered only then
            drawings.draw_backs(plan, swept.landings, swept.known.words, output, look)
        case DrawnKind.STILL:
            save(output, subject.still)
