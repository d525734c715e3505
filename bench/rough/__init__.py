"""Handles the application roughly, by a seed: random hands, kills at random moments, damaged files. Prints counts."""
