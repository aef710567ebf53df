"""What a run along its clock says: how things that lasted ended, and what is seen where no screen is."""

from __future__ import annotations

from wise_ladder.semantics.state import Phase

BY_ITSELF = "by itself"
CAME_FOR_NOBODY = "{outcome}, for nobody"
CANCELLED = "cancelled"
COVER = "cover"
FLASH = "✗ flash {time}"
FIRED = "fell due"
GROUND = "the ground"
LOST = "lost"
NOT_IN_FRONT = {Phase.AWAY: "the background", Phase.KILLED: "the ground, app killed"}
STOPPED = "stopped"
UNANSWERED = "unanswered"
