"""Texts that grow at their end without being copied: what makes one edited cell of a large
column cheap.
"""

from __future__ import annotations

import threading

import numpy as np
import pyarrow as pa

from nevefield.core.borders import Arrow
from nevefield.core.edits import limits

__all__ = ["Growing"]


class Growing:
    """An Arrow string array's buffers with room behind them.

    Arrays made of it share the buffers: what one of them holds is never written to again, only what
    lies behind it. When two edits of one column go on from the same array, the second takes buffers
    of its own.

    Args:
        values: The array to begin with, without nulls.

    >>> first = pa.array(["a", "b"])
    >>> growing = Growing(first)
    >>> second = growing.append(first, ["c"])
    >>> growing.append(first, ["d"]) is None, second.to_pylist()
    (True, ['a', 'b', 'c'])
    """

    def __init__(self, values: Arrow) -> None:
        offsets = np.frombuffer(values.buffers()[1], np.int32)[
            values.offset : values.offset + len(values) + 1
        ]
        first, last = int(offsets[0]), int(offsets[-1])
        data = values.buffers()[2]
        self._offsets = np.empty(len(values) + 1 + limits.ROOM, np.int32)
        self._offsets[: len(offsets)] = offsets - first
        self._data = np.empty(last - first + limits.ROOM, np.uint8)
        if last > first:
            self._data[: last - first] = np.frombuffer(data, np.uint8)[first:last]
        self._count, self._lock = len(values), threading.Lock()
        self.values = self._array(len(values))

    def append(self, values: Arrow, texts: list[str]) -> Arrow | None:
        """Put texts behind an array made of these buffers.

        Args:
            values: The array.
            texts: Not in it.

        Returns:
            The array with them; None where something else stands behind it already, or there is no
            room.
        """
        written = [text.encode() for text in texts]
        with self._lock:
            start = int(self._offsets[self._count])
            sizes = np.cumsum([len(one) for one in written])
            room = start + int(sizes[-1]) <= len(self._data) and self._count + len(texts) < len(
                self._offsets
            )
            if len(values) != self._count or not room:
                return None
            self._data[start : start + int(sizes[-1])] = np.frombuffer(b"".join(written), np.uint8)
            self._offsets[self._count + 1 : self._count + 1 + len(texts)] = start + sizes
            self._count += len(texts)
            return self._array(self._count)

    def _array(self, count: int) -> Arrow:
        return pa.StringArray.from_buffers(
            count, pa.py_buffer(self._offsets), pa.py_buffer(self._data)
        )
