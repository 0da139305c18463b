"""Yeses that last: what was let in of a person is not asked about again, until what was asked about
is another.

A waiver counts for one person, one check as it is declared, and the values that the check read.
Another value, another wording of the check, or a day that passes, and it is asked anew.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Arrow
from nevefield.core.edits.trail import NO_ROWS

if TYPE_CHECKING:
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.checking.facts import Facts, Hit

__all__ = [
    "PASSING",
    "WHOLE",
    "Waiver",
    "digest_asked",
    "fields_asked",
    "find_waived",
    "is_lasting",
    "waived_by",
]

WHOLE = 0  # the line that stands for the whole file in a waiver
# What these ask about is past once somebody has said yes: who is who, what a file brings against
# what a hand set, what is gained.
PASSING = frozenset({"who", "alike", "by-hand", "raised", "since", "same-person"})


@dataclass(frozen=True)
class Waiver:
    """A yes that lasts, of a row that goes in."""

    row: int
    line: int
    check: str
    field: str
    digest: bytes
    title: str  # what was asked
    values: dict[str, str | None]  # by field, as they are stored
    reason: str
    until: date | None


def is_lasting(hit: Hit) -> bool:
    """Tell whether a yes to what a check asks lasts beyond its file."""
    return (
        hit.weight == "ask"
        and not hit.whole
        and hit.field is not None
        and not hit.follows
        and hit.check not in PASSING
    )


def find_waived(hit: Hit, facts: Facts, rows: NDArray[np.intp]) -> NDArray[np.intp]:
    """List those of some rows that an earlier yes lets in.

    Args:
        hit: What a check found.
        facts: With the waivers that stand.
        rows: Of the hit, those that are looked at.
    """
    of = facts.standing.get((hit.check, hit.field or "")) if is_lasting(hit) else None
    if not of or not len(facts.snapshot):
        return NO_ROWS
    record = facts.known.record[rows]
    numbers = np.where(record >= 0, facts.snapshot.ids[np.maximum(record, 0)], -1)
    mine = np.isin(numbers, list(of))
    pairs = zip(rows[mine].tolist(), numbers[mine].tolist(), strict=True)
    return np.array(
        [row for row, number in pairs if digest_asked(hit, facts, row) in of[number]], np.intp
    )


def waived_by(hit: Hit, facts: Facts, row: int) -> str:
    """Say by which earlier yes a row is let in; "" for none."""
    if not len(find_waived(hit, facts, np.array([row], np.intp))):
        return ""
    number = int(facts.snapshot.ids[facts.known.record[row]])
    return facts.standing[hit.check, str(hit.field)][number][digest_asked(hit, facts, row)]


def fields_asked(hit: Hit) -> tuple[str, ...]:
    """List the fields that a check asks about."""
    return tuple(dict.fromkeys([*hit.fields, str(hit.field)]))


def digest_asked(hit: Hit, facts: Facts, row: int) -> bytes:
    """Return the digest of a check as it is declared and of the values that it read in a row,
    folded.
    """
    values = {name: _folded(facts, name).at(row) for name in fields_asked(hit)}
    message = json.dumps(
        [hit.check, hit.field, hit.group, values], ensure_ascii=False, sort_keys=True
    )
    return hashlib.blake2b(message.encode(), digest_size=16).digest()


def _folded(facts: Facts, name: str) -> Arrow:
    """Return a field's values by row, as they are compared; those of the record where the file
    has no column for it.
    """
    if name in facts.folded:
        return facts.folded[name]
    column, record = facts.snapshot.folded(name), facts.known.record
    codes = np.where(record >= 0, column.codes[record] if len(column) else -1, -1).astype(np.int32)
    return type(column)(column.values, codes)
