"""This very design through one candidate: another sheet, or another strip."""

from collections.abc import Callable
from dataclasses import dataclass

from gauze.core.design import Design, StripChoice, with_build
from gauze.core.design.design import catalogue_of
from gauze.core.errors import DesignError
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.stages import evaluate
from gauze.core.materials import Catalogue, Layer, Strip

_DETAIL = Detail(fineness=1.0, most_pixels=40_000, target_points=1)  # as exact as the findings beside it


@dataclass(frozen=True)
class Candidate:
    """One candidate: its design, lit; or why it cannot be used here."""

    candidate_id: str
    name: str
    design: Design
    evaluation: Evaluation | None
    refusal: str


def light_candidate(
    design: Design,
    catalogue: Catalogue,
    kind: str,
    candidate_id: str,
    index: int,
    cancelled: Callable[[], bool],
) -> Candidate:
    """Light the design with a candidate in place of what it has.

    Parameters
    ----------
    kind:
        ``"diffuser"`` or ``"strip"``.
    index:
        Which of the design's layers or strips the candidate replaces.

    Raises
    ------
    Cancelled
        When ``cancelled()`` says so.
    """
    if kind == "diffuser":
        name = catalogue_of(design, catalogue).diffuser(candidate_id).name
        changed = with_build(design, diffuser=with_layer(design.build.layers, index, candidate_id))
    else:
        strip = catalogue_of(design, catalogue).strip(candidate_id)
        name = strip.name
        choices = list(design.strips)
        choices[index] = choice_for(strip, choices[index])
        changed = with_build(design, strips=tuple(choices))
    try:
        return Candidate(candidate_id, name, changed, evaluate(changed, catalogue, _DETAIL, cancelled), "")
    except DesignError as error:
        return Candidate(candidate_id, name, changed, None, str(error))


def with_layer(layers: tuple[Layer, ...], index: int, layer: Layer) -> Layer | tuple[Layer, ...]:
    """Put a layer in place of another; a single one is written as a plain name."""
    changed = (*layers[:index], layer, *layers[index + 1 :])
    return changed[0] if len(changed) == 1 else changed


NEUTRAL_CCT_K = 4000.0


def choice_for(strip: Strip, present: StripChoice) -> StripChoice:
    """Choose a strip at full level, in the present white or the nearest that it is sold in."""
    if strip.id == present.strip:
        return present
    if strip.white_cct_k is None:
        return StripChoice(strip=strip.id)
    least_k, most_k = strip.white_cct_k
    return StripChoice(strip=strip.id, cct_k=min(max(present.cct_k or NEUTRAL_CCT_K, float(least_k)), float(most_k)))
