"""The window in which a build's cutting is planned and its bill is written."""
