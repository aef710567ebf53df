"""What must hold on every path: the rules, the sweep over all states that decides them, and the shortest paths that break them."""
