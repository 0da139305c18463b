"""Three database nodes, two sets of web server and worker, four keepers: nodes are killed (-9)
in the middle and come back.
"""

from __future__ import annotations

import random
import sys
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx
import pytest

from nevefield.accounts import Level, add_account
from nevefield.context import Context
from nevefield.run.server import free_port
from nevefield.settings import Settings
from nevefield.store import records as record_store
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from tests.conftest import ROOT, Clock, load_module
from tests.crew import open_crew
from tests.storm.model import PEOPLE, check, settle
from tests.storm.test_storm import FIELDS

sys.path.insert(0, str(ROOT / "deploy" / "cluster"))
PASSWORD = "storm-and-calm-2026"
KEEPERS = 4
# what a keeper may be told; a 5xx only with a sentence
TELLS = {200, 201, 202, 204, 409, 422, 429, 503}
PATIENCE = 60.0  # seconds that a keeper waits for one answer


class World:
    """A cluster with the crew in it, and two sets that work on it."""

    def __init__(self, home: Path) -> None:
        self.cluster = load_module(ROOT / "deploy" / "cluster" / "nodes.py").Cluster(
            home / "nodes", durable=False
        )
        url = self.cluster.start()  # its owner's; the sets have the application's account
        self.context = Context(Database(url), Settings(database_url=url), Clock())
        migrate(self.context.database)
        open_crew(self.context, PEOPLE)
        for place in range(KEEPERS):
            add_account(self.context, f"keeper{place}", f"Keeper {place}", PASSWORD, Level.APPROVE)
        run = load_module(ROOT / "deploy" / "cluster" / "run.py")
        self.ports, self.sets = [], []
        for place in range(2):
            port = free_port()
            self.ports.append(port)
            self.sets.append(
                run.start_set(self.cluster.url(place), url, port, home / f"set{place}", empty=True)
            )
            while not run.answers(port):
                assert self.sets[-1].poll() is None
                time.sleep(0.2)

    def kill(self, place: int) -> None:
        self.cluster.nodes[place].kill()

    def bring_back(self, place: int) -> None:
        self.cluster.nodes[place].launch()
        self.cluster.wait_for(self.cluster.nodes[place])

    def all_of(self, place: int) -> dict[str, list[str]]:
        """Everything that one node has, table by table."""
        own = Database(self.cluster.url_of(self.cluster.nodes[place]))
        with own.transaction() as connection:
            connection.run("SET SESSION wsrep_sync_wait = 7")
            tables = [name for (name,) in connection.rows("SHOW TABLES")]
            found = {
                name: sorted(map(repr, connection.rows(f"SELECT * FROM {name}"))) for name in tables
            }
        own.close()
        return found

    def end(self) -> None:
        for one in self.sets:
            one.terminate()
        for one in self.sets:
            one.wait()
        self.context.database.close()
        self.cluster.stop()


class Keeper:
    """Somebody who works through the API of both sets in turn, in one session."""

    def __init__(self, ports: list[int], place: int) -> None:
        self.ports, self.place = ports, place
        self.chance = random.Random(place)
        self.client = httpx.Client(timeout=PATIENCE)
        self.turn = place
        self.told: list[tuple[float, int, int, str]] = []  # moment, port, status, what was asked
        self.applied: dict[int, bool] = {}  # by intake, whether it was said to be in
        answer = self.ask(
            "POST", "/api/session", json={"name": f"keeper{place}", "password": PASSWORD}
        )
        self.client.headers["X-Nevefield-Token"] = answer.json()["token"]

    def ask(self, method: str, path: str, **more) -> httpx.Response | None:
        """Ask one of the sets; None when it was refused for now."""
        self.turn += 1
        port = self.ports[self.turn % 2]
        answer = self.client.request(method, f"http://127.0.0.1:{port}{path}", **more)
        self.told.append((time.monotonic(), port, answer.status_code, f"{method} {path}"))
        assert answer.status_code in TELLS, (method, path, answer.status_code, answer.text)
        if answer.status_code == 503:
            assert (
                "database" in answer.json()["detail"] or "at that moment" in answer.json()["detail"]
            )
        return answer if answer.status_code < 300 else None

    def drop(self) -> None:
        """Take a file in, look at it, apply it, and wait for what becomes of it."""
        first = 100 * (self.place + 1)
        people = self.chance.sample(
            [*range(1, 31), *range(first, first + 60)], self.chance.randint(1, 6)
        )
        field = self.chance.choice(FIELDS[1:])
        mark = self.chance.randint(1, 9)
        text = (
            "\n".join([f"no,name,{field}", *(f"{one},Name{one},{mark * one}" for one in people)])
            + "\n"
        )
        name = f"f{self.place}-{self.chance.random()}.csv"
        made = self.ask(
            "POST", "/api/intakes", files={"file": (name, text)}, data={"roster": "crew"}
        )
        if made is None:
            return
        intake = made.json()["intake"]
        seen = self.ask("GET", f"/api/intakes/{intake}")
        if seen is None:
            return
        body = {"steps": len(seen.json()["log"]), "roster_version": seen.json()["roster_version"]}
        asked = self.ask("POST", f"/api/intakes/{intake}/apply", json=body)
        if asked is None or asked.json()["job"] is None:
            return
        for _ in range(600):
            job = self.ask("GET", f"/api/jobs/{asked.json()['job']}")
            if job is not None and job.json()["state"] in ("done", "failed"):
                self.applied[intake] = job.json()["state"] == "done"
                return
            time.sleep(0.1)
        raise AssertionError("a job never ended")

    def edit(self) -> None:
        found = self.ask("GET", "/api/rosters/crew/records", params={"limit": 50})
        if found is not None:
            record = self.chance.choice(found.json()["rows"])["id"]
            self.ask(
                "POST",
                f"/api/records/{record}/edit",
                json={"values": {"guardian": f"Hand{self.chance.randint(1, 99)}"}},
            )

    def undo(self) -> None:
        found = self.ask("GET", "/api/rosters/crew/change-sets")
        sets = (
            [one["id"] for one in found.json()["change_sets"][:12] if not one["undone_by"]]
            if found is not None
            else []
        )
        if sets:
            self.ask(
                "POST",
                f"/api/change-sets/{self.chance.choice(sets)}/take-back",
                json={"as_far": True},
            )

    def keep(self, stop: threading.Event) -> None:
        while not stop.is_set():
            self.chance.choices([self.drop, self.edit, self.undo], [6, 3, 1])[0]()


@pytest.mark.long
def test_nodes_die_and_come_back(tmp_path):
    """Whole or nothing, nobody hears more than a sentence, both sets go on, all nodes hold the
    same, and what the model says.
    """
    world = World(tmp_path)
    try:
        keepers = [Keeper(world.ports, place) for place in range(KEEPERS)]
        stop = threading.Event()
        with ThreadPoolExecutor(KEEPERS) as pool:
            running = [pool.submit(one.keep, stop) for one in keepers]
            killed = []
            # the second set's own, then the first's: each time one set has to go over to another
            for place in (1, 0):
                time.sleep(12)
                killed.append(time.monotonic())
                world.kill(place)
                time.sleep(12)
                world.bring_back(place)
            time.sleep(10)
            stop.set()
            for one in running:
                one.result()
        settle(world.context, 120)
        with world.context.database.transaction() as connection:
            states = check(connection)
            receipts = [
                one.receipt for one, _, _ in record_store.list_change_sets(connection, 1, 100_000)
            ]
            in_it = {
                row[0]
                for row in connection.rows(
                    "SELECT intake_id FROM change_set WHERE intake_id IS NOT NULL"
                )
            }
        said = {intake: is_in for one in keepers for intake, is_in in one.applied.items()}
        assert said == {intake: intake in in_it for intake in said}
        assert len(states) > 40
        assert any("looked_at" in receipt for receipt in receipts)
        for begin in killed:
            for port in world.ports:
                went = [
                    status
                    for one in keepers
                    for at, to, status, _ in one.told
                    if at > begin + 5 and to == port
                ]
                assert sum(status < 300 for status in went) > 10
        everything = [world.all_of(place) for place in range(3)]
        assert everything[0] == everything[1] == everything[2]
        world.kill(1)
        world.kill(2)  # what is left is cut off, and must not answer as if it were all there is
        keeper = keepers[0]
        while keeper.ask("GET", "/api/rosters") is not None:  # until it has noticed
            time.sleep(0.5)
        assert [keeper.ask("GET", "/api/rosters") for _ in range(4)] == [None] * 4
        assert [status for _, _, status, _ in keeper.told[-4:]] == [503] * 4
        for place in (1, 2):
            world.cluster.nodes[place].launch()
        for node in world.cluster.nodes:
            world.cluster.wait_for(node)
        assert all(keeper.ask("GET", "/api/rosters") for _ in range(4))
    finally:
        world.end()
