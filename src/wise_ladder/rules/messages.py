"""What breaks a rule, in sentences. What each rule says is in `plan/rules.py`, how far a verdict is known in `verdicts.py`."""

# What breaks a rule

ANOTHER_RUNG = "another rung"
BACK_LANDS = "Back from {start} lands on {end}"
BACK_LANDS_AFTER_LINK = "after {address} Back lands on {end}"
BACK_LEAVES = "Back from {start} leaves the app"
ADDRESS_SHOWS_ANOTHER = "{address} is the address of {rung}, and opens {other}"
NO_ADDRESS = "no link leads to {rung}, so it has no address"
BACK_LEAVES_AFTER_LINK = "after {address} Back leaves the app"
BENEATH = "{screen} is beneath {rung}"
CONDITION_FAILS = "not {condition} on {rung}"
CONDITION_HOLDS = "{condition} on {rung}"
COVER_STAYS = "nothing removes the cover"
COVER_STAYS_SILENT = "nothing removes the cover while its call gets no reply"
DEAD_TAP = "{tap} does nothing on {rung} and does not say why"
DECIDED_AT_PRESS = "{guard} decides at the press what Back does on {rung}"
DOES_NOT_HOLD = "not {condition}"
GOES_BY_ITSELF = "{rung} goes by itself without being asked"
GOES_UNASKED = "{rung} goes by {way} without being asked"
GUARD_NOT_ASKED = "{screen} goes without asking {guard}"
LADDER_EMPTY = "the app is left because nothing is on its ladder"
LOST_WHEN_REMADE = "{rung} loses {names} when the screens are remade"
REMADE_ELSEWHERE = "{rung} is remade, and {other} is seen"
CALLED_AGAIN = "{call} is called a second time when the screens are remade"
OPENED_AGAIN = "{overlay} opens again when the screens are remade"
LOST_BY_DEATH = "killed on {top}, {names} of {rung} is lost"
NO_WAY_BACK = "{rung} has no way back of its own"
OVERLAY_STAYS = "nothing closes {overlay}"
OVERLAY_STAYS_SILENT = "nothing closes {overlay} while its call gets no reply"
PILE_UP = "{rung} keeps being pushed, never popped"
REOPENS_ELSEWHERE = "killed on {rung}, the app reopens on {other}"
RUNGS_VISIBLE = "{:,} rungs on the visible ladder"
RUNGS_WEIGH = "all rungs weigh {:,} bytes"
SEEN_TOO_SHORT = "{rung} is seen for {time}"
SEEN_WHILE = "{rung} is seen while {facts}"
TOO_MANY_LOOKS = "{count} looks of {rung} were tried, and there are more"
TOO_MANY_RUNGS = "{count} rungs of {screens} are on the ladder"
TRAP = "Back never gets out of {rung}"
TWIN = "{over} is on {under}"

# Why a rule is undecided

NO_LOOP_YET = "a rung is put over its equal by {count} moves, and no loop was found yet"
NO_LOOP_YET_ONE = "a rung is put over its equal by 1 move, and no loop was found yet"
NOT_REPLAYED = "a suspected violation did not replay"
TOO_MUCH = "there was too much to check"

# Why the steps of a rule are not shown

BREAKING_WALK = "what breaks {name}"
BROKEN_BY = "The rule is {words}: {violation}. To blame is {place}."
NOTHING_BREAKS = 'nothing breaks "{name}": {words}'
NO_SUCH_RULE = 'there is no rule "{name}"; {instead}'

# What a way back does, and what decides

LANDINGS = {
    "lands": "lands on {name}",
    "leaves": "leaves the app",
    "goes away": "puts the app in the background",
    "asks": "asks ({name})",
    "blocked": "is blocked ({name})",
    "closes": "closes what is over it",
    "stays": "does nothing",
}
FORECASTS = {**LANDINGS, "asks": "asks", "blocked": "is blocked"}
DECIDED_BY_BENEATH = "if {screen} is beneath"
DECIDED_BY_CONDITION = "if {condition}"
DECIDED_BY_NOTHING_BENEATH = "if nothing is beneath"

BACK_DOES = "Back from {screen} {does}"

# What is surprising in it

SURPRISE_DISAGREES = "the system's Back {other} there."
SURPRISE_DONE = "{screen} was finished before."
SURPRISE_FORM = "{screen} is a form."
SURPRISE_LEAVES = "{screen} is not a root."
SURPRISE_SIGN_IN = "{screen} is a sign-in."
SURPRISE_SPLASH = "{screen} is a splash."

# Why a question is not answered

NOT_A_QUESTION = (
    'what is "{text}"? ask for SCREEN seen, SCREEN beneath SCREEN, a CONDITION, Back from SCREEN lands on SCREEN, '
    "tap NAME used, redirect of SCREEN used, or finding NAME; after a screen, and CONDITION may follow"
)
NO_SUCH_FINDING = 'there is no finding "{name}"; {instead}'
NO_SUCH_PART = 'nothing that can be used is called "{name}"; {instead}'
NO_SUCH_SCREEN = 'there is no screen "{name}"; {instead}'

KNOWN_BY_RUN = "A run shows it: its steps were done by the code that runs your taps, with real times. {fewer}"
NOT_IN_FEWER = "Fewer steps cannot break it."
PERHAPS_IN_FEWER = "Fewer steps may break it, too."
KNOWN_OF_ALL = "The sweep met every state there is ({states:,}), and looked at each."
KNOWN_BY_SWEEP = "The sweep tried all that can happen {extent}: {states:,} states. It has not looked further."
KNOWN_BY_PROOF = (
    "It is proved. Every state that the plan can reach lies in one of {states:,} abstract states, each of which stands for "
    "many, and no step between these can break the rule. That took {time}."
)
KNOWN_AS_LONG_AS = (
    "It is proved {condition}: until that breaks, every state lies in one of {states:,} abstract states, "
    "and no step between these can break this rule. That took {time}. What comes after such a break is not covered."
)
NOT_WITHOUT = "It could not be proved without that condition: {why}."
LEFT_OUT_OF_PROOF = "Left out or made simpler, since no rule can notice that: {names}."
WHAT_A_PROOF_SAYS = "It holds for any number of steps and any height of the ladder, with the sample arguments of the plan."
KNOWN_BUT = "It may be broken all the same: {why}."
NOT_PROVED_BECAUSE = "It could not be proved for every depth: {why}."
METHOD = "docs/how-verdicts-are-made.md explains sweep and proof."
