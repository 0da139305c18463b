"""A storm: workers and MariaDB are killed while files, edits and undos come in; what was accepted
stands, whole and once.

What the roster must be is worked out by the plain model in `model.py`.
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from nevefield.context import Context
from nevefield.core.errors import CoreError
from nevefield.intakes.applying import request_apply, take_back
from nevefield.intakes.errors import IntakeError
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.errors import RosterError
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store import records as record_store
from nevefield.store.connection import Database
from nevefield.store.errors import StoreError
from nevefield.store.schema import migrate
from tests.conftest import Clock
from tests.crew import open_crew
from tests.storm.model import PEOPLE, check, settle

FIELDS = ("name", "guardian", "credits")
REFUSED = (CoreError, IntakeError, RosterError, StoreError)
WORKERS = 4


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
        self.environment = {
            **os.environ,
            "NEVEFIELD_DATABASE_URL": self.url,
            "NEVEFIELD_LEASE_SECONDS": "2",
        }
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
        rows = [
            ",".join(
                [str(one), f"Name{one}", *(str(mark * one + place) for place in range(len(fields)))]
            )
            for one in people
        ]
        text = "\n".join([f"no,name,{','.join(fields)}", *rows]) + "\n"
        intake = receive_file(
            self.context, f"f{self.chance.random()}.csv", text.encode(), Claims(roster="crew")
        )
        opened = open_intake(self.context, intake)
        request_apply(self.context, intake, len(opened.steps), opened.roster.version, None)

    def edit(self) -> None:
        with self.context.database.transaction() as connection:
            numbers = [number for number, _ in record_store.list_current(connection, 1)]
        edit_record(
            self.context,
            Edit(self.chance.choice(numbers), {"guardian": f"Hand{self.chance.randint(1, 99)}"}),
            None,
        )

    def undo(self) -> None:
        with self.context.database.transaction() as connection:
            sets = [
                one.id
                for one, _, undone in record_store.list_change_sets(connection, 1, 12)
                if not undone
            ]
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

    def end(self) -> None:
        for one in self.workers:
            one.kill()
            one.wait()
        self.context.database.close()
        self.server.stop()


@pytest.mark.parametrize(
    ("times", "seed"),
    [(40, 1), *(pytest.param(340, seed, marks=pytest.mark.long) for seed in range(2, 5))],
)
def test_what_was_accepted_stands(tmp_path, times, seed):
    """Every record is what the accepted change sets make of it, at every version; no key is
    lost, no file applied twice.
    """
    storm = Storm(tmp_path / "var", seed)
    try:
        storm.kill_worker()
        refused = storm.blow(times // 2)
        storm.kill_database()
        refused += storm.blow(times - times // 2)
        settle(storm.context, 60)
        with storm.context.database.transaction() as connection:
            states = check(connection)
        assert len(states) > times // 5  # the storm did not only break things off
        assert refused < times
    finally:
        storm.end()
