"""Give memory back that is not used any more: what is large is asked of the system and returned
to it, from every thread.
"""

from __future__ import annotations

import ctypes

import pyarrow as pa

__all__ = ["give_back"]

_TRIM, _MMAP, _ARENAS = -1, -3, -8  # parameters of mallopt(3)
LARGE = 1 << 23  # bytes


def give_back() -> None:
    """Let Arrow take its memory from the system's allocator, and let that return what is large,
    where it can be told to.
    """
    pa.set_memory_pool(pa.system_memory_pool())
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:  # of glibc; others have no such thing
        for parameter, value in ((_TRIM, LARGE), (_MMAP, LARGE), (_ARENAS, 2)):
            mallopt(parameter, value)
