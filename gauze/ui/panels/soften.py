"""Soften: the layers of the diffuser, own sheets, and the finishes of the inner faces."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QToolButton, QVBoxLayout, QWidget

from gauze.core.design import with_build
from gauze.core.design.design import Build
from gauze.core.design.strip_panel import MOST_LAYERS
from gauze.core.errors import QuantityError
from gauze.core.materials import Layer
from gauze.core.units import parse_number
from gauze.session import edits
from gauze.ui.message import plain_button
from gauze.ui.panels.fields import ChoiceBox
from gauze.ui.panels.own_sheet import OwnSheetDialog
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.text import told, tr
from gauze.ui.workbench import Workbench


class LayerRow(QWidget):
    """One layer: its name, which opens the tray, and a button to take it away."""

    picked = pyqtSignal()
    removed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self.pick = QPushButton()
        self.pick.setToolTip(tr("Choose another sheet from the tray"))
        self.pick.clicked.connect(self.picked)
        self.remove = QToolButton()
        self.remove.setText("×")
        self.remove.setToolTip(tr("Remove this layer"))
        self.remove.setAccessibleName(tr("Remove this layer"))
        self.remove.clicked.connect(self.removed)
        row.addWidget(self.pick, 1)
        row.addWidget(self.remove)


class SoftenPanel(PlacePanel):
    """Sheet and inner faces."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, tr("Sheet and inner faces"))
        self._rows: list[LayerRow] = []
        self._layers = QVBoxLayout()
        self._layers.setContentsMargins(0, 0, 0, 0)
        self._layers.setSpacing(4)
        layers = QWidget()
        layers.setLayout(self._layers)
        self.form.add_wide(layers)
        self._about = QLabel()
        self._about.setObjectName("dim")
        self._about.setWordWrap(True)
        self.form.add_wide(self._about)
        self.form.add_wide(self._buttons())
        self._back = self._finish(tr("Back"), "back")
        self._walls = self._finish(tr("Walls"), "walls")
        self.form.finish()
        self.column.addStretch(1)

    def _buttons(self) -> QWidget:
        buttons = QWidget()
        row = QHBoxLayout(buttons)
        row.setContentsMargins(0, 0, 0, 2)
        row.setSpacing(4)
        self._add = QPushButton(tr("Add a layer"))
        self._add.setToolTip(tr("Add another sheet on the outside"))
        self._add.clicked.connect(self._add_layer)
        self._measure = QPushButton(tr("Measured sheet …"))
        self._measure.setToolTip(tr("Measure a sheet of your own with two readings of a lux meter"))
        self._measure.clicked.connect(self.measure_own_sheet)
        row.addWidget(self._add, 1)
        row.addWidget(self._measure, 1)
        return buttons

    def _add_layer(self) -> None:
        if self.bench.edit("Add a layer", lambda design, _: edits.with_layer_added(design)):
            self.command_wanted.emit("tray_diffuser", len(self.bench.design.build.layers) - 1)

    def measure_own_sheet(self) -> None:
        """Ask for two readings; the sheet takes the place of the outermost layer."""
        layers = self.bench.design.build.layers
        dialog = OwnSheetDialog(self.bench.known(), self.bench.catalogue, layers[-1], self)
        dialog.measured.connect(lambda sheet: self.bench.keep_own_sheet(sheet, len(layers) - 1))
        dialog.open()

    def _finish(self, label: str, key: str) -> QComboBox:
        box = ChoiceBox()
        box.setEditable(True)
        box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        box.setAccessibleName(tr("{label}: finish, or reflectance in percent").format(label=label))
        box.setToolTip(tr("Choose a finish, or type a reflectance such as 82 %"))
        for finish in self.bench.catalogue.finishes.values():
            box.addItem(f"{finish.name}, {finish.reflectance:.0%}", finish.id)
        box.activated.connect(lambda index: self._choose(key, box.itemData(index)))
        edit = box.lineEdit()
        assert edit is not None
        edit.returnPressed.connect(lambda: self._type(key, box))
        self.form.add(label, box)
        return box

    def _choose(self, key: str, finish: str | float) -> None:
        self.bench.edit("Finish", lambda design, _: with_build(design, **{key: finish}))

    def _type(self, key: str, box: QComboBox) -> None:
        index = box.findText(box.currentText())
        if index >= 0:
            self._choose(key, box.itemData(index))
            return
        try:
            value = parse_number(box.currentText(), "%")
        except QuantityError as error:
            self.form.say(told(error))
            self.refresh()
            return
        self.form.say("")
        self._choose(key, value / 100.0 if value > 1.0 else value)

    def refresh(self) -> None:
        """Show layers and finishes."""
        build = self.bench.design.build
        self._refresh_layers(build.layers)
        self._measure.setEnabled(bool(build.layers))
        self._refresh_finishes(build)
        if not build.layers:
            self._about.setText(tr("no sheet: the wall itself is lit"))
            return
        sheet = self.bench.known().sheet(build.layers)
        if sheet.spread == 0:
            words = tr("passes {tau}, reflects {rho}; as given")
            self._about.setText(words.format(tau=f"{sheet.transmittance:.0%}", rho=f"{sheet.reflectance:.0%}"))
            return
        measured = all(layer.source.startswith("transmittance measured") for layer in sheet.layers)
        self._about.setText(
            tr("passes {tau}, reflects {rho}; {standing} ±{spread}").format(
                tau=f"{sheet.transmittance:.0%}",
                rho=f"{sheet.reflectance:.0%}",
                standing=tr("measured") if measured else tr("typical"),
                spread=f"{sheet.spread:.0%}",
            )
        )

    def _refresh_finishes(self, build: Build) -> None:
        for box, value in ((self._back, build.back), (self._walls, build.walls)):
            index = box.findData(value)
            box.setCurrentIndex(index)
            if index < 0:
                box.setEditText(tr("custom finish, {share}").format(share=f"{value:.0%}"))

    def _refresh_layers(self, layers: tuple[Layer, ...]) -> None:
        while len(self._rows) < len(layers):
            row, index = LayerRow(), len(self._rows)
            row.picked.connect(lambda index=index: self.command_wanted.emit("tray_diffuser", index))
            row.removed.connect(lambda index=index: self._remove(index))
            self._rows.append(row)
            self._layers.addWidget(row)
        for index, row in enumerate(self._rows):
            row.setVisible(index < len(layers))
            if index < len(layers):
                name = self.bench.known().diffuser(layers[index]).name
                row.pick.setText(plain_button(name if len(layers) == 1 else f"{index + 1}  {name}"))
                row.remove.setVisible(len(layers) > 1)
        self._add.setEnabled(0 < len(layers) < MOST_LAYERS)

    def _remove(self, index: int) -> None:
        self.bench.edit("Remove a layer", lambda design, _: edits.with_layer_removed(design, index))
