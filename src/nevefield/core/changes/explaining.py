"""Is it usual that so many are absent, and if not, what is the likeliest reason?"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.evaluate import Evaluation

__all__ = ["Unusual", "explain_absent"]

# times the most of the last files, and how many more than it, from which on it is unusual
FACTOR, MORE = 1.5, 5
SHARE, LEAST = 0.05, 20  # of the roster, where no file came before
OF_ABSENT = 0.8  # of the absent that one value must explain
OF_OTHERS = 0.3  # of the others that may have a past day too
IN_FILE = 0.02  # of the people with that value that the file may still have


@dataclass(frozen=True)
class Unusual:
    """More are absent than usual."""

    said: str
    reason: str = ""  # the likeliest
    # the condition of a coverage under which the absence would be no news
    part: dict[str, Json] | None = None
    part_said: str = ""  # what the remedy does


def explain_absent(evaluation: Evaluation, past: Sequence[int]) -> Unusual | None:
    """Say whether more are absent than usual, and why that likely is.

    Args:
        evaluation: Of the file.
        past: How many were absent from the last files that claimed everybody, the last first.

    Returns:
        What to say; None when it is usual, or the file does not claim everybody.
    """
    absent, records = len(evaluation.absent), len(evaluation.snapshot)
    if evaluation.decisions.coverage != "everybody" or not absent or evaluation.is_applied:
        return None
    if past:
        if absent <= max(max(past) * FACTOR, max(past) + MORE):
            return None
        least, most = min(past), max(past)
        span = (
            f"{most:,}"
            if len(past) == 1
            else f"{most:,} each"
            if least == most
            else f"{least:,} to {most:,}"
        )
        files = "the last file" if len(past) == 1 else f"the last {len(past)}"
        message = f"{absent:,} absent is unusual: {files} left out {span}."
    elif absent > SHARE * records and absent >= LEAST:
        message = f"{absent:,} absent is a lot: {absent / records:.0%} of the {records:,} records."
    else:
        return None
    return (
        _by_value(evaluation, message)
        or _by_day(evaluation, message)
        or _by_end(evaluation, message)
        or Unusual(message)
    )


def _by_value(evaluation: Evaluation, text: str) -> Unusual | None:
    """Look for a code that the absent share and the file lacks."""
    snapshot, absent = evaluation.snapshot, evaluation.absent
    there = np.ones(len(snapshot), bool)
    there[absent] = False
    best: tuple[int, int, str, str] | None = None
    for number, field in enumerate(evaluation.definition.fields):
        if not (field.code_list or field.type == "boolean") or field.several:
            continue
        column = snapshot.columns[field.name]
        size = len(column.values)
        codes = column.codes[absent]
        of_absent = np.bincount(codes[codes >= 0], minlength=size)
        present = column.codes[there]
        in_file = np.bincount(present[present >= 0], minlength=size)
        fits = np.flatnonzero(
            (of_absent >= OF_ABSENT * len(absent)) & (in_file <= IN_FILE * (of_absent + in_file))
        )
        for code in fits.tolist():
            found = (int(of_absent[code]), -number, field.name, str(column.values[code].as_py()))
            best = found if best is None or found > best else best
    if best is None:
        return None
    count, _, name, value = best
    listed = evaluation.facts.codes.get(evaluation.definition.by_name[name].code_list)
    known = listed.by_code.get(value) if listed else None
    label = known.label if known and known.label else value
    title = evaluation.definition.title_of(name)
    some = f"{count:,} of the {len(absent):,} have {title} {label}"
    reason = f"{some}, of whom the file has hardly anybody: it may be for the others only."
    return Unusual(
        text, reason, {"field": name, "not": value}, f"The file is of everybody but {title} {label}"
    )


def _by_day(evaluation: Evaluation, said: str) -> Unusual | None:
    """Look for a day that is past for the absent and for few others: they have ended already."""
    snapshot, absent, today = (
        evaluation.snapshot,
        evaluation.absent,
        evaluation.facts.today.isoformat(),
    )
    there = np.ones(len(snapshot), bool)
    there[absent] = False
    if not there.any():
        return None
    for field in evaluation.definition.fields:
        if field.type != "date" or field.means == "birth-date":
            continue
        column = snapshot.columns[field.name]
        is_past = np.array([*(text < today for text in column.texts()), False], bool)[column.codes]
        gone = int(is_past[absent].sum())
        if gone >= OF_ABSENT * len(absent) and is_past[there].mean() < OF_OTHERS:
            last = max(text for text in column.rows(absent) if text and text < today)
            some = (
                f"{evaluation.definition.title_of(field.name)} of {gone:,} of the {len(absent):,}"
                f" is past, the last {last}"
            )
            return Unusual(said, f"{some}: they have ended already.")
    return None


def _by_end(evaluation: Evaluation, said: str) -> Unusual | None:
    """Look whether the file breaks off: sorted by its key, and all the absent would come after
    its last row.
    """
    key = evaluation.definition.primary_key
    if len(key) != 1 or key[0] not in evaluation.facts.typed or len(evaluation.table) < LEAST:
        return None
    rows = [
        text
        for text in evaluation.facts.typed[key[0]].stored.rows(np.arange(len(evaluation.table)))
        if text
    ]
    if not rows or rows != sorted(rows):
        return None
    gone = [text for text in evaluation.snapshot.columns[key[0]].rows(evaluation.absent) if text]
    if not gone or min(gone) <= rows[-1]:
        return None
    return Unusual(
        said,
        f"The file ends at {rows[-1]}, and all of the absent would come after it: it may be cut"
        " off.",
    )
