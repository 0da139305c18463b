"""What goes out as a file: rows in their layout, written as the destination reads them.

Sources: RFC 4180 (CSV), RFC 8259 (JSON).
"""

from __future__ import annotations

import csv
import io
import json
from datetime import datetime
from typing import TYPE_CHECKING

from nevefield.core.passing.ldif import write_ldif
from nevefield.core.passing.oneroster import fault_in_oneroster
from nevefield.core.passing.vcard import as_card
from nevefield.core.texts import SEVERAL, safe_cell

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator, Sequence

    from nevefield.core.passing.destination import FileWay, Put, Share
    from nevefield.core.passing.entries import Entry

__all__ = [
    "EXTENSIONS",
    "fault_of",
    "list_cells",
    "name_file",
    "names_of",
    "write_file",
]

EXTENSIONS = {
    "csv": ".csv",
    "xlsx": ".xlsx",
    "json": ".json",
    "json lines": ".jsonl",
    "ldif": ".ldif",
    "vcard": ".vcf",
    "fixed width": ".txt",
    "oneroster": ".zip",
}
CODECS = {"utf-8": "utf-8", "utf-8-bom": "utf-8-sig", "windows-1252": "cp1252"}


def name_file(way: FileWay, title: str, now: datetime) -> str:
    """Name a file that is made now, by the clock of the institution."""
    name = way.file_name.replace("{day}", now.strftime("%Y-%m-%d")).replace(
        "{time}", now.strftime("%H%M")
    )
    name = name if way.file_name != "{day}" else f"{title} {name}"
    end = EXTENSIONS[way.format]
    return name if name.casefold().endswith(end) else name + end


def fault_of(way: FileWay, put: Put, text: str) -> str:
    """Tell why a value cannot stand in a file; "" when it can. Nothing is ever cut."""
    if way.format == "oneroster":
        return fault_in_oneroster(put, text)
    if way.format == "fixed width":
        if len(text) > put.width:
            return "too long"
        if any(letter in text for letter in "\r\n"):
            return "line end"
    if way.encoding == "windows-1252":
        try:
            text.encode("cp1252")
        except UnicodeEncodeError:
            return "letters"
    return ""


def names_of(shares: Iterable[Share]) -> tuple[str, ...]:
    """List the columns of a file, in the order of the layouts, each once."""
    return tuple(dict.fromkeys(put.to for share in shares for put in share.puts))


def list_cells(way: FileWay, entries: Iterable[Entry]) -> Iterator[dict[str, str]]:
    """Give the cells of each row by their field: a row for each record, or for each value of the
    field that the share names.
    """
    for entry in entries:
        if entry.after is None:
            continue
        each = [put.to for put in entry.share.puts if put.source and put.source == entry.share.each]
        lists = [entry.after.values(name) for name in each]
        for place in range(max([1, *map(len, lists)])):
            cells = {
                name: text.replace(SEVERAL, way.several)
                for name, text in entry.after.fields.items()
            }
            for name, values in zip(each, lists, strict=True):
                cells[name] = values[place] if place < len(values) else ""
            yield cells


def write_file(way: FileWay, shares: Sequence[Share], entries: Sequence[Entry]) -> bytes:
    """Write a file of any of the formats that are text."""
    names = names_of(shares)
    writers: dict[str, Callable[[], str]] = {
        "csv": lambda: _write_delimited(way, names, entries),
        "fixed width": lambda: _write_fixed(way, entries),
        "json": lambda: json.dumps(
            list(map(_as_object, _staying(entries))), ensure_ascii=False, indent=1
        ),
        "json lines": lambda: "".join(
            json.dumps(_as_object(entry), ensure_ascii=False) + "\n" for entry in _staying(entries)
        ),
        "ldif": lambda: write_ldif(way, entries),
        "vcard": lambda: "".join(map(as_card, _staying(entries))),
    }
    codec = "utf-8" if way.format in ("json", "json lines", "ldif", "vcard") else way.encoding
    return writers[way.format]().encode(CODECS[codec])


def _staying(entries: Iterable[Entry]) -> Iterator[Entry]:
    return (entry for entry in entries if entry.after is not None)


def _write_delimited(way: FileWay, names: Sequence[str], entries: Sequence[Entry]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, delimiter=way.separator, lineterminator="\r\n")
    writer.writerow(names)
    for cells in list_cells(way, entries):
        writer.writerow([safe_cell(cells.get(name, "")) for name in names])
    return out.getvalue()


def _write_fixed(way: FileWay, entries: Sequence[Entry]) -> str:
    lines = []
    for entry in entries:
        widths = {put.to: put.width for put in entry.share.puts}
        lines += [
            "".join(cells.get(name, "").ljust(width) for name, width in widths.items()) + "\r\n"
            for cells in list_cells(way, [entry])
        ]
    return "".join(lines)


def _as_object(entry: Entry) -> dict[str, object]:
    after = entry.after
    if after is None:
        return {}
    found: dict[str, object] = {}
    for put in entry.share.puts:
        values = after.values(put.to)
        if len(values) > 1:
            found[put.to] = values
        elif values:
            found[put.to] = values[0]
    return found | ({"groups": list(after.groups)} if after.groups else {})
