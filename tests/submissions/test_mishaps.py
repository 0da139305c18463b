"""Whatever goes wrong at whichever statement of a round: it is sent once, taken in once, its
numbers are in the roster once.
"""

from __future__ import annotations

import uuid
from datetime import timedelta

import pytest

from nevefield.rosters.looking import open_roster
from nevefield.store import submissions as store
from nevefield.store.errors import StoreError
from nevefield.submissions.looking import open_submission
from nevefield.submissions.sending import advance, build_round
from tests.store.test_mishaps import Mishap, deadlock, killed, load_refused, waited_too_long
from tests.submissions.conftest import bring_on
from tests.submissions.test_faults import ship, sound

__all__ = ["ship"]

MOST = 600  # statements of a round, over all its stages


@pytest.mark.parametrize(
    "kind",
    [
        "deadlock",
        "killed",
        *(pytest.param(one, marks=pytest.mark.long) for one in ("waited too long", "load refused")),
    ],
)
def test_at_every_statement(sender, registry, ship, clock, monkeypatch, kind):
    """One statement after another of each stage goes wrong; the next try on the same worker goes
    on from where it stood.
    """
    number = ship()
    bring_on(sender, build_round(sender, number, None, uuid.uuid4().hex), clock)
    _, before = open_roster(sender, "cadets")
    returns = len(registry.live.returns)
    made = build_round(sender, number, None, uuid.uuid4().hex)
    sent = open_submission(sender, number).rows
    happen = {
        "deadlock": deadlock,
        "waited too long": waited_too_long,
        "load refused": load_refused,
        "killed": killed(sender.settings.database_url),
    }[kind]
    mishap = Mishap(monkeypatch, happen)
    broken, place, state = 0, 1, "built"
    for _ in range(MOST):
        mishap.left = place
        try:
            advance(sender, made)
        except StoreError:
            broken += 1
        mishap.left = None
        clock.at += timedelta(seconds=61)
        with sender.database.transaction() as connection:
            now = store.get_round(connection, made).state
        place, state = (place + 1, state) if now == state else (1, now)
        if now == "done":
            break
    assert state == "done"
    assert broken > 40
    sound(sender, number)
    assert len(registry.live.returns) == returns + 1
    opened = open_submission(sender, number)
    got = {
        record
        for record, row in opened.rows.items()
        if row["MARINER"] and not sent[record]["MARINER"]
    }
    assert got
    _, roster = open_roster(sender, "cadets")
    lacking, lack = (
        int((one.columns["mariner_number"].codes < 0).sum()) for one in (before, roster)
    )
    assert lack == lacking - len(got)
    with sender.database.transaction() as connection:
        last = store.list_rounds(connection, number)[-1]
        assert connection.row(
            "SELECT COUNT(*) FROM change_set WHERE intake_id = %s", (last.intake_id,)
        ) == (1,)
        assert connection.row(
            "SELECT COUNT(*) FROM intake WHERE title LIKE %s", (f"%%round {last.number}",)
        ) == (1,)
