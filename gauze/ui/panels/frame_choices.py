"""How the boards of a box are joined: corners, the seat of the sheet, screws, what it hangs or stands on."""

from typing import Any

from PyQt6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from gauze.core.errors import QuantityError
from gauze.core.units import format_length, parse_length
from gauze.session.making_edits import shown_making, with_frame
from gauze.ui.panels.fields import ChoiceBox, Form, QuantityField
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class FrameChoices(QWidget):
    """A form; shown for builds that are boxes of boards."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self.bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        heading = QLabel(tr("Boards and sheet"))
        heading.setObjectName("heading")
        column.addWidget(heading)
        self.form = Form()
        column.addWidget(self.form)
        self.corners = self._box(
            tr("Corners"),
            "corners",
            (
                ("butt", tr("butted")),
                ("mitre", tr("mitred")),
                ("lap", tr("lapped")),
                ("splined", tr("mitred, with splines")),
            ),
        )
        self.seat = self._box(
            tr("Sheet lies"),
            "seat",
            (
                ("on_top", tr("on the boards")),
                ("groove", tr("in a groove")),
                ("rebate", tr("in a rebate")),
                ("ledge", tr("on ledges")),
                ("standoffs", tr("on standoffs")),
            ),
        )
        self._read: tuple[float, ...] = ()
        self.screws = QuantityField(tr("Screws of the boards, thickness × length"), self._read_screws)
        self.screws.setPlaceholderText(tr("none, or 4 × 35"))
        self.screws.taken.connect(self._take_screws)
        self.screws.wrong.connect(self.form.say)
        self.form.add(tr("Screws"), self.screws)
        self.hang = self._box(
            tr("Hangs by"),
            "hang",
            (("none", tr("not chosen")), ("hooks", tr("hooks")), ("keyholes", tr("keyhole plates"))),
        )
        self.stand = self._box(
            tr("Thread for a stand"),
            "stand",
            (("none", tr("none")), ("quarter_inch", tr("1/4 in")), ("three_eighths_inch", tr("3/8 in"))),
        )
        self.missing = QLabel(tr("Choose the thickness of the wall boards above: all of this depends on it."))
        self.missing.setObjectName("dim")
        self.missing.setWordWrap(True)
        self.form.add_wide(self.missing)
        self.form.finish()
        self.hide()  # until the design is known to be a box

    def _box(self, label: str, choice: str, options: tuple[tuple[str, str], ...]) -> ChoiceBox:
        box = ChoiceBox()
        box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        box.setAccessibleName(label)
        for key, text in options:
            box.addItem(text, key)
        box.activated.connect(lambda index: self._edit(**{choice: box.itemData(index)}))
        self.form.add(label, box)
        return box

    def _read_screws(self, text: str) -> float:
        """Read two lengths; nothing typed means none, 0."""
        words = text.replace("×", "x").replace("*", "x").lower().split("x") if text.strip() else []
        if words and len(words) != len(("thick", "long")):
            raise QuantityError("Type {count} lengths with × between them.", count=2)
        self._read = tuple(parse_length(word, self.bench.unit) for word in words)
        return float(len(words))

    def _take_screws(self, _count: float) -> None:
        if self._read:
            self._edit(screw_mm=self._read[0], screw_long_mm=self._read[1])
        else:
            self._edit(screw_mm=None)

    def _edit(self, **changes: Any) -> None:
        frame = shown_making(self.bench.design).frame
        if any(getattr(frame, key) != value for key, value in changes.items()):
            field = f"making.frame.{next(iter(changes))}"
            self.bench.edit("Boards and sheet", lambda design, _: with_frame(design, **changes), field=field)

    def refresh(self) -> None:
        """Show what is chosen."""
        making, unit = shown_making(self.bench.design), self.bench.unit
        frame = making.frame
        for box, value in (
            (self.corners, frame.corners),
            (self.seat, frame.seat),
            (self.hang, frame.hang),
            (self.stand, frame.stand),
        ):
            box.setCurrentIndex(box.findData(value))
        sizes = () if frame.screw_mm is None else (frame.screw_mm, frame.screw_long_mm)
        self.screws.show_text(" × ".join(format_length(one, unit) for one in sizes))
        self.missing.setVisible(making.wall_mm is None)
