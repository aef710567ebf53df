"""The words on pages for people: headings, columns, and what is said where there is nothing to list."""

from __future__ import annotations

AFTER_DEATH = "after the app was killed"
ALL_SCREENS = "{app}: all screens"
ALL_SAVED_STAND = "every ladder that the old version saves stands in the new one ({count:,} ladders)"
AND_MORE = "and {count} more"
AWAITED = "awaited as {name}"
BEFORE = "before"
BEFORE_ANY_SCREEN = "before any screen"
BROKEN = "What breaks: {rule}"
BY = "by"
BY_ELSEWHERE = "{event}, {where}"
BY_LINK = "by the link {address}"
CALLER = "{caller}, {when}"
CHECK = "check: {words}"
DOES_NOTHING = "nothing"
DOES_NOT_APPLY = "this step is not possible: {why}"
EQUAL_AT_EVERY_DEPTH = "equal at every depth: all {pairs:,} pairs of states were looked at, in {took}"
FEWEST = "◆ marks the fewest walks that take every move which any of them takes: {count} of {all}."
GIVEN = "Given: {words}."
GIVES = "gives {name}"
GUARD_DOES = {"block": "blocks", "ask": "asks “{text}”: {answers}", "do": "does something else instead"}
GUESSED_NAME = "it seems that the {words}"
HEADERS = {"menu": "a menu button in the header", "none": "no header button"}
IN_A_WALK = "{steps} in a walk, perhaps not the fewest"
KNOWN = "{app}{phone}, {path}. What the sweep met is known {extent} ({figures})."
LEFT_OUT = "not shown by a run, and left out: {count}"
LOOKED_AT_PAIRS = "looked at {pairs:,} pairs of states, everything in {depth} steps,{elsewhere} in {took}"
LOOKED_ELSEWHERE = " {where} {pairs:,} pairs in {depth} steps,"
LOWEST = "nothing beneath"
MAP_AROUND = "The map around it"
MARK = "◆"
MOVES_LEFT = "Moves that no walk takes"
NOTICED = "What a user notices"
NOT_MET = "not met {extent}"
PAGE_OF_CHANGE = "{app}: what a user notices of the change"
PATH = "path"
OWN_WAYS = "its own ways through the app"
ONLY_KEPT = "only kept otherwise"
OVER_IT = "{seen}, over it: {layers}"
QUESTION = "{seen}, asks “{text}”"
REDIRECTED = "when it is to be shown, redirect to"
SCREEN_HOLDS = "holds {name}: {values}"
SCREEN_KINDS = {"tabs": "tabs: {names}", "flow": "a flow, begins with {names}"}
SECTION_ARRIVALS, SECTION_BACK, SECTION_ELSEWHERE = "How to get there", "What Back does", "What leads away"
SECTION_GUARDS, SECTION_RESULTS, SECTION_TIMERS = "Guards", "Results", "What goes by itself"
SECTION_RULES, SECTION_WALKS, SECTION_WAYS = "Rules that name it", "Walks that show it", "What leads here"
SECTION_HEADS = {
    SECTION_ARRIVALS: ("how", "steps", "path"),
    SECTION_WAYS: ("from", "how"),
    SECTION_BACK: ("over", "way", "does", "steps", "shortest path"),
    SECTION_ELSEWHERE: ("when", "if", "does"),
    SECTION_TIMERS: ("when", "if", "does"),
    SECTION_GUARDS: ("guard", "if", "does", "ways"),
    SECTION_RESULTS: ("result", "values, or who waits"),
    SECTION_WALKS: ("walk", "verdict"),
    SECTION_RULES: ("rule", "verdict"),
}
SEE, BACK = "see {words}", "Back {words}"
NOW = "now"
NOT_MET_HERE = "not met here:"
ON_SCREEN = "on"
ONLY_HERE = "only here:"
SAME_AS_FIRST = "the same as the first"
WHERE_BACK_LEADS = "{app}{where}: where Back leads, known {extent} ({figures})"
SHEET = "{app}{phone}: to be checked by hand"
SHEET_USE = (
    "Do each step on a phone. Tick it if you see what it says. Where it says what Back does, that is what Back would do then; "
    "press Back only where it is a step. Begin each list with a fresh start of the app."
)
SHORTEST = "shortest"
SEEN_THEN = "seen then"
SMALL_SET = (
    "◆ marks a small set of walks that take every move which any of them takes: {count} of {all}. There may be a smaller one."
)
STRANDED = "an update over a saved ladder: {why}; then is seen: {seen}"
TAKES = "takes {name}, such as {samples}"
TOP_BAR, BOTTOM_BAR = "top bar {bar}", "bottom bar {bar}"
THAT_ARE_STRANDED = "Saved ladders that cannot stand"
THAT_TURNED = "Walks and rules that turned"
TURNED = "{kind} {name}: {now} (was: {was})"
VERSIONS_DIFFER = "{app}: {noticed} noticed, {kept} only kept otherwise, {turned} walks and rules turned"
VERSIONS_SAME = "{app}: no difference found"
WAITS = "waits: {name}"
WALK_FAILS, WALK_PASSES = "fails at step {number}", "passes"
WEIGHS, WEIGHS_HIDDEN = "weighs {size}{hidden}", ", hidden {size}"
WHAT = "what"
WRONG = "wrong then: {words}"
