"""Everything that can be computed of a build, without a window, a file or a session."""
