"""`python -m wise_ladder` is the command `wise-ladder`."""

from wise_ladder.cli import main

main()
