"""The commands that need no window. Exit codes: 0 fine, 1 a finding fails, 2 bad input."""

import argparse
import sys
from collections.abc import Sequence
from pathlib import Path

import msgspec

from gauze import __version__
from gauze.core.errors import GauzeError
from gauze.core.evaluate import Detail, Evaluation, State, evaluate, find
from gauze.core.formats.design_file import design_schema
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.formats.report import report_json, report_text
from gauze.core.materials import load_catalogue
from gauze.core.units import LengthUnit
from gauze.session.document import Document
from gauze.session.emitters import new_design, parse_cavity, read_emitters, with_emitters
from gauze.session.storage import write_file

FINE, FAILS, BAD_INPUT = 0, 1, 2
WINDOWLESS = ("check", "map", "render", "ies", "emitters", "schema")
_MOST_PIXELS = 4_000_000
_USUAL_PIXELS = 160_000


def build_parser() -> argparse.ArgumentParser:
    """Return the parser of the whole command line."""
    parser = argparse.ArgumentParser(
        prog="gauze", description="Design diffused LED lights. Without a command the window opens."
    )
    parser.add_argument("--version", action="version", version=f"gauze {__version__}")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    opened = commands.add_parser("open", help="open the window on a design")
    opened.add_argument("file", nargs="?", type=Path)
    demo = commands.add_parser("demo", help="open the window on the demo design")
    for command in (opened, demo):
        command.add_argument("--picture", type=Path, metavar="FILE.png", help="write a picture of the window and quit")
        command.add_argument("--theme", choices=("dark", "light"), help="override the theme for this run")
    check = commands.add_parser("check", help="print every finding of a design")
    check.add_argument("--json", action="store_true", help="as JSON")
    check.add_argument("--unit", choices=("mm", "in"), default="mm", help="unit of the lengths in sentences")
    light_map = commands.add_parser("map", help="write the light on the face as NumPy arrays")
    light_map.add_argument("--out", type=Path, required=True, metavar="FILE.npz")
    render = commands.add_parser("render", help="write a picture of the lit face")
    render.add_argument("--out", type=Path, required=True, metavar="FILE.png")
    render.add_argument("--room-lx", type=float, default=0.0, help="the room's light on the face")
    render.add_argument("--exposure", type=float, default=0.0, help="stops brighter (or darker) than just white")
    render.add_argument("--false-colour", action="store_true", help="luminance on a colour scale")
    distribution = commands.add_parser("ies", help="write the light distribution as IES LM-63")
    distribution.add_argument("--out", type=Path, required=True, metavar="FILE.ies")
    for command in (check, light_map, render, distribution):
        command.add_argument("file", type=Path, metavar="FILE.gauze")
    for command in (light_map, render):
        command.add_argument("--pixels", type=int, default=400_000, help="most pixels of the map")
    table = commands.add_parser("emitters", help="make a design of a table of emitters (CSV)")
    table.add_argument("file", type=Path, metavar="FILE.csv")
    table.add_argument("--out", type=Path, required=True, metavar="FILE.gauze")
    table.add_argument(
        "--into", type=Path, metavar="DESIGN.gauze", help="take sheet, finishes and purpose from a design"
    )
    table.add_argument(
        "--cavity", metavar="SHAPE,SIZE=NUMBER,…", help="such as box,width_mm=400,height_mm=300,depth_mm=30"
    )
    commands.add_parser("schema", help="print the JSON Schema of the design file")
    return parser


def run(arguments: argparse.Namespace) -> int:
    """Run one windowless command and return its exit code."""
    try:
        return _COMMANDS[arguments.command](arguments)
    except GauzeError as error:
        print(f"gauze: {error}", file=sys.stderr)
        return BAD_INPUT


def _evaluate(file: Path, pixels: int) -> Evaluation:
    catalogue = load_catalogue()
    if not 64 <= pixels <= _MOST_PIXELS:
        raise GauzeError(f"--pixels {pixels} will not do: give a number from 64 to {_MOST_PIXELS}.")
    return evaluate(Document.open(file, catalogue).design, catalogue, Detail(fineness=1.0, most_pixels=pixels))


def _check(arguments: argparse.Namespace) -> int:
    evaluation = _evaluate(arguments.file, _USUAL_PIXELS)
    findings = find(evaluation, LengthUnit(arguments.unit))
    if arguments.json:
        sys.stdout.write(report_json(evaluation.design, findings).decode())
    else:
        print(report_text(evaluation.design, findings))
    return FAILS if any(finding.state is State.FAILS for finding in findings) else FINE


def _map(arguments: argparse.Namespace) -> int:
    write_file(arguments.out, encode_map(_evaluate(arguments.file, arguments.pixels)))
    return FINE


def _render(arguments: argparse.Namespace) -> int:
    evaluation = _evaluate(arguments.file, arguments.pixels)
    if not 0 <= arguments.room_lx <= 200_000 or not -20 <= arguments.exposure <= 20:
        raise GauzeError("--room-lx lies between 0 and 200000, --exposure between -20 and 20.")
    picture = face_picture(
        evaluation,
        room_lx=arguments.room_lx,
        exposure_stops=arguments.exposure,
        false=arguments.false_colour,
    )
    write_file(arguments.out, encode_png(picture))
    return FINE


def _ies(arguments: argparse.Namespace) -> int:
    write_file(arguments.out, encode_ies(_evaluate(arguments.file, _USUAL_PIXELS)))
    return FINE


def _schema(arguments: argparse.Namespace) -> int:
    del arguments  # it has none
    sys.stdout.write(msgspec.json.format(msgspec.json.encode(design_schema()), indent=2).decode() + "\n")
    return FINE


def _emitters(arguments: argparse.Namespace) -> int:
    catalogue = load_catalogue()
    emitters, distributions = read_emitters(arguments.file)
    cavity = parse_cavity(arguments.cavity) if arguments.cavity else None
    if arguments.into is not None:
        design = with_emitters(Document.open(arguments.into, catalogue).design, emitters, distributions, cavity)
    else:
        design = new_design(arguments.file.stem, emitters, distributions, cavity)
    Document(design, catalogue).save(arguments.out)
    print(f"{arguments.out}: {len(emitters)} emitters")
    return FINE


_COMMANDS = {"check": _check, "map": _map, "render": _render, "ies": _ies, "emitters": _emitters, "schema": _schema}


def parse(argv: Sequence[str]) -> argparse.Namespace:
    """Parse a command line; a bare file name means ``open``."""
    known = {"open", "demo", *WINDOWLESS}
    words = list(argv)
    if not words or (not words[0].startswith("-") and words[0] not in known):
        words.insert(0, "open")
    return build_parser().parse_args(words)
