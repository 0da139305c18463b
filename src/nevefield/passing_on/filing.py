"""Files for destinations: made whole, kept, given out."""

from __future__ import annotations

import hashlib
import io
import secrets
from typing import TYPE_CHECKING, Any

import xlsxwriter

from nevefield.core.passing.destination import AskedWay, FileWay
from nevefield.core.passing.entries import Entry
from nevefield.core.passing.formats import list_cells, name_file, names_of, write_file
from nevefield.core.passing.oneroster import write_oneroster
from nevefield.core.passing.standing import Place
from nevefield.passing_on.errors import NoSuchFile, StaysHere, WrongRemedy
from nevefield.passing_on.holding import learn_all
from nevefield.passing_on.keeping import require_destination, require_level
from nevefield.passing_on.looking import content_of
from nevefield.store import passed_files as files
from nevefield.store import passing as store
from nevefield.store.audit import insert_audit
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from nevefield.context import Context
    from nevefield.core.passing.destination import Share
    from nevefield.passing_on.looking import Look, Shared

__all__ = ["fetch_file", "give_file", "make_fetch_token", "make_file", "take_file"]


def make_file(
    context: Context,
    look: Look,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Make the file of a destination and keep it, with what it holds of everybody, in one
    transaction.

    Who is held back or refused stands in it as before, if they did.

    Returns:
        How many it has, how many of them are new or otherwise than in the one before, and the
        file's number.
    """
    way = look.opened.destination.way
    if not isinstance(way, FileWay):
        raise LookupError(way.kind)
    title = look.opened.destination.title
    progress(f"Making the file of {title}", 0, look.records)
    with context.database.transaction() as connection:
        store.lock(connection, look.opened.row.id)
        entries: list[Entry] = []
        for shared in look.shared:
            share = shared.outgoing.share
            moving = [
                one.record
                for one in shared.standings.values()
                if one.place in (Place.TO_SEND, Place.TO_END, Place.HELD, Place.REFUSED)
            ]
            known = store.list_known(connection, look.opened.row.id, moving)
            entries += _entries(way, share, shared, known)
        learnt = learn_all(connection, look, "in the file")
        if way.format == "oneroster":
            name = look.opened.destination.name
            data = write_oneroster(way, name, title, entries, context.now())
        else:
            data = _write(way, look.opened.destination.shares, entries)
        name = name_file(way, title, context.local(context.now()))
        count = sum(entry.after is not None for entry in entries)
        store.learn(connection, look.opened.row.id, learnt, account_id, context.now())
        number = files.insert_file(
            connection,
            look.opened.row.id,
            files.NewFile(name, count, data, way.into_folder, way.only_changes),
            account_id,
            context.now(),
        )
    return {"sent": len(learnt), "refused": 0, "left": 0, "records": count, "file": number}


def _entries(
    way: FileWay, share: Share, shared: Shared, known: dict[int, store.Known]
) -> Iterator[Entry]:
    for standing in shared.standings.values():
        before = known.get(standing.record)
        held = before.content if before and before.is_there else None
        if standing.place == Place.IN_STEP:
            if not way.only_changes:
                yield Entry(standing.record, share, content_of(shared, standing))
        elif standing.place == Place.TO_SEND:
            after = content_of(shared, standing)
            yield Entry(standing.record, share, after, held, standing.act)
        elif standing.place == Place.TO_END:
            yield Entry(standing.record, share, None, held, standing.act)
        elif held is not None and not way.only_changes:
            yield Entry(standing.record, share, held)


def _write(way: FileWay, shares: Sequence[Share], entries: Sequence[Entry]) -> bytes:
    if way.format == "xlsx":
        return _write_book(way, shares, entries)
    return write_file(way, shares, entries)


def _write_book(way: FileWay, shares: Sequence[Share], entries: Sequence[Entry]) -> bytes:
    """Write a workbook: every cell is text, so that nothing in it is taken for a formula."""
    out = io.BytesIO()
    options = {
        "in_memory": True,
        "constant_memory": True,
        "strings_to_formulas": False,
        "strings_to_urls": False,
        "strings_to_numbers": False,
    }
    book = xlsxwriter.Workbook(out, options)
    sheet = book.add_worksheet()
    names = names_of(shares)
    for place, name in enumerate(names):
        sheet.write_string(0, place, name)
    for row, cells in enumerate(list_cells(way, entries), 1):
        for place, name in enumerate(names):
            if text := cells.get(name, ""):
                sheet.write_string(row, place, text)
    book.close()
    return out.getvalue()


def take_file(
    context: Context, name: str, file_id: int, account_id: int | None
) -> tuple[str, bytes]:
    """Give a file of a destination to somebody: its name and content; the trail says who took it.

    Raises:
        NoSuchDestination: There is none.
        NoSuchFile: There is none, or it is not kept any more.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.APPROVE)
        found = files.get_file(connection, opened.row.id, file_id)
        if found is None:
            raise NoSuchFile
        insert_audit(
            connection,
            "destination-file",
            opened.destination.title,
            account_id,
            context.now(),
            file=found[0],
        )
    return found


def make_fetch_token(context: Context, name: str, account_id: int | None) -> tuple[str, bool]:
    """Make the token by which they fetch the files of a destination, or ask us; the one before
    counts no more. It is shown once: only its digest is kept.

    Returns:
        The token, and whether they ask with it.

    Raises:
        NoSuchDestination: There is none.
        StaysHere: This is the practice copy.
        WrongRemedy: Its files are not fetched by them.
    """
    if context.settings.practice:
        raise StaysHere
    token = secrets.token_urlsafe(32)
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.ADMINISTER)
        way = opened.destination.way
        if not isinstance(way, AskedWay) and not (isinstance(way, FileWay) and way.is_fetched):
            raise WrongRemedy("Its files are not fetched by them: say so first in what it gets.")
        store.set_destination(connection, opened.row.id, fetch_digest=digest_of_token(token))
        title = opened.destination.title
        insert_audit(connection, "destination-address", title, account_id, context.now())
    return token, isinstance(way, AskedWay)


def fetch_file(context: Context, token: str) -> tuple[str, bytes]:
    """Give the newest file to whoever has the token: its name and content.

    Raises:
        NoSuchFile: The token is none, or there is no file yet.
    """
    with context.database.transaction() as connection:
        found = files.fetch_file(connection.whole(), digest_of_token(token), context.now())
        if found is None:
            raise NoSuchFile
        insert_audit(
            connection, "destination-fetched", found[0], None, context.now(), file=found[1]
        )
    return found[1], found[2]


def digest_of_token(token: str) -> bytes:
    """Digest a token, as it is kept."""
    return hashlib.sha256(token.encode()).digest()


def give_file(context: Context, destination_id: int, file_id: int) -> tuple[str, bytes]:
    """Give a file of a destination: its name and content.

    Raises:
        NoSuchFile: There is none, or it is not kept any more.
    """
    with context.database.transaction() as connection:
        found = files.get_file(connection, destination_id, file_id)
    if found is None:
        raise NoSuchFile
    return found
