"""Do the rows reach the rim, cut at their marks?"""

from functools import partial

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.standards import standard_of
from gauze.core.layout import panel_layout
from gauze.core.layout.model import Row
from gauze.core.layout.pieces import StripPiece
from gauze.core.lazy import Lazy
from gauze.core.words import Length, Percent, Text, say

GOOD_END_SHARE = 0.60  # luminance at the row's end over its middle; common practice, no source
_RIM_SHARE, _RIM_WIDTHS = (
    0.01,
    0.5,
)  # of the face's length and of its width: so near the rim the light at the end is read
FAIR_END_SHARE = 0.40  # common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the shortfall that the cut marks leave, by the light at the rim."""
    rows = panel_layout(evaluation.layout).rows
    gap_mm = max(max(row.start_gap_mm, row.end_gap_mm) for row in rows)
    share = _end_share(evaluation)
    state = end_state(evaluation, share)
    if gap_mm < 0.5:
        opening = say("Rows end on a cut mark at the margin")
    else:
        opening = say("Rows stop {gap} short of the margin", gap=Length(gap_mm))
    return [
        Finding(
            code="row ends",
            place="lay",
            state=state,
            sentence=say(
                "{opening}; the face there has {share} of the middle's light.", opening=opening, share=Percent(share)
            ),
            value=gap_mm,
            unit="mm",
            limit=None,
            figures=Lazy(partial(_figures, evaluation, gap_mm, share)),
            fixable=gap_mm >= 0.5,
        )
    ]


def end_state(evaluation: Evaluation, share: float) -> State:
    """Judge the light at the ends; for a lamp that nobody looks into it is only a note."""
    if standard_of(evaluation.design).key == "light_only":
        return State.NOTE
    return State.GOOD if share >= GOOD_END_SHARE else State.WATCH if share >= FAIR_END_SHARE else State.FAILS


def _end_share(evaluation: Evaluation) -> float:
    """Luminance at the rim over that in the middle of the rows, each averaged over the rows' middle part."""
    along_width = panel_layout(evaluation.layout).row_direction == "along_width"
    light = evaluation.luminance_cd_m2 if along_width else evaluation.luminance_cd_m2.T
    rows, columns = light.shape
    across = light[round(0.35 * rows) : max(round(0.65 * rows), round(0.35 * rows) + 1)].mean(axis=0)
    rim = int(_read_mm(evaluation) / _sides_mm(evaluation)[0] * columns)
    inner = float(across[round(0.42 * columns) : round(0.58 * columns)].mean())
    return float(min(across[rim], across[-1 - rim])) / inner if inner > 0 else 0.0


def _sides_mm(evaluation: Evaluation) -> tuple[float, float]:
    """Sides of the face along the rows and across them."""
    box = panel_layout(evaluation.layout).box
    along_width = panel_layout(evaluation.layout).row_direction == "along_width"
    return (box.width_mm, box.height_mm) if along_width else (box.height_mm, box.width_mm)


def _read_mm(evaluation: Evaluation) -> float:
    return read_from_rim_mm(*_sides_mm(evaluation))


def read_from_rim_mm(length_mm: float, width_mm: float) -> float:
    """How far from the rim the light at the end of a long face is read: what a builder sees as its end."""
    return min(_RIM_SHARE * length_mm, _RIM_WIDTHS * width_mm)


def _figures(evaluation: Evaluation, gap_mm: float, share: float) -> tuple[Figure, ...]:
    figures = []
    rows = panel_layout(evaluation.layout).rows
    for index in sorted({row.strip_index for row in rows}):
        row = next(row for row in rows if row.strip_index == index)
        figures.append(cut_figure(say("Row of {name}", name=row.strip.name), row))
    figures.append(Figure(say("Shortfall"), Length(gap_mm), say("end margin to the end of the strip, the worse end")))
    figures.append(end_light_figure(share, _read_mm(evaluation)))
    return tuple(figures)


def cut_figure(name: Text, piece: Row | StripPiece) -> Figure:
    """How long a row or piece is by its cut marks, and what one segment more would need."""
    segment_mm = piece.strip.segment_mm
    return Figure(
        name,
        say("{segments} segments = {length}", segments=piece.segments, length=Length(piece.length_mm)),
        say(
            "cut every {segment}; one more would need {more} more",
            segment=Length(segment_mm),
            more=Length(segment_mm - piece.start_gap_mm - piece.end_gap_mm),
        ),
        say("segment: typical"),
    )


def end_light_figure(share: float, read_mm: float) -> Figure:
    """The light at the end of a long face, and where it was read."""
    return Figure(
        say("Light at the end"),
        Percent(share),
        say(
            "luminance {read} from the end over the middle's; {good} is good",
            read=Length(read_mm),
            good=Percent(GOOD_END_SHARE),
        ),
        say("limit: common practice, no source"),
    )
