"""Connections to MariaDB, one a thread, and transactions."""

from __future__ import annotations

import threading
from contextlib import contextmanager, suppress
from copy import copy
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, TypeVar

import pymysql

from nevefield.store.again import do_again
from nevefield.store.errors import Contended, DatabaseGone, KeyTaken, OtherVersion
from nevefield.store.nodes import Node, Nodes
from nevefield.store.sight import ALL

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Mapping, Sequence

    from nevefield.store.sight import Part, Sight

__all__ = ["DUPLICATE", "Connection", "Database"]

# The numbers for a connection that is there no more, for a node that is cut off from its cluster
# (1047) or was in a commit (1180)
GONE = (0, 1047, 1180, 1927, 2006, 2013, 2055)
# A wait for a lock that took too long, a deadlock or a write set that came second, a statement
# broken off for one that came first
CONTENDED = (1205, 1213, 1317)
# A table or a column that is not there
UNKNOWN = (1054, 1146)
DENIED = 1142
Result = TypeVar("Result")
DUPLICATE = 1062  # the server's number for a unique key that refused a row


@dataclass
class _Mark:
    """What has happened in a transaction."""

    wrote: bool = False


def _is_unknown(error: pymysql.err.Error, database: str) -> bool:
    """Tell whether a table or column of our own is not there: of who may not even see that, a right
    is missing.
    """
    number, said = error.args[0], str(error.args[-1])
    return number in UNKNOWN or (
        number == DENIED and said.startswith("SELECT") and f"`{database}`." in said
    )


@contextmanager
def _telling_keys() -> Iterator[None]:
    """Tell of a unique key that refused a row as such."""
    try:
        yield
    except pymysql.err.IntegrityError as error:
        if error.args[0] == DUPLICATE:
            raise KeyTaken(str(error.args[1])) from error
        raise


class Connection:
    """A connection inside a transaction; every value is bound.

    Args:
        raw: The driver's connection.
        sight: What whoever it is for may see: the functions of `store` give nothing else.
        database: The name of the database that it leads to, whichever of its nodes.
        mark: Notes that something was written.
    """

    def __init__(
        self,
        raw: Any,
        sight: Sight = ALL,
        database: tuple[str, str] = ("", ""),
        mark: _Mark | None = None,
    ) -> None:
        self.raw = raw
        self.sight = sight
        self.database = database
        self._mark = mark or _Mark()

    def whole(self) -> Connection:
        """Give the same connection for the product's own eyes: what is read through it is not
        shown as it is. Of what somebody has a part of, it leads to that part.
        """
        return self.seeing(self.sight.parts)

    def seeing(self, parts: Mapping[int, Part]) -> Connection:
        """Give the same connection for the product's own eyes, within parts of some rosters; none
        for everything.
        """
        sight = replace(ALL, address=self.sight.address, parts=parts)
        if self.sight == sight:
            return self
        return Connection(self.raw, sight, self.database, self._mark)

    def run(self, statement: str, values: Sequence[Any] = ()) -> int:
        """Run a statement.

        Returns:
            The number of rows touched.

        Raises:
            KeyTaken: A unique key refused it.
        """
        self._mark.wrote = True
        with self.raw.cursor() as cursor, _telling_keys():
            return int(cursor.execute(statement, values))

    def run_many(self, statement: str, values: Sequence[Sequence[Any]]) -> None:
        """Run a statement for each row of values.

        Raises:
            KeyTaken: A unique key refused one.
        """
        self._mark.wrote = True
        with self.raw.cursor() as cursor, _telling_keys():
            cursor.executemany(statement, values)

    def insert(self, statement: str, values: Sequence[Any] = ()) -> int:
        """Insert one row and return its number.

        Raises:
            KeyTaken: A unique key refused it.
        """
        self._mark.wrote = True
        with self.raw.cursor() as cursor, _telling_keys():
            cursor.execute(statement, values)
            return int(cursor.lastrowid)

    def rows(self, statement: str, values: Sequence[Any] = ()) -> list[tuple[Any, ...]]:
        """Return all rows of a query."""
        with self.raw.cursor() as cursor:
            cursor.execute(statement, values)
            return list(cursor.fetchall())

    def row(self, statement: str, values: Sequence[Any] = ()) -> tuple[Any, ...] | None:
        """Return the first row of a query, None when there is none."""
        with self.raw.cursor() as cursor:
            cursor.execute(statement, values)
            found: tuple[Any, ...] | None = cursor.fetchone()
            return found


class Database:
    """A MariaDB database, on one server or on the nodes of a cluster.

    Args:
        url: See `Nodes`.

    Raises:
        WrongAddress: The address is none.
    """

    def __init__(self, url: str) -> None:
        self.nodes = Nodes(url)
        self._local = threading.local()
        self._sight = ALL

    def seen_by(self, sight: Sight) -> Database:
        """Give the same database, with the same connections, as somebody may see it."""
        database = copy(self)
        database._sight = sight
        return database

    @property
    def sight(self) -> Sight:
        """What may be seen of it."""
        return self._sight

    @property
    def kept(self) -> int:
        """Count the transactions of this thread that wrote something and were committed, or may
        have been.
        """
        return int(getattr(self._local, "kept", 0))

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """Open a transaction: committed at the end, rolled back on any exception.

        After an exception the connection is thrown away with all that stands on it, temporary
        tables, locks and settings: the next transaction of this thread finds nothing of it.

        Raises:
            DatabaseGone: The server cannot be reached, or went away in the middle: then nothing of
                the transaction was kept, unless it went away while it committed.
            Contended: Others were writing the same; nothing of the transaction was kept.
        """
        raw = self._connect()
        mark, commits = _Mark(), False
        try:
            raw.begin()
            yield Connection(raw, self._sight, self.nodes.name, mark)
            commits = mark.wrote
            # before: when it goes away while it commits, nobody knows
            self._local.kept = self.kept + mark.wrote
            raw.commit()
        except (pymysql.err.OperationalError, pymysql.err.InterfaceError) as error:
            self._throw_away(raw)
            if error.args[0] in GONE:
                self.nodes.pass_over(Node(raw.host, raw.port))
                raise DatabaseGone(str(error.args[-1]), unsure=commits) from error
            if error.args[0] in CONTENDED:
                raise Contended from error
            if _is_unknown(error, str(self.nodes.name[1])):
                raise OtherVersion from error
            raise
        except pymysql.err.ProgrammingError as error:
            self._throw_away(raw)
            if _is_unknown(error, str(self.nodes.name[1])):
                raise OtherVersion from error
            raise
        except BaseException:
            self._throw_away(raw)
            raise

    def again(self, work: Callable[[Connection], Result]) -> Result:
        """Do something in a transaction of its own, and again when others were writing the same or
        a node went away.

        Args:
            work: What is done: whole, and safe to repeat; nothing outside of the database may come
                of it.

        Raises:
            Contended: Others were writing the same each time.
            DatabaseGone: No node answers.
        """

        def once() -> Result:
            with self.transaction() as connection:
                return work(connection)

        return do_again(once)

    def close(self) -> None:
        """Close this thread's connection."""
        raw = getattr(self._local, "raw", None)
        if raw is not None:
            self._local.raw = None
            raw.close()

    def _connect(self) -> Any:
        raw = getattr(self._local, "raw", None)
        if raw is not None:
            try:
                raw.ping(reconnect=False)
                return raw
            except pymysql.err.Error:
                self._local.raw = None
        self._local.raw = self.nodes.connect()
        return self._local.raw

    def _throw_away(self, raw: Any) -> None:
        self._local.raw = None
        with suppress(pymysql.err.Error):  # gone already, and the transaction with it
            raw.rollback()  # at once: the server notices a closed connection only later
        with suppress(pymysql.err.Error):
            raw.close()
