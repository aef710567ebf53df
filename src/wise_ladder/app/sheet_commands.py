"""The command that shows all about a screen, as `wise-ladder report --screen` writes it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.worker import get_current_worker

from wise_ladder.app import messages
from wise_ladder.app.breath import goes_on_while
from wise_ladder.plan.model import Guard, Move

if TYPE_CHECKING:
    from rich.console import RenderableType

    from wise_ladder.app.host import Host
    from wise_ladder.plan import Plan
    from wise_ladder.reports.screen_page import ScreenPages

SECONDS = 3.0
"""So long is swept for it at most."""


class SheetCommands:
    """Shows sheets about screens; `app/commands.py` lists each `cmd_NAME`."""

    def __init__(self, host: Host) -> None:
        """Show those of the open plan of a host."""
        self.host = host

    def cmd_screen_sheet(self) -> None:
        from wise_ladder.app.dialogs.list_dialog import ListDialog, ListItem  # noqa: PLC0415

        plan = self.host.plan
        near = [name for name in self._selected() if name in plan.screen]
        names = dict.fromkeys((*near, *plan.screen))
        items: list[ListItem[str | None]] = [ListItem(name, messages.SELECTED if name in near else "", name) for name in names]

        def chosen(name: str | None) -> None:
            if name is not None:
                self.host.show_message(messages.SHEET_MAKING.format(screen=name))
                self.host.run_worker(lambda: self._make(plan, name), thread=True, group="sheet", exclusive=True)

        self.host.push_screen(ListDialog(messages.SHEET_OF, items, soft=self.host.palette.soft), chosen)

    def _selected(self) -> list[str]:
        """Return the screens that are selected: the one that is seen in Climb, else those of the selected parts."""
        top = self.host.cursor.moment.top
        if self.host.view_name == "climb" and top is not None:
            return [top.data.screen]
        parts = self.host.selected_parts()
        owners = [part.owner if isinstance(part, Move) else part.id.owner for part in parts if isinstance(part, (Move, Guard))]
        return [owner for owner in owners if owner is not None]

    def _make(self, plan: Plan, name: str) -> None:
        from wise_ladder.reports.screen_page import screen_pages  # noqa: PLC0415

        worker = get_current_worker()
        made = screen_pages(plan, [name], SECONDS, goes_on_while(worker))
        if not worker.is_cancelled:
            self.host.call_later(self._show, made)

    def _show(self, made: ScreenPages) -> None:
        from rich.table import Table  # noqa: PLC0415
        from rich.text import Text  # noqa: PLC0415

        from wise_ladder.app.dialogs.info_dialog import InfoDialog  # noqa: PLC0415
        from wise_ladder.safe import visible  # noqa: PLC0415

        if made.plan is not self.host.plan:
            return
        (page,), palette = made.pages, self.host.palette
        self.host.show_message(messages.SHEET_KNOWN.format(screen=page.screen, extent=made.extent.words))
        told: list[RenderableType] = [Text(visible(words), style=palette.soft) for words in page.about]
        for section in page.sections:
            told.append(Text(f"\n{section.title}", style=f"bold {palette.text}"))
            table = Table(box=None, padding=(0, 2, 0, 0), show_edge=False)
            for head in section.heads:
                table.add_column(head, style=palette.text, header_style=palette.muted, overflow="fold")
            for row in section.rows:
                table.add_row(*(Text(visible(cell)) for cell in row))
            told.append(table)
        title = messages.SHEET_TITLE.format(screen=page.screen, extent=made.extent.words, figures=made.extent.figures)
        self.host.push_screen(InfoDialog(visible(title), told))
