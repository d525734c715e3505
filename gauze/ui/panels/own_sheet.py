"""Asks for two readings of a lux meter, without a sheet and with it, and makes a material of them."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QLineEdit, QVBoxLayout, QWidget

from gauze.core.errors import GauzeError
from gauze.core.materials import Catalogue, Layer, OwnDiffuser
from gauze.core.units import parse_number
from gauze.session.edits import own_sheet
from gauze.ui.panels.fields import ChoiceBox, Form
from gauze.ui.text import told, tr


class OwnSheetDialog(QDialog):
    """``known`` is the catalogue with all own sheets (their ids are taken), ``catalogue`` what a sheet can be like."""

    measured = pyqtSignal(object)  # OwnDiffuser

    def __init__(self, known: Catalogue, catalogue: Catalogue, present: Layer, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Measured sheet"))
        self._known, self._catalogue = known, catalogue
        about = QLabel(
            tr(
                "Hold the lux meter over the lit strips, a hand's breadth away, and read it. Lay the sheet on the meter and "
                "read again, in the same place. Do not look into bare LEDs while you measure."
            )
        )
        about.setWordWrap(True)
        about.setObjectName("dim")
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("such as: opal offcut from the bench"))
        self.like = ChoiceBox()
        for diffuser in catalogue.diffusers.values():
            self.like.addItem(diffuser.name, diffuser.id)
        self.like.setCurrentIndex(max(self.like.findData(present), 0))
        self.without, self.with_sheet = QLineEdit(), QLineEdit()
        self._result = QLabel()
        self._result.setWordWrap(True)
        self._result.setTextFormat(Qt.TextFormat.PlainText)
        self._result.setMinimumHeight(3 * self.fontMetrics().height())  # room for the sentence before it is there
        self.form = Form()
        for label, widget in (
            (tr("Name"), self.name),
            (tr("Scatters like"), self.like),
            (tr("Without the sheet"), self.without),
            (tr("With the sheet"), self.with_sheet),
        ):
            widget.setAccessibleName(label)
            self.form.add(label, widget)
        for field in (self.without, self.with_sheet):
            field.setPlaceholderText("lx")
        self.form.add_wide(self._result)
        self.form.finish()
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(about)
        column.addWidget(self.form)
        column.addWidget(self.buttons)
        self.setMinimumWidth(420)
        for edit in (self.name, self.without, self.with_sheet):
            edit.textChanged.connect(self._show_result)
        self.like.currentIndexChanged.connect(self._show_result)

    def accept(self) -> None:
        """Take the sheet, or say what is missing."""
        try:
            sheet = self._sheet()
        except GauzeError as error:
            self.form.say(told(error))
            return
        self.measured.emit(sheet)
        super().accept()

    def _sheet(self) -> OwnDiffuser:
        return own_sheet(
            self.name.text(),
            str(self.like.currentData()),
            parse_number(self.without.text(), "lx"),
            parse_number(self.with_sheet.text(), "lx"),
            self._known.diffusers,
            self._catalogue,
        )

    def _show_result(self) -> None:
        self.form.say("")
        try:
            sheet = self._sheet()
        except GauzeError:
            self._result.setText("")
            return
        diffuser = sheet.diffuser(self._catalogue.diffuser(sheet.like))
        self._result.setText(
            tr("passes {tau}, reflects {rho} (what is absorbed is taken to be as in {like}); ±{spread}").format(
                tau=f"{diffuser.transmittance:.1%}",
                rho=f"{diffuser.reflectance:.1%}",
                like=self._catalogue.diffuser(sheet.like).name,
                spread=f"{diffuser.spread:.0%}",
            )
        )
