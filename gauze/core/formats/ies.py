"""The lamp's light distribution for lighting programs: ANSI/IES LM-63-2019."""

import numpy as np

from gauze.core.evaluate import Evaluation
from gauze.core.layout.model import FloatArray

GAMMA_DEG = np.arange(0.0, 90.1, 2.5)
ROUND_GAMMA_DEG = np.arange(0.0, 180.1, 2.5)  # of faces that are not flat
C_DEG = np.arange(0.0, 360.1, 22.5)
_ABSOLUTE, _TYPE_C, _METRES = -1, 1, 2  # lumens of the lamp, photometric type, unit of the opening
_LONGEST_LINE = 120  # characters; the standard allows 256


def encode_ies(evaluation: Evaluation) -> bytes:
    """Write absolute photometry: candela over the C planes and gamma, from the simulation.

    The lamp shines down (gamma 0 is the axis of the face); its opening is a rectangle, or a block where the face is
    not flat. A flat face sends nothing above 90 degrees.
    C 0 runs along the width of the face. The standard asks for ASCII; other letters of the name become "?".
    """
    width_mm, height_mm, depth_mm = evaluation.opening_mm
    gamma_deg = GAMMA_DEG if depth_mm == 0 else ROUND_GAMMA_DEG
    candela = evaluation.intensity_cd(gamma_deg, C_DEG)
    opening = f"{height_mm / 1000:.4f} {width_mm / 1000:.4f} {depth_mm / 1000:.4f}"
    watts = sum(need.set_w for need in evaluation.supplies)
    lines = [
        "IES:LM-63-2019",
        "[TEST] computed, not measured: Gauze",
        "[TESTLAB] none",
        "[ISSUEDATE] unknown",
        "[MANUFAC] own build",
        f"[LUMCAT] {evaluation.design.name}"[:_LONGEST_LINE],
        f"[LUMINAIRE] {evaluation.diffuser.name}"[:_LONGEST_LINE],
        f"[OTHER] {evaluation.output.out_lm:.0f} lm out; strips and sheets typical, see the design",
        "TILT=NONE",
        f"1 {_ABSOLUTE} 1 {len(gamma_deg)} {len(C_DEG)} {_TYPE_C} {_METRES} {opening}",
        f"1 1 {watts:.2f}",
        *_wrapped(gamma_deg),
        *_wrapped(C_DEG),
    ]
    for plane in candela:
        lines += _wrapped(plane)
    text = "\r\n".join(line.replace("\r", " ").replace("\n", " ") for line in lines) + "\r\n"
    return text.encode("ascii", errors="replace")


def _wrapped(values: FloatArray) -> list[str]:
    lines, line = [], ""
    for value in values:
        word = f"{value:.2f}".rstrip("0").rstrip(".")
        if len(line) + len(word) + 1 > _LONGEST_LINE:
            lines.append(line)
            line = ""
        line = f"{line} {word}" if line else word
    return [*lines, line]
