"""Rows in which a part stands a column too far to the right or left."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit

if TYPE_CHECKING:
    from nevefield.core.definition import Field

__all__ = ["check_shifts", "shift_of", "swap_partners"]

SIDES = {1: "right", -1: "left"}
LEAST = 3  # neighbouring wrong cells
MOST = 50  # rows looked at: where more are so, the columns are wrong, not the rows


def swap_partners(facts: Facts, row: int, name: str) -> str | None:
    """Find the one other wrong cell of a row whose text belongs into a field, while the field's text belongs there.

    Args:
        facts: What the checks look at.
        row: The row.
        name: A field whose cell is wrong.

    Returns:
        The other field; None when there is none, or more than one.
    """
    wrong = [other for other, typed in facts.typed.items() if other != name and int(typed.raw.codes[row]) in typed.problems]
    fits = [other for other in wrong if _belongs(facts, row, name, other) and _belongs(facts, row, other, name)]
    return fits[0] if len(fits) == 1 else None


def _belongs(facts: Facts, row: int, source: str, target: str) -> bool:
    """Tell whether the text of one cell would be right in another field, by what that field's other texts look like."""
    text = (facts.typed[source].raw.at(row) or "").strip()
    return bool(text) and _looks(facts.definition.by_name[target], text)


def _looks(one: Field, text: str) -> bool:
    if one.is_mail:
        return "@" in text
    if one.kind == "phone":
        return sum(letter.isdigit() for letter in text) >= 7 and "@" not in text
    return False


def check_shifts(facts: Facts) -> list[Hit]:
    """Report rows of which two or more neighbouring cells are wrong, and all would be right one column to the side.

    The columns are taken in the order of the definition's fields that the file fills; a cell is right in another field when
    that field's column has its text in other rows, or when it is a mail address or phone number and the field takes such.
    """
    names = list(facts.typed)
    wrong = np.array([facts.problem(name) for name in names])
    if not len(names) or not wrong.any():
        return []
    hits = []
    for row in np.flatnonzero(wrong.sum(axis=0) >= LEAST)[:MOST].tolist():
        places = np.flatnonzero(wrong[:, row])
        if len(places) != places[-1] - places[0] + 1:
            continue
        for by in (1, -1):
            if all(_moves(facts, row, names, int(place), by) for place in places):
                fields = tuple(names[place] for place in places)
                title = f"Cells shifted to the {SIDES[-by]}"
                said = f"{', '.join(facts.title(name) for name in fields)} stand a column beside their own; shift them back."
                hits.append(
                    Hit("shifted", fields[-1], fields, "stop", np.array([row], np.intp), title, said, group=f"{fields}/{by}")
                )
                break
    return hits


def shift_of(facts: Facts, hit: Hit, row: int) -> dict[str, str]:
    """Give the texts of a shifted row's cells as they are when they are shifted back; the last one to move leaves nothing."""
    by = int(hit.group.rsplit("/", 1)[1])
    names = list(facts.typed)
    places = [names.index(name) for name in hit.fields]
    targets = {
        names[place + by]: (facts.typed[names[place]].raw.at(row) or "").strip()
        for place in places
        if 0 <= place + by < len(names)
    }
    emptied = {names[place]: "" for place in places if names[place] not in targets}
    return {**emptied, **targets}


def _moves(facts: Facts, row: int, names: list[str], place: int, by: int) -> bool:
    target = place + by
    if not 0 <= target < len(names):
        return not (facts.typed[names[place]].raw.at(row) or "").strip()
    text = (facts.typed[names[place]].raw.at(row) or "").strip()
    typed = facts.typed[names[target]]
    one = facts.definition.by_name[names[target]]
    if one.is_mail or one.kind == "phone":
        return _looks(one, text)
    others = typed.raw.codes[np.arange(len(facts)) != row]
    known = {typed.raw.values[int(code)].as_py().strip() for code in np.unique(others[others >= 0])[:5000]}
    return not text or text in known
