"""The commands that need no window."""

import argparse
import math
import os
import traceback
from pathlib import Path

import msgspec

from gauze.cli.export import export
from gauze.cli.options import MOST_PIXELS, read_grid, read_pixels
from gauze.cli.prove import PROVE_COMMANDS
from gauze.core.design import Design
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.soldering import soldering_steps
from gauze.core.electrical.solve import solve
from gauze.core.errors import GauzeError, WriteError
from gauze.core.evaluate import WHILE_DRAGGING, Detail, Evaluation, State, evaluate, find
from gauze.core.evaluate.gridded import FINE_IN_CELL, Grid, cell_averages
from gauze.core.evaluate.shelf import judge_shelf
from gauze.core.evaluate.stages import computed_for_drawing, network_for
from gauze.core.families import lay_out, parts_of
from gauze.core.formats.cut_file import MOST_BYTES as CUT_BYTES
from gauze.core.formats.cut_file import cut_json, cut_text, decode_cut, job_of
from gauze.core.formats.design_file import design_schema
from gauze.core.formats.drawing_file import encode_drawing
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.network_file import MOST_BYTES as NETWORK_BYTES
from gauze.core.formats.network_file import circuit_of, decode_network, solution_json, solution_text
from gauze.core.formats.parts_list import parts_json, parts_text
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.formats.pixel_map import encode_pixel_map
from gauze.core.formats.power_report import PLACE as POWER_PLACE
from gauze.core.formats.power_report import power_json, power_text
from gauze.core.formats.report import report_json, report_text
from gauze.core.formats.shelf_csv import MOST_BYTES as SHELF_BYTES
from gauze.core.formats.shelf_csv import decode_shelf
from gauze.core.formats.shelf_report import shelf_json, shelf_text
from gauze.core.formats.wire_list import encode_wire_list
from gauze.core.making.cutting import plan_cuts
from gauze.core.materials import Catalogue, load_catalogue
from gauze.core.printable import printable_path
from gauze.core.units import LengthUnit, format_number
from gauze.core.words import Reader
from gauze.core.words.languages import translation
from gauze.session import console
from gauze.session.console import BAD_INPUT, FAILS, FAULT, FINE, INTERRUPTED, NOT_WRITTEN
from gauze.session.controller import Limits, SimulatedController, serve
from gauze.session.document import Document
from gauze.session.emitters import (
    Inside,
    inside_words,
    new_design,
    parse_cavity,
    parse_finish,
    parse_sheet,
    read_emitters,
    with_emitters,
)
from gauze.session.shelf import Shelf, load_shelf, shelf_path, usable
from gauze.session.storage import check_output, read_file, write_file

_CHECKED_PIXELS = 160_000


def run(arguments: argparse.Namespace) -> int:
    """Run one windowless command and return its exit code."""
    try:
        return _COMMANDS[arguments.command](arguments)
    except BrokenPipeError:  # the reader has closed the pipe
        console.close_output()
        return NOT_WRITTEN
    except WriteError as error:
        console.tell(f"gauze: {error}")
        return NOT_WRITTEN
    except GauzeError as error:
        console.tell(f"gauze: {error}")
        return BAD_INPUT
    except KeyboardInterrupt:
        return INTERRUPTED
    except Exception as error:  # noqa: BLE001 - whatever it is, it is ours, and a plain end says more than a traceback
        console.tell(f"gauze: {fault_words(error)}")
        return FAULT


def fault_words(error: Exception) -> str:
    """Say that something is a fault of Gauze, and where it arose."""
    if isinstance(error, MemoryError):
        return "there is not enough memory for this design. Close other programs, or make it smaller."
    if os.environ.get("GAUZE_TRACEBACK"):
        return "".join(traceback.format_exception(error)).rstrip()
    last = traceback.extract_tb(error.__traceback__)[-1]
    place = f"{Path(last.filename).name}, line {last.lineno}"
    return (
        f"this is a fault of Gauze, not of your file: {type(error).__name__} at {place}. Nothing was written. "
        "Please report it with the file; GAUZE_TRACEBACK=1 shows more."
    )


def _open(file: Path) -> Design:
    return Document.open(file, load_catalogue()).design


def _evaluate(design: Design, pixels: int, pixel_mm: float = math.inf) -> Evaluation:
    return evaluate(design, load_catalogue(), Detail(fineness=1.0, most_pixels=pixels, pixel_mm=pixel_mm))


def _check(arguments: argparse.Namespace) -> int:
    evaluation = _evaluate(_open(arguments.file), _CHECKED_PIXELS)
    findings = find(evaluation)
    reader = Reader(LengthUnit(arguments.unit), translation(arguments.language))
    if arguments.json:
        console.write_json(report_json(evaluation.design, findings, reader))
    else:
        console.write_text(report_text(evaluation.design, findings, reader) + "\n")
    return FAILS if any(finding.state is State.FAILS for finding in findings) else FINE


def _map(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    grid = read_grid(arguments.x, arguments.y, arguments.cells)
    pixels, design = read_pixels(arguments.pixels), _open(arguments.file)
    if grid is None:
        evaluation = _evaluate(design, pixels)
        write_file(arguments.out, encode_map(evaluation))
    else:
        fine_mm = grid.finest_mm / FINE_IN_CELL
        evaluation = _evaluate(design, max(pixels, _pixels_for(fine_mm, design)), fine_mm)
        write_file(arguments.out, encode_map(evaluation, cell_averages(evaluation, grid)))
    _tell_written(arguments.out, evaluation, grid)
    return FINE


def _pixels_for(fine_mm: float, design: Design) -> int:
    """Return how many pixels of a given width a map of all faces has, limited to the most a map may have."""
    layout = lay_out(design, load_catalogue())
    _, _, width_mm, height_mm = layout.sketch.plan_mm
    faces_mm2 = width_mm * height_mm
    if layout.rows_in_box is None:
        faces_mm2 *= math.pi  # of a round one, unrolled
    return int(min(faces_mm2 / fine_mm**2, MOST_PIXELS))


def _tell_written(out: Path, evaluation: Evaluation, grid: Grid | None) -> None:
    columns, rows = len(evaluation.x_mm), len(evaluation.y_mm)
    step_mm = float(evaluation.x_mm[1] - evaluation.x_mm[0])
    words = f"{columns} × {rows} pixels of {format_number(step_mm)} mm"
    if grid is not None:
        words = f"averages over {len(grid.x_mm) - 1} × {len(grid.y_mm) - 1} cells, from {words}"
    console.write_text(f"{printable_path(out)}: {words}, {format_number(evaluation.output.out_lm)} lm out\n")


def _render(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    if not 0 <= arguments.room_lx <= 200_000 or not -20 <= arguments.exposure <= 20:
        raise GauzeError("--room-lx lies between 0 and 200000, --exposure between -20 and 20.")
    evaluation = _evaluate(_open(arguments.file), read_pixels(arguments.pixels))
    picture = face_picture(
        evaluation,
        room_lx=arguments.room_lx,
        exposure_stops=arguments.exposure,
        false=arguments.false_colour,
    )
    write_file(arguments.out, encode_png(picture))
    _tell_written(arguments.out, evaluation, None)
    return FINE


def _ies(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    write_file(arguments.out, encode_ies(_evaluate(_open(arguments.file), _CHECKED_PIXELS)))
    return FINE


def _draw(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    design = _open(arguments.file)
    layout = lay_out(design, load_catalogue())
    data = encode_drawing(design, layout, arguments.out.suffix, *computed_for_drawing(design, layout, load_catalogue()))
    write_file(arguments.out, data)
    console.write_text(f"{printable_path(arguments.out)}: plan and section, 1:1\n")
    return FINE


def _parts(arguments: argparse.Namespace) -> int:
    design, catalogue = _open(arguments.file), load_catalogue()
    parts = parts_of(design, lay_out(design, catalogue), catalogue)
    if arguments.json:
        console.write_json(parts_json(design, parts))
    else:
        console.write_text(parts_text(design, parts, LengthUnit(arguments.unit)) + "\n")
    return FINE


def _power(arguments: argparse.Namespace) -> int:
    evaluation = evaluate(_open(arguments.file), load_catalogue(), WHILE_DRAGGING)  # the light itself is not told
    findings = [finding for finding in find(evaluation) if finding.place == POWER_PLACE]
    reader = Reader(LengthUnit(arguments.unit), translation("en"))
    if arguments.json:
        console.write_json(power_json(evaluation.design, evaluation.network, findings, reader, evaluation.warmth))
    else:
        console.write_text(power_text(evaluation.design, evaluation.network, findings, reader) + "\n")
    return FAILS if any(finding.state is State.FAILS for finding in findings) else FINE


def _wires(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    design, catalogue = _open(arguments.file), load_catalogue()
    laid = lay_out(design, catalogue)
    network = network_for(design, laid, catalogue)
    power = network.power
    if power is None:
        raise GauzeError("Loose emitters have no wires here: nothing was written.")
    steps = soldering_steps(power, laid.pieces, network.joints)
    write_file(arguments.out, encode_wire_list(design, power, steps))
    console.write_text(f"{printable_path(arguments.out)}: {len(power.wires)} wires\n")
    return FINE


def _pixels(arguments: argparse.Namespace) -> int:
    check_output(arguments.out, (arguments.file,))
    design, catalogue = _open(arguments.file), load_catalogue()
    layout = lay_out(design, catalogue)
    runs = pixel_runs(layout.pieces, parts_of(design, layout, catalogue).joints)
    write_file(arguments.out, encode_pixel_map(design, runs, arguments.out.suffix))
    console.write_text(f"{printable_path(arguments.out)}: {runs[-1].last + 1} pixels\n")
    return FINE


def _shelf(arguments: argparse.Namespace) -> int:
    design, catalogue = _open(arguments.file), load_catalogue()
    if arguments.table is None:
        things = usable(load_shelf(shelf_path()), catalogue).things
    else:
        read = decode_shelf(read_file(arguments.table, SHELF_BYTES), catalogue)
        things = Shelf().with_all(read).things
    layout = lay_out(design, catalogue)
    parts = parts_of(design, layout, catalogue)
    judged = judge_shelf(parts, network_for(design, layout, catalogue), things, catalogue)
    reader = Reader(LengthUnit(arguments.unit), translation("en"))
    if arguments.json:
        console.write_json(shelf_json(design, things, judged, reader))
    else:
        console.write_text(shelf_text(design, things, judged, reader) + "\n")
    return FINE


def _controller(arguments: argparse.Namespace) -> int:
    cap_a = None if arguments.cap_ma is None else arguments.cap_ma / 1000.0
    controller = SimulatedController(Limits(arguments.pixels, arguments.pictures, cap_a))
    before = 0
    for seen in serve(controller, arguments.port, arguments.seconds):
        console.write_text(
            f"{seen.pixels} pixels, {seen.shown - before} pictures, {seen.amps:.2f} A, dimmed to {seen.dimmed_to:.0%}; "
            f"left out {seen.left_out}, lost {seen.lost}, ignored {seen.ignored}, lit beyond its pixels {seen.beyond}\n"
        )
        before = seen.shown
    return FINE


def _cut(arguments: argparse.Namespace) -> int:
    plan = plan_cuts(*job_of(decode_cut(read_file(arguments.file, CUT_BYTES))))
    if arguments.json:
        console.write_json(cut_json(plan))
    else:
        console.write_text(cut_text(plan) + "\n")
    return FINE


def _network(arguments: argparse.Namespace) -> int:
    network = decode_network(read_file(arguments.file, NETWORK_BYTES))
    solution = solve(circuit_of(network))
    if arguments.json:
        console.write_json(solution_json(network, solution))
    else:
        console.write_text(solution_text(network, solution) + "\n")
    return FINE


def _schema(arguments: argparse.Namespace) -> int:
    del arguments  # it has none
    console.write_json(msgspec.json.format(msgspec.json.encode(design_schema()), indent=2) + b"\n")
    return FINE


def _emitters(arguments: argparse.Namespace) -> int:
    inputs = (arguments.file,) if arguments.into is None else (arguments.file, arguments.into)
    check_output(arguments.out, inputs)
    catalogue = load_catalogue()
    wanted = _wanted_inside(arguments, catalogue)
    emitters, distributions = read_emitters(arguments.file)
    if arguments.into is not None:
        design = with_emitters(_open(arguments.into), emitters, distributions, wanted)
    else:
        design = new_design(arguments.file.stem, emitters, distributions, wanted)
    Document(design, catalogue).save(arguments.out)
    console.write_text(f"{printable_path(arguments.out)}: {len(emitters)} emitters\n")
    for words in inside_words(design, wanted, catalogue):
        console.write_text(f"  {words}\n")
    return FINE


def _wanted_inside(arguments: argparse.Namespace, catalogue: Catalogue) -> Inside:
    return Inside(
        cavity=parse_cavity(arguments.cavity) if arguments.cavity else None,
        sheet=parse_sheet(arguments.sheet, catalogue) if arguments.sheet else None,
        back=parse_finish(arguments.back, "--back", catalogue) if arguments.back else None,
        walls=parse_finish(arguments.walls, "--walls", catalogue) if arguments.walls else None,
    )


_COMMANDS = {
    "check": _check,
    "map": _map,
    "render": _render,
    "ies": _ies,
    "draw": _draw,
    "parts": _parts,
    "power": _power,
    "wires": _wires,
    "pixels": _pixels,
    "network": _network,
    "cut": _cut,
    "export": export,
    "shelf": _shelf,
    "controller": _controller,
    "emitters": _emitters,
    "schema": _schema,
    **PROVE_COMMANDS,
}
