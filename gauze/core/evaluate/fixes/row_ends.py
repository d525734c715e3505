"""Ways to make rows end at the rim: fit the face to the strip, or add a segment."""

from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.words import Length, say


def fit_face(trial: Trial) -> Fix | None:
    """Make the face just as long as the rows are, margins as they are: nothing is cut off its mark."""
    build, layout = trial.design.panel, trial.layout
    longest_mm = max(row.length_mm for row in layout.rows)
    size_mm = round(longest_mm + 2 * build.end_margin_mm, 3)
    along_width = build.row_direction == "along_width"
    field = "face_width_mm" if along_width else "face_height_mm"
    evaluation = trial.attempt(trial.changed(**{field: size_mm}))
    if evaluation is None:
        return None
    size = Length(size_mm)
    title = say("Face width {size}", size=size) if along_width else say("Face height {size}", size=size)
    return trial.fix(title, evaluation)


def one_more_segment(trial: Trial) -> Fix | None:
    """Shrink the end margin until one more segment fits, where the wall leaves room for it."""
    build, layout = trial.design.panel, trial.layout
    if build.whole_piece_mm is not None:
        return None
    row = min(layout.rows, key=lambda row: row.length_mm)
    margin_mm = (build.row_extent_mm - row.length_mm - row.strip.segment_mm) / 2
    if margin_mm < 0:
        return None
    evaluation = trial.attempt(trial.changed(end_margin_mm=int(margin_mm * 1000) / 1000))
    if evaluation is None:
        return None
    return trial.fix(say("One more segment, end margin {margin}", margin=Length(margin_mm)), evaluation)
