"""The views beside Climb; each is imported when it is first shown, since the first picture needs none of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from wise_ladder.app.view import View
    from wise_ladder.app.workplace import Workplace


def make_view(name: str, host: Workplace) -> View:
    """Make the view of a name; raises KeyError if there is none."""
    if name == "walks":
        from wise_ladder.app.walks.view import WalksView  # noqa: PLC0415

        return WalksView(host)
    if name == "rules":
        from wise_ladder.app.rules.view import RulesView  # noqa: PLC0415

        return RulesView(host)
    if name == "seen":
        from wise_ladder.app.seen.view import SeenView  # noqa: PLC0415

        return SeenView(host)
    if name == "trials":
        from wise_ladder.app.trials.view import TrialsView  # noqa: PLC0415

        return TrialsView(host)
    if name == "crossings":
        from wise_ladder.app.crossings.view import CrossingsView  # noqa: PLC0415

        return CrossingsView(host)
    raise KeyError(name)
