"""The same core without a window: check, map, render."""
