"""Commands about copies: made, listed, tried, brought back; the process that makes them by
itself.
"""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import click

from nevefield.cli.desk import DATA_OPTION, connect
from nevefield.cli.files import PATH
from nevefield.cli.memory import give_back
from nevefield.cli.saying import say, say_beside
from nevefield.context import Context, utc_now
from nevefield.copies.errors import CopyError
from nevefield.copies.making import Place, list_copies, make_copy, try_copy
from nevefield.copies.ordering import keep_copying
from nevefield.core.errors import CoreError
from nevefield.keeping.lapsing import is_time, lapse
from nevefield.keeping.outlasting import Notes
from nevefield.keeping.returning import MARK, return_to, work_off_return
from nevefield.logs import configure
from nevefield.practising.ordering import break_off_practice, work_off_practice
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.errors import StoreError

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["copier", "copy"]

FOLDER_OPTION = click.option("--folder", type=PATH, help="Of the copies; DATA/copies by default.")


@click.group()
def copy() -> None:
    """Copies of everything."""


def _place(data: Path, folder: Path | None) -> Place:
    settings = connect(data).settings
    owner = data / "owner-password"
    if not settings.owner_url and owner.exists():
        url = settings.database_url.replace("//nevefield:", "//nevefield_owner:")
        own = (data / "password").read_text()
        settings = replace(settings, owner_url=url.replace(f":{own}@", f":{owner.read_text()}@"))
    return Place(
        settings.database_url,
        settings.owner_url or settings.database_url,
        folder or data / "copies",
        settings.copy_key,
    )


@copy.command("make")
@FOLDER_OPTION
@DATA_OPTION
def make_command(data: Path, folder: Path | None) -> None:
    """Make a copy of everything, while people work."""
    place = _place(data, folder)
    try:
        name, trailer = make_copy(place, utc_now())
    except (CopyError, StoreError) as error:
        raise CoreError(str(error)) from error
    say(name)
    kept = "encrypted" if place.key else "not encrypted: NEVEFIELD_COPY_KEY is not set"
    say_beside(f"{sum(trailer.rows.values()):,} rows of {len(trailer.rows)} tables; {kept}.")


@copy.command("list")
@FOLDER_OPTION
@DATA_OPTION
def list_command(data: Path, folder: Path | None) -> None:
    """List the copies, the last first."""
    found = list_copies(folder or data / "copies")
    for one in found:
        said = (
            f"{one.head.version:<8} {'encrypted' if one.head.salt else ''}"
            if one.head
            else "damaged"
        )
        say(f"{one.name:<40} {one.size:>14,}  {said}".rstrip())
    if not found:
        say_beside("There is no copy yet; nevefield copy make makes one.")


@copy.command("try")
@click.argument("name")
@FOLDER_OPTION
@DATA_OPTION
def try_command(name: str, data: Path, folder: Path | None) -> None:
    """Restore a copy beside the running database, and compare."""
    try:
        trailer = try_copy(_place(data, folder), name)
    except (CopyError, StoreError) as error:
        raise CoreError(str(error)) from error
    say(f"{name} is good: {sum(trailer.rows.values()):,} rows came back as they were.")


@copy.command("bring-back")
@click.argument("name")
@FOLDER_OPTION
@DATA_OPTION
@click.confirmation_option(prompt="Everything since that copy will be put aside. Bring it back?")
def bring_back_command(name: str, data: Path, folder: Path | None) -> None:
    """Bring a copy back in place of what there is, which is kept beside it."""
    place = _place(data, folder)
    context = Context.of(replace(connect(data).settings, database_url=place.url))
    try:
        returned = return_to(context, place, name)
    except (CopyError, StoreError) as error:
        raise CoreError(str(error)) from error
    (data / MARK).write_text(name)
    before, again, problems = returned.before, returned.again, returned.problems
    say(f"{name} is in place. What was there before is in the database {before}.")
    if again:
        say(
            f"{again} who had been erased since were in it, and were erased again. They are in"
            f" {before} too: drop it when it is needed no more."
        )
    for problem in problems:
        say_beside(f"Not erased again: {problem}")


@click.command()
@click.option("--folder", type=PATH, required=True)
def copier(folder: Path) -> None:
    """Make copies that are due or ordered until stopped; ./start calls this."""
    give_back()
    settings = Settings.from_environment()
    configure(settings.log)
    owner = settings.owner_url or settings.database_url
    context = Context.of(settings)
    break_off_practice(context)
    place = Place(settings.database_url, owner, folder, settings.copy_key)
    others: list[Callable[[Context], bool]] = [
        work_off_practice,
        Notes(folder).keep,
        partial(_lapse_when_due, owner=Database(owner)),
        partial(work_off_return, place=place),
    ]
    keep_copying(context, place, others)


def _lapse_when_due(context: Context, owner: Database) -> bool:
    """Delete at night what is too old."""
    return is_time(context) and bool(lapse(context, owner))
