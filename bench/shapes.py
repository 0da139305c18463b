"""The large file in the shapes in which offices send such files: `make_shape`.

The same people, mistakes and changes in each: what is found has to be the same as in the regular
one.
"""

from __future__ import annotations

import csv
import json
import random
from collections.abc import Iterator
from pathlib import Path

import xlsxwriter

__all__ = ["SHAPES", "make_shape"]

SHAPES = ("regular", "quoted", "ragged", "workbook", "wide")
EXTRA = 176  # more fields of a wide roster
KINDS = ("count", "day", "diet", "text")


def make_shape(shape: str, file: Path, roster: Path, definition: Path) -> tuple[Path, Path, Path]:
    """Write a file, its roster and their definition in a shape, unless they are there.

    Args:
        shape: One of `SHAPES`: `quoted` has every cell of every fourth row in quotes, `ragged` also
            short rows and long ones.
        file: The regular file.
        roster: The roster that it is compared with.
        definition: Of the regular roster.

    Returns:
        The three paths.
    """
    if shape == "regular":
        return file, roster, definition
    made = file.with_name(f"{shape}-{file.stem}.{'xlsx' if shape == 'workbook' else 'csv'}")
    if shape == "wide":
        wide, document = roster.with_name(f"wide-{roster.name}"), definition.with_name("wide.json")
        if not made.exists():
            _write_wide(file, made)
            _write_wide(roster, wide)
        document.write_text(json.dumps(_widen(json.loads(definition.read_text()))))
        return made, wide, document
    if not made.exists():
        rows = list(csv.reader(file.open(newline="")))
        if shape == "workbook":
            _write_workbook(made, rows)
        else:
            _write_text(made, rows, is_ragged=shape == "ragged")
    return made, roster, definition


def _write_text(path: Path, rows: list[list[str]], *, is_ragged: bool) -> None:
    with path.open("w", newline="") as out:
        for number, row in enumerate(rows):
            cells = list(row)
            if is_ragged and number % 5 == 1:
                while cells and not cells[-1]:
                    cells.pop()
            elif is_ragged and number % 50 == 2:
                cells.append("")
            if number and number % 4 == 0:
                cells = [f'"{cell}"' for cell in cells]
            out.write(",".join(cells) + "\n")


def _write_workbook(path: Path, rows: list[list[str]]) -> None:
    with xlsxwriter.Workbook(path, {"strings_to_urls": False}) as book:
        sheet = book.add_worksheet("Cadets")
        whole = [place for place, name in enumerate(rows[0]) if name in ("year", "deposit")]
        for number, row in enumerate(rows):
            for place, cell in enumerate(row):
                if number and cell and place in whole:
                    sheet.write_number(number, place, float(cell))
                elif cell:
                    sheet.write_string(number, place, cell)


def _extra(key: str) -> Iterator[str]:
    """Yield the values of the more fields; of one person the same in file and roster."""
    chance = random.Random(key)
    for number in range(EXTRA):
        kind = KINDS[number % len(KINDS)]
        if chance.random() < 0.3:
            yield ""
        elif kind == "count":
            yield str(chance.randrange(1000))
        elif kind == "day":
            yield (
                f"20{chance.randrange(10, 26)}-{chance.randrange(1, 13):02d}-{chance.randrange(1, 29):02d}"  # noqa: E501
            )
        elif kind == "diet":
            yield chance.choice(("VEG", "HAL"))
        else:
            yield f"remark {chance.randrange(200)}"


def _name(number: int) -> str:
    return f"{KINDS[number % len(KINDS)]}_{number}"


def _write_wide(path: Path, made: Path) -> None:
    with path.open(newline="") as stream, made.open("w", newline="") as out:
        rows, writer = csv.reader(stream), csv.writer(out, lineterminator="\n")
        writer.writerow([*next(rows), *map(_name, range(EXTRA))])
        writer.writerows([*row, *_extra(row[0])] for row in rows)


def _widen(document: dict[str, object]) -> dict[str, object]:
    fields = document["fields"]
    assert isinstance(fields, list)
    for number in range(EXTRA):
        kind = KINDS[number % len(KINDS)]
        own = {"type": {"count": "integer", "day": "date"}.get(kind, "string")}
        own |= {"nevefield": {"codeList": "diet"}} if kind == "diet" else {}
        fields.append(
            {"name": _name(number), "title": _name(number).replace("_", " ").capitalize(), **own}
        )
    return document
