"""What comes after the first telling: namesakes of who has left, rosters that are shared no more,
fields that were told before, somebody erased, keys that do not fit, two workers.
"""

from __future__ import annotations

import contextlib
import copy
import dataclasses
import json

import pytest
from cryptography.fernet import Fernet

from nevefield.accounts import Level, add_account
from nevefield.accounts.signing import sight_of
from nevefield.core.states import JobKind
from nevefield.passing_on.errors import NoKey, NoSuchDestination
from nevefield.passing_on.keeping import (
    begin_destination,
    keep_destination,
    keep_token,
    open_destination,
)
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import queue_due, tell
from nevefield.rosters.opening import open_roster_with
from nevefield.store.accounts import get_account
from nevefield.store.jobs import list_running
from nevefield.store.passing import forget_passed
from tests.passing.house import TOKEN, Line, directory_of, file_of, open_clinic
from tests.passing.test_scim import alter

JOB = 1
VISITORS = {
    "name": "visitors",
    "title": "Visitors",
    "primaryKey": "pass",
    "fields": [{"name": "pass"}, {"name": "sign_in"}],
}


@pytest.fixture
def line():
    return Line()


@pytest.fixture
def clinic(bare, line, monkeypatch):
    monkeypatch.setattr("time.sleep", lambda _: None)
    settings = dataclasses.replace(bare.settings, step_key=Fernet.generate_key().decode())
    context = dataclasses.replace(bare, settings=settings, transport=line)
    open_clinic(context)
    return context


def begin(context, document) -> None:
    begin_destination(context, document, None)
    keep_token(context, "directory", TOKEN, None)


def counts(context, name: str = "directory") -> dict[str, int]:
    look = look_at(context, name)
    assert sum(look.counts.values()) == look.records
    return {place.value: count for place, count in look.counts.items() if count}


def test_a_namesake_of_who_has_left(clinic, line):
    """Who is switched off keeps the name there: another gets the next, nobody is refused for a
    name that is ours, and who comes back has the old one.
    """
    begin(clinic, directory_of())
    tell(clinic, "directory", JOB, None)
    alter(clinic, "C-05", until="2020-01-01")
    tell(clinic, "directory", JOB, None)
    alter(clinic, "B-04", forename="Lu", surname="Ng")
    assert tell(clinic, "directory", JOB, None)["refused"] == 0
    assert {name for name in line.users() if name.startswith("l.ng")} == {"l.ng", "l.ng2", "l.ng3"}
    alter(clinic, "C-05", until=None)
    tell(clinic, "directory", JOB, None)
    users = line.users()
    assert users["l.ng"]["active"]
    assert users["l.ng"]["name"]["givenName"] == "Li"


def test_names_of_two_rosters(clinic, line):
    """What one roster has there, composed or not, the other does not compose."""
    records = [{"pass": "1", "sign_in": "a.odegard"}, {"pass": "2", "sign_in": "l.ng2"}]
    open_roster_with(clinic, VISITORS, records)
    document = directory_of()
    document["shares"].append(
        {"roster": "visitors", "puts": [{"to": "userName", "from": "sign_in"}]}
    )
    begin(clinic, document)
    assert tell(clinic, "directory", JOB, None)["refused"] == 0
    assert {"a.odegard", "a.odegard2", "l.ng", "l.ng2", "l.ng3"} <= set(line.users())


def test_a_roster_that_is_shared_no_more(clinic, line):
    """Whoever was told of it is switched off; until then they are counted."""
    open_roster_with(clinic, VISITORS, [{"pass": "1", "sign_in": "visitor"}])
    document = directory_of()
    both = copy.deepcopy(document)
    both["shares"].append({"roster": "visitors", "puts": [{"to": "userName", "from": "sign_in"}]})
    begin(clinic, both)
    tell(clinic, "directory", JOB, None)
    keep_destination(clinic, "directory", document, 1, None)
    assert counts(clinic) == {"in step": 6, "to end": 1, "not theirs": 1}
    tell(clinic, "directory", JOB, None)
    assert not line.users()["visitor"]["active"]
    assert counts(clinic)["in step"] == 6
    files = {**file_of("csv"), "name": "two"}
    share = {"roster": "visitors", "puts": [{"to": "Badge", "from": "pass"}]}
    begin_destination(clinic, {**files, "shares": [*files["shares"], share]}, None)
    tell(clinic, "two", JOB, None)
    keep_destination(clinic, "two", files, 1, None)
    tell(clinic, "two", JOB, None)
    assert counts(clinic, "two") == {"in step": 7}


def test_a_kept_field_that_was_told_before(clinic):
    """Who may only look does not see what a destination still holds of a kept field, though its
    layout has it no more.
    """
    with clinic.database.transaction() as connection:
        (roster,) = connection.row("SELECT id FROM roster WHERE name = 'clinic'")
    add_account(clinic, "looker", "l", "password-of-looker", Level.NONE, {roster: Level.LOOK})
    with clinic.database.transaction() as connection:
        account = get_account(connection, "looker")
    born = [{"to": "Born", "from": "born", "because": "by law"}, {"to": "Badge", "from": "badge"}]
    begin_destination(clinic, file_of("csv", born), None)
    tell(clinic, "list", JOB, None)
    keep_destination(clinic, "list", file_of("csv", born[1:]), 1, None)
    with pytest.raises(NoSuchDestination):
        open_destination(clinic.seen_by(sight_of(clinic, account)), "list")
    begin_destination(clinic, {**file_of("csv"), "name": "open"}, None)
    assert open_destination(clinic.seen_by(sight_of(clinic, account)), "open")


def test_somebody_erased_is_ended_there(clinic, line):
    """Of whom nothing is known any more is switched off all the same, and out of all groups."""
    begin(clinic, directory_of())
    tell(clinic, "directory", JOB, None)
    look = look_at(clinic, "directory")
    record = next(
        one for shared in look.shared for one, told in shared.told.items() if told.is_there
    )
    name = next(iter(look.shared[0].told[record].own.values()))
    alter(clinic, "A-01", until="2020-01-01")
    with clinic.database.transaction() as connection:
        forget_passed(connection, record)
        connection.run("UPDATE destination SET touched = touched + 1")
    assert name == "a.odegard"
    tell(clinic, "directory", JOB, None)
    user = line.users()["a.odegard"]
    assert (user["active"], user["in"]) == (False, [])


@pytest.mark.parametrize("how", ["another key", "unforeseen"])
def test_what_cannot_be_told_is_not_tried_without_end(clinic, monkeypatch, how):
    """Told by itself and failing in any way, a destination is left alone for a while, and says
    why.
    """
    begin(clinic, {**directory_of(), "when": {"kind": "after receipts"}})
    other = clinic
    if how == "another key":
        settings = dataclasses.replace(clinic.settings, step_key="another")
        other = dataclasses.replace(clinic, settings=settings)
    else:
        monkeypatch.setattr(
            "nevefield.destinations.scim.Scim.put", lambda *_: (_ for _ in ()).throw(KeyError("x"))
        )
    assert queue_due(other) == 1
    with clinic.database.transaction() as connection:
        connection.run("DELETE FROM job")
    with contextlib.suppress(NoKey, KeyError):
        tell(other, "directory", JOB, None, by_itself=True)
    assert queue_due(other) == 0
    row = look_at(clinic, "directory").opened.row
    assert row.problem
    assert row.next_at > clinic.now()


def test_one_job_for_two_workers(clinic):
    """While somebody tells, or a job waits, nothing is queued."""
    begin(clinic, {**directory_of(), "when": {"kind": "after receipts"}})
    assert [queue_due(clinic), queue_due(clinic)] == [1, 0]
    with clinic.database.transaction() as connection:
        assert len(list_running(connection, JobKind.TELL)) == 1
        connection.run("DELETE FROM job")
        connection.run("UPDATE destination SET busy_until = '2100-01-01', busy_by = 7")
    assert queue_due(clinic) == 0
    assert json.dumps(counts(clinic)) == json.dumps({"to send": 6, "not theirs": 1})
