"""Whether, where to and in which order of colours a display's pictures are sent. Nothing is sent before it is asked for."""

from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from gauze.core.errors import GauzeError, QuantityError
from gauze.core.formats.e131 import ORDERS, PORT
from gauze.core.layout.model import FloatArray
from gauze.core.units import parse_number
from gauze.session.sending import Sender
from gauze.ui.panels.fields import ChoiceBox, Form
from gauze.ui.text import told, tr

_MOST_PORT = 65_535


class SendControls(QWidget):
    """An address, a port, an order of colours, and a button that opens and closes the way."""

    def __init__(self) -> None:
        super().__init__()
        self._sender: Sender | None = None
        self._pictures = 0
        self.address, self.port = QLineEdit("127.0.0.1"), QLineEdit(str(PORT))
        self.order = ChoiceBox()
        for order in ORDERS:
            self.order.addItem(order, order)
        self.order.setToolTip(
            tr("Play the test “red, green, blue, all”, and choose the order with which it shows them so")
        )
        self.form = Form()
        rows: tuple[tuple[str, QWidget], ...] = (
            (tr("Controller"), self.address),
            (tr("Port"), self.port),
            (tr("Order"), self.order),
        )
        for name, widget in rows:
            widget.setAccessibleName(name)
            self.form.add(name, widget)
        self.form.finish()
        self.button = QPushButton(tr("Send what plays (E1.31)"))
        self.button.setCheckable(True)
        self.button.toggled.connect(self._toggled)
        self._said = QLabel()
        self._said.setObjectName("dim")
        self._said.setWordWrap(True)
        self._said.setMinimumHeight(2 * self.fontMetrics().lineSpacing() + 4)  # so that the buttons stay where they are
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.form)
        column.addWidget(self._said)
        column.addWidget(self.button)
        self.order.activated.connect(lambda _index: self._open() if self._sender is not None else None)

    def _toggled(self, wanted: bool) -> None:
        if wanted:
            self._open()
        else:
            self.stop()

    def _open(self) -> None:
        self._close()
        try:
            port = int(parse_number(self.port.text()))
            if not 1 <= port <= _MOST_PORT:
                raise QuantityError("A port is from 1 to {most}: correct it.", most=_MOST_PORT)
            self._sender = Sender(self.address.text(), port, self.order.currentData())
        except GauzeError as error:
            self.form.say(told(error))
            self.button.setChecked(False)
            return
        self.form.say("")
        self._pictures = 0
        self._said.setText(tr("Sends while it plays."))

    def send(self, levels: FloatArray) -> None:
        """Send a picture, where that is asked for."""
        if self._sender is None:
            return
        sent = self._sender.send(levels)
        self._pictures += 1
        if sent.refused:
            said = tr("Nothing listens at {address}, port {port}. Start the controller, or correct them.")
        elif sent.packets:
            said = tr("Picture {number}: {packets} packets sent.")
        else:
            said = tr("Nothing gets to {address}: is this machine on its network?")
        self._said.setText(
            said.format(number=self._pictures, packets=sent.packets, address=self.address.text(), port=self.port.text())
        )

    def stop(self) -> None:
        """Send no more."""
        self._close()
        self._said.setText("")
        self.button.setChecked(False)

    def _close(self) -> None:
        if self._sender is not None:
            self._sender.close()
            self._sender = None
