"""Which rows of a table are alike, for tables so long that comparing row by row takes too long."""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray

# odd numbers by which columns are multiplied before they are added up, wrapping round: rows that differ have other sums, except
# for one pair in 10^19
_FACTORS = np.random.default_rng(20).integers(1, 2**62, 32, dtype=np.int64) * 2 + 1


@dataclass(frozen=True)
class Alike:
    """Distinct rows: the first of each kind, the kind of each row, how many each kind has."""

    first: IndexArray
    which: IndexArray
    counts: IndexArray


def alike(key: FloatArray) -> Alike:
    """Number the kinds of rows of whole numbers (or of numbers rounded to be compared), shape (n, up to 32)."""
    whole = np.ascontiguousarray(np.asarray(key, float) + 0.0).view(np.int64)  # bit for bit; + 0.0 makes -0 and 0 one
    with np.errstate(over="ignore"):
        mixed = (whole ^ (whole >> 29)) * _FACTORS[: key.shape[1]]
        total = (mixed ^ (mixed >> 32)).sum(axis=1)
    _, first, which, counts = np.unique(total, return_index=True, return_inverse=True, return_counts=True)
    return Alike(first, which.ravel(), counts)
