"""What must hold on every path: the rules, the sweep over all states that decides them, the shortest paths that break them."""
