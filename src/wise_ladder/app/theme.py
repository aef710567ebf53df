"""A palette as a theme of the interface library."""

from __future__ import annotations

from typing import TYPE_CHECKING

from textual.theme import Theme

if TYPE_CHECKING:
    from wise_ladder.app.palette import Palette


def theme_of(palette: Palette) -> Theme:
    """Return the theme that dialogs take their colours from."""
    return Theme(
        palette.name,
        primary=palette.board_edge,
        secondary=palette.twine,
        accent=palette.twine,
        warning=palette.here,
        error=palette.broken,
        success=palette.holds,
        foreground=palette.text,
        background=palette.ground_colour,
        surface=palette.panel,
        panel=palette.selected,
        dark=palette.dark,
    )
