"""The end of a process: at once, with its exit code, and nothing that was written is lost."""

import subprocess
import sys
from pathlib import Path

import pytest

LEAVING = """
import logging.handlers, sys
from gauze.session.leaving import leave
class Last:
    def __del__(self):
        print("destroyed")
last = Last()
file = logging.FileHandler(sys.argv[1])
memory = logging.handlers.MemoryHandler(100, logging.CRITICAL, file)
logging.getLogger().addHandler(memory)
logging.getLogger().warning("kept")
print("printed")
print("told", file=sys.stderr)
leave(int(sys.argv[2]))
print("not reached")
"""


@pytest.mark.parametrize("code", [0, 3])
def test_a_process_ends_with_its_code_and_all_that_was_written(tmp_path: Path, code: int) -> None:
    command = [sys.executable, "-c", LEAVING, str(tmp_path / "log"), str(code)]
    ended = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
    assert ended.returncode == code
    assert ended.stdout == "printed\n"  # and nothing was destroyed one by one
    assert ended.stderr == "told\n"
    assert (tmp_path / "log").read_text() == "kept\n"


def test_an_output_that_was_closed_does_not_keep_a_process_from_ending() -> None:
    command = [sys.executable, "-c", "import os, sys; from gauze.session.leaving import leave; os.close(1); leave(5)"]
    assert subprocess.run(command, timeout=300, check=False).returncode == 5
    command[2] = "import sys; from gauze.session.leaving import leave; sys.stdout = sys.stderr = None; leave(6)"
    assert subprocess.run(command, timeout=300, check=False).returncode == 6
