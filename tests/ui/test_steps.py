"""Parts beside the drawing, and the window of the steps: picked, ticked, noted, added to, exported."""

from collections.abc import Callable
from pathlib import Path

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import QBuffer, QEvent, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QDialog, QFileDialog, QScrollArea, QTreeWidgetItem
from pytestqt.qtbot import QtBot

from gauze.core.design import Design
from gauze.core.design.making import Making, Printing
from gauze.core.errors import DesignError
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.evaluate.building.workshop import Workshop
from gauze.core.evaluate.made import made_of
from gauze.session.document import Document
from gauze.session.exporting import book_of
from gauze.session.making_edits import (
    shown_making,
    with_making,
    with_own_step,
    with_record,
    without_own_step,
)
from gauze.session.pictures import find_picture, picture_text
from gauze.ui.main_window import MainWindow
from gauze.ui.making.steps_window import StepsWindow
from gauze.ui.panels.make import MakePanel
from tests.builders import CATALOGUE, design
from tests.families import family, head, tiles, tube
from tests.ui.test_make import typed

Open = Callable[..., MainWindow]


def parts_of(window: MainWindow, qtbot: QtBot) -> MakePanel:
    window.go_to("make")
    panel = window.places.panel(MakePanel)
    qtbot.waitUntil(lambda: panel.parts.table.rowCount() > 0, timeout=120_000)
    return panel


def steps_of(window: MainWindow, qtbot: QtBot) -> StepsWindow:
    window.actions_by_key["steps"].trigger()
    opened = window.steps_keeper.window
    assert opened is not None
    qtbot.waitUntil(lambda: bool(opened._steps), timeout=120_000)
    return opened


def item_of(steps: StepsWindow, key: str) -> QTreeWidgetItem:
    for top in range(steps.tree.topLevelItemCount()):
        group = steps.tree.topLevelItem(top)
        for index in range(group.childCount()):
            if group.child(index).data(0, Qt.ItemDataRole.UserRole) == key:
                return group.child(index)
    raise AssertionError(key)


# -- parts --


def test_a_row_that_is_picked_is_marked_on_the_drawing(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tiles()))
    panel = parts_of(window, qtbot)
    before = window.drawing.grab().toImage()
    row = next(row for row in range(panel.parts.table.rowCount()) if "Base" in panel.parts.table.item(row, 0).text())
    panel.parts.table.selectRow(row)
    assert len(window.drawing._picked) == 1
    sheet = window.drawing.sheet
    assert sheet is not None
    x, y = int(sheet.plan.x(-30.0)), int(sheet.plan.y(-30.0))
    assert window.drawing.grab().toImage().pixelColor(x, y) != before.pixelColor(x, y)
    window.go_to("aim")
    assert window.drawing._picked == ()


def test_a_part_that_is_clicked_is_picked_in_the_list(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = parts_of(window, qtbot)
    strip = next(piece for piece in window.bench.layout.strips if piece.id == "row-3")
    middle = [(a + b) / 2.0 for a, b in zip(strip.start_mm, strip.end_mm, strict=True)]
    sheet = window.drawing.sheet
    assert sheet is not None
    place = QPointF(sheet.plan.x(middle[0] / 4.0), sheet.plan.y(middle[1])).toPoint()
    qtbot.mousePress(window.drawing, Qt.MouseButton.LeftButton, pos=place)
    qtbot.mouseRelease(window.drawing, Qt.MouseButton.LeftButton, pos=place)
    assert panel.parts.table.item(panel.parts.table.currentRow(), 0).text().startswith("11 × ")
    assert len(window.drawing._picked) == 11


def test_the_smallest_part_under_a_place_is_meant() -> None:
    square = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]])
    found = Workshop((), (), {"large": square, "small": 0.2 * square})
    assert found.part_at(1.0, 1.0) == "small"
    assert found.part_at(5.0, 5.0) == "large"
    assert found.part_at(20.0, 5.0) is None


# -- choices --


def test_choices_of_the_making_are_typed_and_undone(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(), lit=False)
    window.go_to("make")
    choices = window.places.panel(MakePanel).choices
    for box, key in (
        (choices.laid, "clips"),
        (choices.joined, "connectors"),
        (choices.paper, "a3"),
        (choices.sheets, "free"),
    ):
        box.setCurrentIndex(box.findData(key))
        box.activated.emit(box.currentIndex())
    for field, text in (
        (choices.fixings, "4"),
        (choices.fixing_kg, "2.5"),
        (choices.bed, "250 x 210"),
        (choices.case, "90 × 60 × 3 cm"),
        (choices.foot, "12°"),
        (choices.wall, "2"),
    ):
        typed(field, text, qtbot)
    assert shown_making(window.bench.design) == Making(
        laid_with="clips",
        joined_with="connectors",
        paper="a3",
        sheets_cut="free",
        fixings=4,
        fixing_kg=2.5,
        printing=Printing(bed_x_mm=250.0, bed_y_mm=210.0, case_mm=(90.0, 60.0, 30.0), foot_deg=12.0, wall_mm=2.0),
    )
    typed(choices.case, "", qtbot)
    typed(choices.foot, "", qtbot)
    typed(choices.fixings, "", qtbot)
    making = shown_making(window.bench.design)
    assert (making.printing.case_mm, making.printing.foot_deg, making.fixings) == (None, None, None)
    for _ in range(3):
        window.bench.document.undo()
    assert choices.foot.text() == "12°"
    assert choices.case.text() == "90 mm × 60 mm × 30 mm"


@pytest.mark.parametrize("text", ["90", "90 x 60", "a x b x c", "90 x 60 x 1e9", "0 x 0 x 0"])
def test_a_case_that_cannot_be_is_refused(open_window: Open, qtbot: QtBot, text: str) -> None:
    window = open_window(design(), lit=False)
    window.go_to("make")
    typed(window.places.panel(MakePanel).choices.case, text, qtbot)
    assert shown_making(window.bench.design).printing.case_mm is None


# -- steps --


def test_steps_are_ticked_noted_and_kept_with_the_design(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    steps = steps_of(window, qtbot)
    item_of(steps, "lay/row-1").setCheckState(0, Qt.CheckState.Checked)
    qtbot.waitUntil(lambda: steps._count.text().startswith("1 of"), timeout=120_000)
    assert shown_making(window.bench.design).record("lay/row-1").done
    steps.tree.setCurrentItem(item_of(steps, "solder/row-1"))
    assert "amps" in steps._text.text()
    steps.reading.setFocus()
    qtbot.keyClicks(steps.reading, "0.31 A")
    qtbot.keyClick(steps.reading, Qt.Key.Key_Return)
    steps.note.setPlainText("second try")
    steps.tree.setCurrentItem(item_of(steps, "lay/row-1"))
    record = shown_making(window.bench.design).record("solder/row-1")
    assert (record.reading, record.note) == ("0.31 A", "second try")
    window.bench.document.undo()
    assert shown_making(window.bench.design).record("solder/row-1").note == ""


def test_a_note_is_kept_once_the_hand_goes_elsewhere_and_never_with_another_design(
    open_window: Open, qtbot: QtBot
) -> None:
    window = open_window(design())
    steps = steps_of(window, qtbot)
    steps.tree.setCurrentItem(item_of(steps, "body/walls"))
    steps.note.setPlainText("first")
    qtbot.keyClick(steps.note, Qt.Key.Key_Tab)
    steps.eventFilter(steps.note, QEvent(QEvent.Type.FocusOut))
    assert shown_making(window.bench.design).record("body/walls").note == "first"
    window.bench.replace_document(Document(family(tube()), CATALOGUE))
    assert steps.note.toPlainText() == ""
    steps.close()
    assert shown_making(window.bench.design).records == ()


def test_a_note_is_kept_when_the_window_closes(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    steps = steps_of(window, qtbot)
    steps.tree.setCurrentItem(item_of(steps, "body/walls"))
    steps.note.setPlainText("glued at noon")
    steps.close()
    assert shown_making(window.bench.design).record("body/walls").note == "glued at noon"


def test_own_steps_are_added_after_the_chosen_one_and_removed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    steps = steps_of(window, qtbot)
    steps.tree.setCurrentItem(item_of(steps, "body/walls"))
    steps.own.setText("Sand the edges")
    steps.add.click()
    qtbot.waitUntil(lambda: any(one.key == "own-1" for one in steps._steps), timeout=120_000)
    keys = [one.key for one in steps._steps]
    assert keys[keys.index("body/walls") + 1] == "own-1"
    steps.tree.setCurrentItem(item_of(steps, "own-1"))
    assert steps.remove.isVisibleTo(steps)
    steps.remove.click()
    qtbot.waitUntil(lambda: all(one.key != "own-1" for one in steps._steps), timeout=120_000)
    assert shown_making(window.bench.design).own_steps == ()
    assert not steps.remove.isVisibleTo(steps)


def test_own_steps_keep_their_order_when_one_between_goes() -> None:
    what = with_own_step(with_own_step(design(), "body/walls", "one"), "own-1", "two")
    what = with_record(what, "own-1", done=True)
    gone = without_own_step(what, "own-1")
    (left,) = shown_making(gone).own_steps
    assert (left.after, left.text) == ("body/walls", "two")
    assert shown_making(gone).records == ()
    assert without_own_step(gone, "own-9") == gone


def test_a_record_of_nothing_is_forgotten() -> None:
    done = with_record(design(), "a", done=True)
    assert shown_making(with_record(done, "a", done=False)).records == ()


def test_ticking_plans_nothing_anew() -> None:
    """What is kept of the steps is no choice of the cutting."""
    what = with_making(design(), wall_mm=12.0)
    plain, ticked = made_of(what, CATALOGUE, ()), made_of(with_record(what, "a", done=True), CATALOGUE, ())
    assert ticked.planned is plain.planned
    assert ticked.making.record("a").done
    assert made_of(with_making(what, wall_mm=13.0), CATALOGUE, ()).planned is not plain.planned


@pytest.mark.parametrize(
    ("action", "name", "magic"),
    [
        ("export_book", "book.pdf", b"%PDF"),
        ("export_templates", "t.pdf", b"%PDF"),
        ("export_templates", "t.dxf", b"  0"),
        ("export_printed", "p.3mf", b"PK"),
    ],
)
def test_what_is_exported_is_written(
    open_window: Open,
    qtbot: QtBot,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    action: str,
    name: str,
    magic: bytes,
) -> None:
    window = open_window(family(tube() if action == "export_printed" else tiles()))
    path = tmp_path / name
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    window.actions_by_key[action].trigger()
    qtbot.waitUntil(path.exists, timeout=120_000)
    assert path.read_bytes().startswith(magic)


def test_where_nothing_is_printed_that_is_said(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(design())
    told: list[str] = []
    monkeypatch.setattr(window.files, "explain", lambda _title, text: told.append(text))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "x.3mf"), ""))
    window.actions_by_key["export_printed"].trigger()
    qtbot.waitUntil(lambda: bool(told), timeout=120_000)
    assert "Nothing was written" in told[0]
    assert not (tmp_path / "x.3mf").exists()


@pytest.mark.parametrize(("action", "across"), [("print_book", False), ("print_templates", True)])
def test_what_is_printed_has_the_size_of_its_pages(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, action: str, across: bool
) -> None:
    """Onto a printer that writes a file: as many pages, each as large as the one of the PDF that it shows."""
    from PyQt6.QtPdf import QPdfDocument
    from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

    window = open_window(family(head()))
    out = tmp_path / "printed.pdf"

    def choose(dialog: QPrintDialog) -> int:
        printer = dialog.printer()
        assert printer is not None
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(out))
        return int(QDialog.DialogCode.Accepted)

    monkeypatch.setattr(QPrintDialog, "exec", choose)
    window.actions_by_key[action].trigger()
    qtbot.waitUntil(lambda: window.steps_keeper.printing is not None, timeout=120_000)
    printing = window.steps_keeper.printing
    assert printing is not None
    with qtbot.waitSignal(printing.finished, timeout=120_000) as told:
        pass
    document = QPdfDocument(None)
    document.load(str(out))
    assert document.pageCount() == told.args[0] > 1
    sizes = [document.pagePointSize(page) for page in range(document.pageCount())]
    for size in sizes:
        assert sorted((size.width(), size.height())) == pytest.approx((595.3, 841.9), abs=1.5)
    assert any(size.width() > size.height() for size in sizes) == across
    document.close()


@pytest.mark.usefixtures("qapp")
def test_the_book_can_be_read_with_a_name_of_any_letters() -> None:
    """Read back by a reader of PDF: headings, findings and feet."""
    from PyQt6.QtPdf import QPdfDocument

    name = "Лампа Ωμέγα Łódź"
    what = msgspec.structs.replace(design(), name=name)
    evaluation, made = evaluate(what, CATALOGUE, WHILE_DRAGGING), made_of(what, CATALOGUE, ())
    device = QBuffer()
    device.setData(book_of(evaluation, made))
    device.open(QBuffer.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(device)
    first = document.getAllText(0).text()
    assert first.count(name) == 2  # at the head and at the foot
    assert "?" not in first
    document.close()


@pytest.mark.parametrize("what", [design(), family(tiles())], ids=["panel", "tiles"])
def test_nothing_in_the_place_make_is_wider_than_its_room(open_window: Open, qtbot: QtBot, what: Design) -> None:
    window = open_window(what)
    window.resize(1280, 800)
    panel = parts_of(window, qtbot)
    scroll = panel.parentWidget()
    while scroll is not None and not isinstance(scroll, QScrollArea):
        scroll = scroll.parentWidget()
    assert scroll is not None
    viewport = scroll.viewport()
    assert viewport is not None
    assert panel.minimumSizeHint().width() <= viewport.width()


# -- pictures --


def test_pictures_are_kept_with_a_step_and_told_when_they_are_gone(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(family(tube()))
    steps = steps_of(window, qtbot)
    picture, other = tmp_path / "corner.png", tmp_path / "no picture.png"
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(0xFF3060)
    assert image.save(str(picture))
    other.write_bytes(b"nothing")
    key = steps.current_key()
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([str(picture), str(other)], ""))
    steps.pictures.add.click()
    assert shown_making(window.bench.design).record(key).pictures == (str(picture), str(other))
    qtbot.waitUntil(lambda: len(steps.pictures._buttons) == 2, timeout=60_000)
    qtbot.waitUntil(lambda: not steps.pictures._buttons[str(picture)].icon().isNull(), timeout=60_000)
    qtbot.waitUntil(lambda: steps.pictures._buttons[str(other)].text() == "unreadable", timeout=60_000)
    steps.pictures._buttons[str(other)].actions()[0].trigger()
    assert shown_making(window.bench.design).record(key).pictures == (str(picture),)
    picture.unlink()
    steps.show_steps(steps._steps, shown_making(window.bench.design))
    assert steps.pictures._buttons[str(picture)].text() == "gone"
    window.bench.document.undo()
    window.bench.document.undo()
    assert not shown_making(window.bench.design).record(key).pictures


def test_a_picture_is_found_beside_the_design_where_the_folder_has_moved(tmp_path: Path) -> None:
    moved = tmp_path / "moved"
    (moved / "pictures").mkdir(parents=True)
    (moved / "pictures" / "a.png").write_bytes(b"x")
    kept = picture_text(tmp_path / "before" / "a.png")
    assert find_picture(kept, None) is None
    assert find_picture(kept, moved / "lamp.gauze") == moved / "pictures" / "a.png"


def test_too_many_pictures_are_refused() -> None:
    with pytest.raises(DesignError, match="At most 20 pictures"):
        with_record(family(tube()), "some", pictures=tuple(str(number) for number in range(21)))


# -- the side cut --


def test_a_part_is_picked_in_the_side_cut(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(depth_mm=60.0))
    panel = parts_of(window, qtbot)
    workshop, sheet = window.steps_keeper.workshop, window.drawing.sheet
    assert workshop is not None
    assert sheet is not None
    x, z = workshop.sections["sheet-1"].mean(axis=0).tolist()
    where = QPointF(sheet.cut.x(x), sheet.cut.y(z)).toPoint()
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=where)
    assert panel.parts.table.selectedItems()
    row = panel.parts.table.currentRow()
    assert "sheet-1" in workshop.rows[row].ids
    assert len(window.drawing._picked_in_cut) == 1
