"""Gauze: design diffused LED lights before the first cut."""

__version__ = "0.1.0"
