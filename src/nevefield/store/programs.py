"""The server's own programs: the database as text, and text into a database.

Source: MariaDB, "mariadb-dump" (`--single-transaction`: the state at one moment, while others
write).
"""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from contextlib import contextmanager
from typing import TYPE_CHECKING
from urllib.parse import parse_qs, unquote, urlsplit

from nevefield.store.errors import NoPrograms, ProgramFailed

if TYPE_CHECKING:
    from collections.abc import Iterator
    from typing import IO

__all__ = [
    "Filling",
    "create_database",
    "drop_database",
    "dump",
    "filling",
    "hold_mails",
    "last_migration",
    "name_of_database",
    "swap_tables",
]

PIECE = 1 << 18  # bytes
DUMP = (
    "--single-transaction",
    "--quick",
    "--hex-blob",
    "--skip-dump-date",
    "--skip-comments",
    "--order-by-primary",
    "--no-tablespaces",
    "--skip-add-drop-table",
    "--skip-lock-tables",
    "--skip-add-locks",
    "--default-character-set=utf8mb4",
)


def dump(url: str, name: str = "") -> Iterator[bytes]:
    """Give a database as text, as it is at one moment, piece by piece.

    Args:
        url: Of the database, see `Nodes`.
        name: Of another database on the same server; "" for the one of the address.

    Raises:
        NoPrograms: mariadb-dump is not there.
        ProgramFailed: It could not read all.
    """
    with _options(url) as (options, own):
        program = _find("mariadb-dump")
        process = subprocess.Popen(
            [program, options, *DUMP, name or own], stdout=subprocess.PIPE, stderr=subprocess.PIPE
        )
        assert process.stdout is not None  # noqa: S101 of a pipe that was asked for
        try:
            while piece := process.stdout.read(PIECE):
                yield piece
        except BaseException:  # whoever reads gave up: a full disk
            process.kill()
            process.wait()
            raise
        _end(process)


class Filling:
    """A database that is being filled with text."""

    def __init__(self, pipe: IO[bytes]) -> None:
        self._pipe = pipe

    def hear(self, text: bytes) -> None:
        """Take a piece of the text."""
        self._pipe.write(text)


@contextmanager
def filling(url: str, name: str) -> Iterator[Filling]:
    """Fill a database of the same server with text.

    Raises:
        NoPrograms: The client is not there.
        ProgramFailed: The server did not take it.
    """
    with _options(url) as (options, _):
        process = subprocess.Popen(
            [_find("mariadb"), options, "--default-character-set=utf8mb4", name],
            stdin=subprocess.PIPE,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE,
        )
        assert process.stdin is not None  # noqa: S101 of a pipe that was asked for
        try:
            # rows come in the order of tables' names: what they refer to may come later
            process.stdin.write(b"SET foreign_key_checks = 0, unique_checks = 0;\n")
            yield Filling(process.stdin)
            process.stdin.close()
        except BrokenPipeError:
            pass  # the server said no: it is told below
        except BaseException:
            process.kill()
            process.wait()
            raise
        _end(process)


def _run(url: str, *statements: str) -> str:
    """Run statements as whoever the address is of, and give what they answer.

    Raises:
        NoPrograms: The client is not there.
        ProgramFailed: The server refused one.
    """
    with _options(url) as (options, own):
        process = subprocess.Popen(
            [_find("mariadb"), options, "--batch", "--skip-column-names", own],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
        )
        out, said = process.communicate("".join(f"{one};\n" for one in statements).encode())
        if process.returncode:
            raise ProgramFailed(_words(said))
        return out.decode()


def last_migration(url: str) -> str:
    """Give the name of the last migration that a database has."""
    return _run(url, "SELECT MAX(name) FROM migration WHERE name LIKE '%.sql'").strip()


def name_of_database(url: str) -> str:
    """Give the name of the database that an address leads to."""
    return _run(url, "SELECT DATABASE()").strip()


def create_database(url: str, name: str) -> None:
    """Make an empty database on the same server."""
    _run(url, f"CREATE DATABASE `{name}` CHARACTER SET utf8mb4")


def drop_database(url: str, name: str) -> None:
    """Take a database out, if it is there."""
    _run(url, f"DROP DATABASE IF EXISTS `{name}`")


def swap_tables(url: str, *, fresh: str, place: str, aside: str) -> None:
    """Put all tables of a database in the place of those of another, which go aside: in one
    statement, so that whoever works meanwhile finds the one or the other.

    Args:
        url: Of the server, of an account that may do so.
        fresh: The database whose tables go into their place.
        place: The database that people work with.
        aside: An empty database for what is in that place.
    """
    moves = [
        *(f"`{place}`.`{table}` TO `{aside}`.`{table}`" for table in _tables(url, place)),
        *(f"`{fresh}`.`{table}` TO `{place}`.`{table}`" for table in _tables(url, fresh)),
    ]
    _run(url, "SET foreign_key_checks = 0", f"RENAME TABLE {', '.join(moves)}")


def hold_mails(url: str, database: str) -> None:
    """Let no mail of a database go by itself: what waited when it was copied may have gone."""
    if "mail" not in _tables(url, database):
        return  # of before there were mails
    _run(
        url,
        f"UPDATE `{database}`.mail SET state = 'unclear', lease_until = NULL, worker = '',"  # noqa: S608
        " answer = 'waited when the copy was made that was brought back'"
        " WHERE state IN ('waiting', 'handing')",
    )


def _tables(url: str, database: str) -> list[str]:
    return _run(url, f"SHOW TABLES FROM `{database}`").split()


def _find(program: str) -> str:
    found = shutil.which(program)
    if found is None:
        raise NoPrograms(program)
    return found


def _end(process: subprocess.Popen[bytes]) -> None:
    said = process.stderr.read() if process.stderr else b""
    if process.wait():
        raise ProgramFailed(_words(said))


def _words(said: bytes) -> str:
    text = said.decode(errors="replace").strip().splitlines()
    return f"The database did not do it: {text[-1][:200] if text else 'it said nothing'}."


@contextmanager
def _options(url: str) -> Iterator[tuple[str, str]]:
    """Write down where the database is and how to sign in there, for our own eyes only: what
    stands on a command line, every account of the machine can read.
    """
    parts = urlsplit(url)
    account, _, places = parts.netloc.rpartition("@")
    user, _, password = account.partition(":")
    host, _, port = places.split(",")[0].partition(":")
    lines = ["[client]", f'user="{unquote(user)}"', f'password="{unquote(password)}"']
    if socket := parse_qs(parts.query).get("socket"):
        lines.append(f'socket="{socket[0]}"')
    else:
        lines += [f'host="{host or "127.0.0.1"}"', f"port={port or 3306}"]
    handle, path = tempfile.mkstemp(prefix="nevefield-")  # 0600
    try:
        with os.fdopen(handle, "w") as file:
            file.write("\n".join(lines) + "\n")
        yield f"--defaults-extra-file={path}", parts.path.lstrip("/")
    finally:
        os.unlink(path)
