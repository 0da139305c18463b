"""Rows in which a part stands a column too far to the right or left."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises
from nevefield.core.checking.facts import Facts, Hit, identify
from nevefield.core.edits.trail import put_in
from nevefield.core.texts import shape_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from nevefield.core.definition import Field

__all__ = ["check_shifts", "fold_shifted", "shift_of", "swap_partners", "swaps_of"]

SIDES = {1: "left", -1: "right"}  # where the cells stand that have to move by so many columns
LEAST = 2  # wrong cells of a row
MOST_SWAPS = 200  # rows of a cause: of more, nobody has swapped two cells
MOST = 50  # rows looked at: where more are so, the columns are wrong, not the rows
SAMPLE = 2_000  # values of a column that say what its texts look like


def swap_partners(facts: Facts, row: int, name: str) -> str | None:
    """Find the one other wrong cell of a row whose text belongs into a field, while the field's
    text belongs there.

    Args:
        facts: What the checks look at.
        row: The row.
        name: A field whose cell is wrong.

    Returns:
        The other field; None when there is none, or more than one.
    """
    if not facts.definition.by_name[name].is_telling:
        return None
    others = [
        field.name
        for field in facts.definition.telling
        if field.name in facts.typed and field.name != name
    ]
    wrong = [
        other
        for other in others
        if int(facts.typed[other].raw.codes[row]) in facts.typed[other].problems
    ]
    fits = [
        other
        for other in wrong
        if _belongs(facts, row, name, other) and _belongs(facts, row, other, name)
    ]
    return fits[0] if len(fits) == 1 else None


def _belongs(facts: Facts, row: int, source: str, target: str) -> bool:
    """Tell whether the text of one cell would be right in another field, by what that field's
    other texts look like.
    """
    text = _text(facts, row, source)
    return bool(text) and bool(_looks(facts.definition.by_name[target], text))


def swaps_of(facts: Facts, hit: Hit, rows: NDArray[np.intp]) -> list[str]:
    """List the fields whose cell a wrong cell has changed places with, once for each row where
    it is so.
    """
    name = hit.field or ""
    if (
        name not in facts.typed
        or len(rows) > MOST_SWAPS
        or not facts.definition.by_name[name].is_telling
    ):
        return []
    telling = (facts.typed.get(field.name) for field in facts.definition.telling)
    of = (hit, tuple(rows.tolist()), *telling)

    def make() -> list[str]:
        return [partner for row in rows.tolist() if (partner := swap_partners(facts, row, name))]

    swaps: list[str] = facts.memo.get(("swaps", identify(hit)), of, make)
    return swaps


def _looks(field: Field, text: str) -> bool | None:
    if field.is_mail:
        return "@" in text
    if field.kind == "phone":
        return sum(letter.isdigit() for letter in text) >= 7 and "@" not in text
    return None


def check_shifts(facts: Facts) -> list[Hit]:
    """Report rows in which neighbouring cells would be right one column to the side, and the column
    at the end is free.

    The columns are taken in the file's order. At least two cells must be wrong where they stand;
    every cell that moves must fit where it goes, by what that column's other texts look like; and
    the last must go to an empty cell: nothing is lost.
    """
    names = [
        name
        for name, _ in sorted(facts.places.items(), key=lambda item: item[1])
        if name in facts.typed
    ]
    wrong = {
        place: _wrong_rows(facts, name)
        for place, name in enumerate(names)
        if facts.typed[name].problems
    }
    if len(wrong) < LEAST:
        return []
    several = partial(_several_wrong, list(wrong.values()))
    rows: NDArray[np.intp] = facts.memo.get("shift rows", (tuple(wrong), *wrong.values()), several)
    if len(rows) > MOST:
        return []
    seen: dict[str, _Column] = {}
    found: dict[tuple[tuple[str, ...], int], list[int]] = {}
    for row in rows.tolist():
        places = [place for place, found in wrong.items() if row in found]
        for by in (1, -1):
            if fields := _run(facts, row, names, places, by, seen):
                found.setdefault((fields, by), []).append(row)
                break
    return [_hit(facts, fields, by, rows) for (fields, by), rows in found.items()]


def _several_wrong(wrong: list[NDArray[np.intp]]) -> NDArray[np.intp]:
    some, counts = np.unique(np.concatenate(wrong), return_counts=True)
    return some[counts >= LEAST]


def _wrong_rows(facts: Facts, name: str) -> NDArray[np.intp]:
    typed = facts.typed[name]

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], _: Premises) -> NDArray[np.intp]:
        return put_in(before, rows, rows[typed.problem_rows()[rows]])

    wrong_rows: NDArray[np.intp] = facts.memo.mend(
        ("wrong rows", name), (typed,), lambda: np.flatnonzero(typed.problem_rows()), again
    )
    return wrong_rows


def _hit(facts: Facts, fields: tuple[str, ...], by: int, rows: list[int]) -> Hit:
    titles = [facts.title(name) for name in fields]
    span = f"{titles[0]} to {titles[-1]}"
    title = f"{span} stand a column too far to the {SIDES[by]}"
    message = (
        f"The cells from {titles[0]} to {titles[-1]} stand a column too far to the {SIDES[by]};"
        " shift them back."
    )
    return Hit(
        "shifted",
        fields[-1],
        fields,
        "stop",
        np.array(rows, np.intp),
        title,
        message,
        group=f"{'/'.join(fields)}/{by}",
    )


class _Column:
    """What the texts of one column look like where nothing is wrong with them."""

    def __init__(self, facts: Facts, name: str) -> None:
        typed = facts.typed[name]
        self.one = facts.definition.by_name[name]
        right = ~typed.problem_rows() & (typed.raw.codes >= 0)
        codes = np.unique(typed.raw.codes[right])[:SAMPLE]
        texts = {(typed.raw.values[int(code)].as_py() or "").strip() for code in codes}
        self.texts, self.shapes = texts, {shape_of(text) for text in texts}

    def takes(self, text: str) -> bool:
        """Tell whether a text fits here."""
        looks = _looks(self.one, text)
        if looks is not None:
            return looks
        return text in self.texts if self.one.code_list else shape_of(text) in self.shapes


def _run(
    facts: Facts, row: int, names: list[str], wrong: list[int], by: int, seen: dict[str, _Column]
) -> tuple[str, ...] | None:
    """Find the neighbouring cells that have to move by a column; None when not all that would move
    fit.

    Returns:
        Their fields and the free one at the end, in the file's order.
    """
    first, last = wrong[0], wrong[-1]
    end = last + 1 if by > 0 else first - 1
    while 0 <= end < len(names) and _text(facts, row, names[end]):
        end += by
    if not 0 <= end < len(names):
        return None
    moving = range(first, end) if by > 0 else range(end + 1, last + 1)
    around = [facts.places[names[place]] for place in (*moving, end)]
    if max(around) - min(around) != len(around) - 1:
        return None  # a column between them goes nowhere: what stands in it cannot be moved along

    def column(place: int) -> _Column:
        name = names[place]
        if name not in seen:
            seen[name] = _Column(facts, name)
        return seen[name]

    for place in moving:
        text = _text(facts, row, names[place])
        if text and not column(place + by).takes(text):
            return None
    return tuple(names[place] for place in sorted((*moving, end)))


def shift_of(facts: Facts, hit: Hit, row: int) -> dict[str, str]:
    """Give the texts of a shifted row's cells as they are when they are shifted back; the last
    one to move leaves nothing.
    """
    by = int(hit.group.rsplit("/", 1)[1])
    texts = [_text(facts, row, name) for name in hit.fields]
    moved = ["", *texts[:-1]] if by > 0 else [*texts[1:], ""]
    return dict(zip(hit.fields, moved, strict=True))


def fold_shifted(hits: list[Hit], facts: Facts) -> list[Hit]:
    """Fold what reads a shifted row's cells under the shift: it vanishes with it.

    Args:
        hits: Of all checks of rows.
        facts: What they looked at.

    Returns:
        The hits; those that have rows of both kinds are cut in two.
    """
    shifts = [hit for hit in hits if hit.check == "shifted"]
    for shift in shifts:
        cut: list[Hit] = []
        for hit in hits:
            within = np.isin(hit.rows, shift.rows)
            is_other = (
                hit.check == "shifted"
                or hit.whole
                or hit.weight == "note"
                or not {*hit.fields} & {*shift.fields}
            )
            if is_other or not within.any():
                cut.append(hit)
                continue
            if not within.all():
                cut.append(replace(hit, rows=hit.rows[~within]))
            cut.append(
                replace(
                    hit,
                    rows=hit.rows[within],
                    follows=(identify(shift),),
                    group=f"{hit.group}/shifted",
                )
            )
        hits = cut
    return hits


def _text(facts: Facts, row: int, name: str) -> str:
    return (facts.typed[name].raw.at(row) or "").strip()
