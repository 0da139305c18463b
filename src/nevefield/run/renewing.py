"""Write the files of the private database anew: what was erased is then in none of them.

A database keeps what was deleted in free pages, undo and redo logs until something else is written
there. So after somebody was erased, the next start reads everything out and into a new data
directory, which takes the place of the old one. Wherever it is broken off, one whole directory is
there, and `recover` puts it in its place.

Source: MariaDB, "InnoDB Purge", "InnoDB Redo Log" (what is deleted is marked, and its pages are
used again in time).
"""

from __future__ import annotations

import shutil
from typing import TYPE_CHECKING

from nevefield.run.swapping import BESIDE, OLD, WHOLE, recover
from nevefield.store.connection import Database
from nevefield.store.erasures import last_erasure, last_renewed, set_renewed
from nevefield.store.programs import dump, filling

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from nevefield.context import Context
    from nevefield.run.server import PrivateServer

__all__ = ["renew", "wants_renewing"]

ROOM = 1.5  # of its size: so much must be free beside it


def wants_renewing(context: Context) -> int:
    """Tell the number of the last erasure of which the files may still have something; 0 for
    none.
    """
    with context.database.transaction() as connection:
        last = last_erasure(connection)
        return last if last > last_renewed(connection) else 0


def renew(
    server: PrivateServer,
    make: Callable[[Path], PrivateServer],
    owner_url: str,
    last: int,
) -> str:
    """Write the files anew; the server runs before and after.

    Args:
        server: The server, which runs.
        make: Makes another one with its data under a directory.
        owner_url: By which the owner of its database reaches it.
        last: The last erasure.

    Returns:
        The owner's new address; the old one where there is no room for it.
    """
    home = server.home
    size = sum(path.stat().st_size for path in (home / "data").rglob("*") if path.is_file())
    if shutil.disk_usage(home).free < ROOM * size:
        return owner_url
    beside = home / BESIDE
    shutil.rmtree(beside, ignore_errors=True)
    beside.mkdir(mode=0o700)
    for name in ("password", "owner-password"):
        shutil.copy2(home / name, beside / name)
    fresh = make(beside)
    try:
        url = fresh.start()
        with filling(url, "nevefield") as target:
            for piece in dump(owner_url):
                target.hear(piece)
    finally:
        fresh.stop()
    server.stop()
    (beside / WHOLE).touch()
    (home / "data").rename(home / OLD)
    recover(home)
    url = server.start()
    database = Database(url)
    with database.transaction() as connection:
        set_renewed(connection, last)
    database.close()
    return url
