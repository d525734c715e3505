"""Compile the kernel: ``python -m gauze.core.optics.kernel.build``. The set-up does so; nothing else has to.

The compiler comes as a package with wheels, so that a machine needs nothing but Python. It compiles for the processor that it
runs on.
"""

import hashlib
import platform
import subprocess
import sys
import tempfile
from pathlib import Path

SOURCE = Path(__file__).with_name("kernel.c")
LIBRARY = Path(__file__).with_name("kernel.lib")  # not .so, which Python would take for a module
_OPTIONS = ("-std=c11", "-O3", "-march=native", "-ffast-math", "-fPIC", "-fvisibility=hidden", "-shared", "-nostdlib")
_WIDE = (
    "-mprefer-vector-width=512",
)  # where the processor has such: a third faster than half as wide, which is the default
_SEAL = 128  # bytes at the end of a library
_WITH_WIDE = ("x86_64", "AMD64")
_WARNINGS = ("-Wall", "-Wextra", "-Werror")


def _processor() -> bytes:
    """What the processor can do, as the system tells it: a library made for another one may end the process."""
    try:
        lines = Path("/proc/cpuinfo").read_bytes().splitlines()
    except OSError:
        return b""
    return next((line for line in lines if line.startswith((b"flags", b"Features"))), b"")


def seal_of(compiled: bytes) -> bytes:
    """What is written at the end of the library: it is whole, and belongs to the source beside it and to this processor."""
    source = b"".join(part.read_bytes() for part in sorted(SOURCE.parent.glob("*.[ch]")))
    return b"".join(hashlib.sha256(one).hexdigest().encode("ascii") for one in (compiled, source + _processor()))


def is_sealed(library: bytes) -> bool:
    """Whether the bytes of a library are whole, of this source and for this processor: loading another can end the process."""
    compiled, seal = library[:-_SEAL], library[-_SEAL:]
    return seal == seal_of(compiled)


def build(library: Path = LIBRARY) -> None:
    """Compile the kernel into a shared library, which takes the place of the old one only when it is whole.

    Raises
    ------
    subprocess.CalledProcessError
        When the compiler is not there, or says no.
    """
    with tempfile.TemporaryDirectory(dir=library.parent, prefix=".kernel-") as folder:
        made = Path(folder) / library.name
        options = (*_OPTIONS, *(_WIDE if platform.machine() in _WITH_WIDE else ()), *_WARNINGS)
        command = [sys.executable, "-m", "ziglang", "cc", *options, str(SOURCE), "-o", str(made)]
        cache = {"ZIG_GLOBAL_CACHE_DIR": folder, "ZIG_LOCAL_CACHE_DIR": folder, "PATH": "/usr/bin:/bin"}
        subprocess.run(command, check=True, env=cache)  # noqa: S603  its own interpreter and file
        compiled = made.read_bytes()
        made.write_bytes(
            compiled + seal_of(compiled)
        )  # what follows the last section is not looked at when it is loaded
        made.replace(library)


if __name__ == "__main__":
    build()
