"""What the drawing offers to do with the items of a family: count them, add, remove and move them."""
