"""Each family laid out and sketched: a module or two for each."""
