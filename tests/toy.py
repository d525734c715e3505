"""A family, a subject and a layer as ARCHITECTURE.md says that they are added: the least of each, made up.

Importing it registers the family, so that the solver's process, which imports it when it reads such a build, has it too.
"""

from PyQt6.QtWidgets import QLabel

from gauze.core.design.build import Depth, FamilyBuild, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import BoxShape, check_cavity
from gauze.core.drawing import Layer, Legend
from gauze.core.families import FAMILIES, Family
from gauze.core.layout import Layout
from gauze.core.layout.cavity_sketch import rectangle
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.pieces import emitter_size_mm, filled, laid_strip, pitches_of, sources_of, strip_outline
from gauze.core.layout.shapes import surface_of
from gauze.core.layout.sketch import Measure, Outline, Sketch
from gauze.core.materials import Catalogue
from gauze.core.parts import Parts
from gauze.core.parts.bodies import box_body, materials_of
from gauze.core.words import say
from gauze.session.solver import LightResult
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.subject import ActionRow, LayerRow, Subject
from gauze.ui.workbench import Workbench


class ToyBox(FamilyBuild, frozen=True, kw_only=True, tag="toy_box"):
    """A box with one strip along the middle of its back."""

    width_mm: Size
    height_mm: Size
    depth_mm: Depth

    @property
    def cavity(self) -> BoxShape:
        """The shape that is lit."""
        return BoxShape(width_mm=self.width_mm, height_mm=self.height_mm, depth_mm=self.depth_mm)


def check_toy(build: ToyBox, catalogue: Catalogue) -> None:
    check_common(build, catalogue, lit_by="strip")
    check_sheet_wanted(build, wanted=True)
    check_cavity(build.cavity, "build")


def lay_out_toy(build: ToyBox, catalogue: Catalogue) -> Layout:
    strip = catalogue.strip(build.strips[0].strip)
    start = (0.0, build.height_mm / 2.0, strip.emitter_height_mm)
    piece = laid_strip(
        catalogue,
        build.strips[0],
        start,
        (1.0, 0.0, 0.0),
        (0.0, 0.0, 1.0),
        build.width_mm,
        "build.width_mm",
        id="strip-1",
    )
    surface = surface_of(build.cavity, inner_faces(build, catalogue))
    sources = sources_of([piece], build.strips)
    cavity = filled(build.cavity, surface, sources, emitter_size_mm([strip]), "build.depth_mm", pitches_of(strip))
    sketch = Sketch(
        plan_mm=(0.0, 0.0, build.width_mm, build.height_mm),
        cut_mm=(0.0, 0.0, build.width_mm, build.depth_mm),
        plan=(Outline("body", rectangle(0.0, 0.0, build.width_mm, build.height_mm)), strip_outline(piece)),
        cut=(Outline("body", rectangle(0.0, 0.0, build.width_mm, build.depth_mm)),),
        measures=(
            Measure("build.width_mm", say("Width"), build.width_mm, "plan", "below", 0.0, build.width_mm),
            Measure("build.depth_mm", say("Depth"), build.depth_mm, "cut", "right", 0.0, build.depth_mm),
        ),
        seam=True,
    )
    return Layout(cavities=(cavity,), sketches=(sketch,), strips=(piece,))


def toy_parts(build: ToyBox, layout: Layout, catalogue: Catalogue) -> Parts:
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    return Parts(layout.pieces, tuple(box_body(build.width_mm, build.height_mm, build.depth_mm, materials)), (), ())


TOY = Family(build=ToyBox, check=check_toy, lay_out=lay_out_toy, parts=toy_parts)
FAMILIES[ToyBox] = TOY


def toy_layer(layout: Layout, _parts: Parts) -> Layer:
    words = say("{count} emitters", count=layout.emitter_count)
    middle = layout.cavity.places_mm[:, :2].mean(axis=0)
    return Layer("toy", say("Toy"), (Outline("label", middle[None, :], closed=False, words=words),), Legend(()))


class ToyPanel(PlacePanel):
    """Says what the face gives."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench, "Toys")
        self.words = QLabel()
        self.column.addWidget(self.words)

    def refresh(self) -> None:
        self.words.setText(self.bench.design.name)

    def show_light(self, result: LightResult) -> None:
        self.words.setText(f"{result.evaluation.output.out_lm:.0f} lm")


SAID: list[int] = []
TOYS = Subject(
    "toys",
    "T&oys",
    "plug-zap",
    "To play with",
    ToyPanel,
    actions=(ActionRow("&File", "export_toy", "Export the to&y …", run=lambda _window, index: SAID.append(index)),),
    layers=(LayerRow("toy", "The to&y's layer", "Y"),),
)
