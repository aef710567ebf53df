"""The colours of drawings, for the page and for a dark screen: what each is for."""

from __future__ import annotations

from typing import NamedTuple


class Colours(NamedTuple):
    """What is drawn in which colour; every text is readable on what it stands on, in grey too."""

    page: str
    board: str
    here: str
    wood: str
    edge: str
    ink: str
    soft: str
    back: str
    wrong: str
    grass: str
    ground: str
    asks: str
    badge: str
    group: str
    on_here: str
    on_badge: str = "#ffffff"


LIGHT = Colours(
    page="#ffffff", board="#ead9bb", here="#f5b02e", wood="#a4764a", edge="#8a6039", ink="#2a2318", soft="#615744",
    back="#005f5a", wrong="#b01a12", grass="#566443", ground="#e6e4cd", asks="#4f1896", badge="#5a4f3e", group="#f7f1e4",
    on_here="#2a2318",
)  # fmt: skip
DARK = Colours(
    page="#10131a", board="#533b26", here="#ffc145", wood="#7d5a38", edge="#a27a50", ink="#e9e4d8", soft="#b9b5aa",
    back="#4fd6c6", wrong="#ff8b7f", grass="#93a57e", ground="#1b211b", asks="#cda5ff", badge="#b9b5aa", group="#171b25",
    on_here="#201503", on_badge="#10131a",
)  # fmt: skip
