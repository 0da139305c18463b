"""A storm: workers and MariaDB are killed while files, edits and undos come in; what was accepted stands, whole and once.

What the roster must be is worked out here from the accepted change sets alone, by a plain model of our own: their files and
edits, row by row and field by field, in the order of their versions.
"""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from nevefield.context import Context
from nevefield.core.errors import CoreError
from nevefield.intakes.applying import request_apply, take_back
from nevefield.intakes.errors import IntakeError
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import receive_file
from nevefield.proposals.editing import edit_record
from nevefield.rosters.errors import RosterError
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store import intakes as intake_store
from nevefield.store import records as record_store
from nevefield.store.connection import Database
from nevefield.store.errors import StoreError
from nevefield.store.schema import migrate
from tests.conftest import Clock
from tests.crew import open_crew

PEOPLE = [{"no": str(number), "name": f"Name{number}"} for number in range(1, 31)]
FIELDS = ("name", "guardian", "credits")
REFUSED = (CoreError, IntakeError, RosterError, StoreError)
WORKERS = 4
Roster = dict[str, dict[str, str]]


class Storm:
    """Four workers, a MariaDB, and somebody who works against both."""

    def __init__(self, home: Path, seed: int) -> None:
        self.chance = random.Random(seed)
        self.server = PrivateServer(home)
        self.url = self.server.start()
        settings = Settings(database_url=self.url, lease_seconds=2)
        self.context = Context(Database(self.url), settings, Clock())
        migrate(self.context.database)
        open_crew(self.context, PEOPLE)
        self.environment = {**os.environ, "NEVEFIELD_DATABASE_URL": self.url, "NEVEFIELD_LEASE_SECONDS": "2"}
        self.workers = [self._worker() for _ in range(WORKERS)]
        self.kills = {"worker": 0, "database": 0}

    def _worker(self) -> subprocess.Popen:
        command = [Path(sys.executable).with_name("nevefield"), "worker"]
        return subprocess.Popen(command, env=self.environment, stderr=subprocess.DEVNULL)

    def kill_worker(self) -> None:
        place = self.chance.randrange(WORKERS)
        self.workers[place].send_signal(signal.SIGKILL)
        self.workers[place].wait()
        self.workers[place] = self._worker()
        self.kills["worker"] += 1

    def kill_database(self) -> None:
        self.server.kill()
        self.server.restart()
        self.kills["database"] += 1

    def drop(self) -> None:
        """Take a random file in, and ask for it to be applied."""
        people = self.chance.sample(range(1, 46), self.chance.randint(1, 12))
        fields = self.chance.sample(FIELDS[1:], self.chance.randint(1, 2))
        mark = self.chance.randint(1, 9)
        rows = [",".join([str(one), f"Name{one}", *(str(mark * one + place) for place in range(len(fields)))]) for one in people]
        text = "\n".join([f"no,name,{','.join(fields)}", *rows]) + "\n"
        intake = receive_file(self.context, f"f{self.chance.random()}.csv", text.encode(), roster_name="crew")
        opened = open_intake(self.context, intake)
        request_apply(self.context, intake, len(opened.steps), opened.roster.version, None)

    def edit(self) -> None:
        with self.context.database.transaction() as connection:
            numbers = [number for number, _ in record_store.list_current(connection, 1)]
        edit_record(self.context, self.chance.choice(numbers), {"guardian": f"Hand{self.chance.randint(1, 99)}"}, None)

    def undo(self) -> None:
        with self.context.database.transaction() as connection:
            sets = [one.id for one, _, undone in record_store.list_change_sets(connection, 1, 12) if not undone]
        take_back(self.context, self.chance.choice(sets), None, as_far=self.chance.random() < 0.5)

    def blow(self, times: int) -> int:
        """Do that many things; return how many were refused or broken off."""
        refused = 0
        for _ in range(times):
            act = self.chance.choices([self.drop, self.edit, self.undo], [6, 2, 2])[0]
            try:
                act()
            except REFUSED:
                refused += 1
            if self.chance.random() < 0.12:
                self.kill_worker()
            if self.chance.random() < 0.05:
                self.kill_database()
        return refused

    def settle(self) -> None:
        """Wait until no job waits or runs."""
        for _ in range(600):
            try:
                with self.context.database.transaction() as connection:
                    if connection.row("SELECT COUNT(*) FROM job WHERE state IN ('queued', 'running')") == (0,):
                        return
            except StoreError:
                pass
            time.sleep(0.1)
        raise AssertionError("jobs are left over")

    def end(self) -> None:
        for one in self.workers:
            one.kill()
            one.wait()
        self.context.database.close()
        self.server.stop()


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
            lists = [intake_store.list_outcomes(connection, one.id, outcome) for outcome in ("new", "changed")]
            went = {line for found in lists for line, *_ in found}
            put_in(state, [row for line, row in enumerate(rows, first) if line in went])
        else:
            undone = version_of[one.undoes or one.part_of]
            turn_back(state, states[undone - 1], states[undone])
        states.append(state)
    return states


@pytest.mark.parametrize(
    ("times", "seed"),
    [(40, 1), *(pytest.param(340, seed, marks=pytest.mark.long) for seed in range(2, 5))],
)
def test_what_was_accepted_stands(tmp_path, times, seed):
    """Every record is what the accepted change sets make of it, at every version; no key is lost, no file applied twice."""
    storm = Storm(tmp_path / "var", seed)
    try:
        storm.kill_worker()
        refused = storm.blow(times // 2)
        storm.kill_database()
        refused += storm.blow(times - times // 2)
        storm.settle()
        with storm.context.database.transaction() as connection:
            states = replay(connection)
            for version in range(1, len(states)):
                then = [json.loads(text) for _, text in record_store.list_versions_at(connection, 1, version)]
                assert {one["no"]: one for one in then} == states[version], version
                assert len(then) == len(states[version])
            current = {json.loads(text)["no"]: number for number, text in record_store.list_current(connection, 1)}
            keys = connection.rows("SELECT content, record_id FROM record_key WHERE roster_id = 1 AND name = 'no'")
            twice = connection.rows(
                "SELECT intake_id FROM change_set c WHERE intake_id IS NOT NULL"
                " AND NOT EXISTS (SELECT 1 FROM change_set u WHERE u.undoes = c.id) GROUP BY intake_id HAVING COUNT(*) > 1"
            )
        assert set(current) == set(states[-1])
        assert dict(keys) == current
        assert twice == []
        assert len(states) > times // 5  # the storm did not only break things off
        assert refused < times
    finally:
        storm.end()
