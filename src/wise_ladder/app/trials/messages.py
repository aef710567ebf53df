"""What the view Trials says."""

from __future__ import annotations

AGAINST = "{name}, and {now}"
AGAINST_EDIT, AGAINST_SAVED = "before the last edit", "the plan as saved"
AGAINST_FAULTY, AGAINST_FIXED = "the faulty version", "the fixed version"
AGAINST_FILE, AGAINST_REVISION = "another file", "a revision"
AGAINST_FILE_ABOUT = "type its name"
AGAINST_REVISION_ABOUT = "of the git repository: a branch, a tag, a commit"
AGAINST_WHAT = "Compare this plan with what?"
AGAINST_WHERE = "the same plan, run there"
ALL_LOOKED_AT = "all pairs of states looked at"
COMPARING = "comparing …"
DIFFERENCES = "differences"
KEEP_HINT = "Enter: save   Esc: cancel   A line left empty saves nothing."
KEEP_PATHS = "Save this path as walks"
LOOKED_AT = "{pairs:,} pairs of states, everything in {depth} steps"
MORE = "and {count} more"
NOTHING_COMPARED = "two versions of the plan, side by side"
NOTHING_DIFFERS = "nothing was found that differs"
NOTHING_HERE = "nothing differs here"
NOT_POSSIBLE = "step {number}, {event}, is not possible: {why}"
NOW = "now"
NO_PATH = "There is no path yet: take steps in Climb, or choose a walk or a broken rule, then press T."
NO_TAPE = "this begins with a ladder that was saved, so it is no path from the start"
NO_STEP_DIFFERS = "no step of this path differs"
NO_VERSION = "Nothing to compare with yet: = chooses the plan as saved, a revision, another file or another phone."
OF_STEPS = "step {number} of {count}"
ONLY_GUESSED = "it seems that the {words}"
SEEN_THEN = "then is seen: {seen}"
STOPS_HERE = "this step is not possible"
TURNED = "{now} now (was: {was})"
TYPE_FILE, TYPE_REVISION = "Compare with which file?", "Compare with which revision?"
WALK_OF_BEFORE, WALK_OF_NOW = "before", "now"

GROUPS = {
    "path": "",
    "noticed": "a user notices",
    "kept": "only kept otherwise",
    "walk fails": "walks that fail now",
    "walk passes": "walks that pass now",
    "rule": "rules that turned",
    "saved": "saved ladders that cannot stand",
}
"""What stands over each kind of listed differences."""
