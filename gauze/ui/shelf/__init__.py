"""The window of the shelf: what lies there by its labels, and what of it will do for the open design."""
