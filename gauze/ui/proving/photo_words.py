"""What is said of a photograph in its window."""

from gauze.core.proving.photo_measure import Code
from gauze.ui.text import tr


def warning_words(code: Code) -> str:
    """What a warning means, and what to do about it."""
    return {
        "clipped": tr("Clipped: part of the face is brighter than the sensor can record. Use a shorter exposure."),
        "dark": tr("Dark: noise counts as much as the light. Expose it longer."),
        "vignetting": tr(
            "Vignetting: the lens darkens the edges. Correct it by a picture of an evenly lit wall, or step back."
        ),
        "white_balance": tr("White balance: the camera chose its own white. Fix it to daylight to compare colours."),
        "off_axis": tr("Oblique: seen from the side, the sheet looks different. Stand straight in front of it."),
        "distortion": tr("Distortion: the lens bows straight edges; that is corrected as far as it can be measured."),
        "tone_curve": tr("Tone curve: cameras apply their own curve to JPEGs. Raw files have none."),
        "no_exif": tr("No EXIF: the file does not record lens and exposure."),
    }[code]
