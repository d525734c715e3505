"""Reference maps by a general-purpose path tracer, for the tests to compare with. Needs the packages of ``reference``."""
