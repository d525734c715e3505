"""How much of its label's light every segment gives: what the network makes of volts and warmth, 1 where nothing is given."""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import ArrayLike

from gauze.core.layout.model import FloatArray, IndexArray


class FluxFactors:
    """Factors by the id of a piece, for each of its segments and channels.

    A value has shape (segments, channels); one row holds for all segments, one column for all channels, a number for both. What
    is not named has a factor of 1.
    """

    def __init__(self, by_piece: Mapping[str, ArrayLike] | None = None) -> None:
        self._by_piece = {name: np.atleast_2d(np.asarray(values, float)) for name, values in (by_piece or {}).items()}
        self._key = tuple((name, values.shape, values.tobytes()) for name, values in sorted(self._by_piece.items()))

    def __bool__(self) -> bool:
        """Whether any piece is named."""
        return bool(self._by_piece)

    def __eq__(self, other: object) -> bool:
        """Whether all factors are the same."""
        return isinstance(other, FluxFactors) and self._key == other._key

    def __hash__(self) -> int:
        """Agree with equality."""
        return hash(self._key)

    def of(self, piece_id: str, segments: IndexArray, channels: IndexArray) -> FloatArray | None:
        """Return factors at segments and channels of a piece, numbered alike, shape (n,); None where all are 1."""
        values = self._by_piece.get(piece_id)
        if values is None:
            return None
        rows, columns = values.shape
        return np.asarray(values[segments if rows > 1 else 0 * segments, channels if columns > 1 else 0 * channels])

    def of_emitters(
        self,
        pieces: Sequence[tuple[str, int]],
        piece: IndexArray,
        segment: IndexArray,
        channel: IndexArray,
    ) -> FloatArray | None:
        """Return the factor of every emitter, shape (n,); None where all are 1.

        Parameters
        ----------
        pieces:
            Id of each piece, and the number of its segment that is the first one here.
        piece, segment, channel:
            Of which piece, segment and channel each emitter is, shape (n,).
        """
        factors = np.ones(len(piece))
        named = [index for index, (piece_id, _) in enumerate(pieces) if piece_id in self._by_piece]
        for index in named:
            mine = np.flatnonzero(piece == index)
            piece_id, first = pieces[index]
            found = self.of(piece_id, segment[mine] + first, channel[mine])
            if found is not None:
                factors[mine] = found
        return None if not named or bool((factors == 1.0).all()) else factors


ALL_ONE = FluxFactors()
