"""Views of a build as SVG 1.1 at their true size: one unit is a millimetre."""

from collections.abc import Sequence
from xml.etree import ElementTree as ET

from gauze.core.drawing import View
from gauze.core.formats.drawing_style import TEXT_MM, fill_grey, label_place, pen_mm, placed, sheet_mm
from gauze.core.layout.sketch import Outline

_SVG = "http://www.w3.org/2000/svg"


def encode_svg(name: str, views: Sequence[View]) -> bytes:
    """Write views below each other, every layer a group; y points up in a view and down in the file."""
    ET.register_namespace("", _SVG)
    width, height = sheet_mm(views)
    root = ET.Element(
        f"{{{_SVG}}}svg",
        {
            "width": f"{width:.4f}mm",
            "height": f"{height:.4f}mm",
            "viewBox": f"0 0 {width:.4f} {height:.4f}",
            "version": "1.1",
        },
    )
    ET.SubElement(root, f"{{{_SVG}}}title").text = name
    for view, left, top in placed(views):
        _, low, _, high = view.reach_mm
        group = ET.SubElement(root, f"{{{_SVG}}}g", {"id": view.key})
        ET.SubElement(group, f"{{{_SVG}}}title").text = str(view.name)
        for layer in view.layers:
            own = ET.SubElement(group, f"{{{_SVG}}}g", {"id": f"{view.key}-{layer.key}"})
            ET.SubElement(own, f"{{{_SVG}}}title").text = str(layer.name)
            for shape in layer.shapes:
                _write(own, shape, left - view.reach_mm[0], top + low + high)
    body: bytes = ET.tostring(root, encoding="utf-8", xml_declaration=True)
    return body + b"\n"


def _write(parent: ET.Element, shape: Outline, dx: float, flip: float) -> None:
    points = " ".join(f"{x + dx:.4f},{flip - y:.4f}" for x, y in shape.points_mm.tolist())
    grey = fill_grey(shape)
    style = {
        "fill": "none" if grey is None else f"rgb({grey},{grey},{grey})",
        "stroke": "black",
        "stroke-width": f"{pen_mm(shape):.2f}",
    }
    if len(shape.points_mm) == 1 and shape.role != "label":
        x, y = shape.points_mm[0].tolist()
        where = {"cx": f"{x + dx:.4f}", "cy": f"{flip - y:.4f}", "r": "1"}
        ET.SubElement(parent, f"{{{_SVG}}}circle", where | style)
    elif len(shape.points_mm) > 1:
        kind = "polygon" if shape.closed else "polyline"
        ET.SubElement(parent, f"{{{_SVG}}}{kind}", {"points": points} | style)
    if shape.marks_mm is not None:
        for (x0, y0), (x1, y1) in shape.marks_mm.tolist():
            ends = {"x1": x0 + dx, "y1": flip - y0, "x2": x1 + dx, "y2": flip - y1}
            line = {key: f"{value:.4f}" for key, value in ends.items()}
            ET.SubElement(parent, f"{{{_SVG}}}line", line | style)
    if shape.words:
        x, y = label_place(shape)
        text = ET.SubElement(
            parent,
            f"{{{_SVG}}}text",
            {
                "x": f"{x + dx:.4f}",
                "y": f"{flip - y:.4f}",
                "font-size": f"{TEXT_MM}",
                "font-family": "sans-serif",
                "text-anchor": "middle",
            },
        )
        text.text = str(shape.words)
