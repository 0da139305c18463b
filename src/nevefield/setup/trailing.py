"""The trail: looked through, taken out, sealed, and checked whether it is what it was."""

from __future__ import annotations

import csv
import io
import json
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

from nevefield.core.texts import safe_cell
from nevefield.core.trailing import Broken, check_chain
from nevefield.setup.acts import ACTS, BEGINNINGS, GROUPS, words_of_act
from nevefield.store import audit as store
from nevefield.store.audit import Entry, Wanted, insert_audit
from nevefield.store.errors import KeyTaken

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = [
    "Checked",
    "Page",
    "Query",
    "check_trail",
    "detail_words",
    "list_trail",
    "seal_trail",
    "take_trail",
]

FIRST_YEAR, LAST_YEAR = 1900, 2900
MOST_TAKEN = 200_000  # lines of a file
SETTLED = timedelta(minutes=15)  # after it, every line that the product wrote is sealed


@dataclass(frozen=True)
class Query:
    """What is looked for in the trail.

    Args:
        group: Kind of acts, one of `GROUPS`; "" for all.
        account_id: Of this account.
        text: That stands in it.
        first: First day, of the institution.
        last: Last day, of the institution.
    """

    group: str = ""
    account_id: int | None = None
    text: str = ""
    first: date | None = None
    last: date | None = None


@dataclass(frozen=True)
class Page:
    """A page of the trail: its lines, the last first, and how many there are."""

    entries: list[Entry]
    total: int


@dataclass(frozen=True)
class Checked:
    """Whether the trail is what it was.

    Args:
        lines: How many are sealed.
        head: The last seal's digest, in hexadecimal: who notes it can tell later whether the whole
            was written anew.
        broken: Where it is not what it was.
    """

    lines: int
    head: str
    broken: list[Broken]


def list_trail(context: Context, query: Query, start: int, limit: int) -> Page:
    """List a page of the trail, the last line first."""
    wanted = _wanted(context, query)
    with context.database.transaction() as connection:
        return Page(
            store.list_entries(connection, wanted, start, limit),
            store.count_entries(connection, wanted),
        )


def _wanted(context: Context, query: Query) -> Wanted:
    known = query.group in GROUPS
    acts = [act for act, one in ACTS.items() if known and one.group == query.group]
    begins = [start for start, one in BEGINNINGS.items() if known and one.group == query.group]
    return Wanted(
        acts=acts,
        begins=begins,
        account_id=query.account_id,
        text=query.text.strip(),
        first=_begin(context, query.first) if query.first else None,
        last=_begin(context, query.last, 1) if query.last else None,
    )


def _begin(context: Context, day: date, after: int = 0) -> datetime | None:
    """Tell when a day of the institution's begins, or one some days after it, in UTC and without a
    zone; None of days in which the product cannot have been.
    """
    if not FIRST_YEAR <= day.year <= LAST_YEAR:
        return None
    zone = ZoneInfo(context.settings.zone) if context.settings.zone else None
    local = datetime(day.year, day.month, day.day, tzinfo=zone) + timedelta(days=after)
    return local.astimezone(UTC).replace(tzinfo=None)


def take_trail(context: Context, query: Query, account_id: int) -> bytes:
    """Give the trail as CSV that is safe to open in a spreadsheet; that is in the trail too."""
    page = list_trail(context, query, 0, MOST_TAKEN)
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["line", "at (UTC)", "who", "from", "act", "about", "detail", "sealed"])
    for entry in page.entries:
        line = entry.line
        rows.writerow(
            [
                line.id,
                line.at.isoformat(timespec="seconds"),
                safe_cell(entry.who),
                line.address,
                words_of_act(line.act).words,
                safe_cell(line.subject),
                safe_cell(line.detail),
                "yes" if entry.is_sealed else "",
            ]
        )
    with context.database.transaction() as connection:
        insert_audit(
            connection, "trail-taken", "", account_id, context.now(), lines=len(page.entries)
        )
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def seal_trail(context: Context) -> int:
    """Seal what has no seal yet, and return how many lines; what another one seals meanwhile is
    sealed too.
    """
    sealed, at = 0, context.now()
    with suppress(KeyTaken):
        while count := context.database.again(lambda connection: store.seal_new(connection, at)):
            sealed += count
    return sealed


def check_trail(context: Context) -> Checked:
    """Seal what has no seal yet, then check all: whether each line is what it was."""
    with context.database.transaction() as connection:
        before = check_chain(
            store.list_seals(connection),
            {line.id: line for line in store.list_lines(connection)},
            unsealed_since=context.now() - SETTLED,
        )
    seal_trail(context)
    with context.database.transaction() as connection:
        number, digest = store.get_head(connection)
    return Checked(number, digest.hex(), before)


def detail_words(detail: str) -> str:
    """Say the detail of a line in words: names and what they are."""
    try:
        found = json.loads(detail)
    except json.JSONDecodeError:
        return detail
    parts = []
    for name, value in found.items():
        if value in (None, "", {}, [], False):
            continue
        said = (
            ", ".join(f"{key} {one}" for key, one in value.items())
            if isinstance(value, dict)
            else ", ".join(map(str, value))
            if isinstance(value, list)
            else str(value)
        )
        parts.append(f"{name.replace('_', ' ')} {said}")
    return "; ".join(parts)
