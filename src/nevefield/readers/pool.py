"""Hand files to processes that read them: one at a time for each account, a few in all, each
within an allowance.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TYPE_CHECKING, Any

from nevefield.core.errors import CoreError, NotRead, UnreadableFile
from nevefield.core.reading import ReadingChoice

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.core.erasing import Telling
    from nevefield.core.reading import Reading
    from nevefield.core.table import Table

__all__ = ["Allowance", "Readers"]

MOST_AT_ONCE = 2  # readers of one process of ours
# files of one process that are read or wait; whoever only looks at a page must find somebody free
MOST_WAITING = 8
# how archives and workbooks begin, and by how much tables are packed
PACKED, USUALLY_PACKED = (b"PK", b"\x1f\x8b"), 8
MOST_FILES = 50  # that one reader reads before another takes its place
PATIENCE = 120.0  # seconds that a file waits for its turn
STARTING = 60.0  # seconds that a reader may take to begin


@dataclass(frozen=True)
class Allowance:
    """What reading one file may take; grows with the file, up to a most."""

    seconds: int = 30  # of processor time
    most_seconds: int = 300
    memory: int = 1 << 30  # bytes
    most_memory: int = 4 << 30

    def of(self, data: bytes) -> tuple[int, int]:
        """Return the seconds and the bytes for a file; one that is packed counts as what tables
        usually unpack to.
        """
        size = len(data) * (USUALLY_PACKED if data.startswith(PACKED) else 1)
        return min(self.seconds + size // 1_000_000, self.most_seconds), min(
            self.memory + 12 * size, self.most_memory
        )


@dataclass(eq=False)
class Readers:
    """A few processes that wait for files; started when the first file comes, replaced when one
    of them dies.
    """

    allowance: Allowance = field(default_factory=Allowance)
    _idle: list[_Reader] = field(default_factory=list, repr=False)
    _turns: threading.BoundedSemaphore = field(
        default_factory=lambda: threading.BoundedSemaphore(MOST_AT_ONCE), repr=False
    )
    _places: threading.BoundedSemaphore = field(
        default_factory=lambda: threading.BoundedSemaphore(MOST_WAITING), repr=False
    )
    _guard: threading.Lock = field(default_factory=threading.Lock, repr=False)

    def read(
        self,
        data: bytes,
        choice: ReadingChoice | None = None,
        known: frozenset[str] = frozenset(),
        *,
        is_kept: bool = False,
        account: int | None = None,
    ) -> tuple[Table, Reading]:
        """Read a file, or what is kept of one, as `read_file` and `read_kept` do.

        Args:
            data: Its bytes.
            choice: What a person decided about the reading.
            known: Names that headings may have.
            is_kept: Whether it is what `keep` made.
            account: For whom; None for nobody who could ask for several at once.

        Raises:
            UnreadableFile: It is no table, or takes more than its allowance.
        """
        made: tuple[Table, Reading] = self._do(
            "read_kept" if is_kept else "read", (data, choice, known), account
        )
        return made

    def keep(
        self,
        data: bytes,
        choice: ReadingChoice | None,
        known: frozenset[str],
        *,
        account: int | None = None,
    ) -> bytes | None:
        """Make what is kept of a file with secrets, as `keep_without_secrets` does."""
        made: bytes | None = self._do("keep", (data, choice, known), account)
        return made

    def keep_without_people(
        self,
        data: bytes,
        choice: ReadingChoice | None,
        known: frozenset[str],
        lines: frozenset[int],
        telling: Telling,
        *,
        is_kept: bool,
    ) -> tuple[bytes, int] | None:
        """Make what is kept of a file without somebody's rows, as `keep_without_people` does."""
        made: tuple[bytes, int] | None = self._do(
            "keep_without_people", (data, choice, known, lines, telling, is_kept), None
        )
        return made

    def first_texts(self, data: bytes, *, account: int | None = None) -> list[str]:
        """Return the texts of the first row of a workbook, as `first_texts` does."""
        texts: list[str] = self._do("first_texts", (data,), account)
        return texts

    def close(self) -> None:
        """End the processes that wait."""
        with self._guard:
            while self._idle:
                self._idle.pop().end()

    def _do(self, what: str, given: tuple[Any, ...], account: int | None) -> Any:
        seconds, memory = self.allowance.of(given[0])
        with _taking(self._places, 0.0), _alone(account), _taking(self._turns, PATIENCE):
            with self._guard:
                reader = self._idle.pop() if self._idle else None
            reader = reader or _Reader()
            try:
                kind, made = reader.ask(what, given, seconds, memory)
            except BaseException:  # of our side: nobody would end it later
                reader.end()
                raise
            if kind in ("made", "refused") and reader.files < MOST_FILES:
                with self._guard:
                    self._idle.append(reader)
            else:
                reader.end()
        if kind == "made":
            return made
        if kind == "refused":
            raise made
        if kind == "memory":
            raise UnreadableFile(
                "Reading the file takes more memory than a file of its size may"
                f" ({memory >> 20:,} MB).",
                "Look whether it is the right one; in parts it may be read.",
            )
        raise UnreadableFile(
            f"Reading the file takes longer than a file of its size may ({seconds} seconds).",
            "Look whether it is the right one; in parts it may be read.",
        )


@contextlib.contextmanager
def _taking(places: threading.BoundedSemaphore, patience: float) -> Iterator[None]:
    """Take one of a few places, waiting for so many seconds."""
    if not places.acquire(timeout=patience) if patience else not places.acquire(blocking=False):
        raise NotRead(
            "Too many files are being read at the moment.", "Drop it again in a few minutes."
        )
    try:
        yield
    finally:
        places.release()


class _Reader:
    """One process, and the pipes to it."""

    def __init__(self) -> None:
        ours_comes, their_goes = os.pipe()
        their_comes, ours_goes = os.pipe()
        command = [
            sys.executable,
            "-m",
            "nevefield.readers.child",
            str(their_comes),
            str(their_goes),
        ]
        try:
            # It gets nothing of our surroundings but what Python needs to find itself: no
            # addresses, no tokens.
            surroundings = {
                name: os.environ[name]
                for name in ("PATH", "PYTHONPATH", "LANG", "LC_ALL")
                if name in os.environ
            }
            self.process = subprocess.Popen(
                command,
                pass_fds=(their_comes, their_goes),
                stdin=subprocess.DEVNULL,
                cwd="/",
                env=surroundings,
            )
        finally:
            os.close(their_comes)
            os.close(their_goes)
        self.comes, self.goes = (
            Connection(ours_comes, writable=False),
            Connection(ours_goes, readable=False),
        )
        self.files = 0
        if not self.comes.poll(STARTING) or self.comes.recv() != "ready":
            self.end()
            raise CoreError(
                "No process could be started to read the file; see the log of the product."
            )

    def ask(self, what: str, given: tuple[Any, ...], seconds: int, memory: int) -> tuple[str, Any]:
        """Send a request and wait for its answer; `time` when there is none, `memory` when there
        could be none.
        """
        self.files += 1
        try:
            self.goes.send((what, given, seconds, memory))
            # Of a machine that is busy with others it gets less processor time than time goes by.
            if not self.comes.poll(4 * seconds):
                return "time", None
            answer: tuple[str, Any] = self.comes.recv()
            return answer
        except (EOFError, OSError):
            return ("time" if self.process.wait(STARTING) == -signal.SIGXCPU else "memory"), None

    def end(self) -> None:
        """Kill the process."""
        self.process.kill()
        self.process.wait()
        self.comes.close()
        self.goes.close()


@contextlib.contextmanager
def _alone(account: int | None) -> Iterator[None]:
    """Let an account read one file at a time, over all processes of the product on this machine."""
    if account is None:
        yield
        return
    with (_folder() / f"account-{account}").open("w") as lock:
        until = time.monotonic() + PATIENCE
        while True:
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if time.monotonic() > until:
                    raise NotRead(
                        "Another file that you dropped is still being read.",
                        "Drop this one again when it is done.",
                    ) from None
                time.sleep(0.05)
        yield


def _folder() -> Path:
    """Return a folder that is ours alone."""
    folder = Path(tempfile.gettempdir()) / f"nevefield-readers-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    found = folder.lstat()
    if found.st_uid != os.getuid() or found.st_mode & 0o077:
        raise CoreError(f"{folder} does not belong to the product; remove it.")
    return folder
