"""Copies: made while people work, listed, tried by restoring them beside the running database, and
brought back.
"""

from __future__ import annotations

import os
import secrets
import time
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from nevefield import __version__
from nevefield.copies.errors import CopyFailed, NoSuchCopy
from nevefield.core.copying import CopyHead, Trailer, read_copy, read_head, write_copy
from nevefield.core.errors import WrongCopy
from nevefield.store.programs import (
    create_database,
    drop_database,
    dump,
    filling,
    hold_mails,
    last_migration,
    name_of_database,
    swap_tables,
)
from nevefield.store.schema import known_migrations

if TYPE_CHECKING:
    from collections.abc import Sequence
    from typing import BinaryIO

__all__ = ["Copy", "Place", "bring_back", "list_copies", "make_copy", "outdated", "try_copy"]

ENDING = ".copy"
FORSAKEN_SECONDS = 3_600
PART = ".part"  # of a copy that is being made
BESIDE = "nevefield_try"  # the database into which a copy is restored to be tried


@dataclass(frozen=True)
class Place:
    """Where a database and its copies are.

    Args:
        url: Of the database, of an account that reads all of it.
        owner_url: Of an account that may make databases beside it.
        folder: Of the copies.
        key: By which they are encrypted; "" for none.
    """

    url: str
    owner_url: str
    folder: Path
    key: str = ""


@dataclass(frozen=True)
class Copy:
    """One copy as it lies there; `head` is None where it is damaged."""

    name: str
    size: int  # bytes
    head: CopyHead | None

    @property
    def at(self) -> datetime | None:
        """When it was made, in UTC and without a zone."""
        return datetime.fromisoformat(self.head.at) if self.head else None


def make_copy(place: Place, at: datetime) -> tuple[str, Trailer]:
    """Make a copy of the state at one moment; people work on meanwhile.

    Args:
        place: Where.
        at: Now, in UTC and without a zone.

    Returns:
        The file's name, and what stands at its end.

    Raises:
        NoPrograms: mariadb-dump is not there.
        ProgramFailed: The database could not be read.
        CopyFailed: The disk is full. Nothing half done is left.
    """
    _make_folder(place.folder)
    name = f"nevefield-{at:%Y-%m-%d-%H%M%S}-{secrets.token_hex(2)}{ENDING}"
    migration = last_migration(place.url)
    salt = secrets.token_hex(16) if place.key else ""
    head = CopyHead(at.isoformat(timespec="seconds"), __version__, migration, salt)
    part = place.folder / (name + PART)
    try:
        with _private(part) as out:
            trailer = write_copy(out, head, dump(place.url), place.key)
            out.flush()
            os.fsync(out.fileno())
        part.rename(place.folder / name)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise CopyFailed(
            f"The copy could not be written: {error.strerror}. Nothing of it was left; make room in"
            f" {place.folder}, or set another place for copies."
        ) from error
    except BaseException:
        part.unlink(missing_ok=True)
        raise
    return name, trailer


def _private(path: Path) -> BinaryIO:
    return os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb")


def _make_folder(folder: Path) -> None:
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        raise CopyFailed(f"{folder} cannot be made: {error.strerror}.") from error
    for part in folder.glob(f"*{PART}"):
        # of one that was killed; what another process writes at the moment is fresh
        if time.time() - part.stat().st_mtime > FORSAKEN_SECONDS:
            part.unlink(missing_ok=True)


def list_copies(folder: Path) -> list[Copy]:
    """List the copies, the last first."""
    found = []
    for path in sorted(folder.glob(f"*{ENDING}"), reverse=True):
        try:
            with path.open("rb") as source:
                head: CopyHead | None = read_head(source)
        except (WrongCopy, OSError):
            head = None
        found.append(Copy(path.name, path.stat().st_size, head))
    return found


def try_copy(place: Place, name: str) -> Trailer:
    """Restore a copy into a database of its own beside the running one, and compare what is there
    then with what was copied, text by text.

    Returns:
        What stands at its end, which is true.

    Raises:
        NoSuchCopy: There is no such file.
        WrongCopy: It is damaged, cut short, or its key is another.
        CopyFailed: It could not be restored, or another text came of it.
    """
    beside = f"{BESIDE}_{secrets.token_hex(4)}"
    try:
        return _restore(place, name, beside)
    finally:
        drop_database(place.owner_url, beside)


def _restore(place: Place, name: str, beside: str) -> Trailer:
    """Restore a copy into a new database, and see that it is what was copied."""
    path = _find(place.folder, name)
    with path.open("rb") as source:
        head = read_head(source)
        if head.migration not in known_migrations():
            raise CopyFailed(
                f"This copy is of a newer version ({head.version}, {head.migration}); bring it back"
                " with that one."
            )
        source.seek(0)
        create_database(place.owner_url, beside)
        with filling(place.owner_url, beside) as filled:
            _, trailer = read_copy(source, place.key, filled.hear)
    again = _Sink()
    restored = write_copy(again, head, dump(place.owner_url, beside), "")  # type: ignore[arg-type]
    if restored.rows != trailer.rows:
        wrong = next(one for one in trailer.rows if restored.rows.get(one) != trailer.rows[one])
        raise CopyFailed(
            f"Of {trailer.rows[wrong]:,} rows of {wrong} came back {restored.rows.get(wrong, 0):,}."
        )
    if restored.digest != trailer.digest:
        raise CopyFailed("As many rows came back as were copied, but not the same ones.")
    return trailer


class _Sink:
    """Where what is only counted goes."""

    def write(self, data: bytes) -> int:
        return len(data)


def _find(folder: Path, name: str) -> Path:
    path = folder / Path(name).name
    if not path.is_file():
        raise NoSuchCopy(name)
    return path


def bring_back(place: Place, name: str, at: datetime) -> str:
    """Bring a copy back in place of what there is, which is kept in a database beside it.

    The copy is restored and compared first; then all tables change their places in one statement.
    Whoever works meanwhile finds the one or the other.

    Args:
        place: Where.
        name: Of the copy.
        at: Now, in UTC and without a zone.

    Returns:
        The name of the database in which what was there before is kept.

    Raises:
        NoSuchCopy, WrongCopy, CopyFailed: As `try_copy`; nothing was altered.
    """
    beside, before = f"{BESIDE}_{secrets.token_hex(4)}", f"nevefield_before_{at:%Y%m%d_%H%M%S}"
    own = name_of_database(place.owner_url)
    try:
        _restore(place, name, beside)
        hold_mails(place.owner_url, beside)
        create_database(place.owner_url, before)
        swap_tables(place.owner_url, fresh=beside, place=own, aside=before)
    finally:
        drop_database(place.owner_url, beside)
    return before


def outdated(copies: Sequence[Copy], now: datetime, *, days: int, weeks: int) -> list[Copy]:
    """List the copies that are kept no longer: of the last days all are, of the weeks before one
    each; the newest always.

    Args:
        copies: All.
        now: In UTC and without a zone.
        days: For which all are kept.
        weeks: For which one of each week is kept after that.
    """
    gone, seen = [], set[tuple[int, int]]()
    whole = sorted((one for one in copies if one.at), key=lambda one: one.at or now, reverse=True)
    for place, one in enumerate(whole):
        at = one.at or now
        week = at.isocalendar()[:2]
        if not place or at >= now - timedelta(days=days):
            continue
        if at >= now - timedelta(days=days, weeks=weeks) and week not in seen:
            seen.add(week)
            continue
        gone.append(one)
    return gone
