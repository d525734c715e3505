"""The commands of the bench: readings compared and fitted, photographs measured."""

import argparse
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np

from gauze.core.electrical.solve import solve
from gauze.core.errors import FormatError, GauzeError
from gauze.core.evaluate.evaluation import Detail
from gauze.core.evaluate.stages import evaluate
from gauze.core.formats.network_file import MOST_BYTES as NETWORK_BYTES
from gauze.core.formats.network_file import circuit_of, decode_network, node_numbers
from gauze.core.formats.photo_reading import MOST_BYTES as PHOTO_BYTES
from gauze.core.formats.photo_reading import read_photo
from gauze.core.formats.prove_reports import compared_json, compared_text, fit_json, fit_text, photo_json, photo_text
from gauze.core.formats.readings_csv import MOST_BYTES as READINGS_BYTES
from gauze.core.formats.readings_csv import decode_readings
from gauze.core.layout.model import FloatArray
from gauze.core.materials import load_catalogue
from gauze.core.printable import printable
from gauze.core.proving.candidates import candidates_of, candidates_of_circuit
from gauze.core.proving.fitting import Reading, compare, fit, usual_limit
from gauze.core.proving.model import RAIL_SPREAD, SUPPLY_SPREAD, Parameter, parameters_of
from gauze.core.proving.photo_measure import measure_photo, photo_readings, predicted_figures
from gauze.core.proving.predicting import Asked, BareCircuit, Predictor, predictor_of
from gauze.core.proving.squared import Correction
from gauze.session import console
from gauze.session.console import BAD_INPUT, FINE
from gauze.session.document import Document
from gauze.session.storage import read_file

PROVING = ("photo", "compare", "fit")
_NETWORK_NAME = re.compile(rb'"format"\s*:\s*"gauze-network"')
_PHOTO_DETAIL = Detail(fineness=1.0, most_pixels=160_000, target_points=1)
_CORNERS = 4


def add_prove(commands: "argparse._SubParsersAction[argparse.ArgumentParser]", epilog: str) -> None:
    """Add the commands of the bench."""
    photo = commands.add_parser("photo", help="measure a photograph of the lit face", epilog=epilog)
    photo.add_argument("file", type=Path, metavar="FILE.gauze")
    photo.add_argument("--image", type=Path, required=True, metavar="IMG", help="JPEG, PNG of 8 or 16 bits, or raw")
    photo.add_argument(
        "--corners", metavar='"X,Y X,Y X,Y X,Y"', help="the face's corners in pixels, its upper left first, clockwise"
    )
    photo.add_argument("--flat", type=Path, metavar="IMG", help="a picture of an even field through the same lens")
    photo.add_argument(
        "--vignetting", choices=("none", "exif"), default="none", help="correct by the focal length that EXIF tells"
    )
    photo.add_argument("--json", action="store_true", help="as JSON")
    for name, words in (("compare", "set readings against what is predicted"), ("fit", "fit the model to readings")):
        command = commands.add_parser(name, help=words, epilog=epilog)
        command.add_argument(
            "file", type=Path, metavar="FILE", help="a design, or a bare circuit (docs/network-file.md)"
        )
        command.add_argument("--readings", type=Path, required=True, metavar="FILE.csv", help="docs/prove.md")
        if name == "fit":
            command.add_argument("--image", type=Path, metavar="IMG", help="a photograph of the lit face as well")
        command.add_argument("--json", action="store_true", help="as JSON")


def read_corners(text: str | None) -> FloatArray | None:
    """Read four pairs of pixels; None for none.

    Raises
    ------
    GauzeError
        When there are not four pairs of numbers.
    """
    if text is None:
        return None
    try:
        points = [[float(one) for one in pair.split(",")] for pair in text.split()]
    except ValueError:
        points = []
    if len(points) != _CORNERS or any(len(point) != len(("x", "y")) for point in points):
        raise GauzeError("“{text}” are not four corners: write “x,y x,y x,y x,y” in pixels.", text=printable(text, 60))
    return np.array(points)


def _photo(arguments: argparse.Namespace) -> int:
    corners = read_corners(arguments.corners)
    if arguments.flat is not None and arguments.vignetting != "none":
        raise GauzeError("Give --flat or --vignetting, not both: light is corrected once.")
    design = Document.open(arguments.file, load_catalogue()).design
    photo = read_photo(read_file(arguments.image, PHOTO_BYTES))
    flat = None if arguments.flat is None else read_photo(read_file(arguments.flat, PHOTO_BYTES))
    evaluation = evaluate(design, load_catalogue(), _PHOTO_DETAIL)
    correction: Correction = "flat" if flat is not None else arguments.vignetting
    measured = measure_photo(photo, evaluation, corners, flat, correction)
    predicted = predicted_figures(evaluation) if measured.figures is not None else None
    if arguments.json:
        console.write_json(photo_json(measured, predicted))
    else:
        console.write_text(photo_text(measured, predicted) + "\n")
    if measured.problem is not None:
        console.tell(f"gauze: {measured.problem}")
        return BAD_INPUT
    return FINE


_Bench = tuple[Predictor | BareCircuit, tuple[Parameter, ...], list[Asked]]


def _bench(file: Path, readings: list[Reading]) -> _Bench:
    """What predicts the readings of a file, what is uncertain of it, and which readings could be taken next."""
    taken = {one.asked for one in readings}
    data = read_file(file, NETWORK_BYTES)
    if _NETWORK_NAME.search(data[:4096]):
        bare = _bare(data)
        return bare, _bare_parameters(bare), candidates_of_circuit(bare, taken)
    predictor = predictor_of(Document.open(file, load_catalogue()).design, load_catalogue())
    evaluation = predictor.evaluation
    return predictor, parameters_of(evaluation), candidates_of(evaluation, taken)


def _bare(data: bytes) -> BareCircuit:
    network = decode_network(data)
    bare = BareCircuit(
        circuit_of(network),
        tuple(node_numbers(network)),
        tuple(one.id for one in network.supplies),
        tuple(one.id for one in network.resistors),
        tuple(one.id for one in network.loads),
    )
    solve(bare.circuit)  # report what cannot be solved before any reading
    return bare


def _bare_parameters(bare: BareCircuit) -> tuple[Parameter, ...]:
    found = []
    if len(bare.circuit.resistors.ohm):
        found.append(Parameter("rail_factor", 1.0, RAIL_SPREAD, ""))
    volts = bare.circuit.sources[0].volts
    return (*found, Parameter("supply_v", volts, SUPPLY_SPREAD * volts, "V"))


def _readings(path: Path) -> list[Reading]:
    rows = decode_readings(read_file(path, READINGS_BYTES))
    if not rows:
        raise FormatError("The table has no reading: give a line for each.")
    return [
        Reading(
            one.quantity,
            one.place,
            one.value,
            usual_limit(one.quantity, one.value) if one.uncertainty is None else one.uncertainty,
            one.note,
        )
        for one in rows
    ]


def _compare(arguments: argparse.Namespace) -> int:
    readings = _readings(arguments.readings)
    predicts, parameters, _ = _bench(arguments.file, readings)
    compared = compare(predicts, parameters, readings)
    if arguments.json:
        console.write_json(compared_json(compared))
    else:
        console.write_text(compared_text(compared) + "\n")
    return FINE


def _of_photo(image: Path, predicts: Predictor | BareCircuit) -> list[Reading]:
    """The readings that a photograph gives; raises where it cannot be measured."""
    if isinstance(predicts, BareCircuit):
        raise GauzeError("A bare circuit has no face: leave --image out.")
    measured = measure_photo(read_photo(read_file(image, PHOTO_BYTES)), predicts.evaluation)
    if measured.problem is not None:
        raise measured.problem
    return photo_readings(measured, predicts.evaluation)


def _fit(arguments: argparse.Namespace) -> int:
    readings = _readings(arguments.readings)
    predicts, parameters, candidates = _bench(arguments.file, readings)
    if arguments.image is not None:
        readings += _of_photo(arguments.image, predicts)
    found = fit(predicts, parameters, readings, candidates)
    if arguments.json:
        console.write_json(fit_json(found))
    else:
        console.write_text(fit_text(found) + "\n")
    return FINE


PROVE_COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {"photo": _photo, "compare": _compare, "fit": _fit}
