"""The semantics: what a ladder is, and what each event does to it.

`step` is the one reading of it, pure and without clock; forecast, descent and offers are made from `step` and nothing else.
"""

from wise_ladder.semantics.forecast import Descent, Forecast, descent, forecast
from wise_ladder.semantics.log import Step
from wise_ladder.semantics.offers import EventSummary, Offer, offers, summarize
from wise_ladder.semantics.state import Ladder, Phase, Rung, RungData, State, initial_state
from wise_ladder.semantics.step import step

__all__ = [
    "Descent",
    "EventSummary",
    "Forecast",
    "Ladder",
    "Offer",
    "Phase",
    "Rung",
    "RungData",
    "State",
    "Step",
    "descent",
    "forecast",
    "initial_state",
    "offers",
    "step",
    "summarize",
]
