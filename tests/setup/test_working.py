"""How far work is, as whoever asked for it hears it, while the request that does it has not
committed.
"""

from __future__ import annotations

import json

import pytest

from nevefield.accounts import Level, add_account
from nevefield.setup.trail import note_given
from nevefield.setup.working import Working, how_far

TOKEN = "0123456789abcdef" * 2


@pytest.fixture
def two(bare) -> list[int]:
    """Two accounts."""
    return [
        add_account(bare, name, name, "a-long-password-1", Level.PREPARE) for name in ("one", "two")
    ]


def test_heard_while_it_runs_and_gone_after(bare, two):
    """By the account that asked alone, from outside the transaction; after its end there is
    nothing, however it ended.
    """
    with (
        pytest.raises(KeyError),
        bare.database.transaction(),
        Working(bare, TOKEN, two[0]) as progress,
    ):
        progress("Reading", 3, 9)
        assert how_far(bare, TOKEN, two[0]) == ("Reading", 3, 9)
        assert how_far(bare, TOKEN, two[1]) == ("", 0, 0)
        raise KeyError
    assert how_far(bare, TOKEN, two[0]) == ("", 0, 0)


@pytest.mark.parametrize("token", ["", "short", TOKEN[:-1] + "G", TOKEN + "0", "'; --"])
def test_without_a_right_token_nothing_is_said(bare, two, token):
    """And the work goes on."""
    with Working(bare, token, two[0]) as progress:
        progress("Reading", 3, 9)
        with bare.database.transaction() as connection:
            assert connection.row("SELECT COUNT(*) FROM work") == (0,)


def test_what_was_given_out_stands_in_the_trail(bare, two):
    """With who took it, how much and as what; nothing of what stands in it."""
    note_given(bare, "exported", "crew", two[0], records=3, format="csv")
    with bare.database.transaction() as connection:
        (row,) = connection.rows(
            "SELECT account_id, subject, detail FROM audit WHERE act = 'exported'"
        )
    assert row[:2] == (two[0], "crew")
    assert json.loads(row[2]) == {"records": 3, "format": "csv"}
