"""What is made of the parts: lengths and sheets cut, bills."""
