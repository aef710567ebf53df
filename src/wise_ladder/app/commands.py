"""The table of all commands. Keys, footer, help and the list of all commands are made from it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

CommandOwner: TypeAlias = Literal["climb", "crossings", "walks", "rules", "edit_commands", "document", "application"]


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
    """How the footer and the help write the keys; the first key where nothing is said."""

    @property
    def key(self) -> str:
        """How the keys are written."""
        return self.shown or self.keys[0]


TAP_KEYS = ("1", "2", "3", "4", "5", "6", "7", "8", "9", "0")

COMMANDS = (
    Command("climb", "back", ("b", "backspace"), "system back", "Press the system's Back.", 2),
    Command("climb", "header_back", ("a",), "header arrow", "Press the button in the header.", 12),
    Command("climb", "time", ("n", "space"), "let time run", "Let time run to the next pending thing.", 3),
    Command("climb", "launch", ("r", "enter"), "launch", "Launch the app; where it runs already, begin another tape.", 4),
    Command("climb", "tape_back", ("left",), "tape",
           "One step back on the tape; what you do there is another branch.", 5, "← →"),
    Command("climb", "tape_forward", ("right",), "a step forward", "Go one step forward on the tape.", 0, "→"),
    Command("climb", "tape_first", ("home",), "before the first step", "Go to the beginning of the tape.", 0, "Home"),
    Command("climb", "tape_last", ("end",), "the last step", "Go to the end of the tape.", 0, "End"),
    Command("climb", "why", ("y",), "why?",
           "Who was asked about a step, a way or a link, in what order, and what each said.", 6),
    Command("climb", "sketch", ("plus",), "new tap",
           "Sketch: name a tap that is not there yet, its operation and target, and take it.",
           9, "+"),
    Command("climb", "again", ("full_stop",), "again", "Do the last step once more.", 13, "."),
    Command("climb", "again_ten", ("x",), "ten times", "Do the last step ten times more; stops where it no longer applies."),
    Command("climb", "double", ("d",), "double tap", "Let the next number tap twice in quick succession."),
    Command("climb", "descend", ("g",), "down to the ground", "Press Back until the ground, or until it no longer helps.", 14),
    Command("climb", "take_up", ("u",), "the branch left",
           "Take up the tape you left last; the present one is kept instead.", 15),
    Command("climb", "away", ("z",), "home, reopen", "Put the app in the background, or bring it back."),
    Command("climb", "world", ("Z",), "what the phone does",
           "Home, reopen, ended by the phone or crashed, swiped away, low memory."),
    Command("climb", "link", ("l",), "a link", "Open a link from outside: one of the plan's with its samples, or any address."),
    Command("climb", "reply", ("c",), "each reply",
           "Run this path with each reply to a pending call, and with none; go on with one."),
    Command("climb", "fact", ("f",), "facts",
           "Let the world change a fact; before the first step, give any value to begin with."),
    Command("climb", "words", ("colon",), "do by words",
           "Do anything a walk can say: tap hive(id=99), wait 2s, link ...", 0, ":"),
    Command("climb", "keep", ("k",), "keep as walk", "Keep this tape as a walk in the plan file.", 8),
    Command("crossings", "left", ("left",), "choose", "Go to the crossing before this one.", 2, "← → ↑ ↓"),
    Command("crossings", "right", ("right",), "next crossing", "Go to the crossing after this one.", 0, "→"),
    Command("crossings", "up", ("up",), "row above", "Go to the nearest crossing in a row above.", 0, "↑"),
    Command("crossings", "down", ("down",), "row beneath", "Go to the nearest crossing in a row beneath.", 0, "↓"),
    Command("crossings", "climb_there", ("enter",), "climb there",
           "Climb the shortest way known to where this was taken.", 3, "Enter"),
    Command("crossings", "find", ("slash",), "find",
           "Keep the crossings only that have these words: screens, operation, phrase.", 4, "/"),
    Command("crossings", "next_untried", ("n",), "next untried", "Go to the next crossing that no walk takes.", 6),
    Command("crossings", "next_fault", ("p",), "next doubt", "Go to what the next doubt about the plan is about.", 9),
    Command("crossings", "sketch", ("plus",), "new move", "Add a move to this row: its tap, operation and target.", 7, "+"),
    Command("walks", "up", ("up",), "choose", "Go to the walk above, or the step above.", 2, "↑ ↓"),
    Command("walks", "down", ("down",), "the next one", "Go to the walk beneath, or the step beneath.", 0, "↓"),
    Command("walks", "steps", ("right",), "steps", "Go into the steps of the walk.", 3, "→"),
    Command("walks", "list", ("left",), "the list", "Go back to the list of walks.", 0, "←"),
    Command("walks", "climb_there", ("enter",), "climb there",
           "Climb the walk, up to the chosen step or to its end.", 4, "Enter"),
    Command("walks", "next_failed", ("n",), "next that fails", "Go to the next walk that fails.", 6),
    Command("walks", "only_failed", ("f",), "only those that fail", "Show only the walks that fail, or all again.", 10),
    Command("walks", "find", ("slash",), "find", "Show the walks only that have these words in their names.", 5, "/"),
    Command("walks", "run", ("r",), "run", "Run the walk again; all do so by themselves when the plan changes."),
    Command("walks", "run_all", ("a",), "run all", "Run all walks again, and say how long it took.", 12),
    Command("walks", "run_failed", ("x",), "run those that fail", "Run the walks again that fail."),
    Command("walks", "unused", ("u",), "what none uses",
           "List the moves, guards, redirects, links and replies that no walk uses.", 9),
    Command("walks", "edit_step", ("e",), "edit the step", "Edit the chosen step; the walk runs again at once.", 7),
    Command("walks", "add_step", ("plus",), "add a step", "Add a step after the chosen one.", 8, "+"),
    Command("walks", "rename", ("m",), "rename", "Give the walk another name; walks that start from it follow."),
    Command("walks", "copy", ("d",), "duplicate", "Copy the walk under another name."),
    Command("walks", "delete", ("delete",), "delete", "Take the walk out of the plan; undo brings it back.", 0, "Del"),
    Command("rules", "up", ("up",), "choose", "Go to the rule above.", 2, "↑ ↓"),
    Command("rules", "down", ("down",), "the next rule", "Go to the rule beneath.", 0, "↓"),
    Command("rules", "frame_back", ("left",), "frame", "Go one frame back in the film.", 3, "← →"),
    Command("rules", "frame_on", ("right",), "the next frame", "Go one frame on in the film.", 0, "→"),
    Command("rules", "climb_there", ("enter",), "climb there", "Climb the counterexample, up to the chosen frame.", 4, "Enter"),
    Command("rules", "next_guilty", ("n",), "next guilty place", "Show the next place that breaks this rule.", 6),
    Command("rules", "keep", ("k",), "keep as walk", "Keep the counterexample as a walk in the plan file.", 8),
    Command("rules", "sweep", ("s",), "sweep, stop", "Sweep on, deeper than it does by itself; or stop the sweep.", 5),
    Command("rules", "unused", ("u",), "what nothing used",
           "List what neither the sweep nor a walk ever used, apart.", 9),
    Command("rules", "recognised", ("i",), "what was recognised",
           "Tell what the starter set takes for a splash, a sign-in and protected, and how to contradict.", 10),
    Command("edit_commands", "edit", ("e",), "edit",
           "Edit the move, guard or redirect behind a step, or the chosen one; the same events run again.", 7),
    Command("edit_commands", "turn", ("o",), "turn its operation",
           "Turn it: push, replace, reach, clear and push; the same events run again.", 10),
    Command("document", "compare", ("equals_sign",), "before and after",
           "Show both ladders where the last edit matters.", shown="="),
    Command("edit_commands", "counterpart", ("ampersand",), "its counterpart",
           "Turn the moves there and back like the one edited last.", shown="&"),
    Command("document", "turned_walk", ("w",), "the walk that turned",
           "Climb the first walk to which the last edit gave another verdict."),
    Command("document", "undo", ("ctrl+z",), "undo", "Take the last edit of the plan back."),
    Command("document", "redo", ("ctrl+y",), "redo", "Take up the edit that was taken back."),
    Command("document", "save", ("ctrl+s",), "save", "Save the edits; a file that was changed elsewhere is asked about first."),
    Command("document", "save_as", ("S",), "save as", "Save the plan in another file, and go on with that."),
    Command("document", "editor", ("E",), "in the editor", "Open the plan in $EDITOR, at the move that the last step took."),
    Command("document", "phone", ("v",), "another phone", "Run the same steps on another phone of the plan."),
    Command("application", "climb", ("C",), "Climb", "Go to the view Climb: what does the app do when I ...?"),
    Command("application", "crossings", ("X",), "Crossings",
           "Go to the view Crossings: which move leads where, by which operation?", 11),
    Command("application", "walks", ("W",), "Walks", "Go to the view Walks: does every path I care about still work?"),
    Command("application", "rules", ("R",), "Rules", "Go to the view Rules: does it hold on every path?"),
    Command("application", "open", ("O", "ctrl+o"), "open another plan",
           "Recent plans, those in this folder, the gallery, the demo, a new one."),
    Command("application", "narrower", ("less_than_sign",), "main part narrower",
            "Give the parts at the side more room.", shown="<"),
    Command("application", "wider", ("greater_than_sign",), "main part wider",
            "Give the parts at the side less room.", shown=">"),
    Command("application", "theme", ("t",), "ink or paper", "Change between the dark look and the light one."),
    Command("application", "commands", ("ctrl+p",), "all commands",
           "List everything one can do here, to be found by a few letters.", 1),
    Command("application", "help", ("f1", "question_mark"), "help", "Tell what this view shows, and its keys.", 1, "F1"),
    Command("application", "quit", ("q", "ctrl+q"), "leave", "Close the bench.", 1, "q"),
)  # fmt: skip


def commands_in(view: str) -> list[Command]:
    """List the commands of a view: its own first, then those that work everywhere."""
    own = [action for action in COMMANDS if action.owner == view]
    taken = {key for action in own for key in action.keys}
    shared = (action for action in COMMANDS if action.owner in {"edit_commands", "document", "application"})
    return own + [action for action in shared if not taken & set(action.keys)]
