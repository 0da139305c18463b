"""Checks between rows, and between rows and the roster: duplicates, unique values, keys that disagree."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit, lines_of
from nevefield.core.people.joining import group_again, people_groups
from nevefield.core.people.keys import find_by_key
from nevefield.core.people.recognising import BY_LIKENESS

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["check_between"]


def check_between(facts: Facts) -> list[Hit]:
    """Report rows of one person, values that must be unique and are not, and keys that point to two records."""
    person = facts.joined.person
    doubles, twice = _check_duplicates(facts, person)
    hits = _note_joined(facts) + doubles
    again = tuple(np.flatnonzero(twice).tolist())
    aside = facts.apart
    for key in _unique_keys(facts):
        of = (*(facts.typed[name] for name in key), *(facts.folded[name] for name in key), aside)
        in_file = partial(_check_unique_in_file, facts, key, person, twice)
        hits += facts.memo.get(("unique", key), (*of, person, again), in_file)
        in_roster = partial(_check_unique_in_roster, facts, key, aside)
        hits += facts.memo.get(("taken", key), (*of, facts.known, facts.snapshot), in_roster)
    return hits + _check_disagreement(facts)


def _check_duplicates(facts: Facts, person: NDArray[np.int64]) -> tuple[list[Hit], NDArray[np.bool_]]:
    """Report rows of one person; equal ones go in once, the later ones are left out.

    Returns:
        The hits, and which rows repeat an earlier equal row.
    """
    hits = []
    twice = np.zeros(len(facts), bool)
    key = facts.definition.primary_key
    field = key[-1] if key and key[-1] in facts.typed else None
    together = {int(person[group[0]]) for group in facts.joined.groups}
    for rows in people_groups(facts.memo, person, facts.aside, facts.apart):
        if int(person[rows[0]]) in together:
            continue
        equal = all((column.codes[rows] == column.codes[rows[0]]).all() for column in facts.folded.values())
        told = lines_of(facts.lines[rows]).capitalize()
        group = "/".join(str(line) for line in facts.lines[rows])
        if equal:
            twice[rows[1:]] = True
            said = f"{told} say the same of one person; the first goes in, the others are left out."
            hits.append(
                Hit("duplicate", field, key, "note", rows, f"{told} are equal", said, group, left_out=tuple(rows[1:].tolist()))
            )
        else:
            names = facts.joined.disagree.get(int(person[rows[0]]), ())
            where = f" in {' and '.join(facts.title(name) for name in names)}" if names else ""
            said = f"{told} are one person and differ{where}; keep one of them."
            hits.append(Hit("duplicate", field, key, "stop", rows, f"{told} are one person", said, group))
    return hits, twice


def _note_joined(facts: Facts) -> list[Hit]:
    """Note the rows that go in as one person."""
    groups = facts.joined.groups
    if not groups:
        return []
    key = facts.definition.primary_key
    mates = {row: group for group in groups for row in group.tolist()}
    several = [name for name in facts.typed if facts.definition.by_name[name].several]
    names = " and ".join(facts.title(name) for name in several)

    def say(row: int) -> str:
        return f"{lines_of(facts.lines[mates[row]]).capitalize()} are one person; their {names} go in together."

    rows = np.array(sorted(mates), np.intp)
    title = f"{len(rows)} rows of {len(groups)} people, joined"
    return [Hit("joined", key[-1] if key else None, (*key, *several), "note", rows, title, say, group="joined")]


def _unique_keys(facts: Facts) -> list[tuple[str, ...]]:
    singles = [(one.name,) for one in facts.definition.fields if one.unique]
    keys = dict.fromkeys([*singles, *facts.definition.unique_keys])
    # Who is known by the primary key has it; who is somebody by likeness, or because somebody said so, may bring another's.
    primary = facts.definition.primary_key if not (facts.known.by <= BY_LIKENESS).any() else ()
    known = dict.fromkeys([*keys, facts.definition.primary_key])
    return [key for key in known if key and key != primary and _is_looked_at(facts, key)]


def _is_looked_at(facts: Facts, key: tuple[str, ...]) -> bool:
    return all(name in facts.typed for name in key)


def _combined(facts: Facts, key: tuple[str, ...]) -> NDArray[np.int64]:
    combined = np.zeros(len(facts), np.int64)
    empty = facts.aside.copy()
    for place, name in enumerate(key):
        column = facts.folded[name]
        combined = combined * (len(column.values) + 1) + column.codes if place else column.codes.astype(np.int64)
        empty |= (column.codes < 0) | facts.problem(name)
    combined[empty] = -1
    return combined


def _check_unique_in_file(facts: Facts, key: tuple[str, ...], person: NDArray[np.int64], twice: NDArray[np.bool_]) -> list[Hit]:
    hits = []
    titles = " and ".join(facts.title(name) for name in key)
    values = _combined(facts, key)
    values[twice] = -1
    for rows in group_again(facts.memo, ("groups", key), values):
        if person[rows[0]] >= 0 and (person[rows] == person[rows[0]]).all():
            continue  # one person: said as a duplicate
        value = " ".join(facts.typed[name].stored.at(int(rows[0])) or "" for name in key)
        said = f"{titles} “{value}” stands in {lines_of(facts.lines[rows])}; it must be unique."
        title = f"{titles} “{value}” stands {len(rows)} times"
        hits.append(Hit("unique", key[-1], key, "stop", rows, title, said, group=value.casefold()))
    return hits


def _check_unique_in_roster(facts: Facts, key: tuple[str, ...], aside: tuple[int, ...]) -> list[Hit]:
    """Report values that another record has already; those of records that this file gives another value are free."""
    if not len(facts.snapshot):
        return []
    holder = find_by_key(key, facts.folded, facts.snapshot, facts.memo)
    rows = np.flatnonzero((holder != facts.known.record) & (holder >= 0))
    wrong = facts.aside[rows]
    for name in key:
        wrong |= facts.problem(name)[rows]
    rows = rows[~wrong]
    if not len(rows):
        return []
    moved: NDArray[np.bool_] = facts.memo.get("moved", (facts.known, facts.snapshot, aside), partial(_moved, facts))
    rows = np.array([row for row in rows if not _gives_away(facts, key, int(holder[row]), moved)], np.intp)
    if not len(rows):
        return []
    names = dict(zip(rows.tolist(), facts.snapshot.keys(holder[rows]), strict=True))
    titles = " and ".join(facts.title(name) for name in key)

    def say(row: int) -> str:
        value = " ".join(facts.typed[name].stored.at(row) or "" for name in key)
        return f"{titles} “{value}” belongs to {names[int(row)]} in the roster already."

    title = f"{titles} belongs to somebody else already"
    return [Hit("unique-in-roster", key[-1], key, "stop", rows, title, say, group="/".join(key))]


def _moved(facts: Facts) -> NDArray[np.bool_]:
    """Tell which records the file has a row for."""
    moved = np.zeros(len(facts.snapshot), bool)
    giving = facts.known.record[~facts.aside]
    moved[giving[giving >= 0]] = True
    return moved


def _gives_away(facts: Facts, key: tuple[str, ...], record: int, moved: NDArray[np.bool_]) -> bool:
    """Tell whether the file gives the record that holds a value another one."""
    if not moved[record]:
        return False
    row = int(np.flatnonzero((facts.known.record == record) & ~facts.aside)[0])
    return any(facts.folded[name].at(row) != facts.snapshot.folded(name).at(record) for name in key)


def _check_disagreement(facts: Facts) -> list[Hit]:
    if not facts.known.disagree:
        return []
    rows = np.array(sorted(facts.known.disagree), np.intp)
    keys = facts.definition.keys

    def say(row: int) -> str:
        other, record = facts.known.disagree[int(row)]
        first = " and ".join(facts.title(name) for name in keys[int(facts.known.by[row])])
        second = " and ".join(facts.title(name) for name in keys[other])
        one, two = facts.snapshot.keys(np.array([facts.known.record[row], record]))
        return f"{first} says {one}, {second} says {two}; one of them is wrong."

    names = tuple(dict.fromkeys(name for key in keys for name in key))
    other = keys[facts.known.disagree[int(rows[0])][0]]
    return [Hit("keys-disagree", other[-1], names, "stop", rows, "Two keys point to two people", say)]
