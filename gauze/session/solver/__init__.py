"""The solvers in a process of their own, so that heavy computing never takes the interpreter from the interface.

``work`` is what can be asked for, ``process`` the side that asks, ``serve`` the side that computes, ``messages`` what goes
between them.
"""

from gauze.session.solver.process import SolverProcess
from gauze.session.solver.work import (
    BenchRequest,
    DemosRequest,
    DiagnoseRequest,
    FilesRequest,
    FixesFound,
    FixRequest,
    LightRequest,
    LightResult,
    LitDemo,
    MakeRequest,
    PhotoRequest,
    PlayRequest,
    Practised,
    PractiseRequest,
    Progress,
    ShelfRequest,
    TrayRequest,
    WorkshopRequest,
)

__all__ = [
    "BenchRequest",
    "DemosRequest",
    "DiagnoseRequest",
    "FilesRequest",
    "FixRequest",
    "FixesFound",
    "LightRequest",
    "LightResult",
    "LitDemo",
    "MakeRequest",
    "PhotoRequest",
    "PlayRequest",
    "PractiseRequest",
    "Practised",
    "Progress",
    "ShelfRequest",
    "SolverProcess",
    "TrayRequest",
    "WorkshopRequest",
]
