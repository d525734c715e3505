"""Compile the kernel whenever the package is installed or built; all else stands in pyproject.toml."""

import runpy
from pathlib import Path

from setuptools import Distribution, setup
from setuptools.command.build_py import build_py

KERNEL = Path("gauze/core/optics/kernel")


class WithKernel(build_py):
    """Copies the Python files as ever, then compiles: beside its source where that is installed in place."""

    def run(self) -> None:
        """Copy, then compile."""
        super().run()
        folder = KERNEL if self.editable_mode else Path(self.build_lib) / KERNEL
        runpy.run_path(str(KERNEL / "build.py"))["build"](folder.resolve() / "kernel.lib")


class Compiled(Distribution):
    """A package for one kind of machine."""

    def has_ext_modules(self) -> bool:
        """Say so."""
        return True


setup(cmdclass={"build_py": WithKernel}, distclass=Compiled)
