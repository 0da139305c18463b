"""Try a definition against the records that there are: what it would break, before it is in
force.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.borders import Premises
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.reading.reading import Reading
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column, Table
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition

__all__ = ["Trouble", "check_roster", "try_definition"]

SHOWN = 5  # records named of each trouble


@dataclass(frozen=True)
class Trouble:
    """One thing that a definition would break, with the records."""

    check: str
    field: str | None
    said: str
    records: int
    keys: Premises  # of the first few


def try_definition(
    new: Definition,
    snapshot: Snapshot,
    codes: Mapping[str, CodeList],
    today: date,
    others: Mapping[str, Snapshot] | None = None,
) -> list[Trouble]:
    """Work out what stops in the records under a new definition, and did not under theirs.

    Args:
        new: The definition that is tried.
        snapshot: The records, under the definition in force.
        codes: Code lists by name.
        today: The day for codes in use.
        others: Other rosters that the definition refers to.

    Returns:
        What would break, by the number of records, the most first; fields that go with values in
        them are among it.

    Raises:
        WrongDefinition: A code list is missing.
    """
    old = check_roster(snapshot.definition, snapshot, codes, today, others)
    now = check_roster(new, snapshot, codes, today, others)
    before: dict[tuple[str, str | None], set[int]] = {}
    for cause in old.causes:
        if cause.hit.weight == "stop":
            before.setdefault((cause.hit.check, cause.hit.field), set()).update(
                cause.hit.rows.tolist()
            )
    found = [_gone(snapshot, name) for name in snapshot.columns if name not in new.by_name]
    found += [
        _shared(new, snapshot, key) for key in new.keys if key not in snapshot.definition.keys
    ]
    found += [
        _nowhere(snapshot, key.fields, key.resource)
        for key in new.foreign_keys
        if key.resource and key.resource not in (others or {})
    ]
    for cause in now.causes:
        # who cannot be told from whom is said of the key, and not line by line
        if cause.hit.weight != "stop" or cause.hit.check == "duplicate":
            continue
        rows = [
            row
            for row in cause.hit.rows.tolist()
            if row not in before.get((cause.hit.check, cause.hit.field), ())
        ]
        if rows:
            keys = tuple(snapshot.keys(np.array(rows[:SHOWN], np.intp)))
            found.append(
                Trouble(cause.hit.check, cause.hit.field, cause.hit.title, len(rows), keys)
            )
    return sorted(
        (trouble for trouble in found if trouble.records), key=lambda one: (-one.records, one.said)
    )


def _gone(snapshot: Snapshot, name: str) -> Trouble:
    rows = np.flatnonzero(snapshot.columns[name].codes >= 0)
    title = snapshot.definition.title_of(name)
    message = f"{title} goes; its values stay in the records' history only"
    return Trouble("field-gone", name, message, len(rows), tuple(snapshot.keys(rows[:SHOWN])))


def _shared(new: Definition, snapshot: Snapshot, key: tuple[str, ...]) -> Trouble:
    """Count the records that a key cannot tell apart: whoever has all of it, and shares it."""
    everyone = np.arange(len(snapshot))
    columns = [snapshot.folded(name).rows(everyone) for name in key if name in snapshot.columns]
    values = list(zip(*columns, strict=True)) if len(columns) == len(key) else []
    counts = Counter(value for value in values if all(value))
    rows = np.array([row for row, value in enumerate(values) if counts[value] > 1], np.intp)
    titles = " and ".join(new.title_of(name) for name in key)
    message = f"{titles} is that of others too, so nobody is known by it alone"
    return Trouble("key", key[-1], message, len(rows), tuple(snapshot.keys(rows[:SHOWN])))


def _nowhere(snapshot: Snapshot, fields: tuple[str, ...], roster: str) -> Trouble:
    """Count the records that refer to a roster that there is not."""
    filled = [snapshot.columns[name].codes >= 0 for name in fields if name in snapshot.columns]
    rows = np.flatnonzero(np.logical_and.reduce(filled)) if filled else np.zeros(0, np.intp)
    message = f"there is no roster “{roster}”, so nobody sees whether it is there"
    return Trouble("reference", fields[0], message, len(rows), tuple(snapshot.keys(rows[:SHOWN])))


def check_roster(
    definition: Definition,
    snapshot: Snapshot,
    codes: Mapping[str, CodeList],
    today: date,
    others: Mapping[str, Snapshot] | None,
) -> Evaluation:
    """Check the records of a roster: taken for a file of their own, as if all were new.

    Args:
        definition: By which they are checked.
        snapshot: The records.
        codes: Code lists by name.
        today: The day for codes in use.
        others: Other rosters that the definition refers to.
    """
    names = [field.name for field in definition.fields if field.name in snapshot.columns]
    columns = [
        _as_text(snapshot.columns[name], definition.by_name[name].several or ";") for name in names
    ]
    table = Table(tuple(names), tuple(columns), np.arange(1, len(snapshot) + 1, dtype=np.int64))
    reading = Reading("roster", None, None, None, 1, "")
    return evaluate(
        Inputs(
            b"",
            [],
            definition,
            codes,
            Snapshot.empty(definition),
            today,
            read=(table, reading),
            others=others or {},
        )
    )


def _as_text(column: Column, separator: str) -> Column:
    texts = [text.replace(SEVERAL, separator) for text in column.texts()]
    distinct = Column.encode(pa.array(texts, pa.string()))
    codes = np.where(column.codes >= 0, distinct.codes[column.codes] if len(distinct) else -1, -1)
    return Column(distinct.values, codes.astype(np.int32))
