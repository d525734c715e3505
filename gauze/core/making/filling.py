"""What fits into one bar: the pattern of the most worth, and all that are worth enough."""

from collections.abc import Iterator, Sequence

import numpy as np

from gauze.core.layout.model import FloatArray

TINY = 1e-7


def fitting(room: float, size: float, most: int) -> int:
    """How many pieces of a size fit, ``most`` at most; of one that is lost in rounding, all."""
    return min(int((room + TINY) // size), most) if size > TINY else most


def fullest(room: float, sizes: FloatArray, worth: FloatArray, counts: FloatArray) -> tuple[float, tuple[int, ...]]:
    """The pattern of the most worth that fits, by branch and bound: best worth for its size first."""
    order = np.argsort(-worth / np.maximum(sizes, 1e-12), kind="stable")
    size, value, most = sizes[order].tolist(), worth[order].tolist(), counts[order].astype(int).tolist()
    best: tuple[float, list[int]] = (0.0, [0] * len(size))
    now = [0] * len(size)

    def deeper(at: int, left: float, gained: float) -> None:
        nonlocal best
        if gained > best[0] + 1e-12:
            best = gained, now.copy()
        if at == len(size) or value[at] <= 0.0 or gained + value[at] / max(size[at], 1e-12) * left <= best[0] + 1e-12:
            return
        fits = fitting(left, size[at], most[at])
        for count in range(fits, -1, -1):
            now[at] = count
            deeper(at + 1, left - count * size[at], gained + count * value[at])
        now[at] = 0

    deeper(0, room, 0.0)
    found = [0] * len(size)
    for place, count in zip(order.tolist(), best[1], strict=True):
        found[place] = count
    return best[0], tuple(found)


def full_patterns(
    room: float, sizes: Sequence[float], most: Sequence[int], worth: Sequence[float], least: float
) -> Iterator[tuple[int, ...]]:
    """Every pattern to which no further wanted piece could be added, and that is worth at least so much."""
    order = sorted(range(len(sizes)), key=lambda which: -worth[which] / max(sizes[which], 1e-12))
    counts = [0] * len(sizes)
    ratio = [worth[which] / max(sizes[which], 1e-12) for which in order]

    def deeper(at: int, left: float, gained: float) -> Iterator[tuple[int, ...]]:
        if at == len(order):
            if gained >= least and all(
                counts[which] >= most[which] or sizes[which] > left + TINY for which in range(len(sizes))
            ):
                yield tuple(counts)
            return
        if gained + max(ratio[at], 0.0) * left < least:
            return
        which = order[at]
        fits = fitting(left, sizes[which], most[which])
        for count in range(fits, -1, -1):
            counts[which] = count
            yield from deeper(at + 1, left - count * sizes[which], gained + count * worth[which])
        counts[which] = 0

    yield from deeper(0, room, 0.0)
