"""The semantics: what a ladder is, and what each event does to it.

`step` is the one reading of it, pure and without clock; forecast, descent and offers are made from `step` and nothing else.
"""

from wise_ladder.ladder.forecast import Descent, Forecast, descent, forecast
from wise_ladder.ladder.happenings import Step
from wise_ladder.ladder.offers import Effect, Offer, effect, offers
from wise_ladder.ladder.state import Face, Ladder, Phase, Rung, State, first_state
from wise_ladder.ladder.step import step

__all__ = [
    "Descent",
    "Effect",
    "Face",
    "Forecast",
    "Ladder",
    "Offer",
    "Phase",
    "Rung",
    "State",
    "Step",
    "descent",
    "effect",
    "first_state",
    "forecast",
    "offers",
    "step",
]
