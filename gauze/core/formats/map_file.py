"""The light of a face as arrays, for other programs: NumPy's .npz."""

import io

import numpy as np

from gauze.core.evaluate import Evaluation


def encode_map(evaluation: Evaluation) -> bytes:
    """Write the light on a grid of the face.

    The arrays are ``x_mm`` (n,), ``y_mm`` (m,), ``illuminance_lx`` (m, n) on the inner face, ``luminance_cd_m2``
    (m, n) and ``XYZ`` (m, n, 3), Y in cd/m^2. x runs to the right and y upwards, as seen from the front; what is round is
    unrolled, and ``inside`` (m, n) is false beside the faces.
    """
    buffer = io.BytesIO()
    np.savez_compressed(
        buffer,
        x_mm=evaluation.x_mm,
        y_mm=evaluation.y_mm,
        illuminance_lx=evaluation.illuminance_lx,
        luminance_cd_m2=evaluation.luminance_cd_m2,
        inside=evaluation.inside,
        XYZ=np.moveaxis(evaluation.xyz, 0, -1),
    )
    return buffer.getvalue()
