"""What the light draws and what feeds it."""
