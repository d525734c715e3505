"""Solids as files for a printer's software: STL (binary), or 3MF by its core specification, in millimetres."""

import io
import zipfile
from collections.abc import Sequence
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from gauze.core.design.design import LONGEST_NAME
from gauze.core.making.solids.model import Printed, Solid
from gauze.core.printable import printable
from gauze.core.words import ENGLISH, Reader

_CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"  # the namespace that the specification names
_RELATION = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"
_TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
_RELS = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    f'<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="{_RELATION}"/></Relationships>'
)
_TIME = (1980, 1, 1, 0, 0, 0)  # so that the same design gives the same file
_APART_MM = 5.0  # between parts that lie side by side


def encode_stl(solid: Solid) -> bytes:
    """Write one solid: 80 bytes of header, the count of triangles, and of each its normal, its corners and two bytes of zeros."""
    corners = solid.points_mm[solid.triangles]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
    rows = np.zeros(len(corners), record)
    rows["normal"], rows["corners"] = normal, corners
    return b"solid in mm".ljust(80, b"\0") + len(corners).to_bytes(4, "little") + rows.tobytes()


def encode_3mf(name: str, parts: Sequence[Printed], reader: Reader = ENGLISH) -> bytes:
    """Write all parts into one file, each piece an object of its own, side by side, as often as it is needed."""
    objects: list[str] = []
    items: list[str] = []
    left = 0.0
    for part in parts:
        for index, piece in enumerate(part.pieces, start=1):
            title = reader.read(part.name) + (f" {index}" if len(part.pieces) > 1 else "")
            objects.append(_object(len(objects) + 1, title, piece))
            low = piece.points_mm.min(axis=0)
            for _ in range(part.count):
                shift = f"{left - low[0]:.4f} {-low[1]:.4f} 0"
                items.append(f'<item objectid="{len(objects)}" transform="1 0 0 0 1 0 0 0 1 {shift}"/>')
                left += piece.size_mm[0] + _APART_MM
    model = (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<model unit="millimeter" xmlns="{_CORE}">'
        f'<metadata name="Title">{escape(printable(name, LONGEST_NAME))}</metadata>'
        f"<resources>{''.join(objects)}</resources><build>{''.join(items)}</build></model>"
    )
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, text in (("[Content_Types].xml", _TYPES), ("_rels/.rels", _RELS), ("3D/3dmodel.model", model)):
            archive.writestr(zipfile.ZipInfo(path, _TIME), text.encode(), zipfile.ZIP_DEFLATED)
    return file.getvalue()


def _object(number: int, title: str, solid: Solid) -> str:
    # written out by hand: a grid of a large display has half a million elements, and a tree of them takes ten times as long
    corners = "".join(f'<vertex x="{x:.5f}" y="{y:.5f}" z="{z:.5f}"/>' for x, y, z in solid.points_mm.tolist())
    triangles = "".join(f'<triangle v1="{a}" v2="{b}" v3="{c}"/>' for a, b, c in solid.triangles.tolist())
    return (
        f'<object id="{number}" type="model" name={quoteattr(title)}>'
        f"<mesh><vertices>{corners}</vertices><triangles>{triangles}</triangles></mesh></object>"
    )


def solid_files(name: str, parts: Sequence[Printed], reader: Reader = ENGLISH) -> dict[str, bytes]:
    """Return an STL file for every piece, by its name, and one 3MF file with all; nothing where nothing is printed."""
    if not parts:
        return {}
    found = {"printed.3mf": encode_3mf(name, parts, reader)}
    for part in parts:
        for index, piece in enumerate(part.pieces, start=1):
            suffix = f"-{index}" if len(part.pieces) > 1 else ""
            found[f"printed-{part.key}{suffix}.stl"] = encode_stl(piece)
    return found
