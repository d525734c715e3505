"""A path of channel on the drawing: corners added, removed, moved."""

from functools import partial

import numpy as np

from gauze.core.design import Design, with_build
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.fields import as_many
from gauze.core.design.numbering import inserted, kept, numbers_of, without
from gauze.core.families.family import Change
from gauze.core.layout.sketch import MovableItem
from gauze.core.words import Text, say

Corner = tuple[float, float]


def with_corner_count(design: Design, count: float) -> Design:
    """Lengthen a path by sides that alternate left and right (closed: by pushing out its longest sides), or shorten it."""
    build = design.build_as(ChannelBar)
    corners = as_many(build.corners_mm, count, "build.corners_mm")[: len(build.corners_mm)]
    numbers = numbers_of(build.numbers, len(corners))
    while len(corners) < count:
        at = _longest_side(corners) + 1 if build.closed else len(corners)
        numbers = numbers_of(inserted(numbers, len(corners), at), len(corners) + 1)
        corners = _pushed_out(corners, at) if build.closed else (*corners, _turned_on(corners))
    return with_build(design, corners_mm=corners, numbers=kept(numbers))


def _turned_on(corners: tuple[Corner, ...]) -> Corner:
    """The end of a side as long as the last one, at a right angle to it, turned the other way than before."""
    points = np.array(corners)
    along = points[-1] - points[-2]
    before = points[-2] - points[-3] if len(points) > 2 else along
    turn = -1.0 if before[0] * along[1] - before[1] * along[0] > 0 else 1.0
    return _corner(points[-1] + turn * np.array([-along[1], along[0]]))


def _longest_side(corners: tuple[Corner, ...]) -> int:
    points = np.array(corners)
    return int(np.hypot(*(np.roll(points, -1, axis=0) - points).T).argmax())


def _pushed_out(corners: tuple[Corner, ...], at: int) -> tuple[Corner, ...]:
    """A closed path with one more corner at a number, a little outside the middle of the side there."""
    points = np.array(corners)
    middle = (points[at - 1] + points[at % len(points)]) / 2.0
    new = _corner(middle + 0.3 * (middle - points.mean(axis=0)))
    return (*corners[:at], new, *corners[at:])


def _corner(place_mm: np.ndarray) -> Corner:
    return round(float(place_mm[0]), 1), round(float(place_mm[1]), 1)


def corner_edits(design: Design, item: MovableItem) -> list[tuple[Text, Change]]:
    """A corner put in after this one, or this one taken out."""
    build, index = design.build_as(ChannelBar), item.index
    corners, numbers = build.corners_mm, build.numbers
    found: list[tuple[Text, Change]] = []
    if index + 1 < len(corners) or build.closed:
        following = corners[(index + 1) % len(corners)]
        beside = (
            round((corners[index][0] + following[0]) / 2.0 + 20.0, 1),
            round((corners[index][1] + following[1]) / 2.0 + 20.0, 1),
        )
        longer = (*corners[: index + 1], beside, *corners[index + 1 :])
        known = inserted(numbers, len(corners), index + 1)
        found.append((say("Insert corner"), partial(with_build, corners_mm=longer, numbers=known)))
    if len(corners) > (3 if build.closed else 2):
        shorter, known = (*corners[:index], *corners[index + 1 :]), without(numbers, len(corners), index)
        found.append((say("Remove corner"), partial(with_build, corners_mm=shorter, numbers=known)))
    return found


def with_corner_moved(design: Design, item: MovableItem, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with a corner moved from where it was drawn."""
    corners = list(design.build_as(ChannelBar).corners_mm)
    corners[item.index] = (round(item.x_mm + dx_mm, 1), round(item.y_mm + dy_mm, 1))
    return with_build(design, corners_mm=tuple(corners))
