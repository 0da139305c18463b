"""Erasures outlast copies: a copy of before one still has the person, so who was erased is noted
beside the copies too, by number alone, and erased again when such a copy is brought back.
"""

from __future__ import annotations

import json
import os
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from nevefield.core.errors import CoreError
from nevefield.keeping.erasing import erase
from nevefield.keeping.errors import Erased, KeepingError
from nevefield.rosters.errors import NoSuchRecord, RosterError
from nevefield.store import erasures as store
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store

if TYPE_CHECKING:
    from collections.abc import Iterable
    from pathlib import Path

    from nevefield.context import Context

__all__ = ["Noted", "Notes", "erase_again", "note_erasures", "read_noted"]

FILE = "erased.jsonl"
ALL = 1_000_000


@dataclass(frozen=True)
class Noted:
    """Somebody who was erased: nothing but the number says who it was."""

    roster: str
    record: int
    at: str  # ISO 8601, UTC
    asked_by: str
    reason: str


def note_erasures(context: Context, folder: Path) -> bool:
    """Write down beside the copies who was erased since it was last done.

    Returns:
        Whether somebody was.
    """
    known = set(read_noted(folder))
    with context.database.transaction() as connection:
        erased = store.list_erasures(connection, ALL)
        names = {one.id: one.name for one in roster_store.list_seen(connection)}
    new = {
        Noted(
            names.get(one.roster_id, ""),
            one.record_id,
            one.at.isoformat(),
            one.asked_by,
            one.reason,
        )
        for one in erased
    } - known
    if not new:
        return False
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / FILE
    is_cut = path.exists() and path.read_bytes()[-1:] not in (b"\n", b"")  # the disk was full
    opened = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
    with os.fdopen(opened, "a", encoding="utf-8") as file:
        file.write("\n" if is_cut else "")
        for one in sorted(new, key=lambda one: one.at):
            file.write(json.dumps(asdict(one), ensure_ascii=False) + "\n")
    return True


class Notes:
    """Notes erasures beside the copies whenever there is another one.

    Args:
        folder: Of the copies.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._last = -1

    def keep(self, context: Context) -> bool:
        """Note who was erased since; tell whether somebody was."""
        with context.database.transaction() as connection:
            last = store.last_erasure(connection)
        if last == self._last:
            return False
        is_new = note_erasures(context, self._folder)
        self._last = last
        return is_new


def read_noted(folder: Path) -> list[Noted]:
    """Read who was erased, as it is noted beside the copies; a line that was cut short is passed
    over.
    """
    try:
        lines = (folder / FILE).read_text("utf-8").splitlines()
    except FileNotFoundError:
        return []
    noted = []
    for line in lines:
        try:
            noted.append(Noted(**json.loads(line)))
        except (ValueError, TypeError):
            continue
    return noted


def erase_again(context: Context, noted: Iterable[Noted], since: datetime) -> tuple[int, list[str]]:
    """Erase whom a copy that was brought back has again.

    Args:
        context: With the copy in place.
        noted: Who was erased.
        since: When the copy was made, in UTC and without a zone: who was erased before is not in
            it, and who came later has another's number.

    Returns:
        How many were erased again, and why others were not.
    """
    again, problems = 0, []
    for one in noted:
        if datetime.fromisoformat(one.at) <= since or not _is_there(context, one):
            continue
        try:
            erase(context, one.record, one.asked_by, one.reason, None)
            again += 1
        except (Erased, NoSuchRecord):
            continue
        except (CoreError, KeepingError, RosterError) as error:
            problems.append(f"{one.roster} record {one.record}: {error}")
    return again, problems


def _is_there(context: Context, one: Noted) -> bool:
    with context.database.transaction() as connection:
        roster_id = record_store.get_record_roster(connection, one.record)
        roster = roster_store.get_roster_by_id(connection, roster_id) if roster_id else None
        return roster is not None and roster.name == one.roster
