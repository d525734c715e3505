"""What the hand does on the drawing: hold, drag, type, place."""
