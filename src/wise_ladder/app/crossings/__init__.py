"""The view Crossings: which move leads where, by which operation."""
