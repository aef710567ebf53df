"""What people read of rules that are not proved: why not."""

from __future__ import annotations

NOT_TOLD_APART = "states could not be told apart in which {step} may break it: {words}"
STATE_NOT_TOLD_APART = "states could not be told apart in which it may be broken: {words}"
NO_END = "there was no end in time, after {states:,} abstract states"
NO_LIMIT = "the ladder may grow for ever, as far as states could be told apart"
MAY_GROW = "it could only be shown that there is never more than {size}"
NO_MEMORY = "it took too much memory, after {states:,} abstract states"
NOT_BEYOND = "there was no time to look beyond the steps that break it"
NO_TIME = "no time was left for it"
TIME = "time that passes"
TOO_DEEP = "{step} looks at the whole ladder, however high it is"
TOO_MUCH = "it was too much to look at"
