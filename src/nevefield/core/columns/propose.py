"""Propose a definition from a table when there is none."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Arrow, Json
from nevefield.core.columns.days import read_day
from nevefield.core.columns.words import NO, YES
from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from datetime import date

    from nevefield.core.table import Column, Table

__all__ = ["propose_definition"]

SAMPLE = 500  # distinct values looked at in a column


def propose_definition(table: Table, today: date) -> dict[str, Json]:
    """Propose a definition: a field for each column, its type from the values, the first complete
    and distinct one as key.

    Args:
        table: The file's texts.
        today: For years of two digits.

    Returns:
        The definition's document.
    """
    names: list[str] = []
    fields = []
    for heading, column in zip(table.headings, table.columns, strict=True):
        name = base = re.sub(r"[\W]+", "_", heading.strip()).strip("_").casefold() or "column"
        number = 2
        while name in names:
            name, number = f"{base}_{number}", number + 1
        names.append(name)
        fields.append(
            {"name": name, "title": heading.strip() or name, **_type_of(heading, column, today)}
        )
    document: dict[str, Json] = {"name": "proposed", "title": "Proposed", "fields": fields}
    key = next(
        (place for place, column in enumerate(table.columns) if _is_key(column, len(table))), None
    )
    if key is not None:
        document["primaryKey"] = names[key]
        fields[key]["constraints"] = {"required": True, "unique": True}
    return document


def _is_key(column: Column, rows: int) -> bool:
    return (
        rows > 0
        and len(column.values) == rows
        and bool((column.counts() == 1).all())
        and "" not in column.texts()
    )


def _type_of(heading: str, column: Column, today: date) -> dict[str, Json]:
    values = [trim(text) for text in column.texts()[:SAMPLE] if trim(text)]
    if not values:
        return {"type": "string"}

    def share(fits: Arrow) -> float:
        return float(np.mean([bool(fits(value)) for value in values]))

    if share(lambda value: re.fullmatch(r"[^\s@]+@[^\s@.]+(?:\.[^\s@.]+)+", value)) > 0.8:
        return {"type": "string", "format": "email"}
    if share(lambda value: read_day(value, "dmy", today) or read_day(value, "mdy", today)) > 0.9:
        return {"type": "date"}
    if {value.casefold() for value in values} <= (YES | NO) - {"x", "1", "0", "t", "f"}:
        return {"type": "boolean"}
    # Numbers that begin with 0 are identifiers: as numbers they would lose it.
    if share(lambda value: re.fullmatch(r"-?(0|[1-9]\d{0,14})", value)) == 1 and not key_of(
        heading
    ).endswith(("no", "number", "id")):
        return {"type": "integer"}
    if share(lambda value: re.fullmatch(r"-?\d+[.,]\d+|-?\d+", value)) == 1 and any(
        "." in v or "," in v for v in values
    ):
        return {"type": "number"}
    return {"type": "string"}
