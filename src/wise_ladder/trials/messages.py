"""What people read of two versions of a plan."""

ARGUMENTS_DIFFER = "{screen} is seen with {new}, before with {old}"
ASKED = "“{text}” is asked ({answers})"
BACK = {"system": "Back", "header": "the button in the header"}
BACK_DIFFERS = "{way} {new}, before it {old}"
BARS_DIFFER = "the bars are {new}, before {old}"
KEPT_DIFFERS = "{what} is {new}, before {old}"
NOTHING_ASKED = "nothing is asked"
POSSIBLE_NOW = "this is possible, before it was not"
POSSIBLE_NO_MORE = "this is not possible, before it was"
RESULT_DIFFERS = "{new} comes as a result, before {old}"
SEEN_DIFFERS = "{new}, before {old}"

LEADS = {
    "lands": "leads to {rung}",
    "stays": "leaves {rung} as it is",
    "closes": "closes what lies over {rung}",
    "asks": "asks “{question}”",
    "blocked": "is blocked on {rung}",
    "leaves": "leaves the app",
    "goes away": "puts the app in the background",
    "refused": "does nothing",
}
"""Where a way back leads."""
PHASES = {
    "outside": "the app is left",
    "away": "the app is in the background",
    "killed": "the app is killed",
    "cover": "the cover is seen",
}
