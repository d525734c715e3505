"""What the hand does on the drawing of a build: typed, dragged, moved, and the menu of what is under it."""

from PyQt6.QtCore import QObject, QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from gauze.core.errors import QuantityError
from gauze.core.layout.sketch import Thing
from gauze.session.build_edits import read_value, thing_edits, with_choice_at, with_dragged, with_moved
from gauze.ui.canvas.build_view import BuildView
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench

_CONTEXT_MENU = ("tray_strip", "tray_diffuser", "fit", "false_colour", "from_back", "undo", "redo")


class BuildHand(QObject):
    """Turns what the view asks for into edits."""

    def __init__(self, bench: Workbench, view: BuildView, actions: dict[str, QAction], window: QWidget) -> None:
        super().__init__()
        self._bench, self._view, self._actions, self._window = bench, view, actions, window
        view.typed.connect(self._typed)
        view.dragged.connect(self._dragged)
        view.moved.connect(self._moved)
        view.menu_wanted.connect(self._show_menu)

    def _typed(self, field: str, kind: str, name: str, text: str) -> None:
        try:
            value = read_value(kind, text, self._bench.unit)
        except QuantityError as error:
            self._view.refuse(field, str(error))
            return
        if self._bench.edit(name, lambda design, _: with_choice_at(design, field, value), field=field):
            self._view.finish_editing()

    def _dragged(self, field: str, name: str, value: float, gesture: object) -> None:
        self._bench.drag(f"Drag {name}", lambda design, _: with_dragged(design, field, value), gesture)

    def _moved(self, thing: Thing, dx_mm: float, dy_mm: float, gesture: object) -> None:
        name = f"Move {thing.name}"
        self._bench.drag(name, lambda design, _: with_moved(design, thing, dx_mm, dy_mm), gesture)

    def _show_menu(self, where: QPoint, dimension: Dimension | None, thing: Thing | None) -> None:
        menu = QMenu(self._window)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if dimension is not None:
            action = menu.addAction(tr("Type the {name} …").format(name=dimension.name.lower()))
            assert action is not None
            action.triggered.connect(lambda: self._view.edit(dimension.key))
            menu.addSeparator()
        if thing is not None:
            for name, change in thing_edits(self._bench.design, thing):
                action = menu.addAction(tr(name))
                assert action is not None
                action.triggered.connect(
                    lambda _checked, name=name, change=change: self._bench.edit(name, lambda design, _: change(design))
                )
            menu.addSeparator()
        for key in _CONTEXT_MENU:
            if self._actions[key].isEnabled():
                menu.addAction(self._actions[key])
        menu.popup(where)
