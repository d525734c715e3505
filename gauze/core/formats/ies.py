"""The lamp's light distribution for lighting programs: ANSI/IES LM-63-2019."""

import numpy as np

from gauze.core.evaluate import Evaluation
from gauze.core.layout.model import FloatArray
from gauze.core.optics.intensity import intensity_cd

GAMMA_DEG = np.arange(0.0, 90.1, 2.5)
C_DEG = np.arange(0.0, 360.1, 22.5)
_ABSOLUTE, _TYPE_C, _METRES = -1, 1, 2  # lumens of the lamp, photometric type, unit of the opening
_LONGEST_LINE = 120  # characters; the standard allows 256


def encode_ies(evaluation: Evaluation) -> bytes:
    """Write absolute photometry: candela over the C planes and gamma, from the simulation.

    The lamp shines down (gamma 0 is the axis of the face); its opening is a rectangle; nothing is above 90 degrees.
    C 0 runs along the width of the face. The standard asks for ASCII; other letters of the name become "?".
    """
    candela = intensity_cd(evaluation.face, GAMMA_DEG, C_DEG)
    box = evaluation.layout.box
    opening = f"{box.height_mm / 1000:.4f} {box.width_mm / 1000:.4f} 0"
    watts = sum(need.set_w for need in evaluation.supplies)
    lines = [
        "IES:LM-63-2019",
        "[TEST] computed, not measured: Gauze",
        "[TESTLAB] none",
        "[ISSUEDATE] unknown",
        "[MANUFAC] own build",
        f"[LUMCAT] {evaluation.design.name}"[:_LONGEST_LINE],
        f"[LUMINAIRE] {evaluation.face.diffuser.name}"[:_LONGEST_LINE],
        f"[OTHER] {evaluation.face.flux_out_lm:.0f} lm out; strips and sheets typical, see the design",
        "TILT=NONE",
        f"1 {_ABSOLUTE} 1 {len(GAMMA_DEG)} {len(C_DEG)} {_TYPE_C} {_METRES} {opening}",
        f"1 1 {watts:.2f}",
        *_wrapped(GAMMA_DEG),
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
