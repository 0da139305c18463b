"""The small crew in a database: for tests that need many records or a roster that is quickly
made.
"""

from __future__ import annotations

import json

from nevefield.context import Context
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.rosters.looking import open_roster
from nevefield.rosters.opening import open_roster_with
from nevefield.store import records as record_store
from nevefield.store import rosters
from tests.core.world import CODES, DOCUMENT, ROSTER

__all__ = ["apply_text", "contents", "drop", "numbers", "open_crew"]


def open_crew(context: Context, records=tuple(ROSTER), document=DOCUMENT) -> int:
    """Open the crew's roster and return its number."""
    with context.database.transaction() as connection:
        for name, codes in CODES.items():
            rosters.replace_code_list(connection, name, codes.codes)
    return open_roster_with(context, document, list(records))


def drop(context: Context, text: str, *, coverage: str = "listed") -> int:
    """Take a file in for the crew."""
    return receive_file(
        context, "crew.csv", text.encode(), Claims(roster="crew", coverage=coverage)
    )


def apply_text(context: Context, text: str) -> int:
    """Take a file in, apply it, and return the change set."""
    from nevefield.intakes.applying import apply_intake

    intake = drop(context, text)
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def numbers(context: Context) -> dict[str, int]:
    """The crew's records' numbers in the store, by their own number."""
    with context.database.transaction() as connection:
        return {
            json.loads(text)["no"]: number
            for number, text in record_store.list_current(connection, 1)
        }


def contents(context: Context, as_of=None) -> dict[str, dict]:
    """The crew's records by their number."""
    _, snapshot = open_roster(context, "crew", as_of)
    return {snapshot.values(place)["no"]: snapshot.values(place) for place in range(len(snapshot))}
