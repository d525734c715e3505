"""What the hand does on the drawing becomes an edit: typed, dragged, moved, and the menu of what is under it."""

from dataclasses import replace

from PyQt6.QtCore import QObject, QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from gauze.core.design.wiring import Injection
from gauze.core.electrical.network import USUAL
from gauze.core.errors import QuantityError
from gauze.core.layout.sketch import Handle, MovableItem
from gauze.session.build_edits import item_edits, read_value, with_choice_at, with_dragged, with_moved
from gauze.session.wiring_edits import with_injection, with_moved_injection, without_injection
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.text import spoken, told, tr
from gauze.ui.workbench import Workbench

_CONTEXT_MENU = ("turn_rows", "tray_strip", "tray_diffuser", "fit", "false_colour", "from_back", "undo", "redo")


class DrawingHand(QObject):
    """Turns what the drawing asks for into edits."""

    def __init__(self, bench: Workbench, drawing: Drawing, actions: dict[str, QAction], window: QWidget) -> None:
        super().__init__()
        self._bench, self._drawing, self._actions, self._window = bench, drawing, actions, window
        drawing.typed.connect(self._typed)
        drawing.dragged.connect(self._dragged)
        drawing.moved.connect(self._moved)
        drawing.pad_clicked.connect(self._feed_or_not)
        drawing.feed_dragged.connect(self._feed_dragged)
        self._fed: tuple[object, Injection] | None = None  # the gesture that drags a feed, and where it has brought it
        drawing.menu_wanted.connect(self._show_menu)

    def _typed(self, dimension: Dimension, text: str) -> None:
        try:
            value = read_value(dimension.kind, text, self._bench.unit)
        except QuantityError as error:
            self._drawing.refuse(dimension.field, told(error))
            return
        if dimension.offset:
            value -= dimension.offset
        field = dimension.field
        if self._bench.edit(dimension.name, lambda design, _: with_choice_at(design, field, value), field=field):
            self._drawing.finish_editing()

    def _dragged(self, handle: Handle, value: float, gesture: object) -> None:
        name = tr("Drag {name}").format(name=spoken(handle.name))
        self._bench.drag(name, lambda design, _: with_dragged(design, handle.field, value), gesture)

    def _moved(self, item: MovableItem, dx_mm: float, dy_mm: float, gesture: object) -> None:
        name = tr("Move {name}").format(name=spoken(item.name))
        self._bench.drag(name, lambda design, _: with_moved(design, item, dx_mm, dy_mm), gesture)

    def _feed_or_not(self, pads: Injection) -> None:
        """Feed in at a pair of pads, or no longer."""
        result = self._bench.result
        usual = USUAL if result is None else result.evaluation.network.wiring
        wiring = self._bench.design.wiring
        if wiring is not None and pads in wiring.injections:
            self._bench.edit("Remove a feed", lambda design, _: without_injection(design, pads))
        else:
            self._bench.edit("Add a feed", lambda design, _: with_injection(design, usual, pads))

    def _feed_dragged(self, taken: Injection, there: Injection, gesture: object) -> None:
        """Bring a feed from where it was taken to other pads; nothing happens where one is, or where none was taken."""
        at = self._fed[1] if self._fed is not None and self._fed[0] is gesture else taken
        wiring = self._bench.design.wiring
        if wiring is None or at not in wiring.injections or there in wiring.injections:
            return
        self._bench.drag("Move a feed", lambda design, _: with_moved_injection(design, at, there), gesture)
        self._fed = gesture, there

    def toggle_layer(self, key: str) -> None:
        """Lay a layer over the plan, or take it away."""
        state = self._drawing.state
        self._drawing.set_state(replace(state, layers=state.layers ^ {key}))

    def _show_menu(self, where: QPoint, dimension: Dimension | None, item: MovableItem | None) -> None:
        menu = QMenu(self._window)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if dimension is not None:
            action = menu.addAction(tr("Type {name} …").format(name=dimension.name))
            assert action is not None
            action.triggered.connect(lambda: self._drawing.edit(dimension.key))
            menu.addSeparator()
        if item is not None:
            for words, change in item_edits(self._bench.design, item):
                name = spoken(words)
                action = menu.addAction(name)
                assert action is not None
                action.triggered.connect(
                    lambda _checked, name=name, change=change: self._bench.edit(name, lambda design, _: change(design))
                )
            menu.addSeparator()
        for key in _CONTEXT_MENU:
            if self._actions[key].isEnabled():
                menu.addAction(self._actions[key])
        menu.popup(where)
