"""Entry point: decides between a command without a window and the application."""

import os
import sys
from collections.abc import Sequence


def main(argv: Sequence[str] | None = None) -> int:
    """Run Gauze and return its exit code."""
    # The matrices are small: a second thread costs more than it brings, and the interface wants the other core.
    # To be set before NumPy is loaded.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    from gauze.cli.commands import WINDOWLESS, parse, run

    arguments = parse(sys.argv[1:] if argv is None else argv)
    if arguments.command in WINDOWLESS:
        return run(arguments)
    from gauze.ui.application import run_application  # only here, so that the commands need no Qt

    return run_application(arguments)


if __name__ == "__main__":
    sys.exit(main())
