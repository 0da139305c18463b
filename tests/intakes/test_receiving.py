"""Taking files in: which roster they are for, and what is refused without a trace but the
attempt.
"""

from __future__ import annotations

import pytest

from nevefield.core.errors import UnreadableFile, WrongStep
from nevefield.intakes.errors import NoSuchIntake, WrongRoster
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.store import rosters as roster_store


def counts(context) -> tuple[int, int, int]:
    """Files, intakes and noted attempts."""
    with context.database.transaction() as connection:
        return tuple(
            connection.row(f"SELECT COUNT(*) FROM {table}")[0]
            for table in ("intake_file", "intake", "audit WHERE act = 'file-refused'")
        )


def test_finds_the_roster(desk, made, joiners):
    """A file of cadets is known for one by its columns, whatever its name."""
    intake = receive_file(desk, "C:\\Users\\x\\something.bin", joiners)
    opened = open_intake(desk, intake)
    assert opened.roster.name == "cadets"
    assert opened.intake.file_name == "something.bin"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 200, "picture"),
        (b"Colour,Weight\nred,12\nblue,13\n", "fit no roster"),
        (b"<html><body>Sign in</body></html>", "web page"),
    ],
)
def test_refuses_and_notes_the_attempt(desk, data, said):
    """What is refused leaves one line in the audit trail and nothing else."""
    before = counts(desk)
    with pytest.raises((UnreadableFile, WrongRoster), match=said):
        receive_file(desk, "picture.csv", data)
    assert counts(desk) == (before[0], before[1], before[2] + 1)


def test_refuses_another_rosters_file(desk, joiners):
    """A file of cadets is not taken in for the staff, and the sentence says where it belongs."""
    with pytest.raises(WrongRoster, match="looks like a file for Cadets"):
        receive_file(desk, "september.xlsx", joiners, Claims(roster="staff"))


def test_keeps_to_allowed_rosters(desk, joiners):
    """Only rosters that somebody may prepare files for are looked at."""
    with desk.database.transaction() as connection:
        staff = roster_store.get_roster(connection, "staff").id
    with pytest.raises(WrongRoster):
        receive_file(desk, "september.xlsx", joiners, Claims(roster="cadets", allowed={staff}))
    with pytest.raises(WrongRoster, match="no roster that you may"):
        receive_file(desk, "september.xlsx", joiners, Claims(allowed=set()))


def test_same_bytes_kept_once(desk, joiners):
    """The same file twice is two intakes of one stored file."""
    before = counts(desk)
    receive_file(desk, "one.xlsx", joiners)
    receive_file(desk, "two.xlsx", joiners)
    assert counts(desk) == (before[0] + 1, before[1] + 2, before[2])


def test_steps_are_checked(desk, joiners):
    """A step that is none is refused with its place, and none is added to an intake that is not
    there.
    """
    intake = receive_file(desk, "one.xlsx", joiners)
    with pytest.raises(WrongStep, match="lines"):
        add_step(desk, intake, {"kind": "hold", "reason": "asked"}, None)
    with pytest.raises(WrongStep):
        add_step(desk, intake, {"kind": "drop table"}, None)
    with pytest.raises(NoSuchIntake):
        add_step(desk, 999, {"kind": "undo", "step": 1}, None)
    assert open_intake(desk, intake).steps == []
