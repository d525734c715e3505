"""A strip panel as every other build: one cavity, its pieces, its drawing; beside the rows in their box, which light it."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from typing import Self

import numpy as np

from gauze.core.design.cavity import BoxShape
from gauze.core.design.strip_panel import StripPanel
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity import Reflectances
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families.panel_sketch import panel_sketch
from gauze.core.layout.families.strip_panel import lay_out_strip_panel
from gauze.core.layout.model import LightBox, Row, RowLayout
from gauze.core.layout.pieces import StripPiece, Vector
from gauze.core.layout.shapes import surface_of
from gauze.core.layout.sketch import Sketch
from gauze.core.lazy import Lazy
from gauze.core.materials import Catalogue
from gauze.core.materials.distribution import cosine_power


@dataclass(frozen=True, kw_only=True)
class PanelLayout(Layout):
    """A panel in place; ``panel`` are its rows in their box."""

    panel: RowLayout

    def with_light(
        self, of_rows: Callable[[RowLayout], RowLayout], of_cavity: Callable[[CavityLayout], CavityLayout]
    ) -> Self:
        """Return it with other light from its rows too."""
        return replace(super().with_light(of_rows, of_cavity), panel=of_rows(self.panel))

    @property
    def rows_in_box(self) -> RowLayout:
        """Its rows: they are lit together."""
        return self.panel

    @property
    def emitter_count(self) -> int:
        """Number of LED packages (channels in one package count once)."""
        return self.panel.emitter_count


def lay_out_panel(build: StripPanel, catalogue: Catalogue) -> PanelLayout:
    """Lay out a checked panel; raises :class:`gauze.core.errors.DesignError` where its rows do not fit."""
    rows = lay_out_strip_panel(build, catalogue)
    strips = tuple(_piece_of(row, along_width=rows.row_direction == "along_width") for row in rows.rows)
    return PanelLayout(
        cavities=Lazy(partial(_cavities, rows)),
        sketches=Lazy(partial(_sketches, build, rows, strips)),
        strips=strips,
        panel=rows,
    )


def _piece_of(row: Row, *, along_width: bool) -> StripPiece:
    along: Vector = (1.0, 0.0, 0.0) if along_width else (0.0, 1.0, 0.0)
    x_mm, y_mm = (row.start_mm, row.across_mm) if along_width else (row.across_mm, row.start_mm)
    return StripPiece(
        id=row.id,
        strip=row.strip,
        choice=row.choice,
        start_mm=(x_mm, y_mm, row.strip.emitter_height_mm),
        along=along,
        facing=(0.0, 0.0, 1.0),
        segments=row.segments,
        start_gap_mm=row.start_gap_mm,
        end_gap_mm=row.end_gap_mm,
    )


def _sketches(build: StripPanel, rows: RowLayout, strips: tuple[StripPiece, ...]) -> tuple[Sketch]:
    return (panel_sketch(build, rows, strips),)


def _cavities(rows: RowLayout) -> tuple[CavityLayout]:
    return (_cavity(rows),)


def _cavity(rows: RowLayout) -> CavityLayout:
    """The box with its emitters, channel by channel, as other cavities state them."""
    sets = rows.emitters
    counts = [len(one.x_mm) for one in sets]
    size = math.sqrt(max(one.package_mm[0] * one.package_mm[1] for one in sets))
    places = np.concatenate([np.column_stack([one.x_mm, one.y_mm, np.full(len(one.x_mm), one.z_mm)]) for one in sets])
    return CavityLayout(
        shape=_shape(rows.box),
        surface=surface_of(_shape(rows.box), _faces(rows.box)),
        places_mm=places,
        axes=np.broadcast_to(np.array([0.0, 0.0, 1.0]), (len(places), 3)),
        power=np.repeat([cosine_power(one.half_angle_deg) for one in sets], counts),
        flux_lm=np.concatenate([one.flux_lm for one in sets]),
        cct_k=np.repeat([one.channel.cct_k or 0.0 for one in sets], counts),
        cie_xy=np.zeros((len(places), 2)),
        distribution=np.full(len(places), -1),
        emitter_size_mm=size,
        level=1.0,
        channels=tuple(one.channel for one in sets),
        channel=np.repeat(np.arange(len(sets)), counts),
        piece=np.concatenate([one.piece for one in sets]),
        segment=np.concatenate([one.segment for one in sets]),
    )


def _shape(box: LightBox) -> BoxShape:
    return BoxShape(width_mm=box.width_mm, height_mm=box.height_mm, depth_mm=box.inner_depth_mm)


def _faces(box: LightBox) -> Reflectances:
    return Reflectances(box.back_reflectance, box.wall_reflectance, box.lid_reflectance)


def panel_layout(layout: Layout) -> RowLayout:
    """Return the rows of a strip panel in their box; raises :class:`TypeError` for another family."""
    return layout.as_kind(PanelLayout).panel
