"""How long the bench takes: a photograph of 24 megapixels, a fit, a step of the fault finder; for each demo.

``python -m bench.proving`` prints the figures.
"""

import importlib
import time
from typing import Any

import numpy as np

from gauze.core.evaluate import AT_REST, Detail, evaluate
from gauze.core.formats.design_file import decode_design
from gauze.core.formats.photo_reading import read_photo
from gauze.core.materials import load_catalogue
from gauze.core.proving.candidates import candidates_of
from gauze.core.proving.fault_finder import Symptom, diagnose
from gauze.core.proving.fitting import Reading, fit, usual_limit
from gauze.core.proving.model import parameters_of
from gauze.core.proving.photo_measure import measure_photo
from gauze.core.proving.predicting import Predictor
from gauze.core.srgb import values_of_light
from gauze.demo import DEMOS, demo

_ROWS, _COLUMNS = 4000, 6000


def main() -> None:
    """Print the figures."""
    catalogue = load_catalogue()
    panel = evaluate(decode_design(demo("proofing_panel").read(), catalogue), catalogue, AT_REST)
    data = _photograph()
    for _ in range(2):
        started = time.perf_counter()
        photo = read_photo(data)
        read = time.perf_counter()
        measured = measure_photo(photo, panel)
        print(
            f"photograph of {photo.width_px * photo.height_px / 1e6:.0f} megapixels: read {read - started:.2f} s, "
            f"measured {time.perf_counter() - read:.2f} s, {len(measured.warnings)} warnings"
        )
    for one in DEMOS:
        evaluation = evaluate(decode_design(one.read(), catalogue), catalogue, Detail(1.0, 60_000, 1))
        if evaluation.network.power is None:
            continue
        asked = candidates_of(evaluation, set())
        chosen = [asked[0], asked[-1], next(ask for ask in asked if ask == ("amps", "supply"))]
        predictor = Predictor(evaluation)
        readings = [
            Reading(quantity, place, float(value), usual_limit(quantity, float(value)))
            for (quantity, place), value in zip(chosen, predictor.predict(chosen), strict=True)
        ]
        started = time.perf_counter()
        found = fit(predictor, parameters_of(evaluation), readings, candidates_of(evaluation, set(chosen)))
        fitted = time.perf_counter()
        piece = evaluation.layout.pieces[-1].id
        diagnose(evaluation, [Symptom("dim_piece", piece)], readings)
        print(
            f"{one.key:16} fit of {len(found.fitted)} values {fitted - started:5.2f} s, "
            f"a step of the fault finder {time.perf_counter() - fitted:5.2f} s"
        )


def _photograph() -> bytes:
    """A JPEG of an even face with a ripple, a little turned."""
    cv2: Any = importlib.import_module("cv2")
    y, x = np.mgrid[0:_ROWS, 0:_COLUMNS].astype(np.float32)
    on = (np.abs(x - 3000 - 0.02 * (y - 2000)) < 2200) & (np.abs(y - 2000 + 0.02 * (x - 3000)) < 1500)
    light = np.where(on, 0.5 + 0.02 * np.cos(x / 45.0), 0.003)
    codes = np.round(values_of_light(light) * 255.0).astype(np.uint8)
    return bytes(cv2.imencode(".jpg", np.repeat(codes[:, :, None], 3, axis=2), [cv2.IMWRITE_JPEG_QUALITY, 95])[1])


if __name__ == "__main__":
    main()
