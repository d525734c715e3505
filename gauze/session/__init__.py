"""A sitting at the bench: the open document with its undo, autosave, settings, background jobs. No Qt."""
