"""A second reading of the semantics, written from docs/semantics.md and docs/plan-file.md alone.

It shares no code with `wise_ladder.semantics`: plain objects that change, nothing remembered, no thought of speed. Whatever the two
readings disagree about is a mistake in one of them, or in the page.
"""
