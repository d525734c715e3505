"""The parts of each family, one module each."""
