"""What the command line says: why a call cannot be done, and what was done. Help texts are in `cli.py`."""


# Why a call cannot be done

AROUND_IS_OF_MAPS = "--around is for --what map"
BUG = "this is a bug in wise-ladder: {why}"
BUG_DETAILS = "this is a bug in wise-ladder; details: {path}"
AUDITED = "{count:,} states of random ways were looked up: all lie in the abstract states"
AUDIT_LOST = "the proofs are worth nothing: this state lies in no abstract one: {state}"
NOTHING_AUDITED = "nothing was looked up: no proof came to its end in time"
AUDIT_NEEDS_PROOF = "--audit needs --prove"
CALLED_WRONGLY = "{what}; see {program} --help"
DRAW_WHAT = "this drawing needs a walk or a rule; write --walk NAME or --rule NAME, or --what map for the map"
DRAWINGS_END_IN = "{path}: drawings are .svg or .pdf; write {instead}"
MAPS_END_IN = "{path}: maps are .svg, .pdf, .graphml or .dot; write {instead}"
NEEDS_A_TERMINAL = "this needs a terminal; wise-ladder check PLAN does not"
NEEDS_THE_NAME = "a plan needs the name of its app; write wise-ladder new NAME"
NOT_ANSWERED = "nothing was written: the questions were not answered"
NO_PLAN_IN_FOLDER = "{path}: no plan in this folder; plans are called NAME.ladder.yaml"
NO_SUCH_GALLERY_FAULT = 'the gallery has no "{name}"; {instead}'
NO_GIVEN_CHECKED = "; facts as declared: --given all checks the named givens too"
NO_SUCH_GIVEN = '{path}: there is no named given "{name}"; {instead}'
NO_SUCH_PHONE = '{path}: there is no phone "{name}"; {instead}'
NO_SUCH_SCREEN = 'there is no screen "{name}"; {instead}'
NO_SUCH_WALK = 'there is no walk "{name}"; {instead}'
OUTPUT_NOT_WRITTEN = "the output cannot be written: {why}"
REPORTS_END_IN = "{path}: reports are .md; write {instead}"
RULE_ALONE = "--rule checks one rule only; leave out --walk and --no-rules"
TABLES_SHOW_NO_WALK = "--what {what} shows the whole plan; leave out --walk and --rule"
TABLE_ALONE = "--from makes the whole plan; leave out --splash, --sign-in and --tabs"

# What was done

ONE_PHONE_CHECKED = " on {phone}; --phone all checks the others too"
COMPARE_TWO = "compare takes OLD and NEW, or --since REVISION and one plan"
EXPLORED = "{steps:,} steps of its own on the app, seed {seed}: {moves} of {of} moves used"
EXPLORED_WALK = "plan and app differ, seed {seed}"
EXPLORE_NEEDS_APP = "--explore goes ways of its own through an app: add --against or --against-command"
LINES_COMPARED = "; {compared} of {lines} steps and expectations compared"
NOTHING_COMPARABLE = "{path}: no walk could be compared with the app"
RULES_NOT_AGAINST = "rules are not run on an app: leave --rule and --rules out"
STAND_IN_LISTENS = "listening at {address}"
SOME_NOT_COMPARABLE = ", {count} not comparable"
PAGE_NAME = "{path}: a page is called NAME.md"
PART_UNUSED = "◌ no walk uses the {kind} {name}  ({place})"
PATH_DOUBT = "{app}{phone}: no path was found, but there may be one: {doubt}, known {extent} ({figures})"
PATH_LADDER = "  {ladder}"
PATH_NEAREST = "The nearest that was found:"
PATH_NONE = "{app}{phone}: no path leads there, known {extent} ({figures})"
PATH_OF_STEP = "1 step: {path}"
PATH_OF_STEPS = "{count} steps: {path}"
PATH_WORDS = "- {words}"
PATH_TITLE = "{app}{phone}: {question}"
REPORT_WRITTEN = "{path} and {strip} written"
SCREENS_WRITTEN, SCREEN_WRITTEN = "{path} and {count} maps written", "{path} and {map} written"
SHEET_WRITTEN = "{path} written"
STOPPED = "stopped; what is not listed is not checked"
STOPPED_AT_FAILURE = "stopped at the first failure"
STOPPED_BY_YOU = ", stopped by you"
SWEEPING = "{states:,} states, all within {depth} steps, at most {left:.0f} s left"
WALKS_LEFT = "{number} of {count} walks, {left:.0f} s left"
WARNING = "warning: {what}"
WRITTEN = "{path} written; open it with: wise-ladder open {path}"
WRITTEN_FROM_ROW = "{path} written from 1 row; open it with: wise-ladder open {path}"
WRITTEN_FROM_ROWS = "{path} written from {count} rows; open it with: wise-ladder open {path}"

# What a new plan asks for

ASK_NAME = "The name of your app:"
ASK_SIGN_IN = "Does it have a sign-in?"
ASK_SPLASH = "Does it have a splash?"
ASK_TABS = "Tab names, separated by commas (Enter: none):"
