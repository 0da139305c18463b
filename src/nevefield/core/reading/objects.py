"""JSON: one object a line (JSON lines), or one list of objects; each object a row.

Numbers stay as they are written. A list of plain values is written with semicolons, any other nesting as JSON text.
"""

from __future__ import annotations

import json
import re
from json.decoder import JSONDecodeError
from typing import Any

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows

__all__ = ["looks_like_objects", "read_objects"]

_SPACES = " \t\r\n"
_HALF = re.compile(r"\\u[dD][89a-fA-F]")  # how a program writes half of a letter beyond 16 bits, or a whole one in two halves
_DECODER = json.JSONDecoder(parse_float=str, parse_int=str, parse_constant=str)


def looks_like_objects(text: str) -> bool:
    """Tell whether a text begins as JSON rows do: an object, or a list of objects."""
    head = text[:10_000].lstrip(_SPACES + "\ufeff")
    if head.startswith("["):
        head = head[1:].lstrip(_SPACES)
    return head.startswith(("{}", '{"')) or (head.startswith("{") and head[1:].lstrip(_SPACES).startswith(('"', "}")))


def read_objects(text: str) -> tuple[list[str], Rows]:
    """Read rows.

    Args:
        text: The decoded text.

    Returns:
        The keys as headings, in the order in which they first appear, and the rows, each with the line where its object begins.

    Raises:
        UnreadableFile: It is no JSON, or something else than objects; with the line.
    """
    place, line = 0, 1
    headings: dict[str, int] = {}
    found: list[dict[str, str]] = []
    lines: list[int] = []
    is_list = text.lstrip(_SPACES).startswith("[")
    while True:
        start = place
        while place < len(text) and text[place] in _SPACES + (",[]" if is_list else ""):
            place += 1
        line += text.count("\n", start, place)
        if place >= len(text):
            break
        try:
            one, end = _DECODER.raw_decode(text, place)
        except (JSONDecodeError, RecursionError) as error:
            reason = error.msg if isinstance(error, JSONDecodeError) else "too deeply nested"
            raise UnreadableFile(f"Line {line} is no JSON: {reason.casefold()}.", "Ask for the export again.") from error
        if not isinstance(one, dict):
            raise UnreadableFile(
                f"Line {line} is no JSON object; each row has to be one.", "Ask for one object a line, or a CSV file."
            )
        for key in one:
            headings.setdefault(key, len(headings))
        found.append({key: _text(value) for key, value in one.items()})
        lines.append(line)
        line += text.count("\n", place, end)
        place = end
    rows = [[row.get(key, "") for key in headings] for row in found]
    names, remarks = list(headings), []
    if _HALF.search(text):
        mended = [[_whole(cell) for cell in row] for row in [names, *rows]]
        if mended != [names, *rows]:
            remarks.append("The file has halves of letters, as programs leave them that cut texts; each is read as “\ufffd”.")
        names, *rows = mended
    return names, Rows(rows, lines, remarks)


def _whole(text: str) -> str:
    """Put a sign in place of half a letter (Unicode 15.0, section 3.9, D75: unpaired surrogates), which no file can hold."""
    return text if text.isascii() else text.encode("utf-16-le", "surrogatepass").decode("utf-16-le", "replace")


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return value
    if isinstance(value, list) and all(isinstance(one, str) for one in value):
        return ";".join(value)
    return json.dumps(value, ensure_ascii=False)
