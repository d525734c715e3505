"""Bytes to objects and back; nothing here opens a file."""
