"""One strange file and what must be read from it."""

from __future__ import annotations

from dataclasses import dataclass
from textwrap import dedent

__all__ = ["Strange", "strange"]


@dataclass(frozen=True)
class Strange:
    """A file, and its table; or the sentence in which it is refused."""

    name: str
    data: bytes
    columns: tuple[str, ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    lines: tuple[int, ...] = ()  # of the rows, in the file
    header: int | None = None
    remark: str = ""  # a part of what the reading has to say of it
    refused: str = ""
    known: frozenset[str] = frozenset()  # what fields at hand are called

    def __str__(self) -> str:
        return self.name


def strange(
    name: str,
    file: str | bytes,
    table: str = "",
    *,
    encoding: str = "utf-8",
    header: int | None = None,
    remark: str = "",
    refused: str = "",
    known: str = "",
) -> Strange:
    """Write one down.

    Args:
        name: What it is called in the tests.
        file: Its text, indented as suits, or its bytes.
        table: The headings on the first line, then each row with its line in the file before a colon; cells between bars, ␤ for a line's end within one.
        encoding: Of the text.
        header: The header's line, where it matters.
        remark: Words of a remark.
        refused: The beginning of the refusal.
        known: Names of fields at hand, between bars.
    """
    data = file if isinstance(file, bytes) else dedent(file).lstrip("\n").encode(encoding)
    head, *rows = [line.strip(" ") for line in table.strip("\n ").split("\n")]
    parted = [row.partition(":") for row in rows]
    return Strange(
        name,
        data,
        tuple(head.split("|")) if table else (),
        tuple(
            tuple(cells.removeprefix(" ").replace("␤", "\n").split("|")) for _, _, cells in parted
        ),
        tuple(int(line) for line, _, _ in parted),
        header,
        remark,
        refused,
        frozenset(filter(None, known.split("|"))),
    )
