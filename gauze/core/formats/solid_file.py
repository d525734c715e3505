"""Solids as files for a printer's software: STL (binary), or 3MF by its core specification, in millimetres."""

import io
import zipfile
from collections.abc import Sequence
from xml.etree import ElementTree as ET

import numpy as np

from gauze.core.making.solids.model import Printed, Solid
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
    ET.register_namespace("", _CORE)
    model = ET.Element(_tag("model"), {"unit": "millimeter"})
    ET.SubElement(model, _tag("metadata"), {"name": "Title"}).text = name
    resources, build = ET.SubElement(model, _tag("resources")), ET.SubElement(model, _tag("build"))
    number, left = 0, 0.0
    for part in parts:
        for index, piece in enumerate(part.pieces, start=1):
            number += 1
            title = reader.read(part.name) + (f" {index}" if len(part.pieces) > 1 else "")
            _add_object(resources, number, title, piece)
            for _ in range(part.count):
                low = piece.points_mm.min(axis=0)
                shift = f"{left - low[0]:.4f} {-low[1]:.4f} 0"
                ET.SubElement(build, _tag("item"), {"objectid": str(number), "transform": f"1 0 0 0 1 0 0 0 1 {shift}"})
                left += piece.size_mm[0] + _APART_MM
    file = io.BytesIO()
    body = ET.tostring(model, encoding="utf-8", xml_declaration=True)
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, data in (
            ("[Content_Types].xml", _TYPES.encode()),
            ("_rels/.rels", _RELS.encode()),
            ("3D/3dmodel.model", body),
        ):
            archive.writestr(zipfile.ZipInfo(path, _TIME), data, zipfile.ZIP_DEFLATED)
    return file.getvalue()


def _tag(name: str) -> str:
    return f"{{{_CORE}}}{name}"


def _add_object(resources: ET.Element, number: int, title: str, solid: Solid) -> None:
    own = ET.SubElement(resources, _tag("object"), {"id": str(number), "type": "model", "name": title})
    mesh = ET.SubElement(own, _tag("mesh"))
    vertices, triangles = ET.SubElement(mesh, _tag("vertices")), ET.SubElement(mesh, _tag("triangles"))
    for x, y, z in solid.points_mm.tolist():
        ET.SubElement(vertices, _tag("vertex"), {"x": f"{x:.5f}", "y": f"{y:.5f}", "z": f"{z:.5f}"})
    for a, b, c in solid.triangles.tolist():
        ET.SubElement(triangles, _tag("triangle"), {"v1": str(a), "v2": str(b), "v3": str(c)})


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
