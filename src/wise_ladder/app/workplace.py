"""What views and their commands ask of the application around them, beyond what every part asks."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from wise_ladder.app.host import Host

if TYPE_CHECKING:
    from wise_ladder.app.document import Document
    from wise_ladder.app.edit_commands import EditCommands
    from wise_ladder.app.part_commands import PartCommands
    from wise_ladder.app.sweep_runner import SweepRunner


class Workplace(Host, Protocol):
    """A host that holds the open plan's file, its edits and its sweep."""

    @property
    def document(self) -> Document:
        """The open plan: its file, its edits, its walks."""

    @property
    def edit_commands(self) -> EditCommands:
        """The commands that change what the plan says."""

    @property
    def part_commands(self) -> PartCommands:
        """The commands for any part of the plan."""

    @property
    def sweep_runner(self) -> SweepRunner:
        """The sweep of the plan, on a thread of its own, and the proofs beside it."""
