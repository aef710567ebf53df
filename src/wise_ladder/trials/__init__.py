"""Two versions of a plan side by side: what a user notices of what changed."""
