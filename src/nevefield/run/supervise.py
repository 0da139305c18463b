"""Start everything, keep it running, and stop it all cleanly."""

from __future__ import annotations

import ctypes
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import click

from nevefield.accounts import Level, add_account
from nevefield.accounts.people import LinkMade, first_link
from nevefield.context import Context, NoPrograms, ProgramFailed, utc_now
from nevefield.copies.errors import CopyError
from nevefield.copies.making import Place
from nevefield.rosters.opening import is_empty
from nevefield.run.demo import load_demo
from nevefield.run.practice import PracticeProcesses
from nevefield.run.renewing import renew, wants_renewing
from nevefield.run.root import give_up_root
from nevefield.run.server import PrivateServer, ServerFailed, free_port
from nevefield.run.standing import find_demo, make_demo, run_stand_ins
from nevefield.run.upgrading import copy_before
from nevefield.settings import Settings, with_file
from nevefield.store import rosters as roster_store
from nevefield.store.connection import Database
from nevefield.store.errors import DatabaseGone, OtherVersion, WrongAddress
from nevefield.store.schema import limit_account, migrate
from nevefield.timing import FOLDER

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["DEMO_ACCOUNTS", "prepare", "serve"]

# Sign-ins of the demo, of each level; made only together with the demo's data.
DEMO_ACCOUNTS = [
    ("lindqvist", "A. Lindqvist", "look-only-2026", Level.LOOK),
    ("tamm", "R. Tamm", "prepare-2026", Level.PREPARE),
    ("okell", "M. Okell", "approve-2026", Level.APPROVE),
    ("quernmore", "J. Quernmore", "administer-2026", Level.ADMINISTER),
]
PORT = 8417
STARTS_WITHIN = 180  # seconds: a busy machine takes its time, and what ends is seen at once
_SET_PARENT_DEATH_SIGNAL = 1  # PR_SET_PDEATHSIG, see prctl(2)
APPLIES = "okell"  # applied the files of the past
ROOT = Path(__file__).resolve().parents[3]


def prepare(
    context: Context,
    data: Path,
    *,
    empty: bool,
    say: Callable[[str], None],
    owner: Database | None = None,
) -> bool:
    """Migrate, and load the demo into a database without rosters.

    Args:
        context: Database and clock.
        data: Our data directory, where the demo's files go when they may not be beside the program.
        empty: Whether to leave it without the demo.
        say: Hears what is done.
        owner: The database through the account that may change its schema, where the application's
            may not.

    Returns:
        Whether this database holds the demo.
    """
    applied = migrate(owner or context.database)
    if applied:
        say(f"Database prepared: {len(applied)} migrations.")
    if owner is not None:
        limit_account(owner, context.database)
        owner.close()
    if empty or not is_empty(context):
        return _has_demo(context)
    say("Loading the demo ...")
    path = make_demo(data)
    accounts = {
        name: add_account(context, name, title, password, level)
        for name, title, password, level in DEMO_ACCOUNTS
    }
    load_demo(context, path, account_id=accounts[APPLIES], history=True)
    return True


def _has_demo(context: Context) -> bool:
    from nevefield.store.accounts import get_account

    with context.database.transaction() as connection:
        rosters = {roster.name for roster, _ in roster_store.list_rosters(connection)}
        return "cadets" in rosters and get_account(connection, DEMO_ACCOUNTS[0][0]) is not None


def serve(data: Path, port: int, *, empty: bool, workers: int = 2) -> int:
    """Run database, web server and worker until a signal says stop.

    Returns:
        The exit status.
    """

    def say(text: str) -> None:
        click.echo(text, err=True)

    settings = Settings.from_environment()
    if warning := give_up_root(data, ROOT, settings.run_as):
        say(warning)
    server: PrivateServer | None = None
    stop = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: stop.set())
    children: list[subprocess.Popen[bytes]] = []
    practice: PracticeProcesses | None = None
    try:
        if not settings.database_url:
            say("Starting the database ...")
            server = PrivateServer(data)
            owner = server.start()
            settings = replace(settings, database_url=server.account_url, owner_url=owner)
            settings = replace(settings, outbox=settings.outbox or _outbox(data))
        whole = Database(settings.owner_url) if settings.owner_url else None
        _copy_first(settings, data, say)
        demo = prepare(Context.of(settings), data, empty=empty, say=say, owner=whole)
        if server is not None and (last := wants_renewing(Context.of(settings))):
            say("Somebody was erased: the database's files are written anew ...")
            owner = renew(server, PrivateServer, settings.owner_url, last)
            settings = replace(settings, database_url=server.account_url, owner_url=owner)
            prepare(Context.of(settings), data, empty=True, say=say, owner=Database(owner))
        there = settings.practice_port or free_port(port + 2)
        if server is not None:
            settings = replace(
                settings,
                step_key=settings.step_key or server.step_key,
                practice_url=settings.practice_url or server.practice_url,
            )
        environment = _environment(settings, there) | {FOLDER: _fresh(data / "times")}
        commands = [_web(port, workers), _worker()]
        if demo:
            place = find_demo(data, say)
            made, more = run_stand_ins(Context.of(settings), data, place, port, free_port)
            commands, environment = [*commands, *made], environment | more
        commands.append(_copier(data))
        environments = [environment] * (len(commands) - 1) + [environment | _owned(settings)]
        children = list(map(_start, commands, environments))
        if not _wait_for(port, children[0], stop):
            say(
                f"nevefield: the web server did not start on port {port}; is something else there?"
                " Try --port."
            )
            return 1
        _greet(port, demo, first_link(Context.of(settings)))
        practice = PracticeProcesses(
            Context.of(settings), [_web(there, 1), _worker()], environment, _start, _stop
        )
        while not stop.wait(0.5):
            _hear_of_copy(data, children)
            _keep_running(commands, children, environments, server, say)
            practice.look()
        return 0
    except (CopyError, NoPrograms, ProgramFailed) as error:
        say(f"nevefield: {error} Nothing was altered; NEVEFIELD_COPY_FIRST=no goes on without one.")
        return 1
    except (ServerFailed, WrongAddress, OtherVersion) as error:
        say(f"nevefield: {error}")
        return 1
    except DatabaseGone as error:
        say(f"nevefield: {error} Is NEVEFIELD_DATABASE_URL right, and the server running?")
        return 1
    finally:
        say("Stopping ...")
        _stop(practice.running if practice else [])
        _stop(children)
        if server is not None:
            server.stop()


def _environment(settings: Settings, practice_port: int) -> dict[str, str]:
    """Give the environment of what answers requests and works: never the owner's account."""
    environment = with_file(os.environ) | {"NEVEFIELD_DATABASE_URL": settings.database_url}
    environment.pop("NEVEFIELD_OWNER_URL", None)
    if settings.outbox:
        environment["NEVEFIELD_OUTBOX"] = settings.outbox
    if settings.step_key:
        environment["NEVEFIELD_STEP_KEY"] = settings.step_key
    if settings.practice_url:
        environment |= {
            "NEVEFIELD_PRACTICE_URL": settings.practice_url,
            "NEVEFIELD_PRACTICE_PORT": str(practice_port),
            "NEVEFIELD_PRACTICE_ADDRESS": settings.practice_address
            or f"http://127.0.0.1:{practice_port}",
        }
    return environment


def _outbox(data: Path) -> str:
    """Make the folder in which files for destinations are laid; it stays what it holds."""
    folder = data.resolve() / "outbox"
    folder.mkdir(mode=0o750, exist_ok=True)
    return str(folder)


def _owned(settings: Settings) -> dict[str, str]:
    """Give the owner's account, for who tries copies, and makes databases for it; nobody else has
    it.
    """
    return {"NEVEFIELD_OWNER_URL": settings.owner_url} if settings.owner_url else {}


def _copy_first(settings: Settings, data: Path, say: Callable[[str], None]) -> None:
    """Make a copy where this version alters the database."""
    if settings.copy_first:
        url = settings.owner_url or settings.database_url
        place = Place(url, url, data / "copies", settings.copy_key)
        copy_before(Database(url), place, utc_now(), say)


def _fresh(folder: Path) -> str:
    """Make a directory empty: what ended processes left there is of another time."""
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir(mode=0o700, parents=True)
    return str(folder)


def _web(port: int, workers: int) -> list[str]:
    program = str(Path(sys.executable).with_name("gunicorn"))
    options = [
        "--workers",
        str(workers),
        "--threads",
        "24",  # more than files may wait for a reader: some are always free for pages
        "--timeout",
        "300",
        "--graceful-timeout",
        "5",
        "--log-level",
        "warning",
        "--forwarded-allow-ips",
        "",  # whose word on who asks is taken is a setting of ours
    ]
    return [program, *options, "--bind", f"127.0.0.1:{port}", "nevefield.web:create_app()"]


def _worker() -> list[str]:
    return [str(Path(sys.executable).with_name("nevefield")), "worker"]


def _copier(data: Path) -> list[str]:
    program = str(Path(sys.executable).with_name("nevefield"))
    return [program, "copier", "--folder", str(data / "copies")]


def _start(command: list[str], environment: dict[str, str]) -> subprocess.Popen[bytes]:
    """Start a process that ends with this one, even when this one is killed without warning."""
    return subprocess.Popen(
        command, env=environment, start_new_session=True, preexec_fn=_end_with_parent
    )


def _end_with_parent() -> None:
    ctypes.CDLL(None).prctl(_SET_PARENT_DEATH_SIGNAL, signal.SIGTERM)


def _wait_for(port: int, child: subprocess.Popen[bytes], stop: threading.Event) -> bool:
    deadline = time.monotonic() + STARTS_WITHIN
    while time.monotonic() < deadline and not stop.is_set() and child.poll() is None:
        try:
            with urllib.request.urlopen(
                f"http://127.0.0.1:{port}/api/health", timeout=10
            ) as answer:
                return bool(answer.status == 200)
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    return stop.is_set()


def _greet(port: int, demo: bool, first: LinkMade | None) -> None:
    click.echo(f"\nNevefield answers at http://127.0.0.1:{port}/")
    if demo:
        click.echo("Sign-ins of the demo:")
        for name, _, password, level in DEMO_ACCOUNTS:
            click.echo(f"  {name:<10} {password:<16} may {level.name.lower()}")
    elif first is not None:
        click.echo("Nobody can sign in yet. Open this once, within a day, to be the first:")
        click.echo(f"  http://127.0.0.1:{port}/join#{first.token}")
    click.echo("Ctrl-C stops everything.")
    sys.stdout.flush()


def _hear_of_copy(data: Path, children: list[subprocess.Popen[bytes]]) -> None:
    """End all processes when a copy was brought back: what they remember is of another state. They
    are started again.
    """
    mark = data / "brought-back"
    if mark.exists():
        mark.unlink()
        _stop(children)


def _keep_running(
    commands: list[list[str]],
    children: list[subprocess.Popen[bytes]],
    environments: list[dict[str, str]],
    server: PrivateServer | None,
    say: Callable[[str], None],
) -> None:
    """Start again what has ended by itself; a pause keeps a thing that cannot start from doing
    it without end.
    """
    if server is not None and server.process is not None and server.process.poll() is not None:
        say("The database has ended; starting it again.")
        time.sleep(1)
        server.restart()
    for place, child in enumerate(children):
        if child.poll() is not None:
            say(
                f"{Path(commands[place][0]).name} has ended (status {child.returncode}); starting"
                " it again."
            )
            time.sleep(1)
            children[place] = _start(commands[place], environments[place])


def _stop(children: list[subprocess.Popen[bytes]]) -> None:
    for child in children:
        if child.poll() is None:
            child.send_signal(signal.SIGTERM)
    for child in children:
        try:
            child.wait(10)
        except subprocess.TimeoutExpired:
            child.kill()
            child.wait()
