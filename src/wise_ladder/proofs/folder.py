"""Where proofs are kept; apart from what keeps them, so that to name it costs nothing at the start."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path


def proof_folder() -> Path:
    """Return where this user's proofs are kept."""
    from platformdirs import user_cache_path  # noqa: PLC0415 - not needed before something is proved

    return user_cache_path("wise-ladder") / "proofs"
