"""Random input to the whole application, by seed: without a terminal, and in a real one."""
