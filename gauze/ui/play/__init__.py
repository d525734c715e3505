"""The window in which a display plays."""
