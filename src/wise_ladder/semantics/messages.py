"""What a step says: why an event is refused, what a finding is about, what was asked. The log's sentences are in `text.py`."""


# Why an event is refused

ARROW_LEADS_HERE = "the arrow leads to this screen"
AWAY_REOPEN = "{app} is in the background: reopen it first"
CANNOT_GIVE_NOW = "{call} cannot give {outcome} right now"
COVERED = "the cover is still up"
HEADER_COVERED = "{overlay} is over the header"
HEADER_EMPTY = "the header is empty here"
HEADER_MENU_EMPTY = "the header menu opens nothing here"
KILLED_REOPEN = "{app} was killed: reopen it first"
NEVER_GIVES = "{call} never gives {outcome}"
NOT_AWAY = "{app} is not in the background"
NOT_FROM_OUTSIDE = "the plan lets nothing outside change {fact} from {was} to {new}"
NOT_RUNNING = "{app} is not running"
NOT_RUNNING_LAUNCH = "{app} is not running: launch it first"
NO_ARROW = "no arrow: no rung is beneath it"
NO_QUESTION = "no question is open"
NO_SCREEN_FOR_ADDRESS = "{why}, and there is no screen for unknown addresses"
NO_SUCH_ANSWER = '"{guard}" has no answer "{answer}"; answers: {answers}'
NO_SUCH_FACT = "the app has no fact {fact}"
NO_SUCH_TAP = '{screen} has no tap "{tap}"; taps here: {taps}'
NO_GESTURE = "Back is no gesture on this phone: write back gesture: yes"
BACK_IS_BEGUN = "Back is begun: finish it or cancel it first"
BACK_NOT_BEGUN = "Back was not begun"
PROMISE_BROKEN = "shown when Back was begun: {promised}; done when it was finished: {done}"
NO_SYSTEM_BACK = "this phone has no system Back"
QUESTION_OPEN = '"{guard}" asks first; answers: {answers}'
RUNS_ALREADY = "{app} already runs"
TAP_DOES_NOTHING = '"{tap}" does nothing on {screen} right now'

# What a finding is about

ANSWER_NOBODY_AWAITS = "{overlay} closed with {value}, but nobody awaits it"
ACTED_HIDDEN = {
    ("timer", "gone"): "the timer of {place} acted after it was gone",
    ("timer", "hidden"): "the timer of {place} acted while another screen was visible",
    ("reply", "gone"): "a reply of {place} acted after it was gone",
    ("reply", "hidden"): "a reply of {place} acted while another screen was visible",
}
AWAITS_NOTHING = "nothing was put, so no {result} comes"
COVER_NEVER_GOES = "nothing pending can remove the cover"
CUT_SHORT = "{screen} plays for {plays} and went by itself after {time}"
GUARD_OUTLIVED_SCREEN = "{guard} is still armed although its screen {screen} is gone"
NESTED_TOO_DEEP = "{screen} would be inside more than {most} others; the whole move was undone"
NOTHING_TO_POP_TO = "{screen} is not on the ladder, so the whole move was undone"
NOT_INSIDE_FLOW = "this is not inside {flow}"
NOWHERE_TO_OPEN = "{overlay} belongs to {owner}, which is not here"
NO_SUCH_TAB = "no tabs here have {tab}"
POP_FOUND_NOTHING = "a pop found no rung beneath and did nothing"
REDIRECT_LOOP = "{screen} was redirected in a loop"
REPLY_TO_GONE_SCREEN = "{call} gave {outcome} to {screen}, which is gone"
RESULT_CAME_TOO_LATE = "{result} came for {rung}, which was gone by then"
RESULT_LOST_WHEN_REMADE = "{screen} awaited {result} when it was remade"
RESULT_LOST_BY_DEATH = "{screen} awaited {result} when the app was killed"
RESULT_NOBODY_AWAITS = "{value} was returned, but {rung} awaits nothing"
RESULT_NO_RUNG_BENEATH = "{value} was returned, but no rung is beneath"
RUNAWAY = "more than {most} things happened at once"
TIMERS_WITHOUT_END = "timers start each other without end"
TIMER_ACTED_AFTER_LEAVING = "the timer of {place} acted after the app was left"
TOO_HEAVY = "the rungs weigh {weight}, more than {limit}"
TOO_MANY_TIMERS = "over {most} timers in one wait"

# Why nothing happened

BLOCKS_BACK = "{overlay} blocks Back"
HERE_ALREADY = "{rung} is already here"
LOWEST_ALREADY = "{rung} is already the lowest"
NOT_PENDING = "{call} is not pending"
NO_MEMORY = "{app} is not running, and {fact} is kept in its memory"
NO_MOVE_TAKES_IT = "no move of {place} takes it now"
NO_OVERLAY = "no overlay is open"
NO_REPLY = "{call} gets no reply: {why}"
NO_WANTED_PLACE = "there is no wanted place"
ON_TOP_ALREADY = "{screen} is already on top"
OPEN_ALREADY = "{overlay} is already open"
PENDING_ALREADY = "{call} is pending already"
POP_DOES_NOTHING = "pop does nothing at the root"
SECOND_TAP_DOES_NOTHING = 'the second "{tap}" does nothing: no condition holds any more'
SECOND_TAP_IGNORED = "the second tap is ignored while the screen changes"
STAYS_AT_ROOT = "Back at the root does nothing on this phone"
TIMER_RUNS_NOT = "the timer {timer} does not run"
TAB_IN_FRONT_ALREADY = "{tab} is already in front"

# Why the wanted place is forgotten

STAND_IN_WENT = "its stand-in {screen} went"
WANTED_USED = "it was used"

# What was asked, and why it passed or took the step

ASKED_ALREADY = "it was asked already"
BACK_GOES_TO_TAB = "Back goes to the tab {tab} first"
BLOCKS = "it blocks Back"
CLOSES = "Back closes it"
DECIDES_AT_PRESS = "it decides at the press and let this one pass"
DOES_NOT_WATCH = "it does not watch {way}"
LETS_THROUGH = "it lets Back through"
LOWEST_OF_LADDER = "it is the lowest of its ladder"
OTHER_ARGUMENTS = "it carries other arguments"
PHONE_AT_ROOT = "back at root: {policy}"
RUNG_BENEATH = "a rung is beneath it"
UNSEEN_ON_PHONE = "guards do not see {way} on this phone"
