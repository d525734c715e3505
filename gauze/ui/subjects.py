"""The subjects, in working order. To add one, write its panel and name it here."""

from __future__ import annotations

from typing import TYPE_CHECKING

from gauze.core.design import Design, LooseEmitters, StripPanel
from gauze.core.design.design import catalogue_of
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.families import family_of
from gauze.core.materials import load_catalogue
from gauze.session import edits
from gauze.ui.panels.aim import AimPanel
from gauze.ui.panels.build_panel import BuildPanel
from gauze.ui.panels.cavity_panel import CavityPanel
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.panels.lay import LayPanel
from gauze.ui.panels.make import MakePanel
from gauze.ui.panels.prove import ProvePanel
from gauze.ui.panels.soften import SoftenPanel
from gauze.ui.subject import ActionRow, LayerRow, Subject

if TYPE_CHECKING:
    from gauze.ui.main_window.main_window import MainWindow


def _has_rows(design: Design) -> bool:
    return family_of(design).has_row_plan


def _has_strips(design: Design) -> bool:
    return bool(design.strips)


def _has_sheet(design: Design) -> bool:
    return bool(design.build.layers)


def _turn_rows(window: MainWindow, _index: int) -> None:
    window.bench.edit("Turn the rows", lambda design, _: edits.with_rows_turned(design))


def _open_strips(window: MainWindow, index: int) -> None:
    window.commands.open_tray("strip", index)


def _open_sheets(window: MainWindow, index: int) -> None:
    window.commands.open_tray("diffuser", index)


def _open_chart(window: MainWindow, _index: int) -> None:
    window.commands.open_chart()


def _play(window: MainWindow, _index: int) -> None:
    window.play_keeper.open()


def _is_display(design: Design) -> bool:
    return design.build_if(PixelDisplay) is not None


def _open_shelf(window: MainWindow, _index: int) -> None:
    window.shelf_keeper.open(window.theme)


def _has_pieces(design: Design) -> bool:
    return bool(design.strips) or design.module is not None


def _export_pixels(window: MainWindow, _index: int) -> None:
    window.exports.pixel_map()


def _has_pixels(design: Design) -> bool:
    catalogue = catalogue_of(design, load_catalogue())
    strips = (catalogue.strip(choice.strip).kind == "pixel" for choice in design.strips)
    return any(strips) or (design.module is not None and catalogue.module(design.module.module).kind != "chip")


def _export_wires(window: MainWindow, _index: int) -> None:
    window.commands.export(lambda result: window.exports.wire_list(result.evaluation))


def _open_making(window: MainWindow, _index: int) -> None:
    window.make_keeper.open(window.theme)


def _export_cuts(window: MainWindow, _index: int) -> None:
    window.make_keeper.export("cuts")


def _export_all(window: MainWindow, _index: int) -> None:
    window.make_keeper.export_everything()


def _export_bill(window: MainWindow, _index: int) -> None:
    window.make_keeper.export("bill")


def _open_steps(window: MainWindow, _index: int) -> None:
    window.steps_keeper.open(window.theme)


def _export_book(window: MainWindow, _index: int) -> None:
    window.steps_keeper.export_book()


def _export_templates(window: MainWindow, _index: int) -> None:
    window.steps_keeper.export_templates()


def _export_printed(window: MainWindow, _index: int) -> None:
    window.steps_keeper.export_printed()


def _print_book(window: MainWindow, _index: int) -> None:
    window.steps_keeper.print_book()


def _print_templates(window: MainWindow, _index: int) -> None:
    window.steps_keeper.print_templates()


def _open_photos(window: MainWindow, _index: int) -> None:
    window.prove_keeper.open_photos(window.theme)


def _open_faults(window: MainWindow, _index: int) -> None:
    window.prove_keeper.open_faults()


def _import_readings(window: MainWindow, _index: int) -> None:
    window.prove_keeper.read_in()


def _measure_sheet(window: MainWindow, _index: int) -> None:
    window.places.panel(SoftenPanel).measure_own_sheet()


SUBJECTS = (
    Subject("aim", "&Aim", "target", "What it is for: what it lights, who looks at it, how bright", AimPanel),
    Subject(
        "lay",
        "&Lay",
        "rows-3",
        "Body, strips, rows and spacing",
        BuildPanel,
        {StripPanel: LayPanel, LooseEmitters: CavityPanel},
        actions=(
            ActionRow("&Edit", "turn_rows", "&Turn the rows", "T", run=_turn_rows, offered=_has_rows),
            ActionRow(
                "&Go",
                "tray_strip",
                "Tray of s&trips",
                "Ctrl+T",
                run=_open_strips,
                offered=_has_strips,
            ),
            ActionRow(
                "&Go",
                "chart",
                "Trade-off of depth and &rows",
                "Ctrl+G",
                run=_open_chart,
                offered=_has_rows,
            ),
        ),
        layers=(LayerRow("parts", "&Names of the pieces", "N"),),
    ),
    Subject(
        "soften",
        "&Soften",
        "layers",
        "Sheet, depth and inner faces",
        SoftenPanel,
        actions=(
            ActionRow(
                "&Edit",
                "own_sheet",
                "&Measure a sheet …",
                "Ctrl+M",
                run=_measure_sheet,
                offered=_has_sheet,
            ),
            ActionRow(
                "&Go",
                "tray_diffuser",
                "Tray of s&heets",
                "Ctrl+D",
                run=_open_sheets,
                offered=_has_sheet,
            ),
        ),
    ),
    Subject(
        "feed",
        "&Feed",
        "plug-zap",
        "Power",
        FeedPanel,
        actions=(
            ActionRow("&Go", "play", "Pla&y on the display", "Ctrl+E", run=_play, offered=_is_display),
            ActionRow("&Go", "shelf", "&My shelf", "Ctrl+B", run=_open_shelf),
            ActionRow(
                "&File",
                "export_wires",
                "Export the wire &list (CSV) …",
                run=_export_wires,
                offered=_has_pieces,
            ),
            ActionRow(
                "&File",
                "export_pixels",
                "Export the pi&xel map (CSV, JSON) …",
                run=_export_pixels,
                offered=_has_pixels,
            ),
        ),
        layers=(
            LayerRow("data", "&Order of the data", "O"),
            LayerRow("supply", "How the pieces are fe&d", "P"),
            LayerRow("drop", "&Light along the pieces", "G"),
            LayerRow("amps", "&Amps in the wires", "A"),
            LayerRow("wiring", "&Wiring plan", "Y"),
            LayerRow("heat", "&Heat of the pieces", "K"),
        ),
    ),
    Subject(
        "make",
        "&Make",
        "saw",
        "Cutting, stock and the bill",
        MakePanel,
        actions=(
            ActionRow("&Go", "making", "&Cutting and bill", "Ctrl+L", run=_open_making),
            ActionRow("&Go", "steps", "St&eps", "Ctrl+Shift+B", run=_open_steps),
            ActionRow("&File", "export_book", "Export the build boo&k (PDF) …", run=_export_book),
            ActionRow("&File", "print_book", "Pri&nt the build book …", "Ctrl+P", run=_print_book),
            ActionRow("&File", "print_templates", "Print the te&mplates …", run=_print_templates),
            ActionRow("&File", "export_templates", "Export the &templates (PDF, DXF, SVG) …", run=_export_templates),
            ActionRow("&File", "export_printed", "Export the &printed parts (3MF) …", run=_export_printed),
            ActionRow("&File", "export_cuts", "Export the c&utting list (CSV, PDF) …", run=_export_cuts),
            ActionRow("&File", "export_all", "Export e&verything into a folder …", run=_export_all),
            ActionRow("&File", "export_bill", "Export the &bill (CSV) …", run=_export_bill),
        ),
    ),
    Subject(
        "prove",
        "&Prove",
        "meter",
        "Bench log, photographs and faults",
        ProvePanel,
        actions=(
            ActionRow("&Go", "photos", "P&hotographs of the face", "Ctrl+Shift+P", run=_open_photos),
            ActionRow("&Go", "faults", "Find a fa&ult, or practise", "Ctrl+Shift+F", run=_open_faults),
            ActionRow("&File", "import_readings", "Import &readings (CSV) …", run=_import_readings),
        ),
    ),
)
