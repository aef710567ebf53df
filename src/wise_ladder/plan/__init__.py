"""What an app is: the plan as plain data, and the phrases that events and conditions are written in.

The model stands alone, without files or YAML. `wise_ladder.plan.loader` turns a file into a plan or into every problem in it;
`wise_ladder.plan.yaml_text` puts a change back into the file and leaves everything else, comments included, as it was.
"""

from wise_ladder.plan.events import Event, Expectation, Walk
from wise_ladder.plan.model import Move, Plan, Screen

__all__ = ["Event", "Expectation", "Move", "Plan", "Screen", "Walk"]
