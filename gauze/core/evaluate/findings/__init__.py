"""What answers the questions about a design, one module each; ``gauze.core.evaluate.questions`` registers them."""
