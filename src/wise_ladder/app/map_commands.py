"""The command that draws the map of screens and moves, with what is selected traced on it."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from wise_ladder.app import messages
from wise_ladder.errors import LadderError
from wise_ladder.plan.completion import Completion
from wise_ladder.plan.files import typed_path
from wise_ladder.plan.suggest import suggest

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from wise_ladder.app.host import Host
    from wise_ladder.drawings import MapWish
    from wise_ladder.plan import Plan


class MapCommands:
    """Draws the map; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Host, name: Callable[[], str]) -> None:
        """Draw the open plan of a host, whose file has this name."""
        self.host, self._name = host, name

    def cmd_draw_map(self) -> None:
        from wise_ladder.app.dialogs.form_dialog import FormDialog, FormField  # noqa: PLC0415
        from wise_ladder.drawings import MAP_ENDINGS, Look, MapWish  # noqa: PLC0415

        plan, (tape, name) = self.host.plan, self.host.selected_path()

        def take(typed: list[str]) -> str:
            output, around = typed_path(typed[0]), typed[1].strip()
            if output.suffix not in MAP_ENDINGS:
                return messages.MAP_ENDINGS
            if around and around not in plan.screen:
                return messages.NO_SUCH_SCREEN.format(name=around, instead=suggest(around, list(plan.screen)))
            self.host.show_message(messages.MAP_DRAWING)
            wish = MapWish(around, tape, name, look=Look(dark=self.host.palette.dark))
            self.host.run_worker(lambda: self._draw(plan, output, wish), thread=True, group="map", exclusive=True)
            return ""

        def screens(typed: str) -> list[Completion]:
            return [Completion(0, screen) for screen in plan.screen if typed and screen.startswith(typed) and screen != typed]

        lines = [FormField(messages.MAP_FILE, f"{self._name()}-map.svg"), FormField(messages.MAP_AROUND, "", screens)]
        hint = messages.MAP_HINT_TRACED.format(path=name) if tape is not None else messages.MAP_HINT
        self.host.push_screen(FormDialog(messages.MAP_TITLE, lines, take, hint=hint))

    def _draw(self, plan: Plan, output: Path, wish: MapWish) -> None:
        from wise_ladder.drawings import draw_map  # noqa: PLC0415

        try:
            draw_map(plan, output, wish)
        except LadderError as error:
            words, wrong = str(error), True
        else:
            words, wrong = messages.MAP_DRAWN.format(path=output.absolute()), False
        self.host.call_later(partial(self.host.show_message, words, wrong=wrong))
