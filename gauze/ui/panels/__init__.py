"""What stands beside the drawing: findings, what is picked at each place, trays of candidates."""
