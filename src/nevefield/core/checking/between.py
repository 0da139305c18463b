"""Checks between rows, and between rows and the roster: duplicates, unique values, keys that
disagree.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Premises, Rows
from nevefield.core.checking.facts import Facts, Hit, lines_of
from nevefield.core.edits.trail import NO_ROWS, put_in
from nevefield.core.people.joining import group_again, number_rows, people_groups
from nevefield.core.people.keys import find_by_key, first_rows
from nevefield.core.people.recognising import BY_LIKENESS, known_traits
from nevefield.core.people.two_people import are_two_people
from nevefield.core.snapshot import say_key

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

__all__ = ["check_between"]


def check_between(facts: Facts) -> list[Hit]:
    """Report rows of one person, values that must be unique and are not, and keys that point to
    two records.
    """
    doubles, twice = _check_duplicates(facts)
    hits = _note_joined(facts) + doubles
    for key in _unique_keys(facts):
        hits += _check_unique_in_file(facts, key, twice)
        hits += _check_unique_in_roster(facts, key)
    return hits + _check_disagreement(facts)


def _check_duplicates(facts: Facts) -> tuple[list[Hit], tuple[int, ...]]:
    """Report rows of one person; equal ones go in once, the later ones are left out.

    Returns:
        The hits, and which rows repeat an earlier equal row.
    """
    together = people_groups(facts.memo, facts.joined.people, facts.aside, facts.aside_rows)
    if not together:
        return [], ()

    def judge(rows: NDArray[np.intp]) -> Hit | None:
        # else they are joined
        return _judge_double(facts, rows) if facts.joined.lead[rows[-1]] == rows[-1] else None

    def again(
        before: dict[bytes, Hit | None], edited: NDArray[np.intp], _: Premises
    ) -> dict[bytes, Hit | None]:
        return _of_groups(together, judge, before, edited)

    of = (
        tuple(facts.folded),
        facts.joined.lead,
        facts.joined.people,
        facts.aside_rows,
        *facts.folded.values(),
    )
    judged: dict[bytes, Hit | None] = facts.memo.mend(
        "doubles", of, lambda: _of_groups(together, judge), again
    )
    hits = [hit for hit in judged.values() if hit is not None]
    return hits, tuple(sorted(row for hit in hits for row in hit.left_out))


def _of_groups(
    groups: list[NDArray[np.intp]],
    judge: Callable[[NDArray[np.intp]], Hit | None],
    before: Mapping[bytes, Hit | None] | None = None,
    edited: NDArray[np.intp] = NO_ROWS,
) -> dict[bytes, Hit | None]:
    """Judge groups of rows, each under its rows; one that was judged before is not judged again
    while none of them is edited.
    """
    before = before or {}
    touched = set(edited.tolist())
    of_groups = {}
    for rows in groups:
        name = rows.tobytes()
        is_known = name in before and touched.isdisjoint(rows.tolist())
        of_groups[name] = before[name] if is_known else judge(rows)
    return of_groups


def _judge_double(facts: Facts, rows: NDArray[np.intp]) -> Hit:
    key = facts.definition.primary_key
    field = key[-1] if key and key[-1] in facts.typed else None
    equal = all(
        (column.codes[rows] == column.codes[rows[0]]).all() for column in facts.folded.values()
    )
    told = lines_of(facts.lines[rows]).capitalize()
    group = "/".join(str(line) for line in facts.lines[rows])
    if equal:
        message = f"{told} say the same of one person; the first goes in, the others are left out."
        left_out = tuple(rows[1:].tolist())
        return Hit(
            "duplicate",
            field,
            key,
            "note",
            rows,
            f"{told} are equal",
            message,
            group,
            left_out=left_out,
        )
    if are_two_people(facts.definition, facts.typed, rows):
        read = tuple(
            dict.fromkeys(
                [
                    *key,
                    *(
                        trait.field
                        for trait in known_traits(facts.definition, facts.memo)
                        if trait.field in facts.typed
                    ),
                ]
            )
        )
        message = (
            f"{told} have one number and are two people: names and days of birth differ. One of"
            " them needs another number."
        )
        return Hit(
            "number-shared",
            field,
            read,
            "stop",
            rows,
            f"{told}: two people, one number",
            message,
            group,
        )
    names = facts.joined.disagree.get(int(facts.joined.person[rows[0]]), ())
    where = f" in {' and '.join(facts.title(name) for name in names)}" if names else ""
    message = f"{told} are one person and differ{where}; keep one of them."
    return Hit("duplicate", field, key, "stop", rows, f"{told} are one person", message, group)


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
        return (
            f"{lines_of(facts.lines[mates[row]]).capitalize()} are one person; their {names} go in"
            " together."
        )

    rows = np.array(sorted(mates), np.intp)
    title = f"{len(rows)} rows of {len(groups)} people, joined"
    return [
        Hit(
            "joined",
            key[-1] if key else None,
            (*key, *several),
            "note",
            rows,
            title,
            say,
            group="joined",
        )
    ]


def _unique_keys(facts: Facts) -> list[tuple[str, ...]]:
    singles = [(field.name,) for field in facts.definition.fields if field.unique]
    keys = dict.fromkeys([*singles, *facts.definition.unique_keys])
    # Who is known by the primary key has it; who is somebody by likeness, or because somebody said
    # so, may bring another's.
    primary = facts.definition.primary_key if not (facts.known.by <= BY_LIKENESS).any() else ()
    known = dict.fromkeys([*keys, facts.definition.primary_key])
    return [key for key in known if key and key != primary and _is_looked_at(facts, key)]


def _is_looked_at(facts: Facts, key: tuple[str, ...]) -> bool:
    return all(name in facts.typed for name in key)


def _check_unique_in_file(facts: Facts, key: tuple[str, ...], twice: tuple[int, ...]) -> list[Hit]:
    typed = [facts.typed[name] for name in key]
    silent = np.array(sorted({*facts.aside_rows, *twice}), np.intp)

    def lacks(rows: Rows) -> NDArray[np.bool_]:
        found = np.asarray(np.logical_or.reduce([column.problem_rows()[rows] for column in typed]))
        if len(silent):
            found[silent if isinstance(rows, slice) else np.isin(rows, silent)] = True
        return found

    of = (tuple(silent.tolist()), *typed)
    numbers = number_rows(
        facts.memo, ("numbers", key), of, [facts.folded[name] for name in key], lacks
    )
    groups = group_again(facts.memo, ("groups", key), numbers.rows)
    if not groups:
        return []
    person = facts.joined.people

    def say(rows: NDArray[np.intp]) -> Hit | None:
        if person.values[rows[0]] >= 0 and (person.values[rows] == person.values[rows[0]]).all():
            return None  # one person: said as a duplicate
        titles = " and ".join(facts.title(name) for name in key)
        value = " ".join(facts.text(int(rows[0]), name) for name in key)
        message = f"{titles} “{value}” stands in {lines_of(facts.lines[rows])}; it must be unique."
        title = f"{titles} “{value}” stands {len(rows)} times"
        return Hit("unique", key[-1], key, "stop", rows, title, message, group=value.casefold())

    def again(
        before: dict[bytes, Hit | None], edited: NDArray[np.intp], _: Premises
    ) -> dict[bytes, Hit | None]:
        return _of_groups(groups, say, before, edited)

    of = (tuple(silent.tolist()), person, *typed)
    hits: dict[bytes, Hit | None] = facts.memo.mend(
        ("unique", key), of, lambda: _of_groups(groups, say), again
    )
    return [hit for hit in hits.values() if hit is not None]


def _check_unique_in_roster(facts: Facts, key: tuple[str, ...]) -> list[Hit]:
    """Report values that another record has already; those of records that this file gives
    another value are free.
    """
    if not len(facts.snapshot):
        return []
    typed = [facts.typed[name] for name in key]
    holder = find_by_key(key, facts.folded, facts.snapshot, facts.memo)

    def clash(rows: Rows) -> NDArray[np.bool_]:
        held = holder.values[rows]
        wrong = np.logical_or.reduce([column.problem_rows()[rows] for column in typed])
        return np.asarray(
            (held != facts.known.record[rows]) & (held >= 0) & ~facts.aside[rows] & ~wrong
        )

    def again(before: NDArray[np.intp], rows: NDArray[np.intp], _: Premises) -> NDArray[np.intp]:
        return put_in(before, rows, rows[clash(rows)])

    of = (holder, facts.known, facts.snapshot, facts.aside_rows, *typed)
    clashing: NDArray[np.intp] = facts.memo.mend(
        ("held", key), of, lambda: np.flatnonzero(clash(slice(None))), again
    )
    if not len(clashing):
        return []
    first = first_rows(facts.known, facts.aside, facts.aside_rows, facts.snapshot, facts.memo)
    of = (clashing, holder, first, *(facts.folded[name] for name in key))
    given = partial(_gives_away, facts, key, holder.values[clashing], first.values)
    rows = facts.memo.get(("taken", key), of, lambda: clashing[~given()])
    if not len(rows):
        return []
    titles = " and ".join(facts.title(name) for name in key)

    def say(row: int) -> str:
        value = " ".join(facts.text(row, name) for name in key)
        (owner,) = facts.snapshot.keys(holder.values[[row]])
        return f"{titles} “{value}” belongs to {say_key(owner)} in the roster already."

    title = f"{titles} belongs to somebody else already"
    return [Hit("unique-in-roster", key[-1], key, "stop", rows, title, say, group="/".join(key))]


def _gives_away(
    facts: Facts, key: tuple[str, ...], records: NDArray[np.int64], first: NDArray[np.int64]
) -> NDArray[np.bool_]:
    """Tell which records that hold a value are given another one by their first row in the file."""
    rows = first[records]
    brought, theirs = rows[rows >= 0], records[rows >= 0]
    other = np.zeros(len(brought), bool)
    for name in key:
        known = facts.snapshot.folded(name)
        other |= facts.folded[name].take(brought).place(known) != known.codes[theirs]
    given = np.zeros(len(records), bool)
    given[rows >= 0] = other
    return given


def _check_disagreement(facts: Facts) -> list[Hit]:
    if not facts.known.disagree:
        return []
    rows = np.array(sorted(facts.known.disagree), np.intp)
    keys = facts.keys

    def say(row: int) -> str:
        other, record = facts.known.disagree[int(row)]
        first = " and ".join(facts.title(name) for name in keys[int(facts.known.by[row])])
        second = " and ".join(facts.title(name) for name in keys[other])
        one, two = facts.snapshot.keys(np.array([facts.known.record[row], record]))
        return f"{first} says {one}, {second} says {two}; one of them is wrong."

    names = tuple(dict.fromkeys(name for key in keys for name in key))
    other = keys[facts.known.disagree[int(rows[0])][0]]
    return [
        Hit("keys-disagree", other[-1], names, "stop", rows, "Two keys point to two people", say)
    ]
