"""What is wrong in a plan, what to write instead, and what is probably not meant."""


# What is wrong

ALIAS = "the alias *{name}"
ANCHOR = "the anchor &{name}"
ANSWER_DOES_TOO_MUCH = '"{name}" goes on, so it may only set, show, call and cancel'
ANSWER_IS_A_MAP = "an answer is a map"
ARGUMENTS_TOUCH = "two arguments with nothing between"
ARROW_IS_A_MAP = "a choice of the arrow is a map"
ASK_IS_A_MAP = "ask is a map"
BAD_REPEAT = "nothing is repeated {count} times"
BEGINS_WITH_ITSELF = '"{name}" begins with itself'
CANNOT_FOLLOW = '"{rest}" cannot follow {after}'
CONTROL_CHARACTER = "{character} is a control character"
COVER_MUST_BE_A_MAP = '"cover" must be a map'
DROPS_TWICE = '"{name}" drops rungs after a drop or a put'
EXPECTED = "expected {what}"
FIRST_ANSWER_MUST_STAY = "the first answer must stay"
FLOW_HAS_NO_START = 'the flow "{name}" has no start'
GIVEN_TWICE = '"{name}" is given twice'
GUARD_DOES_ONE_THING = "a guard has one of block, ask and do"
GUARD_IS_A_MAP = "a guard is a map"
HAS_NOT_THE_VALUE = '"{name}" is never "{value}"'
HAS_NO_SUCH_TAB = '"{screen}" has no tab "{tab}"'
HAS_NO_VALUE = '"{name}" has no value'
HAS_SPACES = '"{text}" has spaces'
HEADER_NEVER_SHOWS = 'the header never shows "{name}"'
HOLDS_NO_LADDER = '"{screen}" holds no ladder'
ILLEGAL_CHARACTER = "an illegal character"
INCLUDES_TOO_MUCH = "a plan has at most {most} files and 5 MB"
INCLUDE_CIRCLE = "these files include each other: {files}"
INCLUDE_NOT_READ = 'the text of "{name}" is not here'
INCLUDE_OUTSIDE = '"{name}" is not in the folder of the plan'
INCLUDE_TWICE = '"{name}" is included twice'
INVISIBLE_CHARACTER = "{character} is invisible"
IS_EXPECTED = '"is" is expected after "{text}"'
IS_NOT_A_CHANGE = '"{name}" is not a change'
IS_NOT_A_NUMBER = '"{name}" is not a number'
IS_NOT_A_STEP = '"{name}" is not a step'
KEY_IS_A_PHRASE = "a key must be a single word or phrase"
KEY_TWICE = '"{name}" is here twice'
LACKS_A_KEY = '{what} has no "{key}"'
LADDER_STILL_EMPTY = "nothing is on the ladder yet when the app starts"
LADDER_STILL_EMPTY_SO = "nothing is on the ladder yet when the app starts, so it may only set, call and cancel"
LINK_IS_A_MAP = "a link is a map"
LONE_BRACE = "a brace without its other half"
MARK_OF_INCLUDED = 'a line that begins with "#>> " tells where an included file begins'
MEMORY_MUST_BE_A_MAP = '"memory" must be a map'
MORE_THAN_MOVES = "more than {most} moves"
MORE_THAN_SCREENS = "more than {most} screens"
MOST_IS_LESS_THAN_LEAST = "most is less than least"
MOVE_IS_A_MAP = "a move is a map"
MUST_BE_A_LIST = '"{key}" must be a list'
MUST_BE_A_MAP = '"{name}" must be a map'
MUST_BE_A_MAP_OF_NAMES = '"{key}" must be a map of names'
MUST_BE_A_PHRASE = "{what} must be a single phrase"
NAME_TAKEN = 'there is another screen, flow or overlay "{name}"'
NEEDS_AN_ARGUMENT = '"{text}" needs the argument "{name}"'
NEEDS_ITS_VALUES = '"{name}" needs its values'
NESTED_TOO_DEEP = '"{name}" begins with more than {most} nested flows'
NEVER_GIVES = '"{call}" never gives "{outcome}"'
NOTHING_EVER_REPLIES = 'nothing ever replies to "{name}"'
NOTHING_TO_TAKE_BACK = "only an overlay can take back what the move did that opened it"
PART_OF_A_PART = "a part of a result has no parts itself"
NOT_AT_REVISION = "{path}: not there at {revision}"
NO_GIT = "git cannot be run: {why}"
NO_REPOSITORY = "{path}: not in a git repository"
NO_SUCH_REVISION = "{path}: its repository has no revision {revision}"
NOT_ANOTHER_APP = '"{name}" is a screen of our app, which is never apart'
NOT_OURS = '"{when}": a screen of another app is only tapped, without a condition, and then returns something or pops'
NOTHING_HERE = "something is missing here"
NOTHING_HERE_HAS_THE_NAME = 'nothing here is called "{name}"'
NOTHING_PUT_AFTER_CLEAR = "nothing is put after this clear"
NOTHING_USES = 'nothing uses the "{name}" of this {what}'
NOTICE_NEVER_GOES = 'the notice "{name}" never goes'
NOT_ANYWHERE = '"{name}" cannot stand anywhere'
NOT_AT_THE_END = '"{hole}" is not at the end'
NOT_A_PLACE = '"{hole}" is not a place for a value'
SECTION_OF_TWO_KINDS = '"{name}" is something else in another file'
NOT_A_PLAN = "not a plan: a plan is a map of keys"
NOT_A_RULE_ALONE = '"{word}" alone is not a rule'
NOT_A_CODE_PLACE = '"{text}" is not a place in the code'
NOT_A_COUNT = '"{key}" is a whole number from 1 on, not "{text}"'
NOT_A_TIME = '"{text}" is not a time'
NOT_A_VALUE_OF = '"{text}" is not a value of "{name}", a {kind}'
NOT_A_WEIGHT = '"{text}" is not a weight'
NOT_A_WHOLE_NUMBER = '"{name}" is a whole number, not "{value}"'
NOT_YAML = "not YAML: {problem}"
NO_DEFAULT = '"{name}" may be missing in the address'
NO_LINK_MATCHES = "no link matches {address}"
NO_RESULT_GIVEN_HERE = 'no result is given here, so "{name}" reaches no screen'
NO_SCHEME = '"{text}" has no scheme'
NO_START_WITHOUT_CONDITION = "if no condition holds, there is no start"
NO_SUCH_ANSWER = 'no question has the answer "{name}"'
NO_SUCH_ARGUMENT_HERE = 'there is no "${name}" here'
NO_SUCH_FINDING = 'there is no finding "{name}"'
NO_SUCH_GUARD = 'there is no guard "{name}"'
NO_SUCH_OVERLAY = 'there is no overlay "{name}"'
NO_SUCH_GIVEN = 'there is no named given "{name}", and it is no "FACT is VALUE"'
NO_SUCH_PHONE = 'there is no phone "{name}"'
NO_SUCH_PHONE_ABOVE = 'no phone "{name}" above'
RESULT_OF_ANOTHER_TYPE = '"${argument}" is a {kind}, what is given here is a {kinds}'
FACT_HAS_OTHER_VALUES = '"{fact}" has values that the result does not have: {values}'
SET_TO_OTHER_VALUES = '"${argument}" may have values that "{fact}" does not have'
NO_SUCH_PART = '"{result}" has no part "{part}"'
NO_SUCH_PARTS = "no result here has just these parts: {parts}"
PARTS_ARE = "write ({parts})"
NO_SUCH_RESULT = 'no result here has the value "{name}"'
NO_SUCH_RULE = 'there is no rule "{name}"'
NO_SUCH_SCREEN = 'there is no screen "{name}"'
NO_SUCH_STEP = 'no step of a walk begins with "{word}"'
NO_SUCH_TAP = 'no screen has a tap "{name}"'
NO_SUCH_THING = 'there is no {what} "{name}"'
NO_SUCH_TYPE = 'there is no type "{name}"'
NO_SUCH_WALK = 'there is no walk "{name}"'
NO_TIMER_SCOPE = "expected how long the timer runs"
ONE_OPERATION = "a phrase holds one operation"
ONLY_EXPECTED = '"{text}" does nothing: it is what a walk expects'
OVERLAY_BELONGS_ELSEWHERE = 'an overlay belongs to a rung, a flow or the app, not to "{of}"'
OVER_A_DAY = "{text} is over a day"
PHRASE_TOO_LONG = "a phrase of more than {most:,} characters"
PLACES_TOUCH = "two places for values with nothing between"
PLACE_TWICE = '"{name}" is in the address twice'
POPS_NOTHING = "it pops nothing"
QUOTE_NOT_CLOSED = "the quote is never closed"
REDIRECT_IS_A_MAP = "a redirect is a map"
REPEATED_MUST_BE_A_LIST = "what is repeated must be a list"
REPLIES_ARE_A_MAP = '"{name}" must be a map of replies'
RULE_NAMED_ALREADY = 'there is a rule "{name}" already'
SECOND_DOCUMENT = "a second document"
START_FROM_MUST_BE_FIRST_STEP = "start from must be the first step"
START_IS_A_MAP = "a choice of the start is a map"
START_IS_A_SCREEN_OR_A_LIST = '"start" is a screen or a list'
STAYS_AND_GOES_ON = '"{name}" stays and goes on'
STEPS_MUST_BE_A_LIST = 'the steps of "{name}" must be a list'
TAG = "the tag {name}"
TAKES_ANOTHER_TYPE = '"${argument}" is a {kind}, "{name}" takes a {kind2}'
TAKES_NO_SUCH_ARGUMENT = '"{screen}" takes no "{argument}"'
TAP_CARRIES_AN_ARGUMENT = '"tap {name}" carries an argument'
TAP_CARRIES_NO_SUCH_ARGUMENT = '"tap {tap}" carries no "{argument}"'
TOO_DEEP = "nested deeper than {most}"
TOO_MANY_NODES = "more than {most:,} words and lists"
TWO_NAMED_GIVENS = '"{name}" is a second named given'
TWO_LONG_PLACES = "two places that may hold slashes"
UNKNOWN_FORMAT = 'unknown format "{name}"'
UNKNOWN_KEY = '{what} has no key "{key}"'
UNKNOWN_OPERATION = 'unknown operation "{word}"'
UNKNOWN_TRIGGER = 'unknown trigger "{word}"'
UNNAMED_VALUES = "values behind a question mark have names"
VALUE_TWICE = '"{name}" is a value twice'
WALKS_IN_A_CIRCLE = '"{name}" in turn starts from "{name}"'

# What to write instead

ADD_A_COMMA = "add a comma"
ADD_A_SLASH = "add a slash"
ADD_GIVES = "add gives: {NAME: [VALUE]}"
ADD_PUSH_SCREEN_OR_WRITE_LEAVE = "add push SCREEN, or write leave"
AT_MOST_A_DAY = "at most 24 hours are allowed"
BEGIN_IT_WITH_A_SCREEN = "begin it with a screen"
A_PLAN = "a plan"
BEGIN_WITH_APP = 'begin with "app: NAME"'
BEGIN_WITH_DASHES = "begin each item with a dash"
BEGIN_WITH_SCHEME = "begin it with NAME://"
CHOOSE_ANOTHER_NAME = "choose another name"
CHOOSE_FIRST_SCREEN_UNDER_START = "choose the first screen under start"
CLOSE_IT = "close it"
DONE_AFTERWARDS = "what it asked about is done afterwards"
DROP_FIRST = "drop once, first, then put"
END_WITH_PUT = "end the list with {put: SCREEN}"
FLATTEN_IT = "flatten it"
GIVE_A_DEFAULT = "give it a default: {{type: {kind}, default: ...}}"
INCLUDE_INSIDE = "name a file in that folder, or below it"
KEEP_ONE = "keep one"
KEEP_ONE_OF_THEM = "keep one of them"
KEEP_ONE_OF_TWO = "keep one of the two"
LEAVE_BRACKETS_OUT = "leave the brackets out"
MOVE_OR_ADD_ONE = "move or add one"
NO_ALIASES = "remove it; a plan has no aliases"
NO_TAGS = "remove it; a plan has no tags"
ONE_DOCUMENT = "a plan file holds one; remove the ---"
HAND_IT_ON = "pass it on as ${name}"
PUT_IT_ON_AN_OVERLAY = "put this move on the overlay"
PUT_IT_FIRST = "put it first"
PUT_MOVE_ON_A_SCREEN = "put the move on a screen"
PUT_MOVE_UNDER_ANYWHERE = "put the move under anywhere"
QUOTE_IT = 'quote it: "{text}"'
QUOTE_PHRASE = 'put a phrase with ": " or "{" in quotes'
REMOVE_IT = "remove it"
REMOVE_IT_FROM_PLAIN_TEXT = "remove it; a plan is plain text"
REMOVE_ONE = "remove one"
RENAME_THE_SECOND = "give the second another name"
SHORTEN_IT = "shorten it"
SPLIT_IT_INTO_SEVERAL_PLANS = "split it into several plans"
SPLIT_THE_MOVE = "split it into several moves"
WRITE_ANY_PLACE = "write {id}, {+rest} or {?a,b}"
WRITE_AN_ANSWER = "write {NAME: stay} or {NAME: go on}"
WRITE_AN_ARROW = "write {if: CONDITION, to: SCREEN}"
WRITE_AN_OVERLAY = "write {kind: dialog}"
WRITE_COMMENT_OTHERWISE = "begin the comment with something else"
WRITE_ARGUMENT = "write ${name} to hand the argument on"
WRITE_ASK = "write ask: {text: ..., answers: [{stay here: stay}, {leave: go on}]}"
WRITE_AT_LEAST_ONE = "write at least one"
WRITE_AS_IN_THE_OTHER_FILE = "write it as in the other file"
WRITE_A_CHANGE = "write {first} to {last}"
WRITE_A_CHOICE_OF_THE_START = "write {if: CONDITION, put: SCREEN}"
WRITE_A_CODE_PLACE = "write a path from the folder of the project, with a line if you like: src/Hive:120"
WRITE_A_COVER = "write cover: {least: 300ms, until: CONDITION, most: 5s}"
WRITE_A_FLOW = "write {start: SCREEN} or {tabs: {NAME: SCREEN}}"
WRITE_A_GUARD = "write {name: NAME, if: CONDITION, block: yes}"
WRITE_A_LINK = "write {address: 'app://hives/{id}', build: [SCREEN]}"
WRITE_A_LONGER_TIME = "write a longer time"
WRITE_A_MAP_OF_NAMES = "write {key}: {{NAME: ...}}"
WRITE_A_MOVE = "write {when: tap NAME, do: push SCREEN}"
WRITE_A_NUMBER = "write 3"
WRITE_A_NUMBER_TO = "write a number from 1 to {most}"
WRITE_A_PLACE = "write {id}"
WRITE_A_REDIRECT = "write {to: [SCREEN], if: CONDITION, send to: SCREEN}"
WRITE_A_REPEAT = "write {name}: [tap NAME]"
WRITE_A_REPLY = "write {ok: 400ms}"
WRITE_A_COUNT = "write a number such as 3"
WRITE_A_TIME = "write 400ms, 1.5s or 2min"
WRITE_A_WEIGHT = "write 24MB or 500KB"
WRITE_BLOCK_ASK_OR_DO = "write block: yes, ask: {...} or do: OPERATION"
WRITE_ELSEWHERE = "write it under {place}"
WRITE_EXAMPLE = "write {example}"
WRITE_FOR = "write for: 2s"
WRITE_FORMAT = "write format: 1"
WRITE_IN_BRACKETS = "put several operations in brackets: do: [push A, set B yes]"
WRITE_IS = "write {text} is VALUE"
WRITE_OF_ANOTHER_APP = "add of: another app, or leave apart out"
WRITE_A_RETURN = "write {when: tap NAME, do: return VALUE} or do: pop"
WRITE_ITS_TYPE = "write its type or its values"
WRITE_IT_LAST = "write it last"
WRITE_KEY = "write {key}: {example}"
WRITE_MEMORY = "write memory: {warn: 150MB, dies: 200MB}"
WRITE_NAMED_VALUES = "write {?a,b}"
WRITE_ONE_OF = "write one of: {choices}"
WRITE_ONE_OF_TWO = "write one of the two"
WRITE_POLICIES = "write {name}: {{back at root: leave}}"
WRITE_POP = "write pop 1 or more"
WRITE_REPEAT_OR_QUOTE = "write repeat 10: [...], or quote a step with a colon"
WRITE_SEVERAL = "put several in brackets, [pop, push A], or with ; between them where one line is typed"
WRITE_START = "write start: SCREEN"
WRITE_START_OR_TABS = "write start: SCREEN or tabs: {NAME: SCREEN}"
WRITE_TAP_WITH = "write tap {name}({example})"
WRITE_VALUES = "write {name}: [no, yes]"
WRITE_VALUE_ITSELF = "write the value itself; a plan has no aliases"
WRITE_WHAT_IT_TAKES_OR_NOTHING = "write what it takes, or nothing"

# Warnings

CANCELLED_UNHEARD = 'nothing happens when "{name}" is cancelled'
GUARD_MISSES_A_WAY = '"{guard}" does not see the way {ways}; if that is meant, say so in a rule "guarded"'
GUARD_MISSES_WAYS = '"{guard}" does not see the ways {ways}; if that is meant, say so in a rule "guarded"'
LINK_NEVER_REACHED = '"{address}" is never reached: "{earlier}" above takes its addresses'
NEVER_INSIDE = '"{screen}" is never inside "{wanted}", so "{move}" does nothing'
NEVER_ON_THAT_LADDER = '"{sought}" is never on the ladder where "{name}" looks for it'
NEVER_TAKEN = 'this "{when}" is never taken: one above it has no condition'
NOBODY_AWAITS = 'nobody awaits the "{result}" that "{screen}" gives'
NOTHING_AWAITS = '"{when}" never happens: nothing awaits {name}'
NOTHING_STARTS = 'nothing starts the timer "{name}"'
NOTHING_CALLS = 'nothing calls "{name}"'
NOTHING_CLOSES_WITH = 'nothing closes with "{value}", which "{place}" gives as {result}'
NOTHING_HERE_CALLS = '"{when}" never happens: nothing here calls {call}'
NOTHING_LEADS_TO = 'nothing leads to the screen "{name}"'
NOTHING_OPENS = 'nothing opens "{name}"'
NOTHING_RETURNS = 'nothing returns "{value}", which "{place}" gives as {result}'
NOTHING_SETS = '"{when}" never happens: nothing sets {fact} to {value}'
NO_COVER = '"{when}" never happens: the app has no cover'
REPLY_UNHEARD = 'nothing happens when "{call}" gives "{outcome}"'
RESULT_UNHEARD = 'nothing happens when "{name}" comes back'

# Why an edit is not made

BRACED_WALKS = "the walks are in braces; put each on its own lines first"
CANNOT_FOLLOW_NAME = "{place} cannot follow: {what}"
INVISIBLE_IN_NAME = "the name has {character}, which is invisible; remove it"
NAME_NEEDED = "write a name, without quotes"
NAME_OF_ANOTHER = 'the {kind} "{name}" has this name already; choose another name'
NAME_SHARED = 'the {kind} "{name}" has the same name; rename that first'
NOTHING_TO_RENAME = 'there is no {kind} "{name}"'
NOT_SUCH_A_LIST = 'something else is written under "{name}" already'
NO_FURTHER = "there is nothing further in this direction"
NO_ORDER = "the order of this part means nothing"
NO_SCREEN_TO_TURN = "this move puts no screen, so there is no other operation to try"
NO_SUCH_PLACE = 'there is no place "{name}"'
ONLY_STEP = "this is the only step here; delete the walk, or write another one"
PART_GONE = "this part is no longer there"
SAME_NAME = "this is its name already"
SKETCH_NEEDS_A_SCREEN = "name a screen, or an operation and a screen"
STEP_GONE = "the step is no longer there"
STILL_NEEDED = "it is still needed: {what}"
THERE_ALREADY = '"{name}" is there already; choose another name'
VALUE_NEEDED = "write a value, or delete the part"
WALK_EXISTS = 'a walk "{name}" exists already; choose another name'
WALK_GONE = 'the walk "{name}" is gone'

# Why a typed part is not added

FLOW_NEEDS_SCREENS = "name its screens, the first one first: flow NAME: SCREEN, SCREEN"
NAME_FIRST = "write a name first"
NOT_A_PIECE = 'what is "{piece}"? begin it with one of: {keys}'
NO_PLACE = "go to a screen first: this part belongs to one"
NO_TABS = "there are no tabs yet: write tabs NAME: TAB: SCREEN, TAB: SCREEN"
ON_WHAT = "write on SCREEN and then what it gets: on home tap diary: switch diary"
RULE_NEEDS_MORE = "this rule needs more: write rule {rule}: {example}"
TABS_NEED_TABS = "name its tabs: tabs NAME: TAB: SCREEN, TAB: SCREEN"
WRITE_GUARD = "say what it does: block, ask TEXT; ANSWER: go on, or operations"
WRITE_MOVE = "write TRIGGER: OPERATION, as in 2s on ladder: replace home"
WRITE_REDIRECT = "write redirect SCREEN to SCREEN, perhaps if CONDITION"

# Why a table, or a row of it, is not read

EMPTY_TABLE = "the table is empty"
NAME_TOO_LONG = "a name is too long; shorten it"
NAME_WITH_QUOTES = "a name has a double quote or a line break; remove it"
NO_ROW = "{name}: no row says from where or to where; write columns from, action, operation, to"
NO_SUCH_TABLE_OPERATION = 'there is no operation "{word}"; write one of: {words}'
ROW_LEADS_NOWHERE = "this row leads nowhere; name a screen under to"
TABLE_UNREADABLE = "{name}:{line}: a cell is too long; shorten it, or close a quotation mark"
TOO_MANY_ROWS = "more than {most} rows; split the table"

# Why a file is not read or written

CANNOT_BE_READ = "{path}: cannot be read: {why}"
CANNOT_BE_WRITTEN = "{path}: cannot be written: {why}"
EXISTS_ALREADY = "{path} exists already; choose another name"
FOLDER_INSTEAD = "name the plan file in it"
HARD_LINKS_KEEP = "its other hard links keep the old text"
IRREGULAR = "{path}: this is {kind}; {instead}"
MORE_MISTAKES = "{name}: {most} mistakes; the rest is not checked"
NEW_OWNER = "it has another owner now"
NOT_UTF8 = "{name}:{line}:{column}: not UTF-8 text; save the plan as UTF-8"
NO_SUCH_FILE = "{path}: there is no such file"
READ_ONLY = "{file} is read-only"
REGULAR_FILE_NEEDED = "a plan is a regular file"
TOO_LARGE = "{path}: larger than 5 MB; a plan has at most 5 MB"
UTF16 = "{name}:1:1: this is UTF-16 text; save the plan as UTF-8"

# What the YAML parser says, what is wrong in our words, and what to write instead

YAML_WORDS = (
    ("mapping values are not allowed", "a misplaced colon", "put the phrase in quotes"),
    ("could not find expected ':'", "this line has no colon", 'write "key: value"'),
    (
        "did not find expected ',' or",
        "a comma or a closing bracket is missing",
        "close the bracket, or quote the phrase",
    ),
    ("did not find expected '-'", "expected a list item", 'line up the "-" with the ones above'),
    ("did not find expected key", "expected a key", "line it up with the keys above"),
    ("found character that cannot start", "a character that cannot start a word", "indent with spaces, or quote it"),
    ("found unexpected end of stream", "the quote is never closed", "close it"),
    ("unexpected end of stream", "the text ends too early", "close what is open"),
    ("found unknown escape", "an unknown escape", "use single quotes"),
    ("block sequence entries are not allowed", "a list cannot begin here", "put it on its own line"),
)
