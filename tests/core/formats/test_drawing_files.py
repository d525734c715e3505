"""Plan and section at their true size: the same display list as SVG, DXF and PDF, read back and measured."""

import io
import re
from xml.etree import ElementTree as ET

import ezdxf
import numpy as np
import pytest

from gauze.core.design import Design
from gauze.core.drawing import Layer, Legend, View, views_of
from gauze.core.errors import GauzeError
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design
from gauze.core.formats.drawing_dxf import encode_dxf
from gauze.core.formats.drawing_file import ENDINGS, encode_drawing
from gauze.core.formats.drawing_pdf import POINTS_PER_MM, encode_pdf
from gauze.core.formats.drawing_svg import encode_svg
from gauze.core.formats.pdf_pages import drawn as drawn_view
from gauze.core.layout.sketch import Outline
from gauze.core.words import say
from gauze.core.words.reader import ENGLISH
from gauze.demo import DEMOS, Demo
from tests.builders import CATALOGUE, design
from tests.families import bars, family, frame

SVG = "{http://www.w3.org/2000/svg}"


def views(what: Design) -> tuple[View, View]:
    return views_of(what, lay_out(what, CATALOGUE))


def drawn(what: Design, ending: str) -> bytes:
    return encode_drawing(what, lay_out(what, CATALOGUE), ending)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
def test_every_demo_is_written_in_every_form(demo: Demo) -> None:
    what = decode_design(demo.read(), CATALOGUE)
    root = ET.fromstring(drawn(what, ".svg"))
    assert [group.get("id") for group in root.findall(f"{SVG}g")] == ["plan", "section"]
    document = ezdxf.read(io.StringIO(drawn(what, ".dxf").decode()))
    assert not document.audit().errors
    assert document.units == 4  # millimetres
    assert drawn(what, ".PDF").startswith(b"%PDF-1.")


def lengths(shapes: list[np.ndarray]) -> list[float]:
    return [float(np.hypot(*np.diff(points, axis=0).T).sum()) for points in shapes]


def test_every_shape_has_its_true_length_in_svg_and_dxf() -> None:
    """Lines and outlines read back from both files are as long as in the display list, in the same order."""
    what = family(frame(6, 400.0))
    plan, section = views(what)
    for view in (plan, section):
        wanted = [
            lengths([np.vstack([s.points_mm, s.points_mm[:1]]) if s.closed else s.points_mm])[0]
            for s in view.shapes()
            if len(s.points_mm) > 1
        ]
        root = ET.fromstring(drawn(what, ".svg"))
        group = next(one for one in root.findall(f"{SVG}g") if one.get("id") == view.key)
        found = []
        for element in group.iter():
            if element.tag in {f"{SVG}polygon", f"{SVG}polyline"}:
                points = np.array([pair.split(",") for pair in element.get("points", "").split()], float)
                closed = element.tag == f"{SVG}polygon"
                found += lengths([np.vstack([points, points[:1]]) if closed else points])
        assert found == pytest.approx(wanted, abs=0.01)
        space = ezdxf.read(io.StringIO(drawn(what, ".dxf").decode())).modelspace()
        read = []
        for line in space.query("LWPOLYLINE"):
            if line.dxf.layer.startswith(f"{view.key}-"):
                points = np.array(line.get_points("xy"))
                read += lengths([np.vstack([points, points[:1]]) if line.closed else points])
        assert read == pytest.approx(wanted, abs=0.01)


def test_the_plan_keeps_its_coordinates_in_dxf_and_names_its_layers() -> None:
    space = ezdxf.read(io.StringIO(drawn(design(), ".dxf").decode())).modelspace()
    back = next(line for line in space.query("LWPOLYLINE") if line.dxf.layer == "plan-plan-back")
    points = np.array(back.get_points("xy"))
    assert points.min(axis=0) == pytest.approx([0.0, 0.0])
    assert points.max(axis=0) == pytest.approx([600.0, 400.0])
    layers = {entity.dxf.layer for entity in space}
    assert {"plan-plan-strip", "plan-emitters", "plan-supply", "plan-plan-sizes", "section-cut-body"} <= layers


def test_svg_and_pdf_are_as_large_as_what_they_show() -> None:
    what = design()
    plan, section = views(what)
    root = ET.fromstring(drawn(what, ".svg"))
    assert root.get("width") == f"{max(plan.reach_mm[2], section.reach_mm[2]):.4f}mm"
    assert root.get("viewBox") == f"0 0 {root.get('width')[:-2]} {root.get('height')[:-2]}"
    pages = re.findall(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", drawn(what, ".pdf"))
    for (wide, _high), view in zip(pages, (plan, section), strict=True):
        assert float(wide) / POINTS_PER_MM == pytest.approx(view.reach_mm[2], abs=0.01)


def test_cut_marks_go_into_every_form() -> None:
    what = design()
    marks = sum(0 if s.marks_mm is None else len(s.marks_mm) for s in views(what)[0].shapes())
    assert marks == 11 * (12 - 1)  # eleven rows of twelve segments
    root = ET.fromstring(drawn(what, ".svg"))
    assert len(root.findall(f".//{SVG}line")) == marks
    assert len(ezdxf.read(io.StringIO(drawn(what, ".dxf").decode())).modelspace().query("LINE")) == marks


def test_what_no_page_can_hold_is_refused() -> None:
    long = family(bars(bars=tuple(bars().bars[0].__class__(length_mm=3000.0) for _ in range(2))))
    with pytest.raises(GauzeError, match="larger than a page"):
        encode_pdf("long", views(long))
    assert drawn(long, ".svg")


def test_another_ending_is_refused_with_those_that_can_be() -> None:
    with pytest.raises(GauzeError, match=r"\.svg, \.dxf, \.pdf"):
        drawn(design(), ".png")
    assert ENDINGS == (".svg", ".dxf", ".pdf")


def test_names_of_any_letters_are_written() -> None:
    import msgspec

    odd = msgspec.structs.replace(design(), name="Ładne światło <&> 灯")
    assert ET.fromstring(drawn(odd, ".svg")).find(f"{SVG}title").text == odd.name
    assert drawn(odd, ".pdf")
    assert ezdxf.read(io.StringIO(drawn(odd, ".dxf").decode())).header.custom_vars.get("TITLE") == odd.name


def test_names_and_numbers_stand_in_a_drawing_without_a_mark_behind_them() -> None:
    """Where a label stands nothing else is drawn; emitters, which are single places too, are rings."""
    view = View(
        "plan",
        say("Plan"),
        (0.0, 0.0, 50.0, 20.0),
        (
            Layer(
                "parts",
                say("Names"),
                (Outline("label", np.array([[10.0, 5.0]]), closed=False, words="row-1"),),
                Legend(()),
            ),
            Layer("emitters", say("LEDs"), (Outline("emitter", np.array([[30.0, 5.0]]), closed=False),), Legend(())),
        ),
    )
    root = ET.fromstring(encode_svg("test", [view]))
    rings = [
        ring for group in root.iter(f"{SVG}g") if group.get("id") == "plan-parts" for ring in group.iter(f"{SVG}circle")
    ]
    assert not rings
    assert [text.text for text in root.iter(f"{SVG}text")] == ["row-1"]
    assert len(list(root.iter(f"{SVG}circle"))) == 1
    space = ezdxf.read(io.StringIO(encode_dxf("test", [view]).decode())).modelspace()
    assert [ring.dxf.center.x for ring in space.query("CIRCLE")] == [30.0]
    assert [text.dxf.text for text in space.query("TEXT")] == ["row-1"]
    label = next(iter(drawn_view(View("plan", say("Plan"), view.reach_mm, view.layers[:1]), ENGLISH).contents)).contents
    assert [type(item).__name__ for item in label] == ["Rect", "String"]  # on white, over the lines
