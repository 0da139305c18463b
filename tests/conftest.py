"""What tests share: the demo world, a MariaDB of their own, a context with the demo in it, a web
client.
"""

from __future__ import annotations

import fcntl
import importlib.util
import io
import json
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from flask import Flask
from hypothesis import HealthCheck, settings

from nevefield.accounts import add_account, signing
from nevefield.context import Context
from nevefield.run.demo import load_demo
from nevefield.run.server import PrivateServer
from nevefield.run.supervise import DEMO_ACCOUNTS
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from nevefield.web import create_app
from tests.shelf import Shelf, make_database

# How long one example takes says more about the machine than about the code.
# The same examples each time, so that a change is judged by what it changed; `./test --long` looks
# for new ones.
settings.register_profile(
    "nevefield",
    deadline=None,
    max_examples=80,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.register_profile(
    "long", deadline=None, max_examples=600, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile(os.environ.get("NEVEFIELD_EXAMPLES", "nevefield"))

ROOT = Path(__file__).parents[1]
NOW = datetime(2026, 9, 1, 9, 0)


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items):
    """Journeys in a browser take longest: they come first, so that no process is left alone with
    one at the end; otherwise the order stays as random as it is.
    """
    items.sort(key=lambda item: "browser" not in item.path.parts)


class Clock:
    """A clock that tests move by hand; every look at it takes a millisecond, so that no two
    moments are the same.
    """

    def __init__(self) -> None:
        self.at = NOW

    def __call__(self) -> datetime:
        self.at += timedelta(milliseconds=1)
        return self.at

    def move(self, **parts: int) -> None:
        self.at += timedelta(**parts)


def load_module(path: Path):
    """Load a script of the repository as a module."""
    if path.stem in sys.modules:
        return sys.modules[path.stem]
    sys.path.insert(0, str(path.parent))
    spec = importlib.util.spec_from_file_location(path.stem, path)
    module = importlib.util.module_from_spec(spec)
    sys.modules[path.stem] = module
    spec.loader.exec_module(module)
    return module


@pytest.fixture(scope="session", autouse=True)
def _quick_passwords():
    """Digest passwords quickly: how long guessing one takes is not what tests are about."""
    before = signing._HASHER
    signing._HASHER = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    yield
    signing._HASHER = before


@contextmanager
def once_for_all(tmp_path_factory, name: str) -> Iterator[tuple[Path, bool]]:
    """Give a directory, and whether it is to be filled: to whichever process of the tests comes
    first it is new, to the others as that one left it.
    """
    root = tmp_path_factory.getbasetemp()
    if "PYTEST_XDIST_WORKER" in os.environ:
        root = root.parent
    with (root / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        is_first = not (root / f"{name}.done").exists()
        if is_first:
            (root / name).mkdir(exist_ok=True)
        yield root / name, is_first
        (root / f"{name}.done").touch()


@pytest.fixture(scope="session")
def made(tmp_path_factory) -> Path:
    """The demo world, made afresh."""
    with once_for_all(tmp_path_factory, "made") as (out, is_first):
        if is_first:
            load_module(ROOT / "demo" / "make.py").make(out)
    return out


@pytest.fixture(scope="session")
def truth(made) -> dict:
    """What is planted in `september-joiners`."""
    return json.loads((made / "september-joiners.truth.json").read_text())


@pytest.fixture(scope="session")
def joiners(made) -> bytes:
    """The workbook of the admissions office."""
    return (made / "september-joiners.xlsx").read_bytes()


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    """A MariaDB of the tests' own, without the waits that make commits survive a crash."""
    own = PrivateServer(tmp_path_factory.mktemp("db"), durable=False)
    url = own.start()
    yield url
    own.stop()


@pytest.fixture(scope="session")
def shelf(server):
    own = Shelf(server)
    yield own
    own.close()


SOURCES = {"bare": "empty_database", "desk": "demo_database", "college": "college_database"}


@pytest.fixture
def database_url(request, server, shelf, monkeypatch) -> str:
    """The test's database, with what its context is to have; nothing where it has none."""
    fixture = next((SOURCES[one] for one in SOURCES if one in request.fixturenames), "")
    source = request.getfixturevalue(fixture) if fixture else ""
    name = shelf.take(source)
    yield f"{server.rsplit('/', 1)[0]}/{name}"
    monkeypatch.undo()  # mishaps that the test brought about
    shelf.give_back(source, name)


@pytest.fixture
def clock() -> Clock:
    """The clock of the context."""
    return Clock()


def _lead_to(database_url: str, clock: Clock) -> Iterator[Context]:
    settings = Settings(database_url=database_url, lease_seconds=2)
    context = Context(Database(database_url), settings, clock)
    yield context
    context.database.close()


@pytest.fixture(scope="session")
def empty_database(server) -> str:
    """The name of a database without a row, migrated, which tests copy and never touch."""
    make_database(server, "nevefield_empty")
    database = Database(f"{server.rsplit('/', 1)[0]}/nevefield_empty")
    migrate(database)
    database.close()
    return "nevefield_empty"


@pytest.fixture
def bare(database_url, clock) -> Context:
    """A context with an empty database, migrated."""
    yield from _lead_to(database_url, clock)


def _load_demo(server: str, made: Path, name: str, only: frozenset[str]) -> str:
    make_database(server, name)
    url = f"{server.rsplit('/', 1)[0]}/{name}"
    context = Context(Database(url), Settings(database_url=url), Clock())
    migrate(context.database)
    load_demo(context, made, only=only)
    for sign_in, title, password, level in DEMO_ACCOUNTS:
        add_account(context, sign_in, title, password, level)
    context.database.close()
    return name


@pytest.fixture(scope="session")
def demo_database(server, made) -> str:
    """The name of a database with the demo's cadets and staff, which tests copy and never touch."""
    return _load_demo(server, made, "nevefield_demo", frozenset({"cadets", "staff"}))


@pytest.fixture(scope="session")
def college_database(server, made) -> str:
    """The name of a database with all rosters of the demo."""
    return _load_demo(server, made, "nevefield_college", frozenset())


@pytest.fixture
def desk(database_url, clock) -> Context:
    """A context with the demo's cadets and staff in its database, and an account of each level."""
    yield from _lead_to(database_url, clock)


@pytest.fixture
def college(database_url, clock) -> Context:
    """A context with all rosters of the demo."""
    yield from _lead_to(database_url, clock)


PASSWORDS = {name: password for name, _, password, _ in DEMO_ACCOUNTS}
LOOKS, PREPARES, APPROVES, ADMINISTERS = (name for name, *_ in DEMO_ACCOUNTS)


_APPS: list[tuple[Context, Flask]] = []  # the last ones: making one takes a while


def _app_of(context: Context) -> Flask:
    """The application of a context, the same for all who use it."""
    for own, app in _APPS:
        if own is context:
            return app
    _APPS.append((context, create_app(context.settings, context)))
    del _APPS[:-2]
    return _APPS[-1][1]


class Browser:
    """A test client that signs in and sends the session's token, as the front end does."""

    def __init__(self, context: Context, name: str = "") -> None:
        self.client = _app_of(context).test_client()
        self.token = ""
        if name:
            answer = self.send(
                "POST", "/api/session", json={"name": name, "password": PASSWORDS[name]}
            )
            assert answer.status_code == 200, answer.json
            self.token = answer.json["token"]

    def send(self, method: str, path: str, **more):
        headers = {"X-Nevefield-Token": self.token, **more.pop("headers", {})}
        return self.client.open(path, method=method, headers=headers, **more)

    def get(self, path: str, **query):
        answer = self.send("GET", path, query_string=query)
        assert answer.status_code == 200, (path, answer.status_code, answer.json)
        return answer.json

    def post(self, path: str, document=None):
        answer = self.send("POST", path, json=document if document is not None else {})
        assert answer.status_code < 300, (path, answer.status_code, answer.json)
        return answer.json

    def drop(self, data: bytes, name: str = "september-joiners.xlsx", **fields):
        return self.send("POST", "/api/intakes", data={"file": (io.BytesIO(data), name), **fields})


@pytest.fixture
def browser(desk):
    """Make a client for somebody: `browser(APPROVES)`."""
    return lambda name="": Browser(desk, name)


@pytest.fixture(autouse=True)
def _no_system_database(monkeypatch):
    monkeypatch.delenv("NEVEFIELD_DATABASE_URL", raising=False)
