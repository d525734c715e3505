"""Pictures of the five steps of visibility: ``python -m tools.steps`` writes docs/pictures/steps.png and prints the figures.

A sign of rows 33 mm apart behind opal acrylic, its middle, at the depths at which the rows have these visibilities from 2 m.
"""

from pathlib import Path

import numpy as np
from scipy.optimize import brentq

from gauze.core.design import Design, Purpose, RowPlan, StripChoice, StripPanel
from gauze.core.evaluate import Detail, Evaluation, evaluate
from gauze.core.evaluate.standards import step_of
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.materials import load_catalogue
from gauze.core.words import ENGLISH

OUT = Path(__file__).parent.parent / "docs" / "pictures" / "steps.png"
VISIBILITIES = (0.6, 2.5, 11.0, 45.0, 180.0)
_DETAIL = Detail(fineness=1.0, most_pixels=300_000, target_points=1, pixel_mm=1.0)
_GAP = 12  # pixels between two pictures


def _design(depth_mm: float) -> Design:
    return Design(
        name="Steps",
        purpose=Purpose(
            use="looked_at",
            viewing_distance_mm=2000.0,
            target_distance_mm=600.0,
            wanted_illuminance_lx=100.0,
            wanted_luminance_cd_m2=100.0,
        ),
        build=StripPanel(
            face_width_mm=700.0,
            face_height_mm=330.0,
            depth_mm=depth_mm,
            row_direction="along_height",
            rows=RowPlan(count=21, spacing_mm=33.0),
            end_margin_mm=0.0,
            strips=(StripChoice(strip="12v-white-60", cct_k=4000.0),),
            diffuser="opal-acrylic-3",
            back="matt-white-paint",
            walls="matt-white-paint",
        ),
    )


def main() -> None:
    """Find the depths, and write the pictures one below the other."""
    catalogue = load_catalogue()

    def lit(depth_mm: float) -> Evaluation:
        return evaluate(_design(depth_mm), catalogue, _DETAIL)

    def miss(depth_mm: float, wanted: float) -> float:
        return float(np.log(max(lit(depth_mm).dots.visibility(2000.0), 1e-9) / wanted))

    pictures = []
    for wanted in VISIBILITIES:
        depth_mm = round(float(brentq(miss, 8.0, 60.0, args=(wanted,), xtol=0.05)), 1)
        evaluation = lit(depth_mm)
        found = evaluation.dots.visibility(2000.0)
        print(f"{depth_mm:5.1f} mm deep: visibility {found:6.1f}, {ENGLISH.read(step_of(found).word)}")
        picture = face_picture(evaluation)
        high, wide = picture.shape[:2]
        pictures.append(picture[high * 3 // 8 : high * 5 // 8, wide // 6 : -wide // 6])
    gap = np.zeros((_GAP, pictures[0].shape[1], 3), np.uint8)
    joined = np.concatenate([part for picture in pictures for part in (picture, gap)][:-1])
    OUT.parent.mkdir(exist_ok=True)
    OUT.write_bytes(encode_png(joined))


if __name__ == "__main__":
    main()
