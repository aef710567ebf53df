"""What F1 says of each view: its question, what it is for, and its glyphs."""

CLIMB_IS_FOR = """\
The ladder is the back stack of the app, and you stand on its top rung. To the left of each rung: how it came. To its right: \
the line that shows where Back leads, press by press, down to the ground, which is outside the app. The number keys tap what \
the phone shows; next to each tap: what it would do. This runs only the model. Step back on the tape and do something else \
there to start a branch; the tape you left is kept."""
CLIMB_GLYPHS = """\
● here  ◀ Back leads here  ▴ came  − went  ◷ timer  ↯ by itself  ✗ finding  ↻ trap
↑ push  ⇄ replace  ■ clear, then push  ◎ reach  ↓ pop  ⇓ pop to  ○ leave"""
CLIMB = ("Climb: what does the app do when I ...?", CLIMB_IS_FOR, CLIMB_GLYPHS)

CROSSINGS_IS_FOR = """\
Each row is a screen you leave, each column a screen you reach. A glyph shows that a move, a guard or a redirect leads from \
one to the other. The warmer its background, the more walks take it; ◌ marks what no walk takes. Next to the table: the \
selected crossing as it is written, what it does to the ladder, and its place in the file. B shows the second table: on which \
screens each way back leads where, as far as the sweep of the rules knows."""
CROSSINGS_GLYPHS = """\
↑ push  ⇄ replace  ■ clear, then push  ◎ reach, switch  ↓ pop  ⇓ pop to  ↲ return  ↷ redirect  ○ leave  ▴ stays here
Back: ◀ system and header  ◁ system  ← header  ↓ a tap of the app  ▲ surprising"""
CROSSINGS = ("Crossings: which move leads where, by which operation?", CROSSINGS_IS_FOR, CROSSINGS_GLYPHS)

RULES_IS_FOR = """\
The rules of the plan, checked on every path: the sweep tries all that users, time, servers and the phone can do, shortest \
paths first. A broken rule comes with the shortest steps that break it, shown as a film of ladders; they were run with real \
times before you see them. The sweep restarts whenever the plan changes. A verdict says how far it is known: "for 7 steps" \
means that everything possible within 7 steps was checked. A second process tries to prove the rules \
for every depth; y explains how a verdict is known."""
RULES_GLYPHS = "✓ holds at every depth  ◕ holds for some steps  ✗ broken  ◌ undecided  ↻ a loop"
RULES = ("Rules: does it hold on every path?", RULES_IS_FOR, RULES_GLYPHS)

WALKS_IS_FOR = """\
The walks of the plan with their verdicts, and the steps of the selected walk with the ladder after each. All walks run \
again whenever the plan changes; a changed verdict is marked until you look at it. If a walk fails, you see what it expected, \
what is there, and the step that caused it. A runs them on the running app too, and shows the plan's ladder beside the app's \
where these differ, until the plan changes."""
WALKS_GLYPHS = "✓ passes  ✗ fails  ▴ its verdict changed, or the step that caused it  ◌ not run yet, or not comparable"
WALKS = ("Walks: does every path I care about still work?", WALKS_IS_FOR, WALKS_GLYPHS)

SEEN_IS_FOR = """\
A run along its clock: the tape, or the walk or violation that is selected in the view you come from. There is a bar for \
each screen that was seen, and for what lay over it; timers and calls with what became of them; the steps; depth and weight. \
A screen that went by itself before it could be read is marked as a flash. Long waits are folded; what takes no time gets a \
little room. Under the charts: what was there at the chosen moment. = lays another run over this one: rows marked 1 are this \
run, rows marked 2 the other, rows marked = are the same in both; blue is what only one of them reaches."""
SEEN_GLYPHS = """\
✗ flash  ─● it fell due, or was answered  ─○ it was stopped  ─→ it still runs  ≈ folded wait  │ the chosen moment
┊ the first difference of two runs"""
SEEN = ("Seen: what was seen for how long?", SEEN_IS_FOR, SEEN_GLYPHS)

TRIALS_IS_FOR = """\
Two versions of the plan side by side: the same steps are done on both. On the left what the plan is compared with, on the \
right what it is now. The path is that of the view you come from, or that of a difference you choose in the list. What one \
ladder has and the other has not is marked, and so is each Back that leads elsewhere; beneath the ladders it is said in words. \
The list fills while both are compared: first what a user notices, then what is only kept otherwise, then walks and rules with \
another verdict, then saved ladders that cannot stand any more."""
TRIALS_GLYPHS = """\
≠ not so in the other version  ✗ fails or is broken now  ✓ passes or holds now  ● here  ◀ Back leads here  ▴ came  − went"""
TRIALS = ("Trials: what if I change this one thing?", TRIALS_IS_FOR, TRIALS_GLYPHS)
