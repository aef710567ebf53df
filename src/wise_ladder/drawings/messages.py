"""The words on charts."""

BACKS = "{app}: where Back leads, known {extent}"
BACK_LEGEND = ("◀ system and header", "◁ system alone", "← header alone", "↓ a tap of the app", "red frame: surprising")
CROSSINGS = "{app}: from where to where"
DEPTH = "depth in rungs"
FIRST_DIFFERENCE = "first difference (dotted) at {time}: {words}"
LEGEND = "─● fell due, or answered   ─○ stopped   ─→ still runs   ≈ folded wait   what takes no time gets a little room"
LIMIT = "limit {limit}"
NO_DIFFERENCE = "both are the same at every moment"
STEPS = "steps"
TWO_RUNS = "1 {one}     2 {other}, dotted in the charts     = the same in both"
WEIGHT = "weight"
