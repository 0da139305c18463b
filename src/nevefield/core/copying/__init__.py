"""The file of a copy: what is written is read back as it was, or told where it is damaged."""

from nevefield.core.copying.file import (
    CopyHead,
    Trailer,
    read_copy,
    read_head,
    write_copy,
)

__all__ = ["CopyHead", "Trailer", "read_copy", "read_head", "write_copy"]
