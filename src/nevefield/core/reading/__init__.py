"""Bytes in, a Table and a Reading out."""

from nevefield.core.reading.reading import Reading, ReadingChoice, read_file

__all__ = ["Reading", "ReadingChoice", "read_file"]
