"""The end of a process."""

import logging
import os
import sys
from contextlib import suppress
from typing import NoReturn


def leave(code: int) -> NoReturn:
    """End the process at once with an exit code, when all that is to be kept is written.

    The interpreter would first destroy what it still has. With a window's worth of the toolkit's objects, in no order of ours,
    it now and then crashes there: the program has done its work, and its exit code reports a crash.
    """
    logging.shutdown()
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError, AttributeError):  # full, closed, or not there
            stream.flush()
    os._exit(code)
