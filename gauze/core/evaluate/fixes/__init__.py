"""The searches for fixes; ``gauze.core.evaluate.questions`` registers them with the findings they are for."""
