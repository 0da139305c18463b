"""Find single texts among many: by a mark of each that is worked out once, quicker than looking
through them all.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Arrow

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["Finder"]

# bytes of a text at each of the places that its mark is made of: its beginning, two in its midst,
# its end
WIDTH = 8
BITS = 16
# odd
_FACTORS = (
    0x9E3779B97F4A7C15,
    0xC2B2AE3D27D4EB4F,
    0x165667B19E3779F9,
    0x27D4EB2F165667C5,
    0x85EBCA77C2B2AE63,
)
_ALL = (1 << 64) - 1


class Finder:
    """Distinct texts by their marks; texts with one mark are told apart by comparing them.

    Args:
        values: An Arrow string array without nulls, of distinct texts.

    >>> import pyarrow as pa
    >>> finder = Finder(pa.array(["a", "", "long enough to have a middle"]))
    >>> finder.find("long enough to have a middle"), finder.find(""), finder.find("b")
    (2, 1, -1)
    """

    def __init__(self, values: Arrow) -> None:
        self._values = values
        self._marks = _marks(values)
        # By the first bits of their marks: whoever looks for a text looks at few places only.
        group = (self._marks >> np.uint64(64 - BITS)).astype(np.uint16)
        self._order = np.argsort(group, kind="stable")
        self._starts = np.concatenate([[0], np.cumsum(np.bincount(group, minlength=1 << BITS))])

    def __len__(self) -> int:
        return len(self._values)

    def find(self, text: str) -> int:
        """Return the place of a text, -1 when it is not there."""
        mark = _mark(text.encode())
        start, stop = self._starts[mark >> (64 - BITS)], self._starts[(mark >> (64 - BITS)) + 1]
        for place in self._order[start:stop].tolist():
            if self._marks[place] == mark and self._values[place].as_py() == text:
                return int(place)
        return -1


def _mark(text: bytes) -> int:
    size = len(text)
    places = (0, size // 4, size // 2, max(size - WIDTH, 0))
    numbers = [int.from_bytes(text[place : place + WIDTH], "little") for place in places]
    mark = size * _FACTORS[0]
    for number, factor in zip(numbers, _FACTORS[1:], strict=True):
        mark ^= number * factor
    return mark & _ALL


def _marks(values: Arrow) -> NDArray[np.uint64]:
    """Mark texts, each by nothing but itself: what `_mark` gives for each."""
    if not len(values):
        return np.zeros(0, np.uint64)
    _, places, data = values.buffers()
    offsets = np.frombuffer(places, np.int32)[
        values.offset : values.offset + len(values) + 1
    ].astype(np.int64)
    letters = np.frombuffer(data, np.uint8) if data is not None else np.zeros(0, np.uint8)
    around = np.zeros(int(offsets[-1] - offsets[0]) + WIDTH, np.uint8)
    around[: len(around) - WIDTH] = letters[offsets[0] : offsets[-1]]
    # the bytes from each place on
    windows = np.ndarray((len(around) - WIDTH + 1,), "<u8", around, strides=(1,))
    starts, sizes = offsets[:-1] - offsets[0], np.diff(offsets)
    made = sizes.astype(np.uint64) * np.uint64(_FACTORS[0])
    for place, factor in zip(
        (0, sizes // 4, sizes // 2, np.maximum(sizes - WIDTH, 0)), _FACTORS[1:], strict=True
    ):
        window = windows[starts + place]
        short = np.flatnonzero(sizes - place < WIDTH)  # what lies beyond the text does not count
        kept = (8 * (sizes - place)[short]).astype(np.uint64)
        window[short] &= (np.uint64(1) << kept) - np.uint64(1)
        made ^= window * np.uint64(factor)
    return made
