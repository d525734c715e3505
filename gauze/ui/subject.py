"""What a subject of the work brings to the window: its place, panels, actions and layers, in one record."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from gauze.core.design import Design

if TYPE_CHECKING:
    from gauze.ui.main_window.main_window import MainWindow
    from gauze.ui.panels.place_panel import PlacePanel
    from gauze.ui.workbench import Workbench


@dataclass(frozen=True)
class ActionRow:
    """One action: the key that names it, where it stands and how it is called. An empty key is a rule.

    ``run`` does it, with the index of what it is for where there are several; None where the window has a slot for it.
    ``offered`` says whether a design has it; None for every one.
    """

    menu: str
    key: str
    text: str = ""
    shortcut: str = ""
    icon: str = ""
    checkable: bool = False
    run: Callable[[MainWindow, int], object] | None = None
    offered: Callable[[Design], bool] | None = None


@dataclass(frozen=True)
class LayerRow:
    """A layer over the plan: its key in :mod:`gauze.core.drawing`, and how it is switched."""

    key: str
    text: str
    shortcut: str = ""


@dataclass(frozen=True)
class Subject:
    """A stage of the work.

    ``name`` has the sign of its mnemonic; ``panel`` makes what is chosen at its place, ``panel_of_family`` where a family, by the
    class of its choices, has a panel of its own. Exports are actions of the file menu. Its findings name ``key`` as their place.
    """

    key: str
    name: str
    icon: str
    about: str
    panel: Callable[[Workbench], PlacePanel]
    panel_of_family: Mapping[type, Callable[[Workbench], PlacePanel]] = field(default_factory=dict)
    actions: tuple[ActionRow, ...] = ()
    layers: tuple[LayerRow, ...] = ()

    @property
    def layer_keys(self) -> list[str]:
        """The keys of its layers."""
        return [layer.key for layer in self.layers]
