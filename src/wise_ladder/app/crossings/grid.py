"""A table with a selection: rows are places that are left, columns places that are reached, several items may share a cell."""

from __future__ import annotations

from typing import Generic, Protocol, TypeVar


class FromTo(Protocol):
    """What stands in a cell: it leads from a row to a column."""

    @property
    def start(self) -> str:
        """The name of its row."""

    @property
    def end(self) -> str:
        """The name of its column."""


Item = TypeVar("Item", bound=FromTo)


class Grid(Generic[Item]):
    """The items in the order of the cells; `chosen` counts within those that are shown."""

    def __init__(self) -> None:
        """Begin with nothing."""
        self.wanted = ""
        self.chosen = 0
        self.rows: list[str] = []
        self.columns: list[str] = []
        self.shown: list[Item] = []
        self.cells: dict[tuple[str, str], list[int]] = {}

    @property
    def current(self) -> Item | None:
        """The chosen one; None if nothing is shown."""
        return self.shown[self.chosen] if self.shown else None

    def lay_out(self, items: list[Item], rows: list[str], columns: list[str]) -> None:
        """Put items into the cells of these rows and columns; the same one stays chosen, else one of the same cell."""
        before = self.current
        self.rows, self.columns = rows, columns
        row, column = ({name: place for place, name in enumerate(names)} for names in (rows, columns))
        self.shown = sorted(items, key=lambda each: (row[each.start], column[each.end]))
        self.cells = {}
        for number, each in enumerate(self.shown):
            self.cells.setdefault((each.start, each.end), []).append(number)
        same = (number for number, each in enumerate(self.shown) if each is before)
        near = (
            number for number, each in enumerate(self.shown) if before and (each.start, each.end) == (before.start, before.end)
        )
        self.chosen = next(same, next(near, min(self.chosen, max(len(self.shown) - 1, 0))))

    def go(self, way: int) -> None:
        """Choose the one before or after this one, round the end."""
        if self.shown:
            self.chosen = (self.chosen + way) % len(self.shown)

    def go_row(self, way: int) -> None:
        """Choose the nearest one in the next row that has one, above (-1) or beneath (1)."""
        here = self.current
        if here is None:
            return
        row = self.rows.index(here.start)
        while 0 <= (row := row + way) < len(self.rows):
            in_row = [number for number, each in enumerate(self.shown) if each.start == self.rows[row]]
            if in_row:
                column = self.columns.index(here.end)
                self.chosen = min(in_row, key=lambda number: abs(self.columns.index(self.shown[number].end) - column))
                return

    def go_next(self, numbers: list[int]) -> bool:
        """Choose the next of these after the chosen one, round the end; False if there is none."""
        later = [number for number in numbers if number > self.chosen]
        if numbers:
            self.chosen = (later or numbers)[0]
        return bool(numbers)
