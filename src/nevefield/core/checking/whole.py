"""Checks of the whole file: how many are absent or changed, a code that vanished, the number of
rows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.changes.compare import find_absent
from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.edits.trail import NO_ROWS
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Check
    from nevefield.core.table import Column

    Differing = Mapping[str, NDArray[np.intp]]  # the rows that differ from their record, by field

__all__ = ["OfFile", "check_absent", "check_changed", "check_rows", "check_vanished"]


@dataclass(frozen=True)
class OfFile:
    """A check of the whole file, run once it is known which rows differ from their record."""

    find: Callable[[Facts, Check, Differing], list[Hit]]


def _whole(
    check: Check,
    title: str,
    text: str,
    *,
    near: NDArray[np.intp] = NO_ROWS,
    fields: tuple[str, ...] = (),
    group: str = "",
) -> list[Hit]:
    return [
        Hit(
            check.check,
            None,
            fields or check.fields,
            check.weight,
            NO_ROWS,
            title,
            text,
            group=group or check.check,
            whole=True,
            near=near,
        )
    ]


def check_absent(facts: Facts, check: Check, _: Differing) -> list[Hit]:
    """Ask when more of the roster than a share is not in a file that claims everybody."""
    if facts.coverage != "everybody" or not len(facts.snapshot):
        return []
    absent = len(find_absent(facts.known, facts.snapshot, facts.memo))
    share = absent / len(facts.snapshot)
    if share <= check.options["most"]:
        return []
    usual = f"usual is at most {check.options['most']:.0%}"
    message = (
        f"{absent:,} of {len(facts.snapshot):,} records are not in the file ({share:.0%}); {usual}."
    )
    return _whole(check, f"{absent:,} absent is unusual", message)


def check_changed(facts: Facts, check: Check, differing: Differing) -> list[Hit]:
    """Ask when the file changes more than a share of the records that are in it."""
    known = int((facts.known.record >= 0).sum())
    touched = np.zeros(len(facts), bool)
    for name, rows in differing.items():
        if not check.fields or name in check.fields:
            touched[rows] = True
    touched &= ~facts.aside
    changed = int(np.count_nonzero(touched))
    if not known or changed / known <= check.options["most"]:
        return []
    message = (
        f"{changed:,} of {known:,} known rows change ({changed / known:.0%}); usual is at most"
        f" {check.options['most']:.0%}."
    )
    return _whole(check, f"{changed:,} changed is unusual", message, near=np.flatnonzero(touched))


def check_vanished(facts: Facts, check: Check, _: Differing) -> list[Hit]:
    """Ask when a code that records have today would be nobody's any more, of a file that claims
    everybody.
    """
    if facts.coverage != "everybody":
        return []
    hits = []
    for name in check.fields:
        if name not in facts.typed:
            continue
        theirs = facts.snapshot.columns[name]
        aside = facts.known.record[facts.aside]  # who stays as the roster has them
        after = _codes(facts.typed[name].stored.take(np.flatnonzero(~facts.aside))) | _codes(
            theirs.take(aside[aside >= 0])
        )
        before = _codes(theirs)
        for code in sorted(before - after):
            title = f"{facts.title(name)} {code} has vanished"
            message = (
                f"{facts.title(name)} {code} is used in the roster, and in no row of the file."
            )
            hits += _whole(
                check,
                title,
                message,
                near=_who_had(facts, name, code),
                fields=(name,),
                group=f"{name}/{code}",
            )
    return hits


def _who_had(facts: Facts, name: str, code: str) -> NDArray[np.intp]:
    """List the rows whose record has a code today."""
    column = facts.snapshot.columns[name]
    has = np.array([code in text.split(SEVERAL) for text in column.texts()] + [False], bool)
    return np.flatnonzero(np.append(has[column.codes], False)[facts.known.record])


def _codes(column: Column) -> set[str]:
    used = column.values.filter(pa.array(column.counts() > 0)).to_pylist()
    return {code for text in used for code in text.split(SEVERAL)}


def check_rows(facts: Facts, check: Check, _: Differing) -> list[Hit]:
    """Ask when the file has fewer or more rows than it ever should."""
    least, most = check.options.get("least", 0), check.options.get("most", 10**12)
    if least <= len(facts) <= most:
        return []
    message = f"The file has {len(facts):,} rows; " + (
        f"at least {least:,} are expected." if len(facts) < least else f"at most {most:,} are."
    )
    return _whole(check, f"{len(facts):,} rows is unusual", message)
