"""What people read of the running app."""

# The address and the wire

ADDRESS_NOT_LOOPBACK = "{address}: only this machine is connected to; write 127.0.0.1:PORT"
ADDRESS_UNREADABLE = "{address}: not an address; write 127.0.0.1:PORT or unix:PATH, with listen: before it to wait for the app"
CANNOT_CONNECT = "{address}: cannot connect: {why}"
CANNOT_LISTEN = "{address}: cannot listen: {why}"
CANNOT_RUN = "{command}: cannot be run: {why}"
LAST_WORDS = "{why}; its last words: {words}"
NOBODY_CAME = "{address}: no app connected within {seconds:g} s"
PEER_FLOODS = "the app sends too much: more than {most} messages that nobody asked for"
PEER_GONE = "the app ended the connection"
PEER_LINE_TOO_LONG = "the app sent a line of more than {most} bytes"
PEER_NOT_UTF8 = "the app sent a line that is not UTF-8 text"
PEER_SAYS = "the app answers {method} with an error: {why}"
PEER_SILENT = "the app did not answer {method} within {seconds:g} s"
PEER_WRONG_ANSWER = "the app's answer to {method} cannot be read: {why}"
PEER_WRONG_MESSAGE = "the app sent what is no message of JSON-RPC 2.0"
PEER_WRONG_NOTICE = "the app's message {method} cannot be read: {why}"
STREAMS_ARE_FILES = "the standard streams cannot be spoken over: {why}; use --listen"
NO_COMMON_VERSION = "the app speaks version {theirs} of the protocol, this program only {ours}"

# What cannot be compared

CANNOT_BEGIN = "the app cannot begin with {what}"
CANNOT_BEGIN_ANEW = "the app cannot begin anew"
CANNOT_DO = "the app cannot be told: {event}"
TELLS_NO_LADDER = "the app does not tell its ladder"

# Where plan and app differ

APP_REFUSED = "the app does not do this: {why}"
APP_REFUSED_PLAINLY = "the app does not do this"
BACK = {
    "lands": "land on {to}",
    "stays": "stay on {to}",
    "closes": "close what lies over it",
    "asks": "ask {asks}",
    "blocked": "be blocked",
    "leaves": "leave the app",
    "goes away": "put the app in the background",
}
BACK_DIFFERS = "Back would {app} in the app, {plan} in the plan"
COVER = {True: "there", False: "gone"}
DIFFERS = "{what} is {app} in the app, {plan} in the plan"
PHASES = {"outside": "not running", "open": "in front", "away": "in the background", "killed": "killed"}

# The stand-in

BAD_FAULT = '"{fault}" is not a fault; write "PLACE: TRIGGER: OPERATION" or "PART: KEY: VALUE"'
FAULT_CHANGES_NOTHING = '"{fault}" changes nothing in the plan'
FAULT_NO_PART = '"{fault}": the plan has no {what}'
