"""The table of all commands. Keys, footer, help and the list of all commands are made from it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

CommandOwner: TypeAlias = Literal[
    "climb",
    "crossings",
    "walks",
    "rules",
    "edit_commands",
    "part_commands",
    "document",
    "open_plans",
    "path_commands",
    "application",
]


@dataclass(frozen=True, slots=True)
class Command:
    """A command: the method `cmd_NAME` of its owner runs it. A view's commands work in that view only.

    `footer_rank`: the footer drops the highest rank first if it has no room; 0 is never shown there.
    """

    owner: CommandOwner
    name: str
    keys: tuple[str, ...]
    label: str
    help: str
    footer_rank: int = 0
    shown: str = ""
    """How the footer and the help write the keys; the first key if nothing is said."""
    also: str = ""
    """Other words that a user may search for; they are not shown."""

    @property
    def key(self) -> str:
        """How the keys are written."""
        return self.shown or self.keys[0]


TAP_KEYS = ("1", "2", "3", "4", "5", "6", "7", "8", "9", "0")

COMMANDS = (
    Command("climb", "back", ("b", "backspace"), "system back", "Press the system's Back.", 2,
           also="pop button"),
    Command("climb", "header_back", ("a",), "header", "Press the header button.", 12,
           also="arrow up menu button"),
    Command("climb", "time", ("n", "space"), "advance time", "Advance time to the next thing due.", 3,
           also="wait clock timer"),
    Command("climb", "launch", ("r", "enter"), "launch", "Launch the app; if it runs already, start a new tape.", 4,
           also="start run play restart"),
    Command("climb", "tape_back", ("left",), "tape",
           "Step back on the tape; a new step there starts a branch.", 5, "← →",
           also="history previous rewind"),
    Command("climb", "tape_forward", ("right",), "step forward", "Step forward on the tape.", 0, "→"),
    Command("climb", "tape_first", ("home",), "start of the tape", "Go to the start of the tape.", 0, "Home",
           also="begin rewind"),
    Command("climb", "tape_last", ("end",), "end of the tape", "Go to the end of the tape.", 0, "End"),
    Command("climb", "why", ("y",), "why?",
           "Show what decided a step, a way or a link: all that was asked, in order.", 6,
           also="explain reason debug"),
    Command("climb", "sketch", ("plus",), "add",
           "Add a tap with its operation and target, and take it; or any other part, in one line.",
           9, "+",
           also="new create screen fact move guard sketch"),
    Command("climb", "again", ("full_stop",), "again", "Repeat the last step.", 13, ".",
           also="repeat"),
    Command("climb", "again_ten", ("x",), "ten times", "Repeat the last step ten times; stop if it no longer applies."),
    Command("climb", "double", ("d",), "double tap", "The next number key taps twice, quickly."),
    Command("climb", "descend", ("g",), "Back to the ground", "Press Back to the ground, or to a question or a trap.", 14,
           also="exit leave root"),
    Command("climb", "take_up", ("u",), "last branch",
           "Return to the tape you left last; this one is kept.", 15,
           also="switch restore other tape"),
    Command("climb", "away", ("z",), "home, reopen", "Put the app in the background, or bring it back.",
           also="background resume"),
    Command("climb", "world", ("Z",), "phone events",
           "Home, reopen, kill or crash, swipe away, low memory.",
           also="kill crash"),
    Command("climb", "link", ("l",), "link", "Open a link: one of the plan's with its samples, or any address.",
           also="url open"),
    Command("climb", "reply", ("c",), "each reply",
           "Try each reply to a pending call, and none; continue with one.",
           also="response server request"),
    Command("climb", "fact", ("f",), "facts",
           "Change a fact from outside; before the first step, set any start value.",
           also="state variable set"),
    Command("climb", "words", ("colon",), "type a step",
           "Do any walk step that acts: tap hive(id=99), wait 2s, link ...", 0, ":",
           also="command wait"),
    Command("climb", "keep", ("k",), "save as walk", "Save this tape as a walk in the plan file.", 8,
           also="record export test"),
    Command("crossings", "left", ("left",), "choose", "Go to the previous crossing.", 2, "← → ↑ ↓"),
    Command("crossings", "right", ("right",), "next crossing", "Go to the next crossing.", 0, "→"),
    Command("crossings", "up", ("up",), "row above", "Go to the nearest crossing above.", 0, "↑"),
    Command("crossings", "down", ("down",), "row below", "Go to the nearest crossing in a row below.", 0, "↓"),
    Command("crossings", "climb_there", ("enter",), "climb there",
           "Climb the shortest known path to the selection.", 3, "Enter"),
    Command("crossings", "find", ("slash",), "find",
           "Show only what has these words: screens, operation, phrase.", 4, "/",
           also="search filter"),
    Command("crossings", "backs", ("B",), "moves, Back", "Show where Back leads from everywhere, or the moves again.", 5,
           also="back from everywhere landings table"),
    Command("crossings", "next_untried", ("n",), "next", "Go to the next move that no walk takes, or the next surprise.", 6,
           also="coverage untested unused surprise"),
    Command("crossings", "keep", ("k",), "save as walk", "Save the path to the selection as a walk.", 10,
           also="record export test"),
    Command("crossings", "next_fault", ("p",), "next warning", "Go to what the next warning is about.", 9,
           also="doubt problem error"),
    Command("crossings", "sketch", ("plus",), "add", "Add a move to this row, a rule of this landing, or any part.", 7, "+",
           also="new create move sketch"),
    Command("walks", "up", ("up",), "choose", "Go to the walk above, or the step above.", 2, "↑ ↓"),
    Command("walks", "down", ("down",), "next", "Go to the walk or step below.", 0, "↓"),
    Command("walks", "steps", ("right",), "steps", "Go into the steps of the walk.", 3, "→"),
    Command("walks", "list", ("left",), "back to the list", "Go back to the list of walks.", 0, "←"),
    Command("walks", "climb_there", ("enter",), "climb there",
           "Climb the walk, up to the chosen step or to its end.", 4, "Enter"),
    Command("walks", "next_failed", ("n",), "next failing", "Go to the next failing walk.", 6),
    Command("walks", "only_failed", ("F",), "failing only", "Show only failing walks, or all again.", 10),
    Command("walks", "find", ("slash",), "find", "Show only walks with these words in their names.", 5, "/",
           also="search filter"),
    Command("walks", "run", ("r",), "run", "Run the walk again; all rerun when the plan changes.",
           also="test rerun"),
    Command("walks", "run_all", ("asterisk",), "run all", "Run all walks and show how long it took.", 12, "*",
           also="test"),
    Command("walks", "run_failed", ("exclamation_mark",), "run failing", "Run the failing walks again.", 0, "!"),
    Command("walks", "unused", ("U",), "unused parts",
           "List the moves, guards, redirects, links and replies that no walk uses.", 9,
           also="coverage"),
    Command("walks", "edit_step", ("e",), "edit step", "Edit the chosen step; the walk runs again at once.", 7,
           also="change"),
    Command("walks", "add_step", ("plus",), "add step", "Add a step after the chosen one, or any part of the plan.", 8, "+",
           also="insert"),
    Command("walks", "rename", ("m",), "rename", "Rename the walk, also where walks start from it.",
           also="name title"),
    Command("walks", "copy", ("D",), "duplicate", "Copy the walk under another name.",
           also="clone"),
    Command("walks", "delete", ("delete",), "delete", "Delete the walk; undo brings it back.", 0, "Del",
           also="remove"),
    Command("rules", "up", ("up",), "choose", "Go to the rule above.", 2, "↑ ↓"),
    Command("rules", "down", ("down",), "next rule", "Go to the rule below.", 0, "↓"),
    Command("rules", "frame_back", ("left",), "frame", "Go one frame back in the film.", 3, "← →"),
    Command("rules", "frame_on", ("right",), "next frame", "Go one frame forward.", 0, "→"),
    Command("rules", "climb_there", ("enter",), "climb there", "Climb the counterexample, up to the chosen frame.", 4, "Enter"),
    Command("rules", "next_guilty", ("n",), "next violation", "Show the next violation of this rule.", 6,
           also="error problem"),
    Command("rules", "keep", ("k",), "save as walk", "Save the counterexample as a walk in the plan file.", 8,
           also="record export test"),
    Command("rules", "sketch", ("plus",), "add", "Add a rule, or any other part of the plan, in one line.", 11, "+",
           also="new create write"),
    Command("rules", "delete", ("delete",), "delete", "Delete the rule, after showing what refers to it.", 0, "Del",
           also="remove"),
    Command("rules", "sweep", ("s",), "sweep, stop", "Sweep for longer, or stop the sweep.", 5,
           also="check verify continue pause"),
    Command("rules", "unused", ("U",), "unused parts",
           "List what the sweep never used, and what no walk uses.", 9,
           also="coverage"),
    Command("rules", "recognised", ("i",), "recognised",
           "Show what the starter set takes for splash, sign-in and protected, and how to override it.", 10,
           also="starter set"),
    Command("edit_commands", "edit", ("e",), "edit",
           "Edit what is selected or took part in this step, else any part of the plan; rerun the events.", 7,
           also="change modify"),
    Command("edit_commands", "add", ("plus",), "add",
           "Add a part to the plan in one line: a fact, a rule, a link ...", 12, "+",
           also="new create insert"),
    Command("edit_commands", "turn", ("o",), "change operation",
           "Change it: push, replace, reach, clear and push; rerun the events.", 10,
           also="toggle"),
    Command("part_commands", "outline", ("P",), "outline",
           "List all parts of the plan; type to search, Enter climbs to one, edits, renames, deletes or moves it.", 11,
           also="parts structure find search tree"),
    Command("part_commands", "rename_name", ("m",), "rename",
           "Rename a screen, fact, tap, call ... everywhere, in walks and rules too.",
           also="name refactor"),
    Command("part_commands", "delete_part", ("delete",), "delete",
           "Delete the move of this step or selection, after showing what refers to it.", 0, "Del",
           also="remove"),
    Command("document", "compare", ("equals_sign",), "before and after",
           "Show both ladders where the last edit matters.", shown="=",
           also="diff"),
    Command("edit_commands", "counterpart", ("ampersand",), "counterparts",
           "Change the matching moves like the last edited one.", shown="&"),
    Command("document", "turned_walk", ("w",), "changed walk",
           "Climb a walk whose verdict the last edit changed."),
    Command("document", "undo", ("ctrl+z",), "undo", "Undo the last edit of the plan.",
           also="revert"),
    Command("document", "redo", ("ctrl+y",), "redo", "Redo the edit that was undone."),
    Command("document", "save", ("ctrl+s",), "save", "Save the edits; ask first if the file changed elsewhere.",
           also="write"),
    Command("document", "save_as", ("S",), "save as", "Save the plan in another file and continue with that one.",
           also="export copy"),
    Command("document", "editor", ("E",), "open editor", "Open the plan in $EDITOR, at the move that the last step took.",
           also="source external"),
    Command("document", "phone", ("v",), "another phone", "Run the same steps on another phone of the plan.",
           also="device"),
    Command("application", "climb", ("C",), "Climb", "Go to the view Climb: what does the app do when I ...?"),
    Command("application", "crossings", ("X",), "Crossings",
           "Go to the view Crossings: which move leads where, by which operation?", 11),
    Command("application", "walks", ("W",), "Walks", "Go to the view Walks: does every path I care about still work?"),
    Command("application", "rules", ("R",), "Rules", "Go to the view Rules: does it hold on every path?"),
    Command("path_commands", "path", ("ctrl+g",), "path to", "Find the shortest paths to a state, such as alert beneath hive.",
           also="go search find state reach"),
    Command("open_plans", "open", ("O", "ctrl+o"), "open plan",
           "Recent plans, those in this folder, the gallery, the demo, a new one; the present one stays open.",
           also="load file import new recent"),
    Command("open_plans", "next_plan", ("N",), "next plan", "Go to the next open plan; each keeps its tape and its edits.",
           also="switch other document tab"),
    Command("open_plans", "close_plan", ("Q",), "close plan", "Close this plan and go to another open one.",
           also="leave document"),
    Command("application", "narrower", ("less_than_sign",), "wider side",
            "Make the side panel wider.", shown="<"),
    Command("application", "wider", ("greater_than_sign",), "narrower side",
            "Make the side panel narrower.", shown=">"),
    Command("application", "theme", ("t",), "dark/light", "Switch between the dark and the light look.",
           also="colour color night"),
    Command("application", "commands", ("ctrl+p",), "all commands",
           "List all commands of this view; type to search.", 1,
           also="search palette find"),
    Command("application", "help", ("f1", "question_mark"), "help", "Explain this view and its keys.", 1, "F1",
           also="keys shortcuts manual"),
    Command("application", "quit", ("q", "ctrl+q"), "quit", "Quit Wise Ladder.", 1, "q",
           also="exit close leave"),
)  # fmt: skip


def commands_in(view: str) -> list[Command]:
    """List the commands of a view: its own first, then those that work everywhere."""
    own = [action for action in COMMANDS if action.owner == view]
    taken = {key for action in own for key in action.keys}
    shared = (action for action in COMMANDS if action.owner not in {"climb", "crossings", "walks", "rules"})
    return own + [action for action in shared if not taken & set(action.keys)]
