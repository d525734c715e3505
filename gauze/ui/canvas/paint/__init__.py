"""What paints the drawing: views, dimensions, marks, layers, the lit face."""
