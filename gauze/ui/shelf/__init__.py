"""The window of the shelf: what lies there by its labels, and what of it suits the open design."""
