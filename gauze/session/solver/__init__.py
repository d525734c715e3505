"""The solvers in a process of their own, so that heavy computing never takes the interpreter from the interface.

``work`` is what can be asked for, ``process`` the side that asks, ``serve`` the side that computes, ``messages`` what goes
between them.
"""

from gauze.session.solver.process import SolverProcess
from gauze.session.solver.work import (
    DemosRequest,
    FilesRequest,
    FixesFound,
    FixRequest,
    LightRequest,
    LightResult,
    LitDemo,
    MakeRequest,
    PlayRequest,
    Progress,
    ShelfRequest,
    TrayRequest,
    WorkshopRequest,
)

__all__ = [
    "DemosRequest",
    "FilesRequest",
    "FixRequest",
    "FixesFound",
    "LightRequest",
    "LightResult",
    "LitDemo",
    "MakeRequest",
    "PlayRequest",
    "Progress",
    "ShelfRequest",
    "SolverProcess",
    "TrayRequest",
    "WorkshopRequest",
]
