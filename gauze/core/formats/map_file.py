"""The light of a face as arrays, for other programs: NumPy's .npz."""

import io

import numpy as np

from gauze import __version__
from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.gridded import CellAverages, face_grid

MAP_VERSION = 2


def encode_map(evaluation: Evaluation, averages: CellAverages | None = None) -> bytes:
    """Write the light on a grid of the face: that of the map, or the averages over another.

    The arrays are ``x_mm`` (n,), ``y_mm`` (m,), ``illuminance_lx`` (m, n) on the inner face, ``luminance_cd_m2``
    (m, n) and ``XYZ`` (m, n, 3), Y in cd/m^2. x runs to the right and y upwards, as seen from the front; what is round is
    unrolled, and ``inside`` (m, n) is false beside the faces, ``covered`` (m, n) the share of a cell that lies on a face.

    Beside them ``x_edges_mm`` (n + 1,) and ``y_edges_mm`` (m + 1,) of the cells; ``emitted_lm``, ``lid_lm`` (on the inner
    face) and ``out_lm``; ``design`` (its name), ``gauze`` (the program's version) and ``map_version``.
    """
    if averages is None:
        grid, covered = face_grid(evaluation), evaluation.inside.astype(float)
        lux, xyz = np.asarray(evaluation.illuminance_lx), evaluation.xyz
        x_mm, y_mm = evaluation.x_mm, evaluation.y_mm
    else:
        grid, covered, lux, xyz = averages.grid, averages.covered, averages.illuminance_lx, averages.xyz
        x_mm, y_mm = (0.5 * (edges[:-1] + edges[1:]) for edges in (grid.x_mm, grid.y_mm))
    output = evaluation.output
    buffer = io.BytesIO()
    np.savez_compressed(
        buffer,
        x_mm=x_mm,
        y_mm=y_mm,
        illuminance_lx=lux,
        luminance_cd_m2=np.asarray(xyz[1]),
        inside=covered > 0,
        XYZ=np.moveaxis(xyz, 0, -1),
        covered=covered,
        x_edges_mm=grid.x_mm,
        y_edges_mm=grid.y_mm,
        emitted_lm=output.emitted_lm,
        lid_lm=output.lid_lm,
        out_lm=output.out_lm,
        design=evaluation.design.name,
        gauze=__version__,
        map_version=MAP_VERSION,
    )
    return buffer.getvalue()
