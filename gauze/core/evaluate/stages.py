"""A design through all stages: layout, network, warmth, light, judgement; each kept by what it depends on."""

from collections.abc import Callable
from dataclasses import replace

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.electrical.network import Network, network_of
from gauze.core.electrical.power import Power
from gauze.core.errors import pausing
from gauze.core.evaluate.dimmed import dimmed
from gauze.core.evaluate.evaluation import AT_REST, Detail, Evaluation, FaceLight, camera_limit, target_plane
from gauze.core.evaluate.light.box import light_rows
from gauze.core.evaluate.light.cavity import CavityFaceLight, light_cavity_build, standing_in
from gauze.core.evaluate.light.group import GroupFaceLight, light_group
from gauze.core.evaluate.pictures import Lit, forget_pictures, is_fed_as, keep_picture, picture_of
from gauze.core.evaluate.recent import Recent
from gauze.core.evaluate.shown import Shown, light_and_shown, show_pixels, shown_in_cells
from gauze.core.families import family_of, lay_out, parts_of
from gauze.core.layout import Layout
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.materials import Catalogue
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.kernel.parallel import both
from gauze.core.optics.target import TargetMap
from gauze.core.optics.visibility import dot_visibility
from gauze.core.parts.flux import ALL_ONE, FluxFactors
from gauze.core.thermal.warming import BuildWarmth, warmth_of_build

_MOST_KEPT = 3  # lights of designs at rest: as it is, as it was before an undo, another beside it

_LIGHTS: Recent[Lit] = Recent(_MOST_KEPT)
_NETWORKS: Recent[Network] = Recent(_MOST_KEPT)
_WARMTHS: Recent[BuildWarmth | None] = Recent(_MOST_KEPT)


def evaluate(
    design: Design,
    catalogue: Catalogue,
    detail: Detail = AT_REST,
    cancelled: Callable[[], bool] = lambda: False,
    factors: FluxFactors = ALL_ONE,
    figures: Evaluation | None = None,
) -> Evaluation:
    """Lay a design out, solve its circuit, light it and judge it.

    ``factors`` are how much of its label's light each segment gives, where that is not to be what its wiring makes of it. What a
    change does not concern is not computed again: not the light when only the purpose, the name or a reading changed.
    Where only a picture is wanted ``figures`` of a design nearly alike stand in for all that the picture does not show, if it has
    the same pieces, wired alike in the same surroundings: circuit, warmth, target, ripples.

    Raises
    ------
    DesignError
        When the design is invalid.
    Cancelled
        When ``cancelled()`` says so between two steps.
    """
    laid = lay_out(design, catalogue)
    if figures is not None and not is_fed_as(design, laid, figures):
        figures = None
    network = network_for(design, laid, catalogue) if figures is None else figures.network
    warmth = warmth_for(design, laid, network) if figures is None else figures.warmth
    if factors:
        network = replace(network, factors=factors)
    own_factors = factors or _factors(network, warmth)
    if figures is None:
        layout, light, shown = lit = _light(design, laid, catalogue, detail, own_factors, cancelled)
        if detail.in_motion:
            keep_picture(design, lit)
    else:
        layout, light, shown = _picture(design, laid, catalogue, detail, own_factors, cancelled, figures)
    target = figures.target if figures is not None else _target(design, light, detail)
    return Evaluation(
        design=design,
        catalogue=catalogue_of(design, catalogue),
        detail=detail,
        layout=layout,
        network=network,
        light=light,
        dots=dot_visibility(list(light.ripples), light.evenness.mean_cd_m2, light.size_mm, camera_limit(design)),
        target=target,
        shown=shown,
        warmth=warmth,
    )


def _target(design: Design, light: FaceLight, detail: Detail) -> TargetMap:
    """Light on the target; at rest the ripples are sought beside it, which then are known."""

    def lit() -> TargetMap:
        return light.target_map(target_plane(design), detail.target_points)

    return lit() if detail.in_motion else both(lit, lambda: light.ripples)[0]


def is_kept(design: Design, catalogue: Catalogue) -> bool:
    """Whether the exact light of a design is known: evaluating it at rest costs nothing then."""
    if not _LIGHTS.begins_with((design.build, design.own_diffusers, design.own_lamps, catalogue)):
        return False  # whatever the circuit may be, which takes its time
    factors = ALL_ONE
    if design.wiring is not None or design.surroundings is not None:
        laid = lay_out(design, catalogue)
        network = network_for(design, laid, catalogue)
        factors = _factors(network, warmth_for(design, laid, network))
    return _LIGHTS.knows((design.build, design.own_diffusers, design.own_lamps, catalogue, factors))


def network_for(design: Design, laid: Layout, catalogue: Catalogue) -> Network:
    """Return the circuit of a laid-out design, kept while its pieces and its wiring stay as they are."""
    depends_on = (laid.pieces, design.wiring, design.measured_row_current_a, catalogue)

    def make() -> Network:
        joints = parts_of(design, laid, catalogue).joints
        return network_of(laid.pieces, joints, design.wiring, catalogue.supply_ratings_w, design.measured_row_current_a)

    return _NETWORKS.get(depends_on, make)


def warmth_for(design: Design, laid: Layout, network: Network) -> BuildWarmth | None:
    """Return how warm a laid-out design gets: where the builder says that it stands, or where such a one usually does."""
    if network.power is None:
        return None
    family = family_of(design)
    surroundings = design.surroundings or family.usual_surroundings
    chosen = design.surroundings is not None
    depends_on = (design.build, design.own_lamps, design.wiring, surroundings, chosen)
    powers = network.power.pieces
    return _WARMTHS.get(
        depends_on, lambda: warmth_of_build(laid, powers, family.body_kind, surroundings, chosen=chosen)
    )


def computed_for_drawing(design: Design, laid: Layout, catalogue: Catalogue) -> tuple[Power | None, BuildWarmth | None]:
    """Return what a drawing shows over the plan: volts and amps where the wiring is chosen, warmth where the surroundings are."""
    network = network_for(design, laid, catalogue)
    power = network.power if design.wiring is not None else None
    return power, warmth_for(design, laid, network) if design.surroundings is not None else None


def _factors(network: Network, warmth: BuildWarmth | None) -> FluxFactors:
    """What volts and warmth leave of the light; warmth counts once the builder has said where the build stands."""
    if warmth is None or network.power is None or not warmth.chosen:
        return network.factors
    return warmth.factors(network.factors, network.power.pieces)


def forget_lights() -> None:
    """Drop the lights that are kept, as a benchmark wants it."""
    _LIGHTS.clear()
    _NETWORKS.clear()
    _WARMTHS.clear()
    forget_pictures()


def _light(
    design: Design,
    laid: Layout,
    catalogue: Catalogue,
    detail: Detail,
    factors: FluxFactors,
    cancelled: Callable[[], bool],
) -> Lit:
    def make() -> Lit:
        return _lit(design, dimmed(laid, factors), catalogue, detail, cancelled)

    if detail != AT_REST:
        return make()  # of a drag nothing is asked for twice
    return _LIGHTS.get((design.build, design.own_diffusers, design.own_lamps, catalogue, factors), make)


def _picture(
    design: Design,
    laid: Layout,
    catalogue: Catalogue,
    detail: Detail,
    factors: FluxFactors,
    cancelled: Callable[[], bool],
    figures: Evaluation,
) -> Lit:
    """What is seen of a design, with the figures of one nearly alike; while a hand drags it may be mixed from two others."""

    def light(some: Design, layout: Layout) -> Lit:
        return _lit(some, layout, catalogue, detail, cancelled, figures.light)

    def lay(some: Design) -> Layout | None:
        other = lay_out(some, catalogue)
        return dimmed(other, factors) if is_fed_as(some, other, figures) else None

    layout = dimmed(laid, factors)
    return picture_of(design, layout, light, lay) if detail.in_motion else light(design, layout)


def _lit(
    design: Design,
    layout: Layout,
    catalogue: Catalogue,
    detail: Detail,
    cancelled: Callable[[], bool],
    known: FaceLight | None = None,
) -> Lit:
    own = catalogue_of(design, catalogue)

    def show(light: FaceLight, face: CavityFace | None) -> Shown | None:
        return show_pixels(layout.as_kind(DisplayLayout), light, face, detail, cancelled)

    if isinstance(known, CavityFaceLight):
        face = shown_in_cells(layout, design.build.layers, own, detail, cancelled)
        if face is not None:  # with every pixel on it is judged, which can wait
            stand_in = standing_in(layout, face, known)
            return layout, stand_in, show(stand_in, face)
    light, shown_face = light_and_shown(
        lambda: light_of(design, layout, catalogue, detail, cancelled, known),
        (layout, design.build.layers, own, detail, cancelled),
    )
    return layout, light, show(light, shown_face) if layout.shows_picture else None


def light_of(
    design: Design,
    layout: Layout,
    catalogue: Catalogue,
    detail: Detail,
    cancelled: Callable[[], bool],
    known: FaceLight | None = None,
) -> FaceLight:
    """Light a laid-out design in the way that its layout asks for; raises as :func:`evaluate`.

    ``known`` is the light of a design nearly alike, from which is taken what only figures are made of.
    """
    own, layers = catalogue_of(design, catalogue), design.build.layers
    if layout.rows_in_box is not None:
        return light_rows(layout.rows_in_box, own.sheet(layers), detail, cancelled)
    pause = pausing(cancelled)
    if layout.instances:
        return light_group(layout, layers, own, detail, pause, known if isinstance(known, GroupFaceLight) else None)
    of_cavity = known if isinstance(known, CavityFaceLight) else None
    return light_cavity_build(layout, layers, own, detail, pause, of_cavity)
