"""How much is little: up to here an edit is followed piece by piece; beyond, the whole is made
anew.

They are read where they are used, so that tests can make them small and walk both ways.
"""

from __future__ import annotations

__all__ = ["EDITS", "PAIRS", "ROOM", "ROWS", "SINGLE", "TEXTS", "VALUES"]

ROWS = 1_000  # edited rows that are made anew apart
EDITS = 400  # one after the other that are remembered
SINGLE = 8  # rows, texts, keys or records that are looked for one by one, without a table of all
TEXTS = 64  # distinct texts of a column that are no burden to look through
PAIRS = 200  # of rows and records that are compared one by one though some share their values
VALUES = 4_096  # that edits may add to columns before rows are numbered anew
ROOM = 1 << 16  # characters and texts that a growing column has room for beyond those at hand
