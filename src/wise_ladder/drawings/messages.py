"""The words on charts."""

DEPTH = "depth in rungs"
FLASH = "✗ flash {time}"
LEGEND = "─● fell due, or answered   ─○ stopped   ─→ still runs   ≈ folded wait   what takes no time gets a little room"
LIMIT = "limit {limit}"
STEPS = "steps"
WEIGHT = "weight"
