"""The dialogs that are over a view: what is told, a line to type, fields to edit, one of several to choose."""
