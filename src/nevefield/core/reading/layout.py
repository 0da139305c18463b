"""Our own request sheets told from other files, and what columns are called."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.texts import trim

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = ["ABOUT", "EXAMPLE", "MADE_FOR", "find_made_for", "name_columns"]

EXAMPLE = "e.g."  # what every cell of an example row in our request sheets begins with
ABOUT = "About this sheet"  # the sheet of a request workbook that says whom it was made for
MADE_FOR = "Request sheet made for "  # what says so begins with this
LONGEST_NAME = 120  # of a source


def find_made_for(texts: Sequence[str]) -> str:
    """Find whom a request sheet was made for, among the texts of its first lines; "" where none
    says so.

    >>> find_made_for(["", "Request sheet made for Harbour office"])
    'Harbour office'
    """
    said = (trim(text).removeprefix(MADE_FOR) for text in texts if trim(text).startswith(MADE_FOR))
    return next((name.rstrip(",;\t ")[:LONGEST_NAME] for name in said), "")


def name_columns(heading_row: Sequence[str] | None, width: int) -> list[str]:
    """Name the columns: the headings as written, "Column N" for none, " (2)" added to a doubled
    one.
    """
    names: list[str] = []
    taken: set[str] = set()
    for place in range(width):
        heading = heading_row[place] if heading_row is not None and place < len(heading_row) else ""
        name = heading if trim(heading) else f"Column {place + 1}"
        number = 2
        while name in taken:
            name, number = f"{heading or f'Column {place + 1}'} ({number})", number + 1
        taken.add(name)
        names.append(name)
    return names
