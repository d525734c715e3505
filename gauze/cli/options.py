"""The command line: its commands, their options, and how the values of options are read."""

import argparse
import re
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np

from gauze import __version__
from gauze.cli.export import add_export
from gauze.cli.prove import PROVING, add_prove
from gauze.core.errors import GauzeError
from gauze.core.evaluate.gridded import Grid
from gauze.core.formats.e131 import PORT
from gauze.core.printable import printable
from gauze.core.units import LengthUnit
from gauze.core.words import Fixed
from gauze.core.words.languages import LANGUAGES

WINDOWLESS = (
    "check",
    "map",
    "render",
    "ies",
    "draw",
    "parts",
    "power",
    "wires",
    "pixels",
    "shelf",
    "controller",
    "network",
    "cut",
    "export",
    "emitters",
    "schema",
    *PROVING,
)
MOST_PIXELS = 4_000_000
_LEAST_PIXELS = 64
_MOST_CELLS = 250_000
_LARGEST_MM = 40_000.0
_BELOW_ZERO = re.compile(r"-[.0-9]")
_USUAL_PIXELS = 400_000
EXIT_CODES = "Exit codes: 0 fine, 1 a finding fails, 2 bad input, 3 could not write, 4 set-up, 70 a fault of Gauze."


def _number_between(least: float, most: float, kind: type[int] | type[float]) -> Callable[[str], float]:
    def read(text: str) -> float:
        try:
            value = kind(text)
        except ValueError:
            value = kind(-1)
        if not least <= value <= most:
            raise argparse.ArgumentTypeError(f"“{printable(text, 20)}”: give a number from {least:g} to {most:g}")
        return value

    return read


def build_parser() -> argparse.ArgumentParser:
    """Return the parser of the whole command line."""
    parser = argparse.ArgumentParser(
        prog="gauze",
        description="Design diffused LED lights. Without a command the window opens.",
        epilog=EXIT_CODES,
    )
    parser.add_argument("--version", action="version", version=f"gauze {__version__}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    opened = commands.add_parser("open", help="open the window on a design")
    opened.add_argument("file", nargs="?", type=Path)
    demo = commands.add_parser("demo", help="open the window on the demo design")
    for command in (opened, demo):
        command.add_argument("--picture", type=Path, metavar="FILE.png", help="write a picture of the window and quit")
        command.add_argument("--theme", choices=("dark", "light"), help="override the theme for this run")
    check = commands.add_parser("check", help="print every finding of a design", epilog=EXIT_CODES)
    check.add_argument("--json", action="store_true", help="as JSON")
    check.add_argument(
        "--language", choices=[one.code for one in LANGUAGES], default="en", help="language of the sentences"
    )
    check.add_argument("--unit", choices=[unit.value for unit in LengthUnit], default="mm", help="unit of the lengths")
    light_map = commands.add_parser("map", help="write the light on the face as NumPy arrays")
    light_map.add_argument("--out", type=Path, required=True, metavar="FILE.npz")
    _add_grid(light_map)
    render = commands.add_parser("render", help="write a picture of the lit face")
    render.add_argument("--out", type=Path, required=True, metavar="FILE.png")
    render.add_argument("--room-lx", type=float, default=0.0, help="the room's light on the face")
    render.add_argument("--exposure", type=float, default=0.0, help="stops brighter (or darker) than just white")
    render.add_argument("--false-colour", action="store_true", help="luminance on a colour scale")
    distribution = commands.add_parser("ies", help="write the light distribution as IES LM-63")
    distribution.add_argument("--out", type=Path, required=True, metavar="FILE.ies")
    draw = commands.add_parser("draw", help="write plan and section at their true size, as SVG, DXF or PDF")
    draw.add_argument("--out", type=Path, required=True, metavar="FILE.svg|.dxf|.pdf")
    parts = commands.add_parser("parts", help="list the parts that a design is made of, and what is joined to what")
    parts.add_argument("--json", action="store_true", help="as JSON (docs/design-file.md)")
    parts.add_argument("--unit", choices=[unit.value for unit in LengthUnit], default="mm", help="unit of the lengths")
    power = commands.add_parser("power", help="print volts and amps of every piece, wire and supply", epilog=EXIT_CODES)
    power.add_argument("--json", action="store_true", help="as JSON, segment by segment (docs/design-file.md)")
    power.add_argument("--unit", choices=[unit.value for unit in LengthUnit], default="mm", help="unit of the lengths")
    wires = commands.add_parser("wires", help="write the wires to cut, from where to where each goes, as CSV")
    wires.add_argument("--out", type=Path, required=True, metavar="FILE.csv")
    pixels = commands.add_parser("pixels", help="write which pixel lies where, in the order of the data")
    pixels.add_argument("--out", type=Path, required=True, metavar="FILE.csv|.json")
    shelf = commands.add_parser(
        "shelf", help="judge what lies on your shelf for a design: supplies, batteries, wire, …"
    )
    shelf.add_argument(
        "--table", type=Path, metavar="SHELF.csv", help="this table instead of your own shelf (docs/shelf.md)"
    )
    shelf.add_argument("--json", action="store_true", help="as JSON")
    shelf.add_argument("--unit", choices=[unit.value for unit in LengthUnit], default="mm", help="unit of the lengths")
    _add_controller(commands.add_parser("controller", help="simulate a pixel controller here, fed by ANSI E1.31"))
    _add_bare(commands)
    for command in (check, light_map, render, distribution, draw, parts, power, wires, pixels, shelf):
        command.add_argument("file", type=Path, metavar="FILE.gauze")
    for command in (light_map, render):
        command.add_argument(
            "--pixels",
            type=int,
            help=f"most pixels of the map, {_USUAL_PIXELS} unless told; fewer are used where the light has no finer detail",
        )
    add_export(commands.add_parser("export", help="write everything of a design into a folder", epilog=EXIT_CODES))
    add_prove(commands, EXIT_CODES)
    _add_emitters(commands.add_parser("emitters", help="make a design of a table of emitters (CSV)"))
    commands.add_parser("schema", help="print the JSON Schema of the design file")
    return parser


def _add_controller(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--port", type=_number_between(1, 65_535, int), default=PORT, help=f"UDP port, {PORT} unless told"
    )
    command.add_argument(
        "--pixels", type=_number_between(1, 1_000_000, int), default=500, help="pixels that it holds, 500 unless told"
    )
    command.add_argument(
        "--pictures",
        type=_number_between(0.1, 1000.0, float),
        default=60.0,
        help="pictures a second that it shows, 60 unless told",
    )
    command.add_argument("--cap-ma", type=_number_between(1.0, 1e6, float), help="milliamps to which it dims")
    command.add_argument("--seconds", type=_number_between(0.1, 1e6, float), help="end after so many seconds")


def _add_grid(command: argparse.ArgumentParser) -> None:
    command.add_argument("--x", metavar="FROM:TO", help="range of the grid to the right, in mm (with --y and --cells)")
    command.add_argument("--y", metavar="FROM:TO", help="range of the grid upwards, in mm")
    command.add_argument("--cells", metavar="COLUMNSxROWS", help="cells of the grid; the light is averaged over each")


def _add_bare(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """What is solved without a design: bare circuits and cutting jobs."""
    network = commands.add_parser(
        "network", help="solve a bare circuit of supplies, resistors and loads", epilog=EXIT_CODES
    )
    network.add_argument("file", type=Path, metavar="FILE.json", help="docs/network-file.md")
    network.add_argument("--json", action="store_true", help="as JSON")
    cut = commands.add_parser("cut", help="cut lengths out of stock, at the least cost", epilog=EXIT_CODES)
    cut.add_argument("file", type=Path, metavar="FILE.json", help="docs/cut-file.md")
    cut.add_argument("--json", action="store_true", help="as JSON")


def _add_emitters(command: argparse.ArgumentParser) -> None:
    command.add_argument("file", type=Path, metavar="FILE.csv")
    command.add_argument("--out", type=Path, required=True, metavar="FILE.gauze")
    command.add_argument(
        "--into", type=Path, metavar="DESIGN.gauze", help="take sheet, finishes and purpose from a design"
    )
    command.add_argument(
        "--cavity", metavar="SHAPE,SIZE=NUMBER,…", help="such as box,width_mm=400,height_mm=300,depth_mm=30"
    )
    command.add_argument(
        "--sheet",
        metavar="SHEET",
        help="a sheet of the catalogue, or transmittance and reflectance of a matt one, such as 0.5,0.4",
    )
    for face in ("back", "walls"):
        command.add_argument(
            f"--{face}", metavar="FINISH", help="a finish of the catalogue, or a reflectance such as 0.8"
        )


def parse(argv: Sequence[str]) -> argparse.Namespace:
    """Parse a command line; a bare file name means ``open``."""
    known = {"open", "demo", *WINDOWLESS}
    words = list(argv)
    if not words or (not words[0].startswith("-") and words[0] not in known):
        words.insert(0, "open")
    for index in range(len(words) - 1, 0, -1):  # a range that begins below zero looks like an option
        if words[index - 1] in ("--x", "--y") and _BELOW_ZERO.match(words[index]):
            words[index - 1 : index + 1] = [f"{words[index - 1]}={words[index]}"]
    return build_parser().parse_args(words)


def read_pixels(pixels: int | None) -> int:
    """Return the most pixels of a map; raises :class:`GauzeError` when they cannot be."""
    if pixels is None:
        return _USUAL_PIXELS
    if not _LEAST_PIXELS <= pixels <= MOST_PIXELS:
        raise GauzeError(
            "--pixels is {pixels}: give a number from {least_pixels} to {most_pixels}.",
            pixels=pixels,
            least_pixels=_LEAST_PIXELS,
            most_pixels=MOST_PIXELS,
        )
    return pixels


def read_grid(x: str | None, y: str | None, cells: str | None) -> Grid | None:
    """Return the grid that was asked for, or None; raises :class:`GauzeError` when it cannot be read."""
    if x is None and y is None and cells is None:
        return None
    if x is None or y is None or cells is None:
        raise GauzeError("Give --x, --y and --cells together, such as --x 0:600 --y 0:400 --cells 60x40.")
    columns, rows = _read_pair(cells, "x", "--cells", "such as 60x40")
    if columns != int(columns) or rows != int(rows) or min(columns, rows) < 1 or columns * rows > _MOST_CELLS:
        raise GauzeError(
            "--cells is “{cells}”: give whole numbers, up to {most_cells} cells in all.",
            cells=printable(cells),
            most_cells=_MOST_CELLS,
        )
    return Grid(_edges(x, "--x", int(columns)), _edges(y, "--y", int(rows)))


def _edges(text: str, option: str, count: int) -> "np.typing.NDArray[np.float64]":
    low, high = _read_pair(text, ":", option, "such as 0:600, in mm")
    if not -_LARGEST_MM <= low < high <= _LARGEST_MM:
        raise GauzeError(
            "{option} is “{text}”: it runs from a smaller to a larger number, within {largest} mm.",
            option=option,
            text=printable(text),
            largest=Fixed(_LARGEST_MM, "g"),
        )
    return np.linspace(low, high, count + 1)


def _read_pair(text: str, mark: str, option: str, example: str) -> tuple[float, float]:
    one, _, other = text.lower().partition(mark)
    try:
        return float(one), float(other)
    except ValueError:
        raise GauzeError(
            "{option} is “{text}”: give two numbers, {example}.", option=option, text=printable(text), example=example
        ) from None
