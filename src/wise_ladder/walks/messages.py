"""What a run along its clock says: how things that lasted ended, and what is seen where no screen is."""

from __future__ import annotations

from wise_ladder.semantics.state import Phase

BOTH_RUNS = "="
BY_ITSELF = "by itself"
CAME_FOR_NOBODY = "{outcome}, for nobody"
CANCELLED = "cancelled"
COVER = "cover"
DIFFERS = "{what}: {one} / {other}"
FLASH = "✗ flash {time}"
FIRED = "fell due"
GROUND = "the ground"
LOST = "lost"
NONE, NOTHING = "none", "nothing"
NOT_IN_FRONT = {Phase.AWAY: "the background", Phase.KILLED: "the ground, app killed"}
STOPPED = "stopped"
UNANSWERED = "unanswered"
WHAT_IS_ASKED, WHAT_IS_HELD, WHAT_IS_SEEN = "asked", "held", "seen"
WHAT_LADDER, WHAT_LIES_OVER = "ladder", "over it"
