"""The words on charts."""

BACKS = "{app}: where Back leads, known {extent}"
BACK_LEGEND = ("◀ system and header", "◁ system alone", "← header alone", "↓ a tap of the app", "red frame: surprising")
CROSSINGS = "{app}: from where to where"
DEPTH = "depth in rungs"
LEGEND = "─● fell due, or answered   ─○ stopped   ─→ still runs   ≈ folded wait   what takes no time gets a little room"
LIMIT = "limit {limit}"
STEPS = "steps"
WEIGHT = "weight"
