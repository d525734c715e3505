"""The lamp's light distribution for lighting programs: ANSI/IES LM-63-2019."""

import math

import numpy as np

from gauze.core.errors import FormatError
from gauze.core.evaluate import Evaluation
from gauze.core.layout.model import FloatArray
from gauze.core.printable import printable
from gauze.core.words import Fixed

C_DEG = np.arange(0.0, 360.1, 22.5)
FINE_C_DEG = np.arange(0.0, 360.1, 5.0)
_BROAD = 0.25  # width of a lobe, in direction cosines, that planes 22.5 degrees apart still follow
_SHARP = 0.12  # width of one that angles 2.5 degrees apart do not
_MOST_SCALED = 0.15
_ABSOLUTE, _TYPE_C, _METRES = -1, 1, 2  # lumens of the lamp, photometric type, unit of the opening
_LONGEST_NAME = 100
_LONGEST_LINE = 120  # characters; the standard allows 256


def encode_ies(evaluation: Evaluation) -> bytes:
    """Write absolute photometry: candela over the C planes and gamma, from the simulation.

    The lamp shines down (gamma 0 is the axis of the face); its opening is a rectangle, or a block where the face is
    not flat. A flat face sends nothing above 90 degrees.
    C 0 runs along the width of the face. The standard asks for ASCII; other letters of the name become "?".
    """
    width_mm, height_mm, depth_mm = evaluation.opening_mm
    gamma_deg, c_deg = _directions(evaluation, flat=depth_mm == 0)
    candela, factor = _true_to_flux(evaluation, gamma_deg, c_deg)
    opening = f"{height_mm / 1000:.4f} {width_mm / 1000:.4f} {depth_mm / 1000:.4f}"
    watts = sum(need.set_w for need in evaluation.supplies)
    lines = [
        "IES:LM-63-2019",
        "[TEST] computed, not measured: Gauze",
        "[TESTLAB] none",
        "[ISSUEDATE] unknown",
        "[MANUFAC] own build",
        f"[LUMCAT] {printable(evaluation.design.name, _LONGEST_NAME)}",
        f"[LUMINAIRE] {printable(evaluation.diffuser.name, _LONGEST_NAME)}",
        f"[OTHER] {evaluation.output.out_lm:.4g} lm out; strips and sheets typical, see the design",
        f"[OTHER] candela scaled by {factor:.4f}, so that their sum over all directions is that flux",
        "TILT=NONE",
        f"1 {_ABSOLUTE} 1 {len(gamma_deg)} {len(c_deg)} {_TYPE_C} {_METRES} {opening}",
        f"1 1 {watts:.2f}",
        *_wrapped(gamma_deg),
        *_wrapped(c_deg),
    ]
    for plane in candela:
        lines += _wrapped(plane)
    text = "\r\n".join(lines) + "\r\n"
    return text.encode("ascii", errors="replace")


def _directions(evaluation: Evaluation, *, flat: bool) -> tuple[FloatArray, FloatArray]:
    """Angles of the file: the closer, the sharper the beams in which the sheet lets light through."""
    sheet = evaluation.diffuser
    sharpest = 0.0 if sheet.regular > 0 else min((lobe.sigma for lobe in sheet.lobes), default=1.0)
    step = 1.0 if sharpest < _SHARP else 2.5
    gamma_deg = np.arange(0.0, (90.0 if flat else 180.0) + 0.1, step)
    return gamma_deg, FINE_C_DEG if sharpest < _BROAD else C_DEG


def _true_to_flux(evaluation: Evaluation, gamma_deg: FloatArray, c_deg: FloatArray) -> tuple[FloatArray, float]:
    """Return the candela, scaled so that they hold the flux that leaves, and the factor: directions are few, faces in parts."""
    candela = evaluation.intensity_cd(gamma_deg, c_deg)
    wanted, found = evaluation.output.out_lm, zonal_flux_lm(gamma_deg, c_deg, candela)
    if wanted <= 0.0 and found <= 0.0:
        return candela, 1.0
    factor = wanted / found if found > 0 else math.inf
    if not 1.0 - _MOST_SCALED <= factor <= 1.0 + _MOST_SCALED:
        raise FormatError(
            "The light distribution would hold {found} lm where {wanted} lm leave the face: its beams"
            " are sharper than the directions of the file. Choose a sheet that scatters more, or LEDs"
            " with a wider beam.",
            found=Fixed(found, ".4g"),
            wanted=Fixed(wanted, ".4g"),
        )
    return candela * factor, factor


def zonal_flux_lm(gamma_deg: FloatArray, c_deg: FloatArray, candela: FloatArray) -> float:
    """Flux of a distribution over the whole turn, as readers of the file integrate it: the sum of I sin(gamma) d(gamma) dC."""
    gamma, turn = np.radians(gamma_deg), np.radians(c_deg)
    return float(np.trapezoid(np.trapezoid(candela * np.sin(gamma), gamma, axis=1), turn))


def _wrapped(values: FloatArray) -> list[str]:
    lines, line = [], ""
    for value in values:
        word = f"{value:.6g}"
        if len(line) + len(word) + 1 > _LONGEST_LINE:
            lines.append(line)
            line = ""
        line = f"{line} {word}" if line else word
    return [*lines, line]
