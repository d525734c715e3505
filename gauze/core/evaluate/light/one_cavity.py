"""One cavity of a build through the light solvers, kept while neither it nor its light changes."""

from collections.abc import Hashable
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.cavity import lit_by_reflection
from gauze.core.errors import Pause
from gauze.core.evaluate.light.face_light import Detail, LitChannel
from gauze.core.evaluate.light.gliding import light_gliding
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import BoolArray, Channel, FloatArray, IndexArray
from gauze.core.materials import Catalogue, Layer, Stack
from gauze.core.materials.stack import matt_wall
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.baffled import light_baffled
from gauze.core.optics.cavity.distribution import DistributionTable, table_of
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.cavity.face import (
    CavityFace,
    DrawnDirect,
    Light,
    Pixels,
    colour_columns,
    draw_direct,
    light_face,
)
from gauze.core.optics.cavity.kept import Kept
from gauze.core.optics.cavity.light import direct_light_in, direct_on_patches, light_cavity
from gauze.core.optics.cavity.transport import meshes_of, transport_near, transport_of
from gauze.core.optics.colour import channel_xyz, planck_xyz, xyz_of_chromaticity
from gauze.core.optics.kernel.parallel import all_three
from gauze.core.optics.uniformity import FaceView
from gauze.core.words import Fixed, Text, say

_MOST_CHANNELS = 12  # that are distinguished in words
_MOST_BYTES = 40_000_000  # of faces kept besides the present one
_FACES_US = 0.5  # cosine from which on a place of a round face is read from the front
_IN_SPACE_BYTES = 9 * 8  # of a pixel: its place, its normal, and where on its lid that is
_LARGEST_KEY = 4_000  # emitters up to which a face is worth a key of all of them


@dataclass(frozen=True)
class _Lit:
    """A face, and the flux of the brightest emitter that lit it."""

    face: CavityFace
    brightest_lm: float


def _bytes_of(kept: _Lit) -> int:
    face = kept.face
    return face.direct.nbytes + face.bounced.nbytes + face.luminance.nbytes + _IN_SPACE_BYTES * len(face.chart.s)


_FACES: Kept[_Lit] = Kept(_MOST_BYTES, _bytes_of)


def view_of(face: CavityFace, cavity: CavityLayout, seen: BoolArray | None = None) -> FaceView:
    """Return a cavity's face as it is measured: of what is round the part that looks to the front; ``seen`` leaves some out."""
    chart = face.chart
    front = -chart.normals[:, 2] > _FACES_US
    on_it = front if seen is None else front & seen
    if not on_it.any():  # a wall that is lit from the side
        on_it = np.ones(len(front), bool)
    luminance = face.luminance @ face.basis_xyz[:, 1]
    step_mm = chart.step_mm, float(chart.v_mm[1] - chart.v_mm[0])
    return FaceView(
        chart.spread_out(luminance),
        chart.spread_out(on_it.astype(float)) > 0.0,
        step_mm,
        cavity.shape.looks,
    )


def light_one_cavity(
    cavity: CavityLayout, layers: tuple[Layer, ...], catalogue: Catalogue, detail: Detail, pause: Pause
) -> CavityFace:
    """Light one cavity behind its sheet; the same object as long as it does not change.

    Where only the whole is brighter or dimmer than what is kept, that is scaled: light adds.

    Raises
    ------
    Cancelled
        By ``pause()``, between two steps.
    """
    sheet = matt_wall(cavity.surface.reflectances.lid) if lit_by_reflection(cavity.shape) else catalogue.sheet(layers)
    if cavity.emitter_count > _LARGEST_KEY:
        return _lit(cavity, sheet, detail, pause)
    brightest = float(cavity.flux_lm.max(initial=0.0))
    kept = _FACES.get(
        _key(cavity, sheet, detail, brightest), lambda: _Lit(_lit(cavity, sheet, detail, pause), brightest)
    )
    if kept.brightest_lm == brightest:
        return kept.face
    return replace(kept.face, basis_xyz=kept.face.basis_xyz * (brightest / kept.brightest_lm))


def light_columns(
    cavity: CavityLayout,
    columns: FloatArray,
    layers: tuple[Layer, ...],
    catalogue: Catalogue,
    detail: Detail,
    pause: Pause,
) -> CavityFace:
    """Light a cavity with several fluxes of its emitters side by side, (n, k); raises as :func:`light_one_cavity`.

    It has no colours of its own: the caller knows what the columns are.
    """
    sheet = catalogue.sheet(layers)
    return _lit_columns(cavity, (columns, np.eye(3)[: columns.shape[1]]), sheet, detail.of_cavities, pause)


def forget_faces() -> None:
    """Drop what is kept, as a benchmark wants it."""
    _FACES.clear()


def _key(cavity: CavityLayout, sheet: Stack, detail: Detail, brightest_lm: float) -> Hashable:
    """All that the light depends on, except its total flux."""
    relative = np.round(cavity.flux_lm / brightest_lm, 10) if brightest_lm > 0 else cavity.flux_lm
    levels = tuple(replace(channel, level=1.0) for channel in cavity.channels)
    colours = (levels, None if cavity.channel is None else cavity.channel.tobytes())
    numbers = (cavity.places_mm, cavity.axes, cavity.power, relative, cavity.cct_k, cavity.cie_xy, cavity.distribution)
    return (
        cavity.shape,
        cavity.surface.reflectances,
        sheet,
        detail.fineness,
        detail.most_pixels,
        detail.pixel_mm,
        detail.in_motion,
        cavity.emitter_size_mm,
        cavity.distributions,
        colours,
        *(values.tobytes() for values in numbers),
    )


def _lit(cavity: CavityLayout, sheet: Stack, detail: Detail, pause: Pause) -> CavityFace:
    mixed = _mixed(cavity)
    flux = colour_columns(mixed.flux_lm, xyz_per_lumen(mixed))
    return _lit_columns(mixed, flux, sheet, detail.of_cavities, pause)


def _lit_columns(
    cavity: CavityLayout, flux: tuple[FloatArray, FloatArray], sheet: Stack, detail: Detail, pause: Pause
) -> CavityFace:
    columns, basis = flux
    cavity, columns = _by_package(cavity, columns)
    kinds = cavity.distribution, tables_of(cavity), cavity.emitter_size_mm
    emitters = Emitters(cavity.places_mm, cavity.axes, cavity.power, columns, *kinds)
    pixels = Pixels(detail.most_pixels, detail.pixel_mm, detail.fineness)
    size_mm, surface = cavity.emitter_size_mm, cavity.surface
    if detail.in_motion or isinstance(surface, BaffledBox):
        return light_face(_light_in(cavity, emitters, detail, pause), sheet, basis, size_mm, pixels, pause)
    direct = direct_light_in(surface, emitters)

    def seen() -> DrawnDirect:
        drawn = draw_direct(direct, sheet, size_mm, pixels, pause)
        drawn.chart.locate()
        return drawn

    transport, drawn, arrived = all_three(
        lambda: transport_of(surface, cavity.shape, detail.fineness, pause),
        seen,
        lambda: direct_on_patches(
            meshes_of(surface, cavity.shape, detail.fineness).fine, direct, detail.fineness, pause
        ),
    )
    light = light_cavity(transport, emitters, detail.fineness, pause, direct, arrived)
    return light_face(light, sheet, basis, size_mm, pixels, pause, drawn)


def _by_package(cavity: CavityLayout, columns: FloatArray) -> tuple[CavityLayout, FloatArray]:
    """One emitter in place of those that share a place and shine alike, with the columns of all: light adds."""
    first, which = packages_of(cavity)
    if len(first) == cavity.emitter_count:
        return cavity, columns
    alike = [(values, values[first][which]) for values in (cavity.axes, cavity.power, cavity.distribution)]
    if not all(np.array_equal(one, other) for one, other in alike):
        return cavity, columns
    together = np.array([np.bincount(which, column, len(first)) for column in columns.T], float).T
    return _of_packages(cavity, first, columns[first].sum(axis=1)), together


def _of_packages(cavity: CavityLayout, first: IndexArray, flux_lm: FloatArray) -> CavityLayout:
    """A cavity with the first emitter of every package alone, its colours left behind."""
    return replace(
        cavity,
        places_mm=cavity.places_mm[first],
        axes=cavity.axes[first],
        power=cavity.power[first],
        flux_lm=flux_lm,
        cct_k=cavity.cct_k[first],
        cie_xy=cavity.cie_xy[first],
        distribution=cavity.distribution[first],
        channels=(),
        channel=None,
        piece=None,
        segment=None,
    )


def _light_in(cavity: CavityLayout, emitters: Emitters, detail: Detail, pause: Pause) -> Light:
    """The light in a cavity with partitions, or in any while a hand drags: then by what is known of others nearly alike."""

    def exactly(one: CavityLayout, lamps: Emitters) -> Light:
        if isinstance(one.surface, BaffledBox):
            return light_baffled(one.surface, lamps, detail.fineness, pause)
        transport = transport_near(one.surface, one.shape, detail.fineness, pause)
        return light_cavity(transport, lamps, detail.fineness, pause)

    return light_gliding(cavity, emitters, detail.fineness, exactly) if detail.in_motion else exactly(cavity, emitters)


def _mixed(cavity: CavityLayout) -> CavityLayout:
    """Put channels that share their places, and light them in the same proportion everywhere, into one of their mixed colour."""
    count = len(cavity.channels)
    if count < 2:
        return cavity
    first, which = packages_of(cavity)
    if len(first) * count != cavity.emitter_count or not np.array_equal(which, np.tile(np.arange(len(first)), count)):
        return cavity
    flux = cavity.flux_lm.reshape(count, -1)
    whole = flux.sum(axis=0)
    total = flux.sum(axis=1)
    if total.sum() <= 0 or np.abs(flux - np.outer(total / total.sum(), whole)).max() > 1e-9 * whole.max():
        return cavity
    xyz = (total / total.sum()) @ np.array([channel_xyz(channel) for channel in cavity.channels])
    x, y = xyz[0] / xyz.sum(), xyz[1] / xyz.sum()
    alone = _of_packages(cavity, first, whole)
    return replace(alone, cct_k=np.zeros(len(first)), cie_xy=np.tile([x, y], (len(first), 1)))


def tables_of(cavity: CavityLayout) -> tuple[DistributionTable, ...]:
    """Tables of the measured distributions."""
    return tuple(
        table_of(np.array(one.gamma_deg), np.array(one.c_deg), np.array(one.candela)) for one in cavity.distributions
    )


def xyz_per_lumen(cavity: CavityLayout, every: int = 1) -> FloatArray:
    """XYZ with Y = 1 of every emitter (or every n-th), shape (n, 3): its channel's, or by its CCT or its x and y."""
    if cavity.channel is not None:
        return np.array([channel_xyz(channel) for channel in cavity.channels])[cavity.channel[::every]]
    colours = np.column_stack([cavity.cct_k[::every], cavity.cie_xy[::every]])
    kinds = alike(colours)
    table = np.array(
        [
            planck_xyz(cct_k) if cct_k > 0 else xyz_of_chromaticity(float(x), float(y))
            for cct_k, x, y in colours[kinds.first]
        ]
    )
    return np.asarray(table[kinds.which])


def package_xyz(cavity: CavityLayout) -> FloatArray:
    """Colour of every emitter's package, shape (n, 3): of all channels that share its place, with Y = 1."""
    xyz = xyz_per_lumen(cavity)
    if len(cavity.channels) < 2:
        return xyz
    which = packages_of(cavity)[1]
    total = np.stack([np.bincount(which, xyz[:, axis] * cavity.flux_lm) for axis in range(3)], axis=1)[which]
    return np.where(total[:, 1:2] > 0, total / np.maximum(total[:, 1:2], 1e-12), xyz)


def packages_of(cavity: CavityLayout) -> tuple[IndexArray, IndexArray]:
    """Return the first emitter of every package, and of which package each is: channels that share a place are one."""
    channels, count = len(cavity.channels), cavity.emitter_count
    if channels < 2:
        return np.arange(count), np.arange(count)
    each = count // channels
    blocks = cavity.places_mm.reshape(channels, each, 3) if count == channels * each else None
    if blocks is not None and all(np.array_equal(blocks[0], block) for block in blocks[1:]):
        return np.arange(each), np.tile(np.arange(each), channels)
    _, first, which = np.unique(np.round(cavity.places_mm, 3), axis=0, return_index=True, return_inverse=True)
    return first, which.ravel()


def channels_of(cavity: CavityLayout) -> list[LitChannel]:
    """One channel for each colour that is driven or stands apart, the brightest first; many colours are not distinguished."""
    if cavity.channel is not None:
        return _driven(cavity, cavity.channel)
    colours = np.column_stack([cavity.cct_k, cavity.cie_xy])
    kinds = alike(colours)
    flux = np.bincount(kinds.which, cavity.flux_lm)
    xyz = xyz_per_lumen(cavity)
    found = []
    for index in np.argsort(-flux)[:_MOST_CHANNELS]:
        cct_k, x, y = (float(value) for value in colours[kinds.first[index]])
        words = (
            say("{cct} K, taken as a black body's colour", cct=Fixed(cct_k, "g"))
            if cct_k > 0
            else say("CIE x {x}, y {y}", x=Fixed(x, ".4f"), y=Fixed(y, ".4f"))
        )
        count = int(kinds.counts[index])
        name = say("1 emitter") if count == 1 else say("{count} emitters", count=count)
        found.append(
            LitChannel(
                name, cavity.level, float(flux[index]), xyz[kinds.first[index]], cct_k or None, words, int(index)
            )
        )
    return found


def _driven(cavity: CavityLayout, which: IndexArray) -> list[LitChannel]:
    found = []
    for index, channel in enumerate(cavity.channels):
        flux_lm = float(cavity.flux_lm[which == index].sum())
        found.append(
            LitChannel(
                channel.name,
                channel.level,
                flux_lm,
                channel_xyz(channel),
                channel.cct_k,
                colour_words(channel),
                channel.strip_index,
            )
        )
    return found


def colour_words(channel: Channel) -> Text:
    """Say what colour a channel was taken for."""
    if channel.cct_k is not None:
        return say("{cct} K, taken as a black body's colour", cct=Fixed(channel.cct_k, "g"))
    return say("band at {peak} nm, taken as an even band", peak=Fixed(channel.peak_nm or 0.0, "g"))
