"""A plain model of the crew's roster.

What the roster must be is worked out from the accepted change sets alone: their files and edits,
row by row and field by field, in the order of their versions.
"""

from __future__ import annotations

import json
import time

from nevefield.store import intakes as intake_store
from nevefield.store import records as record_store
from nevefield.store.errors import StoreError

__all__ = ["PEOPLE", "check", "settle"]

PEOPLE = [{"no": str(number), "name": f"Name{number}"} for number in range(1, 31)]
Roster = dict[str, dict[str, str]]


def rows_of(content: bytes) -> list[dict[str, str]]:
    """Read a file of ours as plainly as can be."""
    text = content.decode()
    if text.startswith("{"):
        return [json.loads(text)]
    head, *lines = text.split()
    return [dict(zip(head.split(","), line.split(","), strict=True)) for line in lines]


def put_in(roster: Roster, rows: list[dict[str, str]]) -> None:
    for row in rows:
        record = roster.setdefault(row["no"], {})
        for name, value in row.items():
            record.pop(name, None)
            if value:
                record[name] = value


def turn_back(now: Roster, before: Roster, after: Roster) -> None:
    """Take back what a change set did, where nobody changed it since."""
    for key in before.keys() | after.keys():
        old, new, current = before.get(key), after.get(key), now.get(key)
        if old == new:
            continue
        if old is None or new is None:
            if current == new:
                now.pop(key, None)
                if old is not None:
                    now[key] = dict(old)
            continue
        if current is None:
            continue
        for name in old.keys() | new.keys():
            if old.get(name) != new.get(name) and current.get(name) == new.get(name):
                current.pop(name, None)
                if name in old:
                    current[name] = old[name]


def copy_of(roster: Roster) -> Roster:
    return {key: dict(record) for key, record in roster.items()}


def replay(connection) -> list[Roster]:
    """Work out the roster at each version from the accepted change sets alone."""
    states: list[Roster] = [{}, {one["no"]: dict(one) for one in PEOPLE}]
    sets = [one for one, _, _ in record_store.list_change_sets(connection, 1, 100_000)][::-1]
    version_of = {one.id: one.version for one in sets}
    assert [one.version for one in sets] == list(range(1, len(sets) + 1))
    for one in sets[1:]:
        state = copy_of(states[-1])
        if one.intake_id is not None:
            intake = intake_store.get_intake(connection, one.intake_id)
            rows = rows_of(intake_store.get_file(connection, intake.file_hash)[0])
            first = 1 if intake.kind == "hand" else 2
            # What would have changed a value set by hand waited, and did not go in.
            lists = [
                intake_store.list_outcomes(connection, one.id, outcome)
                for outcome in ("new", "changed")
            ]
            went = {line for found in lists for line, *_ in found}
            put_in(state, [row for line, row in enumerate(rows, first) if line in went])
        else:
            undone = version_of[one.undoes or one.part_of]
            turn_back(state, states[undone - 1], states[undone])
        states.append(state)
    return states


def check(connection) -> list[Roster]:
    """See that every record is, at every version, what the change sets make of it; that no key is
    lost, and no file in twice.

    Returns:
        The roster at each version.
    """
    states = replay(connection)
    for version in range(1, len(states)):
        then = [
            json.loads(text) for _, text in record_store.list_versions_at(connection, 1, version)
        ]
        assert {one["no"]: one for one in then} == states[version], version
        assert len(then) == len(states[version])
    current = {
        json.loads(text)["no"]: number for number, text in record_store.list_current(connection, 1)
    }
    keys = connection.rows(
        "SELECT content, record_id FROM record_key WHERE roster_id = 1 AND name = 'no'"
    )
    twice = connection.rows(
        "SELECT intake_id FROM change_set c WHERE intake_id IS NOT NULL AND NOT EXISTS (SELECT 1"
        " FROM change_set u WHERE u.undoes = c.id) GROUP BY intake_id HAVING COUNT(*) > 1"
    )
    assert set(current) == set(states[-1])
    assert dict(keys) == current
    assert twice == []
    return states


def settle(context, seconds: int) -> None:
    """Wait until no job waits or runs."""
    for _ in range(10 * seconds):
        try:
            with context.database.transaction() as connection:
                if connection.row(
                    "SELECT COUNT(*) FROM job WHERE state IN ('queued', 'running')"
                ) == (0,):
                    return
        except StoreError:
            pass
        time.sleep(0.1)
    raise AssertionError("jobs are left over")
