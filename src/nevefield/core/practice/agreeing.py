"""Made-up people pass the checks that the real ones pass, and fail those that they fail."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from nevefield.core.practice.days import another_amount
from nevefield.core.practice.people import kind_of_field
from nevefield.core.trying import check_roster

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.core.definition import Definition
    from nevefield.core.practice.people import Making
    from nevefield.core.snapshot import Snapshot

__all__ = ["Differs", "agree"]

DRAWS = 4  # how often other values are drawn for somebody before others' are taken together
ROUNDS = 8
DRAWN = ("born", "day", "amount", "code")  # kinds whose values are drawn for one record alone

Found = dict[tuple[str, str | None], tuple[NDArray[np.bool_], tuple[str, ...]]]


@dataclass(frozen=True)
class Differs:
    """Records of a roster of which a check finds in the made-up people what it does not find in the
    real ones, or the reverse.
    """

    roster: str
    check: str
    field: str | None
    records: int


def agree(
    making: Making,
    made: dict[str, Snapshot],
    definitions: Mapping[str, Definition],
    progress: Callable[[str, int, int], None],
) -> list[Differs]:
    """Draw days, amounts and sensitive codes anew where a check finds something else in them than
    in the real ones.

    Args:
        making: The real ones, and the source of chance.
        made: The made-up ones, by roster; altered here.
        definitions: By which those are checked.
        progress: Hears what is done, how much of it, and of how much.

    Returns:
        What differs still.
    """
    differing = []
    for name, real in making.rosters.items():
        progress(f"checking {real.definition.title}", 0, ROUNDS)
        before = _find(making, real, making.rosters, real.definition)
        for step in range(ROUNDS + 1):
            now = _find(making, made[name], made, definitions[name])
            wrong = _compare(before, now, len(real))
            drawn = [
                rows
                for rows, fields in wrong.values()
                if any(_is_drawn(real.definition, one) for one in fields) and rows.any()
            ]
            if step == ROUNDS or not drawn:
                break
            progress(f"checking {real.definition.title}", step, ROUNDS)
            made[name] = _draw(making, made[name], name, wrong, before, step)
        differing += [
            Differs(name, check, field, int(rows.sum()))
            for (check, field), (rows, _) in wrong.items()
            if rows.any()
        ]
    return differing


def _find(
    making: Making, roster: Snapshot, all_rosters: Mapping[str, Snapshot], definition: Definition
) -> Found:
    """Find by check and field the records, and the fields that it reads."""
    others = {one: all_rosters[one] for one in all_rosters if one != definition.name}
    roster = replace(roster, definition=definition)
    found: Found = {}
    for cause in check_roster(definition, roster, making.codes, making.today, others).causes:
        hit = cause.hit
        rows, fields = found.get((hit.check, hit.field), (np.zeros(len(roster), bool), ()))
        rows = rows.copy()
        rows[hit.rows] = True
        found[hit.check, hit.field] = rows, tuple(dict.fromkeys((*fields, *hit.fields)))
    return found


def _compare(before: Found, now: Found, count: int) -> Found:
    nothing: tuple[NDArray[np.bool_], tuple[str, ...]] = (np.zeros(count, bool), ())
    compared: Found = {}
    for key in {**before, **now}:
        rows, fields = before.get(key, nothing)
        others, more = now.get(key, nothing)
        compared[key] = rows ^ others, tuple(dict.fromkeys((*fields, *more)))
    return compared


def _draw(
    making: Making, made: Snapshot, name: str, wrong: Found, before: Found, step: int
) -> Snapshot:
    """Give records of which a check finds something else other values of what it reads."""
    columns = dict(made.columns)
    definition = making.rosters[name].definition
    for key, (rows, fields) in wrong.items():
        drawn = [one for one in fields if one in columns and _is_drawn(definition, one)]
        if not drawn or not rows.any():
            continue
        places = np.flatnonzero(rows)
        if step < DRAWS:
            for one in drawn:
                columns[one] = columns[one].replace(_others(making, name, one, places))
            continue
        kept = [one for one in fields if one in columns and one not in drawn]
        asked = before.get(key, (np.zeros(len(made), bool), ()))[0]
        givers = _givers(making, made, kept, asked, rows, places)
        for one in drawn:
            texts = made.columns[one].rows(np.array(list(givers.values()), np.intp))
            columns[one] = columns[one].replace(dict(zip(givers, texts, strict=True)))
    return replace(made, columns=columns, _folded={}, _kept={}, _orders={})


def _is_drawn(definition: Definition, name: str) -> bool:
    if name not in definition.by_name:
        return False
    one = definition.by_name[name]
    kind = kind_of_field(definition, one)
    return kind in DRAWN and (kind != "code" or one.sensitive)


def _others(
    making: Making, name: str, field: str, places: NDArray[np.intp]
) -> dict[int, str | None]:
    """Draw other values for some records: near the real ones, and never those."""
    real = making.rosters[name]
    one, column = real.definition.by_name[field], real.columns[field]
    kind, texts = kind_of_field(real.definition, one), column.rows(places)
    if kind == "code":
        chosen = np.array([making.random.randrange(len(column)) for _ in places], np.intp)
        return dict(zip(places.tolist(), column.rows(chosen), strict=True))
    if kind == "amount":
        ordered = making.amounts((name, field))
        drawn = [text and another_amount(text, ordered, making.random) for text in texts]
    else:
        drawn = [text and making.days.draw(text, within_year=kind == "born") for text in texts]
    return {
        place: text for place, text in zip(places.tolist(), drawn, strict=True) if text is not None
    }


def _givers(
    making: Making,
    made: Snapshot,
    kept: list[str],
    asked: NDArray[np.bool_],
    wrong: NDArray[np.bool_],
    places: NDArray[np.intp],
) -> dict[int, int]:
    """Find for each record another one that is as it should be, and has the same in all that is
    kept of what the check reads.
    """
    like: dict[tuple[object, ...], list[int]] = {}
    codes = [made.columns[one].codes for one in kept]

    def mark(place: int) -> tuple[object, ...]:
        return (bool(asked[place]), *(int(code[place]) for code in codes))

    for place in np.flatnonzero(~wrong).tolist():
        like.setdefault(mark(place), []).append(place)
    return {
        place: making.random.choice(like[mark(place)])
        for place in places.tolist()
        if mark(place) in like
    }
