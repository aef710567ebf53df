"""What the application says: messages, and titles, hints and refusals of dialogs. Labels of commands are in `commands.py`."""

ADDED = "added: {what}"
ALL_CHECKED = "nothing left to sweep: every state was checked"
ALL_CROSSINGS_USED = "every crossing shown is in a walk"
ALL_WALKS = "showing all walks"
CHANGED_ELSEWHERE = "{file} changed elsewhere meanwhile"
CROSSINGS_ALL = "{screens} screens, {total} crossings"
CROSSINGS_LISTED = "{count} of {total} crossings"
CHOOSE_WALK_FIRST = "choose a walk first"
CLIMB_PART = "Climb the shortest known path there."
CLIMB_WALK = "Climb the walk to its end."
COUNTEREXAMPLE_CLIMBED = "{violation}: step {number} of {count}"
COUNTERPARTS = "&  the same for {names}"
CROSSING_CLIMBED = "the last step takes it; ← is before it"
DELETED = "{what} deleted; ctrl+z restores it"
DELETE_ALONE = "nothing else refers to it; ctrl+z restores it"
DELETE_PART = "Delete it, after showing what refers to it."
DELETE_WITH = "and {count} that need it: {names}; ctrl+z restores all"
EDIT_CODE = "the code of the app"
EDIT_PLAN = "the plan"
EDIT_WHERE = "Open which of them in the editor?"
EDITOR_EMPTY = "EDITOR is empty; set it to the command of your editor"
EDITOR_INVALID = "EDITOR is not a valid command: {why}; write it as in a shell"
EDITOR_NOT_RUN = "{editor} cannot be run: {why}; set EDITOR"
EDITS_RESTORED = "your last edits are restored, not saved yet"
EDIT_PART = "Change what it says."
FILE_BACK = "{file} is back, unchanged"
FROM_STARTER = "from the starter set; i shows what it found"
KEEP_PART = "Change nothing."
KEYS_IGNORED = "{count:,} keys came at once and were ignored: text cannot be pasted here"
KEY_DOES_NOTHING = "{key} does nothing in this view; F1 lists keys"
LOOKING = "looking for a path ..."
MOVE_PART = "The first one that fits is taken: change the order."
NEVER_USED = "{count} plan parts were never used; U lists them"
NOTHING_BREAKS = "no path breaks it"
NOTHING_BREAKS_YET = "no path breaks it, checked {extent}; s continues"
NOTHING_DECIDED = "nothing in the plan decided it"
NOTHING_DONE = "nothing was done yet"
NOTHING_DUE = "nothing is due, so time changes nothing"
NOTHING_EDITED = "nothing edited yet: e edits the move of the last step"
NOTHING_HAPPENED = "nothing happened"
NOTHING_MATCHES = "nothing matches: type other words"
NOTHING_TO_CLIMB = "nothing to climb: no violation of this rule is known so far"
NOTHING_TO_DELETE = "nothing is selected: P lists all parts of the plan"
NOTHING_TO_REDO = "nothing to redo"
NOTHING_TO_REPEAT = "no step to repeat yet"
NOTHING_TO_SAVE = "nothing to save: the file is up to date"
NOTHING_TO_UNDO = "nothing to undo"
NOT_BACKED_UP = "unsaved edits are not backed up: their folder cannot be written to"
NOT_CHECKED_YET = "nothing has been checked yet"
NOT_REACHED_AT_ALL = "not reached by a walk, nor in every state there is by taps, Backs, replies and time"
NOT_REACHED_YET = "not reached by a walk, nor in {states:,} states from the start by taps, Backs, replies and time"
NOT_RUNNING = "the app is not running"
NO_CALL_PENDING = "no call is pending"
NO_COUNTEREXAMPLE = "nothing to save: no violation of this rule is known so far"
NO_COUNTERPARTS = "the last edit has no counterparts to change"
NO_EDITOR_HERE = "no editor can be run from this terminal"
NO_FACT_TO_SET = "nothing can change from outside now; at the start of the tape (key Home) you can set any fact"
NO_MOVE_TAKEN = "no move was taken here: try another step"
NO_NAME = "this move has no name: only taps have"
NO_OTHER_PLAN = "no other plan is open: O opens one beside this"
ANOTHER_APP = "another app"
BEGUN = "◁ Back is begun"
BACK_BEGUN = "Back is begun: it would {what}"
NO_OTHER_PHONE = (
    "the plan has no other phone and no named given: write phones: {NAME: {...}} or givens: {NAME: [FACT is VALUE]}"
)
NO_OTHER_TAPE = "no other tape to return to"
NO_OTHER_VIOLATION = "no other violation of this rule is known"
NO_PATH_KNOWN = "no path there is known, in a walk or from the start"
NO_SUCH_TAP = "there is no tap {number} here"
NO_SYSTEM_BACK = "this phone has no system Back"
NO_TAPS = "nothing can be tapped here"
NO_VERDICT_CHANGED = "the last edit changed no verdict"
NO_WALK_DIFFERS = "no walk differs"
NO_WALK_FAILS = "no walk fails"
NO_WARNINGS = "this plan has no warnings"
ONE_ROW_NOT_READ = "1 row was not read: {first}"
ONE_STEP_GREYED = "step {number}, {step}, no longer applies: {why}; it is greyed"
OF_THEM_COMPARED = ", {compared} of {lines} compared with the app"
ONE_OF_BOTH = "an address or a command, not both"
ONE_WALK_FAILS = "1 walk fails now"
ONE_WALK_PASSES = "1 walk passes now"
ONE_WALK_RUN = "1 walk run in {took}"
ONLY_FAILING = "showing only failing walks"
ONLY_PLAN = "this is the only open plan: q quits"
OPEN_ELSEWHERE = "{file} is also open in another Wise Ladder, process {process}, since {began}"
OTHER_TAPE = "this is the tape you left last; 1 other is kept"
OTHER_TAPES = "this is the tape you left last; {count} others are kept"
PART_CLIMBED = "the last step reaches it; ← is before it"
RENAMED = "{kind} {old} is now {new}, everywhere"
RENAME_PART = "Change its name everywhere, in walks and rules too."
ROWS_NOT_READ = "{count} rows were not read; the first: {first}"
SAME_ELSEWHERE = "Run the same steps this way."
RULE_OF_STARTER = "{{rule: starter, without: [{rule}]}} in the plan leaves this rule out"
SAVED = "saved in {file}"
SAVED_AS = "saved in {path}, which is now open"
SAVED_WITH_LOSS = "saved in {file}; {lost}"
SAVE_ASKS = "{why}; ctrl+s again overwrites it, ctrl+e saves elsewhere"
SAVE_FAILED = "{why}; ctrl+e saves it elsewhere"
SAVE_FIRST = "save your edits first, with ctrl+s"
STARTER_OFF = "the plan has its own rules: the starter set is off"
STAYS_AT_ROOT = "Back does nothing at the root of this phone"
STEPS_GREYED = "step {number}, {step}, no longer applies: {why}; {count} steps are greyed"
STEP_CLIMBED = "this is “{name}” after step {number}"
STOPPED_AFTER = "stopped after {count}: {why}"
TAPE_EMPTY = "nothing to save: the tape is empty"
TAPE_END = "this is the end of the tape"
TAPE_START = "this is the start of the tape"
TAPS_TWICE = "the next number key taps twice, quickly"
TEXT_KEPT_ELSEWHERE = "{file} {why}; its text is kept here: ctrl+e saves it elsewhere"
TEXT_KEPT_HERE = "{file} {why}; its text is kept here: ctrl+s writes it there, ctrl+e elsewhere"
TOO_NARROW = "the window is too narrow for that"
UNSAVED = "unsaved edits: ctrl+s saves them, the same key again discards them"
UNSAVED_MARK = " *"
WALKS_FAILING = "{count} walks fail now"
WALKS_PASSING = "{count} walks pass now"
WALKS_RUN = "{count} walks run in {took}"
WALKS_ON_APP = "on the app"
WALK_CLIMBED = "this is “{name}”"
WALK_DELETED = "“{name}” deleted; ctrl+z restores it"
WALK_ENDS_HERE = "this is where “{name}” ends, and passes now"
WALK_FAILS_HERE = "this is where “{name}” fails now"
WALK_GONE = 'the walk "{name}" no longer exists'
WALK_NOT_RUN = "the walk has not run yet"
WALK_REMOVED = "walk removed again"
WALK_SAVED = 'saved as "{name}" in {file}; wise-ladder check runs it'
WALK_SAVED_SHORTER = 'saved as "{name}" in {file}, without the {count} steps that do not apply; wise-ladder check runs it'
WAS_CHANGED = "changed elsewhere; your edits here are not saved"
WAS_CHANGED_UNREADABLE = "was changed elsewhere and cannot be read: {why}"
WHAT_NOT_SAVED = "what was not saved"

# Titles of dialogs

ADD_STEP = "After step {number} of {walk}"
ALL_COMMANDS = "All commands"
COPY_WALK = "The name of the copy"
DELETE = "Delete the {part}?"
DO_WHAT = "{part}"
EACH_REPLY = "{call}: each reply, and none, on this path"
EDITS_LEFT = "{file} has unsaved edits from last time"
EDITS_LEFT_CHANGED = "{file} has unsaved edits from last time, and the file has changed since"
EDIT_WHICH_PART = "Edit which part of the plan?"
EDIT_WHICH = "Several took part: edit which one?"
FIND_CROSSINGS = "Find crossings"
FIND_WALKS = "Find walks"
INCLUDED_DIFFERS = "{path} exists already, with another text; choose another folder"
KEEP_TAPE = "Save this tape as a walk"
NEVER_USED_TITLE = "Never used"
NEW_PLAN = "A new plan"
NEW_TAP = "New on {screen}"
OUTLINE = "{app}: {count} parts"
RENAME = "Rename the {kind} {name} everywhere"
RENAME_WALK = "Rename the walk"
RENAME_WHICH = "Rename what?"
ON_APP = "Where is the running app?"
SAVE_AS = "Save this plan as"
SET_STEP = "Step {number} of {walk}"
SET_WHICH_FACT = "Set which fact for the start?"
STARTER_FOUND = "What the starter set recognised"
STEP_OF = "a step of {walk}"
TYPE_STEP = "Type a step"
UNUSED_BY_WALKS = "No walk uses {count} of {most} parts of the plan"
WHICH_CHANGE = "Which outside change?"
WHICH_LINK = "Open which link?"
WHICH_PHONE = "Run the same steps on which phone, or with what given?"
WHICH_PHONE_EVENT = "Which phone event?"
WHICH_PLAN = "Which plan?"
WHY = "Why? Enter edits what decided"

# Hints in dialogs

ADD_STEP_HINT = "a step of the walk, or any part of the plan. Enter adds it"
CHOICES_HINT = "1–{most} continues with it, Esc closes"
DISCARD_EDITS = "the file is unchanged"
EDIT_HINT = "Enter applies, Esc cancels; separate several operations with ;"
FACT_AS_IT_IS = "as it is"
FACT_TO_BEGIN_WITH = "to begin with"
FIND_CROSSINGS_HINT = "screens, an operation, words of the phrase; empty shows all. Enter applies"
FIND_WALKS_HINT = "words of the name; empty shows all. Enter applies"
FORM_HINT = "Enter applies, Esc cancels"
FREE_ADDRESS = "or type any address"
FREE_KEY = "if nothing matches: take what is typed"
FREE_PLAN = "type to search, or enter a file path"
INFO_HINT = "Esc closes"
KEEP_DEMO_HINT = "It is saved in {file}, a copy of the demo here. Let the name say what must hold; Enter saves, Esc cancels."
KEEP_HINT = "It is saved in {file}. Let the name say what must hold; Enter saves, Esc cancels."
LIST_HINT = "↑ ↓ and Enter choose, Esc cancels"
NEW_PLAN_HINT = (
    "↓ next line, Enter begins it, + adds to it, ctrl+s writes it here. A table is a CSV file: from, action, operation, to"
)
NEW_TAP_HINT = "a screen to push, TAP: OPERATION, TRIGGER: OPERATION, or any part, as in fact seen: no, yes. Enter adds it"
PLAN_DEMO = "Combfield, the made-up sample app"
PLAN_IN_FOLDER = "in this folder"
PLAN_OPEN = "open"
PLAN_NEW = "a plan with one screen, to extend as you climb"
PLAN_RECENT = "recent"
PLAN_UNREADABLE = "not a readable plan"
RENAME_HINT = "Enter renames it in the whole plan, walks and rules too; Esc cancels"
RESTORE_OVERWRITES = "this overwrites the changes made since"
RESTORE_UNSAVED = "this does not save them yet"
ON_APP_HINT = (
    "127.0.0.1:7400 or unix:PATH, or a command that speaks over its standard streams; leave both empty to see the plan again"
)
SAVE_AS_HINT = "Enter writes a new file and opens it, Esc cancels"
SEARCH = "type to search"
SET_STEP_HINT = "Enter applies, empty deletes it"
THIS_PHONE = "this one"
TAP_HELP = "Tap what the phone in hand shows."
TYPE_STEP_HINT = "any step of a walk that does something; Enter runs it, Esc cancels"

# Why a dialog does not take what was typed

ENTER_BOTH_NAMES = "enter both names"
ENTER_NAME = "enter a name"
PLAN_CHANGED = "the plan changed elsewhere: press Esc and try again"
PLAN_EXISTS = "{file} is here already; choose another name"
WRITE_STEP = "write a step, such as tap NAME or see SCREEN"

# What a view shows

ALL_STATES = "all there are"
ALL_USED = "✓ everything was used"
BACKGROUND = "in the background"
BACK_BY = "Back by the {way}"
BACK_FROM_FRAME = "Back from frame {number}"
BACK_LEAVES = "Back leaves the app"
BECAUSE = ", because {why}"
BOTTOM_BAR_HIDDEN = "bottom bar hidden"
BROKEN_NOW = "{rule} is broken now"
BY_NO_WALK = "◌ by no walk {count}"
CAUSED_BY = "caused by step {number}"
CHECKING_RULES = "the rules are being checked"
CLOSES_OVERLAY = "closes what is over it"
CLOSES_QUESTION = "closes the question"
COVER_ALONE = "the cover is up, nothing is under it"
COVER_GOES = "n advances time; the start comes when the cover goes"
COVER_UP = "The cover is up"
DECIDES_AT_PRESS = "decides at the press"
DOES_INSTEAD = "does something instead"
EMPTY_TAPE = "empty: r launches the app"
FACTS_AT = "facts at frame {number}"
FAILS_AT = "✗ fails at step {number} of {count}"
FOR_EVER = "and so on, for ever"
GOES_AWAY = "goes to the background"
HOLDS_AGAIN = "{rule} holds again"
IN_THE_FILE = "in the file"
IS_AWAY = "the app is in the background"
KEY_COME_BACK = "z comes back"
KEY_LAUNCH = "r launches the app"
KEY_LAUNCH_IT = "r launches it"
KEY_OPEN_AGAIN = "z opens it again"
HOW_KNOWN = "how it is known: {rule}"
STILL_PROVING = "It is being proved right now; the verdict changes when that is done."
PROVED_COUNT = "of {count} rules proved"
PROVED_OR_CONDITIONAL = "of {count} proved, + with a condition"
PROVING = "proving"
KEY_SWEEP = "s continues the sweep"
KEY_TIME = "n advances time"
LADDER_AFTER = " the ladder after it "
LAST_STEP = "the last step: {step}"
LAUNCH_AGAIN = "r launches it again; ← steps back on the tape"
INSIDE_FRAME = "inside step {number}"
INSIDE_THE_WAIT = "inside step {number}: {told}"
LAUNCH_OR_HELP = "r launches the app; F1 opens the help; each screen stands where the fewest moves lead to it"
LEAVES_APP = "leaves the app"
LOOP_ADDS = " ↻ the loop: each repeat adds rungs "
MORE_BACKS = "more than {count} Backs to go"
MORE_PASSED = "{count} more passed: they are for other screens"
MORE_WARNINGS = "+{count} more: wise-ladder check lists all"
NOTE_OF_STARTER = "{note}; i shows what it found"
NOTHING_IS_DUE = "nothing is due"
NOTHING_REMOVES_COVER = "nothing is due that can remove it"
NOT_KNOWN = "◈ not known before the press"
NOT_RUN = "not run yet"
NO_BACK_OUT = "a trap: no Back gets out"
NO_CROSSING = "no crossing is shown"
NO_CROSSING_MATCHES = "no match: / and Enter shows all"
NO_LONGER_APPLY = "{count} no longer apply"
NO_MOVES = "no moves yet: + adds one"
NO_OTHER_STEPS = "there are no others"
NO_RULES_WRITTEN = "none; write rules: [starter] for what most apps want"
NO_TAPS_HERE = "nothing to tap here"
NO_TAPS_TIME = "nothing to tap; n advances time"
NOT_COMPARABLE = "not comparable: {why}"
NO_WALKS = "no walks yet: k in Climb saves one"
NO_WALKS_YET = "no walks yet"
NO_WALK_MATCHES = "no match: / and F show all"
NO_WALK_SHOWN = "no walk is shown"
ON_THE_GROUND = "● on the ground"
OPEN_AGAIN = "z opens it again; ← steps back on the tape"
PLAN_AWAY = "{app} is in the background"
PLAN_KILLED = "{app} was killed"
PLAN_LEFT = "{app} was left"
PLAN_NOT_STARTED = "{app} has not been started"
PROTECTED_FOUND = "protected, the screens behind it:  {names}"
PUTS_AWAY = "puts the app in the background"
SIGNED_IN_FOUND = "signed in:  {what}"
SIGN_IN_FOUND = "sign-in, the target of redirects that remember:  {names}"
SPEED = "states a second"
SPLASH_FOUND = "splash, never beneath and never landed on:  {names}"
STEPS_FROM_START = "{count} steps from the start: Enter climbs there"
STEP_FROM_START = "1 step from the start: Enter climbs there"
STUCK = "stuck until {calls} replies"
SWITCH_TAB = "switch to a tab"
TAKEN_BY = "taken by {count} walks"
TAKEN_BY_NONE = "taken by no walk"
TAKEN_BY_ONE = "taken by 1 walk"
TIME_LEFT = "{time} left at most"
TOP_BAR_HIDDEN = "top bar hidden"
TO_BACKGROUND = "to the background"
TRAP_HERE = "↻ does nothing: a trap"
UNSETTLED_FOUND = "not known yet, neither signed in nor out:  {names}"
UNUSED_BY_SWEEP = "by the sweep {extent}: {count}"
UNUSED_IN_WALKS = "by the walks: {count}"
WARNINGS = "warnings about the plan"
WAS_KILLED = "the app was killed"
WAS_LEFT = "the app was left"
YOU_STAND_ON = "You stand on "

# Keys of dialogs and what they do

FORM_KEYS = (
    ("Enter", "apply what is typed"),
    ("Esc", "cancel"),
    ("Tab", "complete the word, or go to the next line"),
    ("↑ ↓", "go from line to line"),
    ("← →", "move within the line; what you type replaces it while it is selected"),
)

LIST_KEYS = (
    ("letters", "show only what has these words"),
    ("↑ ↓ Tab", "select the previous or the next"),
    ("Page Up, Page Down", "a page up or down"),
    ("Enter", "choose the selected one"),
    ("Esc", "cancel"),
)

# What helps with the starter set

STARTER_OVERRIDE = """To override, write under rules in the plan:
  - {rule: starter, not splash: SCREEN, not sign in: SCREEN, not protected: SCREEN}
  - {rule: starter, without: [no pile-up]} leaves a rule of the set out"""

# What is asked for in one line where one kind of part comes first: title and hint

NEW = {
    "": (
        "A new part of the plan",
        "a kind of part and what it says, as in fact session: none, valid. Enter adds it, Esc cancels",
    ),
    "rule": (
        "A new rule, or any other part of the plan",
        "a rule and what it needs, as in rule depth at most: rungs 6. Enter adds it, Esc cancels",
    ),
    "walk": (
        "A new walk, or any other part of the plan",
        "its name and its steps, as in walk one hive: launch, tap hive(id=7), back. Enter adds it, Esc cancels",
    ),
}

# Back from everywhere

BACK_CLIMB = "Enter"
BACK_FOUND = "landings {extent}: {count} of {total}"
BACK_KNOWN = "landings {extent}: {total}"
BACK_LEGEND = ("system and header", "system alone", "header alone", "a tap of the app")
BACK_LISTED = "landings: {count} of {total}"
BACK_NOT_YET = "nothing is known yet: the sweep looks for it; s in Rules sweeps longer"
BACK_NO_RULE = "no rule can be made of this: Back lands on no screen here"
BACK_NO_SURPRISE = "nothing that is known so far is surprising"
BACK_PATH = "shortest path"
BACK_STEPS = "{count} steps"
BACK_SURPRISES = "surprising: {count}. Back leaves, a finished screen or form returns, or header and system differ"
BACK_TITLE = "from ↓   Back to →"
BACK_RULE = "rule back lands: from {screen}, lands on [{ends}]"
BACK_UNKNOWN = "where Back leads is not known yet"
BACK_WAYS = {"system": "system", "header": "header button", "app": "a tap"}

# Seen


# Drawings, and the small map

DRAWING = "drawing: {what} ..."
DRAWN = {
    "strip": ("film strip", "one ladder after each step: {path}"),
    "time": ("time chart", "what was seen along time: {path}"),
    "depth": ("depth and weight", "over the steps: {path}"),
    "map": ("map", "screens and moves, with the path traced: {path}"),
    "crossings": ("table of moves", "every move, from where to where"),
    "backs": ("table of Back", "where Back leads from every screen, as far as the sweep knows"),
    "still": ("this view", "as it is on the screen"),
}
"""What can be drawn: its name, and what it shows."""
DRAWN_AROUND, DRAWN_FILE, DRAWN_LOOK = "around", "file", "look"
DRAWN_ENDINGS = "the name must end in {endings}"
DRAW_HINT = "NAME.svg or NAME.pdf; look: page, slide, dark or dark slide; Enter draws"
DRAW_HINTS = {
    "map": "NAME.svg, .pdf, .graphml or .dot; look: page, slide, dark, dark slide; around: only what is near a screen",
    "still": "NAME.svg; Enter writes it",
}
DRAW_TITLE, DRAW_WHAT = "Draw: {what}", "Draw what?"
IS_DRAWN = "{what}: drawn in {path}"
MAP_HEADING, MAP_KEY = "map", "M draws it to a file"
MAP_MORE = "and {count} more; M draws them all to a file"
NO_PATH = "none"
NO_SUCH_LOOK = 'there is no look "{name}"; {instead}'
NO_SUCH_SCREEN = 'there is no screen "{name}"; {instead}'
THIS_TAPE = "this tape"
WHAT_BREAKS = "what breaks {rule}"

# The path to a state

PATHS_TO = "Paths to {question}"
PATH_DOUBT = "no path was found, but there may be one: {doubt}, known {{extent}} ({{figures}})"
PATH_HINT = (
    "SCREEN seen, SCREEN beneath SCREEN, a condition, Back from SCREEN lands on SCREEN, tap NAME used, finding NAME; "
    "Enter looks for it"
)
PATH_NEAREST = "{question}: {words}. The nearest that was found:"
PATH_NOT_FOUND = "no path leads there, known {extent} ({figures})"
PATH_STEP = "1 step"
PATH_STEPS = "{count} steps"
PATH_TO = "Path to what?"

# All about a screen

SELECTED = "selected"
SHEET_KNOWN = "{screen}: what the sweep met is known {extent}"
SHEET_MAKING = "looking at all paths to {screen} ..."
SHEET_OF = "All about which screen?"
SHEET_TITLE = "{screen}: known {extent} ({figures})"
