"""Everything one can do on the bench: the one table that feeds keys, footer, help and the list of all commands."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Action:
    """Something one can do: `name` is the bench's method, `rank` how long the footer keeps it (1 longest, 0 never shown)."""

    name: str
    keys: tuple[str, ...]
    label: str
    help: str
    rank: int = 0
    shown: str = ""
    """How the footer and the help write the keys; the first key where nothing is said."""

    @property
    def key(self) -> str:
        """How the keys are written."""
        return self.shown or self.keys[0]


TAP_KEYS = ("1", "2", "3", "4", "5", "6", "7", "8", "9", "0")

ACTIONS = (
    Action("back", ("b", "backspace"), "system back", "Press the system's Back.", 2),
    Action("header_back", ("a",), "header arrow", "Press the button in the header.", 6),
    Action("time", ("n", "space"), "let time run", "Let time run to the next pending thing.", 3),
    Action("launch", ("r", "enter"), "launch", "Launch the app; where it runs already, begin another tape.", 4),
    Action("tape_back", ("left",), "tape", "One step back on the tape; what you do from there is another branch.", 5, "← →"),
    Action("tape_forward", ("right",), "a step forward", "Go one step forward on the tape.", 0, "→"),
    Action("tape_first", ("home",), "before the first step", "Go to the beginning of the tape.", 0, "Home"),
    Action("tape_last", ("end",), "the last step", "Go to the end of the tape.", 0, "End"),
    Action("again", ("full_stop",), "again", "Do the last step once more.", 10, "."),
    Action("again_ten", ("x",), "ten times", "Do the last step ten times more; stops where it no longer applies.", 0),
    Action("double", ("d",), "double tap", "Let the next number tap twice in quick succession."),
    Action("descend", ("g",), "down to the ground", "Press Back until the ground, or until it no longer helps.", 11),
    Action("take_up", ("u",), "the branch left", "Take up the tape you left last; the present one is kept instead.", 9),
    Action("away", ("z",), "home, reopen", "Put the app in the background, or bring it back.", 0),
    Action("keep", ("k",), "keep as walk", "Keep this tape as a walk in the plan file.", 7),
    Action("edit", ("e",), "edit", "Edit the phrase of the move that the last step took, and run the same events again.", 8),
    Action("editor", ("E",), "in the editor", "Open the plan in $EDITOR, at the move that the last step took."),
    Action("turn", ("o",), "turn its operation", "Turn it: push, replace, reach, clear and push; the same events run again."),
    Action("compare", ("equals_sign",), "before and after", "Show both ladders where the last edit matters.", shown="="),
    Action("undo", ("ctrl+z",), "undo", "Take the last edit of the plan back."),
    Action("redo", ("ctrl+y",), "redo", "Take up the edit that was taken back."),
    Action("save", ("ctrl+s",), "save", "Save the edits; a file that was changed elsewhere is asked about first."),
    Action("theme", ("t",), "ink or paper", "Change between the dark look and the light one.", 0),
    Action("commands", ("ctrl+p",), "all commands", "List everything one can do here, to be found by a few letters.", 1),
    Action("help", ("f1", "question_mark"), "help", "Tell what this view shows, and its keys.", 1, "F1"),
    Action("quit", ("q", "ctrl+q"), "leave", "Close the bench.", 1, "q"),
)  # fmt: skip

BY_NAME = {action.name: action for action in ACTIONS}
