"""JSON: one object a line (JSON lines), a list of objects or of lists, or a document in which such
a list lies; each a row.

Numbers stay as they are written. A list of plain values is written with semicolons, any other
nesting as JSON text.
"""

from __future__ import annotations

import json
import re
from dataclasses import dataclass, field
from json.decoder import JSONDecodeError
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.delimited import Rows

if TYPE_CHECKING:
    from collections.abc import Iterator

__all__ = ["looks_like_objects", "read_objects"]

_SPACES = " \t\r\n"
DEEPEST = 20  # levels at which rows are looked for
# how a program writes half of a letter beyond 16 bits, or a whole one in two halves
_HALF = re.compile(r"\\u[dD][89a-fA-F]")
_DECODER = json.JSONDecoder(parse_float=str, parse_int=str, parse_constant=str)


def looks_like_objects(text: str) -> bool:
    """Tell whether a text begins as JSON rows do: an object, or a list of objects or of lists."""
    head = text[:10_000].lstrip(_SPACES + "\ufeff")
    if head.startswith("["):
        head = head[1:].lstrip(_SPACES)
        if re.match(r'\[\s*(?:"|\]|null|true|false|-?\d)', head):
            return True
    return head.startswith(("{}", '{"')) or (
        head.startswith("{") and head[1:].lstrip(_SPACES).startswith(('"', "}"))
    )


def read_objects(text: str) -> tuple[list[str] | None, Rows]:
    """Read rows.

    Args:
        text: The decoded text.

    Returns:
        The keys as headings, in the order in which they first appear (None for rows that are
        lists), and the rows, each with the line where it begins. Of a document the longest list of
        objects in it is read, wherever it lies.

    Raises:
        UnreadableFile: It is no JSON, is cut off, or holds something else than objects; with the
            line.
    """
    found = _Walk(text).rows()
    if found.lists is not None:
        return None, Rows([_texts(row) for row in found.lists], found.lines, found.remarks)
    headings: dict[str, int] = {}
    for one in found.objects:
        for key in one:
            headings.setdefault(key, len(headings))
    values = [{key: _text(value) for key, value in one.items()} for one in found.objects]
    rows = [[row.get(key, "") for key in headings] for row in values]
    names, remarks = list(headings), found.remarks
    if _HALF.search(text):
        mended = [[_whole(cell) for cell in row] for row in [names, *rows]]
        if mended != [names, *rows]:
            remarks.append(
                "The file has halves of letters, as programs leave them that cut texts; each is"
                " read as “\ufffd”."
            )
        names, *rows = mended
    return names, Rows(rows, found.lines, remarks)


@dataclass
class _Found:
    objects: list[dict[str, Json]] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    lists: list[list[Json]] | None = None


class _Walk:
    """Goes through a text from value to value, and knows on which line it is."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.line, self.at = 1, 0  # a line, and the place up to which lines are counted

    def rows(self) -> _Found:
        start = self._skip(0, "")
        if self.text[start : start + 1] == "[":
            return self._list(start)
        one, end = self._value(start)
        if self._skip(end, "") >= len(self.text) and isinstance(one, dict):
            return self._document(one, start)
        return self._lines(start)

    def _skip(self, place: int, more: str) -> int:
        while place < len(self.text) and self.text[place] in _SPACES + more:
            place += 1
        return place

    def _line(self, place: int) -> int:
        self.line += self.text.count("\n", self.at, place)
        self.at = max(place, self.at)
        return self.line

    def _value(self, place: int) -> tuple[Json, int]:
        try:
            return _DECODER.raw_decode(self.text, place)
        except (JSONDecodeError, RecursionError) as error:
            bare = self.text.strip(_SPACES)
            is_whole = bare.startswith("[") or (bare.startswith("{") and place == self._skip(0, ""))
            if (
                isinstance(error, JSONDecodeError)
                and is_whole
                and error.pos >= len(self.text.rstrip(_SPACES))
            ):
                raise _cut_off() from error
            line = self._line(place)
            reason = error.msg if isinstance(error, JSONDecodeError) else "too deeply nested"
            raise UnreadableFile(
                f"Line {line} is no JSON: {reason.casefold()}.", "Ask for the export again."
            ) from error

    def _lines(self, place: int) -> _Found:
        """Read one object after the other, whatever spaces are between them."""
        found = _Found()
        while (place := self._skip(place, "")) < len(self.text):
            line = self._line(place)
            one, place = self._value(place)
            found.objects.append(_object(one, line))
            found.lines.append(line)
        return found

    def _list(self, start: int) -> _Found:
        """Read the values of a list; a list that does not end is cut off."""
        found = _Found()
        place = self._skip(start + 1, "")
        while place < len(self.text) and self.text[place] != "]":
            line = self._line(place)
            one, place = self._value(place)
            if isinstance(one, list) and not found.objects:
                found.lists = found.lists if found.lists is not None else []
                found.lists.append(one)
            elif found.lists is not None:
                raise UnreadableFile(
                    f"Line {line} is no list, as the rows before it are.",
                    "Ask for the export again.",
                )
            else:
                found.objects.append(_object(one, line))
            found.lines.append(line)
            place = self._skip(place, ",")
        if place >= len(self.text):
            raise _cut_off()
        return found

    def _document(self, document: dict[str, Json], start: int) -> _Found:
        """Read the rows of a document: its longest list of objects, or of lists with names
        beside; or itself, as one row.
        """
        path = _find_rows(document)
        if path is None:
            return _Found([document], [self._line(start)])
        holder: Json = document
        place = start
        for key in path:
            place = self._inside(place, key)
            holder = holder[key]
        messages = (
            [f"Read is what stands under “{'.'.join(path)}” in the document."] if path else []
        )
        if isinstance(holder, dict):
            found = _Found(remarks=messages)
            for begin, value, key in self._keys(place):
                line = self._line(begin)
                found.lines.append(line)
                found.objects.append({"key": key, **_object(self._value(value)[0], line)})
            return found
        found = self._list(place)
        found.remarks += messages
        if found.lists is not None:
            names = _names_beside(document, path, len(found.lists[0]))
            if names is not None:
                found.objects = [dict(zip(names, row, strict=False)) for row in found.lists]
                found.lists = None
        return found

    def _keys(self, place: int) -> Iterator[tuple[int, int, str]]:
        """Go once through the object that begins at a place: where each key and its value begin,
        and the key.
        """
        place = self._skip(place + 1, "")
        while self.text[place] != "}":
            begin = place
            key, place = _DECODER.raw_decode(self.text, place)
            place = self._skip(self._skip(place, "") + 1, "")
            yield begin, place, key
            _, place = _DECODER.raw_decode(self.text, place)
            place = self._skip(place, ",")

    def _inside(self, place: int, wanted: str) -> int:
        """Find where the value of a key begins, in the object that begins at a place."""
        return next(value for _, value, key in self._keys(place) if key == wanted)


def _cut_off() -> UnreadableFile:
    return UnreadableFile(
        "The list is cut off: its end is missing.", "Copy or send the file once more."
    )


def _object(value: Json, line: int) -> dict[str, Json]:
    if not isinstance(value, dict):
        raise UnreadableFile(
            f"Line {line} is no JSON object; each row has to be one.",
            "Ask for one object a line, or a CSV file.",
        )
    return value


def _find_rows(document: dict[str, Json]) -> list[str] | None:
    """Find the path to the rows of a document: breadth first, the longest list of objects (or
    lists) of a level.
    """
    level: list[tuple[list[str], dict[str, Json]]] = [([], document)]
    for _ in range(DEEPEST):
        best: tuple[int, list[str]] | None = None
        for path, one in level:
            if (
                path
                and len(one) > 1
                and all(isinstance(value, dict) and value for value in one.values())
                and _alike(list(one.values()))
            ):
                best = max(best or (0, []), (len(one), path), key=lambda found: found[0])
            for key, value in one.items():
                if (
                    isinstance(value, list)
                    and value
                    and (all(isinstance(row, dict) for row in value) or _are_lists(value, one))
                ):
                    best = max(
                        best or (0, []), (len(value), [*path, key]), key=lambda found: found[0]
                    )
        if not level:
            return None
        if best is not None:
            return best[1]
        if (
            level[0][0] == []
            and len(document) > 1
            and all(isinstance(value, dict) and value for value in document.values())
            and _alike(list(document.values()))
        ):
            return []
        level = [
            ([*path, key], value)
            for path, one in level
            for key, value in one.items()
            if isinstance(value, dict)
        ]
    return None


def _are_lists(value: list[Json], beside: dict[str, Json]) -> bool:
    return all(isinstance(row, list) for row in value) and any(
        isinstance(names, list)
        and names
        and all(isinstance(name, str) for name in names)
        and len(names) == len(value[0])
        for names in beside.values()
    )


def _alike(objects: list[dict[str, Json]]) -> bool:
    """Tell whether objects are rows of one table: most of them have the keys of the first."""
    first = set(objects[0])
    return sum(len(first & set(one)) * 2 >= len(first | set(one)) for one in objects) >= 0.8 * len(
        objects
    )


def _names_beside(document: dict[str, Json], path: list[str], width: int) -> list[str] | None:
    holder: Json = document
    for key in path[:-1]:
        holder = holder[key]
    for names in holder.values():
        if (
            isinstance(names, list)
            and len(names) == width
            and all(isinstance(name, str) for name in names)
        ):
            return names
    return None


def _texts(row: list[Json]) -> list[str]:
    return [_whole(_text(value)) for value in row]


def _whole(text: str) -> str:
    """Put a sign in place of half a letter (Unicode 15.0, section 3.9, D75: unpaired
    surrogates), which no file can hold.
    """
    return (
        text
        if text.isascii()
        else text.encode("utf-16-le", "surrogatepass").decode("utf-16-le", "replace")
    )


def _text(value: Json) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return value
    if isinstance(value, list) and all(isinstance(item, str) for item in value):
        return ";".join(value)
    return json.dumps(value, ensure_ascii=False)
