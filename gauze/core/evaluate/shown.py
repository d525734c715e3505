"""What a pixel display shows, beside its light with every pixel on, by which it is judged."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gauze.core.errors import pausing
from gauze.core.evaluate.light.box import BoxFaceLight
from gauze.core.evaluate.light.face_light import Detail, FaceLight
from gauze.core.evaluate.light.one_cavity import light_one_cavity
from gauze.core.layout import Layout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.materials import Catalogue, Layer
from gauze.core.optics.box_light import Map, light_box
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.face import LitFace
from gauze.core.optics.kernel.parallel import both

_LIT = 0.5  # of the largest level: a pixel counts as on


@dataclass(frozen=True)
class Legibility:
    """How a text stands out: mean luminance in the middles of pixels that are on, and of those beside them that are off.

    ``letter_mm`` is the height of its letters.
    """

    letter_mm: float
    on_cd_m2: float
    off_cd_m2: float

    @property
    def contrast(self) -> float:
        """Michelson contrast; 0 when nothing is lit."""
        total = self.on_cd_m2 + self.off_cd_m2
        return (self.on_cd_m2 - self.off_cd_m2) / total if total > 0 else 0.0


@dataclass(frozen=True)
class Shown:
    """What is seen: its map, as in :class:`FaceLight`, and how a text stands out; None where none is shown."""

    xyz: Map
    legibility: Legibility | None


def shown_in_cells(
    layout: Layout, layers: tuple[Layer, ...], catalogue: Catalogue, detail: Detail, cancelled: Callable[[], bool]
) -> CavityFace | None:
    """Light a display between partitions as it shows something; None where it has none, or shows all its pixels."""
    if not isinstance(layout, DisplayLayout) or layout.shown_cavity is None:
        return None
    return light_one_cavity(layout.shown_cavity, layers, catalogue, detail, pausing(cancelled))


Asked = tuple[Layout, tuple[Layer, ...], Catalogue, Detail, Callable[[], bool]]  # as of shown_in_cells


def light_and_shown(light: Callable[[], FaceLight], asked: Asked) -> tuple[FaceLight, CavityFace | None]:
    """Return the light of all pixels, and that of :func:`shown_in_cells`; at rest they are computed in parallel."""
    layout, _, _, detail, _ = asked
    cavity = layout.shown_cavity if isinstance(layout, DisplayLayout) else None
    if cavity is None or detail.in_motion or not isinstance(cavity.surface, BaffledBox):
        return light(), shown_in_cells(*asked)
    return both(light, lambda: shown_in_cells(*asked))


def show_pixels(
    layout: DisplayLayout,
    light: FaceLight,
    face: CavityFace | None,
    detail: Detail,
    cancelled: Callable[[], bool],
) -> Shown | None:
    """Light a display as it shows something, ``light`` being that of all pixels; None where it shows them all.

    ``face`` is that of :func:`shown_in_cells`.
    """
    pausing(cancelled)()
    if layout.shown_panel is not None and isinstance(light, BoxFaceLight):
        box_light = light_box(layout.shown_panel.box, layout.shown_panel.emitters, detail.fineness, cancelled)
        shown = LitFace(box_light, light.diffuser, light.face.xyz_per_lumen)
        middles = shown.luminance_cd_m2(layout.pixels_mm[0, :, 0], layout.pixels_mm[:, 0, 1]).astype(float)
        return Shown(shown.xyz(light.x_mm, light.y_mm), _legibility(layout, middles))
    if face is not None:
        xyz = face.xyz()
        return Shown(xyz, _legibility(layout, at_pixels(layout, light, xyz[1])))
    return None


def _legibility(layout: DisplayLayout, luminance: FloatArray) -> Legibility | None:
    """Compare pixels that are on with those beside them that are off; nothing where no text is shown."""
    if layout.shown is None or not layout.letter_rows:
        return None
    levels = layout.shown.max(axis=0)
    on = levels > _LIT * max(float(levels.max()), 1e-9)
    beside = ~on & _neighbours(on)
    if not on.any() or not beside.any():
        return None
    return Legibility(
        layout.letter_rows * layout.pitch_mm[1], float(luminance[on].mean()), float(luminance[beside].mean())
    )


def _neighbours(on: BoolArray) -> BoolArray:
    padded = np.pad(on, 1)
    return np.asarray(padded[:-2, 1:-1] | padded[2:, 1:-1] | padded[1:-1, :-2] | padded[1:-1, 2:])


def at_pixels(layout: DisplayLayout, light: FaceLight, luminance: Map) -> FloatArray:
    """Values of a map of the face in the middles of all pixels, shape (rows, columns)."""
    columns = np.abs(light.x_mm[None, :] - layout.pixels_mm[0, :, 0][:, None]).argmin(axis=1)
    rows = np.abs(light.y_mm[None, :] - layout.pixels_mm[:, 0, 1][:, None]).argmin(axis=1)
    return np.asarray(luminance[np.ix_(rows, columns)], float)


def pixel_evenness(layout: DisplayLayout, light: FaceLight) -> float:
    """Least over mean of the luminance in the middles of the pixels, every one on; 0 for a dark display."""
    middles = at_pixels(layout, light, light.xyz[1])
    mean = float(middles.mean())
    return float(middles.min()) / mean if mean > 0 else 0.0
