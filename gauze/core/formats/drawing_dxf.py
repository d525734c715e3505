"""Views of a build as DXF (R2010) at their true size, in millimetres."""

import io
from collections.abc import Sequence

from ezdxf.document import Drawing as Document
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.layout import Modelspace

from gauze.core.drawing import View
from gauze.core.formats.drawing_style import TEXT_MM, label_place, placed, sheet_mm
from gauze.core.layout.sketch import Outline

_MILLIMETRES = 4  # of $INSUNITS


def encode_dxf(name: str, views: Sequence[View]) -> bytes:
    """Write views below each other, every layer a layer of the file; the first view keeps its own coordinates."""
    document = Document.new("AC1024")  # R2010
    document.units = _MILLIMETRES
    document.header["$MEASUREMENT"] = 1
    document.header.custom_vars.append("TITLE", name)
    space = document.modelspace()
    height = sheet_mm(views)[1]
    first_low = height - views[0].reach_mm[3]
    for view, _, top in placed(views):
        left, low, _, high = view.reach_mm
        dx = views[0].reach_mm[0] - left
        dy = (height - top - high) - low - first_low + views[0].reach_mm[1]
        for layer in view.layers:
            layer_name = f"{view.key}-{layer.key}"
            if layer_name not in document.layers:
                document.layers.add(layer_name)
            for shape in layer.shapes:
                _write(space, shape, layer_name, dx, dy)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode("utf-8", "replace")


def _write(space: Modelspace, shape: Outline, layer: str, dx: float, dy: float) -> None:
    look = {"layer": layer}
    points = [(x + dx, y + dy) for x, y in shape.points_mm.tolist()]
    if len(points) == 1 and shape.role != "label":
        space.add_circle(points[0], 1.0, dxfattribs=look)
    elif len(points) > 1:
        space.add_lwpolyline(points, close=shape.closed, dxfattribs=look)
    if shape.marks_mm is not None:
        for (x0, y0), (x1, y1) in shape.marks_mm.tolist():
            space.add_line((x0 + dx, y0 + dy), (x1 + dx, y1 + dy), dxfattribs=look)
    if shape.words:
        x, y = label_place(shape)
        text = space.add_text(str(shape.words), height=TEXT_MM, dxfattribs=look)
        text.set_placement((x + dx, y + dy), align=TextEntityAlignment.BOTTOM_CENTER)
