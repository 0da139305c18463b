"""Commands about who works here, and what they did: account, trail."""

from __future__ import annotations

import getpass
import json
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import click

from nevefield.accounts import Level, add_account
from nevefield.accounts.errors import AccountError
from nevefield.accounts.people import (
    May,
    close,
    find_account,
    make_link,
    reopen,
    require_part,
)
from nevefield.accounts.second import turn_off_of
from nevefield.cli.desk import DATA_OPTION, connect
from nevefield.cli.saying import say, say_beside
from nevefield.context import Context
from nevefield.core.errors import CoreError
from nevefield.rosters.errors import RosterError
from nevefield.rosters.snapshots import require_roster
from nevefield.setup.trailing import check_trail
from nevefield.store.accounts import get_account, list_accounts
from nevefield.store.errors import StoreError

__all__ = ["account", "trail"]

Made = TypeVar("Made")


@click.group()
def account() -> None:
    """Accounts."""


@account.command("add")
@click.argument("name")
@click.option("--title", default="", help="The person's name, as others see it.")
@click.option(
    "--level",
    type=click.Choice([level.name.lower() for level in Level]),
    default="look",
    show_default=True,
)
@click.option(
    "--roster",
    "rosters",
    multiple=True,
    metavar="NAME=LEVEL",
    help="Another level in one roster; may be given again.",
)
@click.option(
    "--part",
    "parts",
    multiple=True,
    metavar="NAME=CONDITION",
    help="The part of a roster that the level there is for, such as"
    ' cadets={"field": "campus", "is": "CH"}; the level everywhere is none then.',
)
@DATA_OPTION
def add(
    name: str,
    title: str,
    level: str,
    rosters: tuple[str, ...],
    parts: tuple[str, ...],
    data: Path,
) -> None:
    """Add an account; the password is asked for, or read from NEVEFIELD_PASSWORD."""
    place = connect(data)
    password = os.environ.get("NEVEFIELD_PASSWORD") or getpass.getpass("Password: ")
    try:
        may = May(Level[level.upper()], _read_levels(rosters), parts=_read_parts(parts))
        levels, numbers = {}, {}
        with place.database.transaction() as connection:
            for roster_name, given in may.rosters.items():
                roster = require_roster(connection, roster_name)
                levels[roster.id] = given
                if (when := may.parts.get(roster_name)) is not None:
                    numbers[roster.id] = require_part(connection, may, roster, when)
        add_account(place, name, title, password, may.level, levels, numbers)
    except (ValueError, AccountError, RosterError, StoreError) as error:
        raise CoreError(str(error)) from error
    say_beside(f"Added {name}, who may {level}.")


def _read_levels(rosters: tuple[str, ...]) -> dict[str, Level]:
    levels = {}
    for one in rosters:
        roster, _, given = one.partition("=")
        if given.upper() not in Level.__members__:
            known = ", ".join(level.name.lower() for level in Level)
            raise CoreError(f"“{one}” is not NAME=LEVEL; levels are {known}.")
        levels[roster] = Level[given.upper()]
    return levels


def _read_parts(parts: tuple[str, ...]) -> dict[str, Any]:
    conditions = {}
    for one in parts:
        roster, _, given = one.partition("=")
        try:
            conditions[roster] = json.loads(given)
        except ValueError as error:
            raise CoreError(
                f"“{one}” is not NAME=CONDITION; a condition is JSON such as"
                ' {"field": "campus", "is": "CH"}.'
            ) from error
    return conditions


@account.command("list")
@DATA_OPTION
def list_command(data: Path) -> None:
    """List accounts."""
    try:
        with connect(data).database.transaction() as connection:
            for one in list_accounts(connection):
                ended = "closed" if one.closed_at else "" if one.password_hash else "invited"
                level = Level(one.level).name.lower()
                say(f"{one.sign_in:<20} {one.name:<30} {level:<12} {ended}".rstrip())
    except StoreError as error:
        raise CoreError(str(error)) from error


@account.command("link")
@click.argument("name")
@click.option("--address", default="http://127.0.0.1:8417", show_default=True)
@DATA_OPTION
def link(name: str, address: str, data: Path) -> None:
    """Make a link by which somebody chooses a new password; it works once."""
    made = _do(make_link, name, data)
    say(f"{address}/join#{made.token}")
    say_beside(f"It works once, until {made.expires_at:%Y-%m-%d %H:%M} UTC.")


@account.command("close")
@click.argument("name")
@DATA_OPTION
def close_command(name: str, data: Path) -> None:
    """Close an account; what it did stays."""
    _do(close, name, data)
    say_beside(f"The account of {name} is closed.")


@account.command("open")
@click.argument("name")
@DATA_OPTION
def open_command(name: str, data: Path) -> None:
    """Open a closed account again."""
    _do(reopen, name, data)
    say_beside(f"The account of {name} is open again.")


@account.command("no-second-step")
@click.argument("name")
@DATA_OPTION
def no_second_step(name: str, data: Path) -> None:
    """Let somebody sign in without a code again, who lost their app and their recovery codes."""
    had = _do(
        lambda place, number, by: turn_off_of(place, find_account(place, number), by), name, data
    )
    say_beside(f"{name} signs in without a code now." if had else f"{name} has no second step.")


def _do(act: Callable[[Context, int, None], Made], name: str, data: Path) -> Made:
    """Do something to an account; in the trail nobody of those who sign in did it."""
    place = connect(data)
    try:
        with place.database.transaction() as connection:
            found = get_account(connection, name)
        if found is None:
            raise CoreError(f"There is no account “{name}”; nevefield account list shows them.")
        return act(place, found.id, None)
    except (AccountError, StoreError) as error:
        raise CoreError(str(error)) from error


@click.group()
def trail() -> None:
    """The trail of who did what."""


@trail.command("check")
@DATA_OPTION
@click.pass_context
def check_command(context: click.Context, data: Path) -> None:
    """Find whether a line of the trail was altered, removed or added."""
    try:
        checked = check_trail(connect(data))
    except StoreError as error:
        raise CoreError(str(error)) from error
    for one in checked.broken:
        say(one.said)
    say_beside(f"{checked.lines:,} lines are sealed; the last seal is {checked.head}.")
    context.exit(1 if checked.broken else 0)
