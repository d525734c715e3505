"""The steps in which a design is built, in their order: from its parts, its joints, its circuit and what was chosen."""
