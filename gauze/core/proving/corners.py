"""Where the lit face lies in a photograph: its four corners, found to a part of a pixel, and how far its sides bow."""

import importlib
from dataclasses import dataclass
from typing import Any

import numpy as np

from gauze.core.errors import PhotoError
from gauze.core.layout.model import FloatArray
from gauze.core.proving.photograph import LUMINANCE, Photograph

_SEARCHED_PX = 1200  # longer side of the picture in which the face is looked for
_LEVEL = 0.3  # of the face's own level over what is around it, from which a pixel is taken as of the face
_LEAST_SHARE = 2e-4  # of the picture that a face takes
_SQUARE = 0.82  # of the area of its four corners that a face fills at least
_ALONG, _ACROSS = 64, 41  # places along a side where its edge is read, and samples across it
_AWAY = 0.06  # of a side, from its corners, that is not read
BOW_SEEN = 0.004  # of a side's length by which it bows before it counts as a lens's doing


@dataclass(frozen=True)
class Found:
    """Corners (4, 2) in pixels, the upper left first and then clockwise; and the edges read along each side, (n, 2) each.

    ``bow`` is the most by which a side bows outwards or inwards, over its length.
    """

    corners_px: FloatArray
    edges_px: tuple[FloatArray, ...]
    bow: float = 0.0


def find_corners(photo: Photograph) -> Found:
    """Find the face: the largest bright shape with four corners.

    Raises
    ------
    PhotoError
        When there is none.
    """
    cv2: Any = importlib.import_module("cv2")
    step = max(1, -(-max(photo.width_px, photo.height_px) // _SEARCHED_PX))
    small = _luminance(photo, step)
    mask = _face_mask(cv2, small)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    biggest = max(contours, key=cv2.contourArea, default=None)
    if biggest is None or cv2.contourArea(biggest) < _LEAST_SHARE * mask.size:
        raise PhotoError("No lit face was found in the picture: give its four corners.")
    rough = _four(cv2, cv2.convexHull(biggest))
    area = abs(_area(rough))
    if cv2.contourArea(biggest) < _SQUARE * area:
        raise PhotoError(
            "The lit shape in the picture does not have four corners: give them, or photograph the face alone."
        )
    return refined(photo, (rough + 0.5) * step - 0.5)


def _luminance(photo: Photograph, step: int) -> Any:
    """Luminance of every so many pixels."""
    return photo.light(slice(None, None, step), slice(None, None, step)) @ LUMINANCE


def _face_mask(cv2: Any, small: Any) -> Any:
    smooth = cv2.GaussianBlur(small, (0, 0), 1.2)
    peak = float(np.percentile(smooth, 99.8))
    if peak <= 0.0:
        raise PhotoError("The picture is black: take it again, with more light on the sensor.")
    eight = np.clip(np.sqrt(smooth / peak) * 255.0, 0, 255).astype(np.uint8)
    level, first = cv2.threshold(eight, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    bright, dark = smooth[first > 0], smooth[first == 0]
    if not bright.size or not dark.size or float(np.median(bright)) < 1.5 * float(np.median(dark)):
        raise PhotoError("No lit face could be found in the picture: mark its four corners.")
    del level
    base = float(np.median(dark))
    limit = base + _LEVEL * (float(np.median(bright)) - base)
    mask = (smooth > limit).astype(np.uint8)
    return cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))


def _four(cv2: Any, hull: Any) -> FloatArray:
    """Four corners of a hull: approximated more and more coarsely, the upper left one first, then clockwise."""
    around = cv2.arcLength(hull, True)
    for share in np.geomspace(0.004, 0.12, 40):
        points = cv2.approxPolyDP(hull, share * around, True)[:, 0, :].astype(float)
        if len(points) <= 4:
            break
    if len(points) != 4:
        raise PhotoError(
            "The lit shape in the picture does not have four corners: give them, or photograph the face alone."
        )
    return ordered(points)


def ordered(points: FloatArray) -> FloatArray:
    """Corners clockwise as they are seen (y downwards), the upper left one first."""
    middle = points.mean(axis=0)
    angle = np.arctan2(points[:, 1] - middle[1], points[:, 0] - middle[0])
    around = points[np.argsort(angle)]
    return np.roll(around, -int(np.argmin(around.sum(axis=1))), axis=0)


def _area(points: FloatArray) -> float:
    x, y = points.T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2.0


def check_corners(corners_px: FloatArray, width_px: int, height_px: int) -> None:
    """Check corners that were given; raises :class:`PhotoError` when they cross, lie on a line, or are far off the picture."""
    if not np.isfinite(corners_px).all():
        raise PhotoError("A corner is not a number: give four pairs of pixels.")
    if (corners_px < -0.25 * max(width_px, height_px)).any() or (
        corners_px > 1.25 * np.array([width_px, height_px])
    ).any():
        raise PhotoError("A corner is far outside the picture: give pixels of the upright picture.")
    following = np.roll(corners_px, -1, axis=0) - corners_px
    turn = (
        following[:, 0] * np.roll(following, -1, axis=0)[:, 1] - following[:, 1] * np.roll(following, -1, axis=0)[:, 0]
    )
    if not (turn > 1.0).all():
        raise PhotoError("The corners cross: give the upper left of the face first, then clockwise.")


def refined(photo: Photograph, rough_px: FloatArray) -> Found:
    """Read the edges of the face near rough corners where its light falls to half, and let them meet in the corners."""
    edges = tuple(_edge(photo, rough_px[side], rough_px[(side + 1) % 4], rough_px.mean(axis=0)) for side in range(4))
    if any(len(one) < _ALONG // 3 for one in edges):
        return Found(rough_px, edges)
    curves = [_curve(edge, rough_px[side], rough_px[(side + 1) % 4]) for side, edge in enumerate(edges)]
    corners = np.array([_meet(curves[side - 1], curves[side], rough_px[side]) for side in range(4)])
    moved = np.hypot(*(corners - rough_px).T)
    reach = 0.08 * np.sqrt(abs(_area(rough_px)))
    lengths = np.hypot(*(np.roll(rough_px, -1, axis=0) - rough_px).T)
    bow = max(abs(curve[2][2]) * long / 4.0 for curve, long in zip(curves, lengths, strict=True))
    return Found(np.where((moved < reach)[:, None], corners, rough_px), edges, float(bow))


_Curve = tuple[
    FloatArray, FloatArray, FloatArray
]  # a start, a direction of unit length, and a polynomial of the distance from it


def _curve(edge: FloatArray, start: FloatArray, end: FloatArray) -> _Curve:
    """A parabola along a side, fitted twice, the second time without what lies far off."""
    along = (end - start) / float(np.hypot(*(end - start)))
    across = np.array([-along[1], along[0]])
    at, off = (edge - start) @ along, (edge - start) @ across
    keep = np.ones(len(at), bool)
    fitted = np.zeros(3)
    for _ in range(2):
        fitted = np.polynomial.polynomial.polyfit(at[keep], off[keep], 2)
        left = off - np.polynomial.polynomial.polyval(at, fitted)
        keep = np.abs(left) <= max(3.0 * float(np.median(np.abs(left))), 0.25)
    return start, along, fitted


def _meet(one: _Curve, other: _Curve, near: FloatArray) -> FloatArray:
    """Where two curved sides meet: found by going from one to the other until nothing moves."""
    point = near
    for _ in range(20):
        lines = []
        for start, along, fitted in (one, other):
            at = float((point - start) @ along)
            off = float(np.polynomial.polynomial.polyval(at, fitted))
            slope = float(np.polynomial.polynomial.polyval(at, np.polynomial.polynomial.polyder(fitted)))
            across = np.array([-along[1], along[0]])
            lines.append((start + at * along + off * across, along + slope * across))
        (p, u), (q, v) = lines
        turn = u[0] * v[1] - u[1] * v[0]
        if abs(turn) < 1e-9:
            return near
        step = ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / turn
        point = p + step * u
    return point


def _edge(photo: Photograph, start: FloatArray, end: FloatArray, middle: FloatArray) -> FloatArray:
    """Places along a side where the luminance crosses the middle between inside and outside, (n, 2)."""
    cv2: Any = importlib.import_module("cv2")
    length = float(np.hypot(*(end - start)))
    along = (end - start) / max(length, 1e-9)
    inwards = np.array([-along[1], along[0]])
    if (middle - start) @ inwards < 0:
        inwards = -inwards
    reach = float(np.clip(0.02 * length, 4.0, 60.0))
    share = np.linspace(_AWAY, 1.0 - _AWAY, _ALONG)
    deep = np.linspace(-reach, reach, _ACROSS)
    points = start + (share * length)[:, None, None] * along + deep[None, :, None] * inwards
    low = np.floor(points.reshape(-1, 2).min(axis=0)).astype(int) - 2
    high = np.ceil(points.reshape(-1, 2).max(axis=0)).astype(int) + 3
    low, high = np.maximum(low, 0), np.minimum(high, [photo.width_px, photo.height_px])
    if (high - low < 3).any():
        return np.zeros((0, 2))
    part = photo.light(slice(low[1], high[1]), slice(low[0], high[0])) @ LUMINANCE
    local = (points - low).astype(np.float32)
    smooth = cv2.GaussianBlur(np.ascontiguousarray(part, np.float32), (0, 0), 0.8)
    read = cv2.remap(smooth, local[:, :, 0], local[:, :, 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    outside, inside = np.median(read[:, :6], axis=1), np.median(read[:, -8:], axis=1)
    level = (outside + inside) / 2.0
    found = []
    for row in range(_ALONG):
        if inside[row] <= 1.3 * outside[row]:
            continue
        above = np.flatnonzero((read[row, 1:] >= level[row]) & (read[row, :-1] < level[row]))
        if len(above):
            at = int(above[np.argmin(np.abs(above - _ACROSS // 2))])
            rise = read[row, at + 1] - read[row, at]
            part_of = (level[row] - read[row, at]) / max(float(rise), 1e-12)
            where = deep[at] + part_of * (deep[1] - deep[0])
            found.append(start + share[row] * length * along + where * inwards)
    return np.array(found).reshape(-1, 2)
