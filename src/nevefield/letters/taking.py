"""What people say of themselves becomes an intake, like any file: of all that came until they
paused, and not before the one before it is decided.
"""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

from nevefield.intakes.evaluating import open_intake
from nevefield.letters.writing import require_letter
from nevefield.proposals.changing import SaidRow, SaidRows, keep_said
from nevefield.rosters.snapshots import load_snapshot
from nevefield.store import letters as store
from nevefield.store.audit import insert_audit
from nevefield.store.rosters import get_roster_by_id

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = ["PAUSE", "take_in", "take_in_due"]

PAUSE = timedelta(seconds=30)  # in which nobody answered
LONGEST = timedelta(minutes=10)  # since the first that waits


def take_in_due(context: Context) -> list[int]:
    """Make intakes of the corrections of letters whose people answer no more for now; return their
    numbers.
    """
    if context.settings.practice:
        return []
    now, made = context.now(), []
    with context.database.transaction() as connection:
        untaken = store.list_untaken(connection)
    for letter, first, last, has_open in untaken:
        is_due = last <= now - PAUSE or first <= now - LONGEST
        if is_due and not has_open and (number := take_in(context, letter, None)) is not None:
            made.append(number)
    return made


def take_in(context: Context, letter_id: int, account_id: int | None) -> int | None:
    """Make an intake of the corrections to a letter that are in none yet.

    Returns:
        Its number; None where there are none.

    Raises:
        NoSuchLetter: There is none.
    """
    with context.database.transaction() as connection:
        # before anything is read: several workers look at the same moment
        store.lock_letter(connection, letter_id)
        letter = require_letter(connection, letter_id)
        roster = get_roster_by_id(connection, letter.roster_id)
        if roster is None:
            return None
        snapshot = load_snapshot(connection, roster)
        here = set(snapshot.ids.tolist())
        waiting = [
            one for one in store.list_addressees(connection, letter_id) if one.said is not None
        ]
        rows = [SaidRow(one.record_id, one.said or {}) for one in waiting if one.record_id in here]
        # who has left the roster since corrects nothing
        store.take_in(connection, None, [one.id for one in waiting if one.record_id not in here])
        if not rows:
            return None
        count = f"{len(rows):,} {'person corrects' if len(rows) == 1 else 'people correct'}"
        said = SaidRows(rows, f"{count} their data: “{letter.title}”", "answered", "from letters")
        number = keep_said(context, connection, roster, snapshot, said, account_id)
        store.take_in(connection, number, [one.id for one in waiting if one.record_id in here])
        insert_audit(
            connection,
            "letter-taken",
            letter.title,
            account_id,
            context.now(),
            letter=letter_id,
            intake=number,
            rows=len(rows),
        )
    open_intake(context, number)
    return number
