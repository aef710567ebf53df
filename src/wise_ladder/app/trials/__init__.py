"""The view Trials: two versions of a plan, side by side along one path."""
