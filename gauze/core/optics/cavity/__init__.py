"""The light in any convex cavity: meshed, balanced, gathered on its lids."""
