"""The two looks, ink and paper: each colour has one meaning, in every view. Contrast is stated in the design of the look."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Palette:
    """Colours by what they mean, never by what they look like."""

    name: str
    dark: bool
    ground_colour: str  # background of everything
    panel: str
    selected: str
    line: str
    text: str
    soft: str
    muted: str
    here: str
    here_board: str
    here_edge: str
    here_shadow: str
    here_text: str
    figure: str
    lands: str
    asks: str
    asks_ground: str
    holds: str
    broken: str
    undecided: str
    came: str
    went: str
    rail: str
    rail_lit: str
    board: str
    board_edge: str
    board_shadow: str
    board_text: str
    twine: str
    grass: str
    grass_ground: str
    phone: str
    phone_edge: str
    key_text: str
    key: str
    worn: tuple[str, str, str, str]  # wood under a move, the warmer the oftener it is used


INK = Palette(
    name="ink",
    dark=True,
    ground_colour="#10131a",
    panel="#171b25",
    selected="#262d3c",
    line="#2c3342",
    text="#e9e4d8",
    soft="#b9b5aa",
    muted="#8f95a3",
    here="#ffc145",
    here_board="#ffc145",
    here_edge="#ffe09a",
    here_shadow="#8f6410",
    here_text="#201503",
    figure="#ffc145",
    lands="#4fd6c6",
    asks="#cda5ff",
    asks_ground="#2a2140",
    holds="#8fd566",
    broken="#ff8b7f",
    undecided="#9db4cc",
    came="#82b6ff",
    went="#9a93a8",
    rail="#7d5a38",
    rail_lit="#a27a50",
    board="#533b26",
    board_edge="#7d5a38",
    board_shadow="#2f2218",
    board_text="#f4e8d4",
    twine="#a27a50",
    grass="#93a57e",
    grass_ground="#1b211b",
    phone="#1d2330",
    phone_edge="#5b6579",
    key_text="#f2efe6",
    key="#39435a",
    worn=("#2e2a26", "#4a3826", "#65482a", "#7f5a2e"),
)

PAPER = Palette(
    name="paper",
    dark=False,
    ground_colour="#f7f1e4",
    panel="#efe6d4",
    selected="#eadfc9",
    line="#d8cab0",
    text="#2a2318",
    soft="#4f4535",
    muted="#615744",
    here="#5f3b00",
    here_board="#f5b02e",
    here_edge="#ffd984",
    here_shadow="#b97d10",
    here_text="#241700",
    figure="#a96e06",
    lands="#005f5a",
    asks="#4f1896",
    asks_ground="#e9dcf6",
    holds="#2f6210",
    broken="#b01a12",
    undecided="#46586f",
    came="#184ea6",
    went="#5d5669",
    rail="#a4764a",
    rail_lit="#bd8f60",
    board="#e8d2ae",
    board_edge="#f3e3c6",
    board_shadow="#b08a5c",
    board_text="#2a1d0c",
    twine="#8a6039",
    grass="#566443",
    grass_ground="#e6e4cd",
    phone="#fffcf5",
    phone_edge="#8d8270",
    key_text="#fffaf0",
    key="#5a4f3e",
    worn=("#ead9bb", "#dfc39a", "#cfa772", "#bb8a4e"),
)

PALETTES = {palette.name: palette for palette in (INK, PAPER)}
