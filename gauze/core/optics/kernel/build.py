"""Compile the kernel: ``python -m gauze.core.optics.kernel.build``. The set-up does so; nothing else has to.

The compiler comes as a package with wheels, so that a machine needs nothing but Python. It compiles for the processor that it
runs on.
"""

import hashlib
import subprocess
import sys
import tempfile
from pathlib import Path

SOURCE = Path(__file__).with_name("kernel.c")
LIBRARY = Path(__file__).with_name("kernel.so")
_OPTIONS = ("-std=c11", "-O3", "-march=native", "-ffast-math", "-fPIC", "-fvisibility=hidden", "-shared", "-nostdlib")
_WARNINGS = ("-Wall", "-Wextra", "-Werror")


def digest_of_source() -> str:
    """What tells the library whether it was compiled from the source that lies beside it."""
    return hashlib.sha256(SOURCE.read_bytes()).hexdigest()


def build(library: Path = LIBRARY) -> None:
    """Compile the kernel into a shared library, which takes the place of the old one only when it is whole.

    Raises
    ------
    subprocess.CalledProcessError
        When the compiler is not there, or says no.
    """
    with tempfile.TemporaryDirectory(dir=library.parent, prefix=".kernel-") as folder:
        made = Path(folder) / library.name
        digest = f'-DSOURCE="{digest_of_source()}"'
        command = [sys.executable, "-m", "ziglang", "cc", *_OPTIONS, *_WARNINGS, digest, str(SOURCE), "-o", str(made)]
        cache = {"ZIG_GLOBAL_CACHE_DIR": folder, "ZIG_LOCAL_CACHE_DIR": folder, "PATH": "/usr/bin:/bin"}
        subprocess.run(command, check=True, env=cache)  # noqa: S603  its own interpreter and file
        made.replace(library)


if __name__ == "__main__":
    build()
