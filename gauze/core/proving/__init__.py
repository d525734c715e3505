"""The bench: what was measured beside what was predicted, and what follows from it."""
