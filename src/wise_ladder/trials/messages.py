"""What people read of two versions of a plan."""

ARGUMENT_MISSING = "{screen} needs the argument {name} now, which was not saved"
ARGUMENT_UNKNOWN = "{screen} does not take {name} {value} any more"
ASKED = "“{text}” ({answers})"
BACK = {"system": "Back", "header": "the button in the header"}
BARS = "the bars"
DIFFERS = "{what}: {new} (was: {old})"
FREED = "hidden screens that gave up what they hold"
INSIDE_DIFFERS = "{screen} holds {new} ladders now, {old} were saved"
NOTHING = "nothing"
OF_PLACE = "{name} of {place}"
POSSIBLE_NOW = "possible now (was: not)"
POSSIBLE_NO_MORE = "not possible any more"
QUESTION = "asked"
RENAMED = "{kind} {old} is {new} now"
RESULT = "the result"
SCREEN_GONE = "there is no screen {screen} any more"
SEEN = "seen"

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
    "cover": "the cover",
}
KINDS = {
    "screens": "screen",
    "overlays": "overlay",
    "taps": "tap",
    "arguments": "argument",
    "facts": "fact",
    "results": "result",
    "calls": "call",
    "replies": "reply",
}
"""What each kind of names is called."""
