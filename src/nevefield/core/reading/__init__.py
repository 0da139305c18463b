"""Bytes in, a Table and a Reading out."""

from nevefield.core.reading.keeping import (
    keep_without_people,
    keep_without_secrets,
    read_kept,
)
from nevefield.core.reading.reading import Reading, ReadingChoice, read_file

__all__ = [
    "Reading",
    "ReadingChoice",
    "keep_without_people",
    "keep_without_secrets",
    "read_file",
    "read_kept",
]
