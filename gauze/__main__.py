"""Entry point: decides between a command without a window and the application."""

import os
import sys
from collections.abc import Sequence
from typing import NoReturn


def main(argv: Sequence[str] | None = None) -> int:
    """Run Gauze and return its exit code."""
    # The matrices are small: a second thread costs more than it brings, and the interface wants the other core.
    # To be set before NumPy is loaded.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    from gauze.cli.commands import run
    from gauze.cli.options import WINDOWLESS, parse

    arguments = parse(sys.argv[1:] if argv is None else argv)
    if arguments.command in WINDOWLESS:
        return run(arguments)
    from gauze.core.materials import load_catalogue
    from gauze.session.solver import SolverProcess

    solver = SolverProcess(load_catalogue())  # before Qt is loaded: it loads what it needs meanwhile
    try:
        from gauze.ui.application import run_application  # only here, so that the commands need no Qt

        return run_application(arguments, solver)
    finally:
        solver.close()


def console_main() -> int:
    """Run Gauze as a program: an interrupt, or an output that was closed, ends it without a traceback."""
    try:
        code: str | int | None = main()
    except KeyboardInterrupt:
        code = 130
    except SystemExit as end:  # of --help, --version and what cannot be parsed
        code = end.code
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except OSError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        code = code or 3
    return code if isinstance(code, int) else int(code is not None)


def program() -> NoReturn:
    """Run Gauze as the whole of a process, and end it."""
    code = console_main()
    if "PyQt6.QtCore" in sys.modules:
        from gauze.session.leaving import leave

        leave(code)
    sys.exit(code)


if __name__ == "__main__":
    program()
