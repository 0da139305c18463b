"""Told by SCIM to a server that we did not write: joining, changing, moving between groups, ending,
refusals, a bad line, a worker that dies.
"""

from __future__ import annotations

import dataclasses
import random
from datetime import timedelta

import httpx
import pytest
from cryptography.fernet import Fernet
from stand_ins.directory.app import make_app

from nevefield.accounts import Level, add_account
from nevefield.destinations.errors import Denied, Unreachable
from nevefield.keeping.lapsing import lapse, set_term
from nevefield.passing_on.comparing import compare
from nevefield.passing_on.errors import DestinationMoved, StaysHere, TooManyEnds
from nevefield.passing_on.keeping import begin_destination, keep_token
from nevefield.passing_on.looking import choose_rows, look_at
from nevefield.passing_on.sending import request_telling, tell
from nevefield.proposals.editing import Edit, edit_record
from tests.passing.house import PEOPLE, TOKEN, Line, directory_of, open_clinic

JOB = 1
HOME = {"type": "home", "value": "a@h.example"}


SERVERS = {
    "foreign": lambda: Line(),
    "without bulk": lambda: Line(bundles=False),
    "without patch": lambda: Line(patches=False),
    "stand-in": lambda: Line(make_app(TOKEN)),
}


@pytest.fixture(params=SERVERS)
def foreign(request):
    return SERVERS[request.param]()


@pytest.fixture
def clinic(bare, foreign, monkeypatch):
    """The clinic with its directory, which nobody has told anything yet."""
    monkeypatch.setattr("time.sleep", lambda _: None)
    settings = dataclasses.replace(bare.settings, step_key=Fernet.generate_key().decode())
    context = dataclasses.replace(bare, settings=settings, transport=foreign)
    open_clinic(context)
    begin_destination(context, directory_of(), None)
    keep_token(context, "directory", TOKEN, None)
    return context


def places(context) -> dict[str, int]:
    look = look_at(context, "directory")
    assert sum(look.counts.values()) == look.records
    return {place.value: count for place, count in look.counts.items() if count}


def alter(context, badge: str, /, **values) -> None:
    with context.database.transaction() as connection:
        (record,) = (
            one[0]
            for one in connection.rows(
                "SELECT record_id FROM record_version WHERE valid_to IS NULL"
                " AND JSON_VALUE(content, '$.badge') = %s",
                (badge,),
            )
        )
    edit_record(context, Edit(record, values, reason="by the test"), None)


def test_who_works_there_is_told_once(clinic, foreign):
    """Six of seven work there; each is made once with what the layout says and in their groups,
    and what is kept never leaves.
    """
    assert places(clinic) == {"to send": 6, "not theirs": 1}
    assert tell(clinic, "directory", JOB, None) == {"sent": 6, "refused": 0, "left": 0}
    assert places(clinic) == {"in step": 6, "not theirs": 1}
    users = foreign.users()
    assert set(users) == {
        "a.odegard",
        "c.obrienyilmaz",
        "ε.παπαδοπουλου",
        "о.гончаренко",
        "l.ng",
        "l.ng2",
    }
    assert users["a.odegard"]["in"] == ["Key: Poisons", "North ward", "Süd"]
    assert users["l.ng2"]["name"] == {"familyName": "Ng", "givenName": "Liang"}
    assert users["c.obrienyilmaz"]["emails"] == [{"type": "work", "value": "ceyda@clinic.example"}]
    assert "emails" not in users["о.гончаренко"]
    assert not any(one[6] in str(users) for one in PEOPLE)
    asked = len(foreign.asked)
    assert tell(clinic, "directory", JOB, None)["sent"] == 0
    assert len(foreign.asked) == asked


def test_what_was_sent_is_forgotten_and_what_they_hold_is_not(clinic, clock):
    """When it was sent goes after its days; that they are in step stays."""
    keeper = add_account(clinic, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    tell(clinic, "directory", JOB, None)
    set_term(clinic, "passed", 30, keeper)
    clock.move(days=29)
    assert lapse(clinic, clinic.database) == {}
    alter(clinic, "A-01", mail="ode@clinic.example")
    tell(clinic, "directory", JOB, None)
    clock.move(days=2)
    assert lapse(clinic, clinic.database) == {"passed": 6}
    with clinic.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM passed_act") == (1,)
    # whose day has come meanwhile is all that there is to tell
    assert places(clinic) == {"in step": 5, "to end": 1, "not theirs": 1}


def test_changes_move_people_and_the_end_switches_off(clinic, foreign):
    """A change is what changed alone; what they themselves keep of somebody stays."""
    tell(clinic, "directory", JOB, None)
    before = foreign.users()["a.odegard"]
    foreign.replace("Users", before["id"], nickName="Aa", emails=[*before["emails"], HOME])
    alter(clinic, "A-01", mail="ode@clinic.example", wards=["E"], keys=None)
    alter(clinic, "B-04", until="2026-01-01")
    assert places(clinic) == {"in step": 4, "to send": 1, "to end": 1, "not theirs": 1}
    look = look_at(clinic, "directory")
    rows = choose_rows(clinic, look, "", "", start=0, limit=9)[1]
    assert {row.key for row in rows if row.takes_privileges} == {"A-01"}  # who ends is told apart
    assert len(look.takes) == 1
    tell(clinic, "directory", JOB, None)
    users = foreign.users()
    after = users["a.odegard"]
    assert after["id"] == before["id"]
    assert after["in"] == ["Emergency"]
    assert {one["type"]: one["value"] for one in after["emails"]} == {
        "work": "ode@clinic.example",
        "home": "a@h.example",
    }
    assert after["nickName"] == "Aa"
    assert (users["о.гончаренко"]["active"], users["о.гончаренко"]["in"]) == (False, [])
    assert places(clinic) == {"in step": 5, "not theirs": 2}
    alter(clinic, "B-04", until=None)
    tell(clinic, "directory", JOB, None)
    back = foreign.users()["о.гончаренко"]
    assert (back["active"], back["id"], back["in"]) == (True, users["о.гончаренко"]["id"], ["Süd"])


def test_a_day_ends_somebody(clinic, clock, foreign):
    """Who works until a day is switched off on the next one, though nobody altered anything."""
    tell(clinic, "directory", JOB, None)
    clock.at += timedelta(days=60)
    assert places(clinic)["to end"] == 1
    tell(clinic, "directory", JOB, None)
    assert [name for name, one in foreign.users().items() if not one["active"]] == ["l.ng"]
    assert foreign.users()["l.ng2"]["active"]


def test_a_name_that_is_taken_there(clinic, foreign):
    """A name that belongs to an account that we did not make is a refusal, which is not tried again
    by itself; the others are told.
    """
    foreign.put(
        "Users",
        {"schemas": ["urn:ietf:params:scim:schemas:core:2.0:User"], "userName": "l.ng"},
    )
    answer = tell(clinic, "directory", JOB, None)
    assert (answer["sent"], answer["refused"]) == (5, 1)
    (cause,) = look_at(clinic, "directory").causes
    assert (cause.code, len(cause.records)) == ("uniqueness", 1)
    assert tell(clinic, "directory", JOB, None) == {"sent": 0, "refused": 0, "left": 0}
    alter(clinic, "C-05", surname="Ngo")
    assert tell(clinic, "directory", JOB, None)["sent"] == 1
    assert foreign.users()["l.ngo"]["active"]


@pytest.mark.parametrize("seed", range(2))
def test_a_bad_line(clinic, foreign, seed):
    """Whatever requests and answers are lost: at last both sides are in step, nobody is there
    twice, and who they hold is who should be there.
    """
    foreign.bad, foreign.chance = 0.35, random.Random(seed)
    for _ in range(60):
        try:
            tell(clinic, "directory", JOB, None)
        except Unreachable:
            continue
        break
    alter(clinic, "A-01", wards=["E", "N"], forename="Aase")
    alter(clinic, "A-02", until="2020-01-01")
    for _ in range(60):
        try:
            tell(clinic, "directory", JOB, None)
        except Unreachable:
            continue
        break
    assert places(clinic) == {"in step": 5, "not theirs": 2}
    foreign.bad = 0
    people = foreign.look("/Users?count=100")["Resources"]
    assert sorted(one["userName"] for one in people if one["active"]) == sorted(
        ["a.odegard", "ε.παπαδοπουλου", "о.гончаренко", "l.ng", "l.ng2"]
    )
    assert len({one["externalId"] for one in people}) == len(people) == 6
    assert foreign.users()["a.odegard"]["in"] == ["Emergency", "Key: Poisons", "North ward"]
    names = [one["displayName"] for one in foreign.look("/Groups?count=100")["Resources"]]
    assert len(set(names)) == len(names)


def test_a_worker_that_dies(clinic, foreign, monkeypatch):
    """Killed before it was kept what became of those whom it had told: another goes on, and nobody
    is made twice.
    """
    with monkeypatch.context() as broken:
        broken.setattr(
            "nevefield.store.passing.learn", lambda *_: (_ for _ in ()).throw(SystemExit)
        )
        with pytest.raises(SystemExit):
            tell(clinic, "directory", JOB, None)
    assert len(foreign.look("/Users?count=100")["Resources"]) == 6
    assert places(clinic)["to send"] == 6
    tell(clinic, "directory", JOB, None)
    assert len(foreign.look("/Users?count=100")["Resources"]) == 6
    assert places(clinic) == {"in step": 6, "not theirs": 1}


def test_what_wants_somebodys_word(clinic, foreign):
    """More ends than a fifth want their number; what is otherwise than it was looked at is said."""
    tell(clinic, "directory", JOB, None)
    for badge in ("A-01", "A-02", "B-03", "B-04"):
        alter(clinic, badge, until="2020-01-01")
    with pytest.raises(DestinationMoved):
        request_telling(clinic, "directory", 3, None, None)
    with pytest.raises(TooManyEnds, match="4 of the 6"):
        request_telling(clinic, "directory", 4, None, None)
    with pytest.raises(TooManyEnds):
        request_telling(clinic, "directory", 4, 3, None)
    told = tell(clinic, "directory", JOB, None, by_itself=True)
    assert (told["sent"], told["left"]) == (0, 4)
    assert "4 of the 6" in look_at(clinic, "directory").opened.row.problem
    assert sum(one["active"] for one in foreign.users().values()) == 6
    assert request_telling(clinic, "directory", 4, 4, None)
    tell(clinic, "directory", JOB, None, ends=4)
    assert sum(one["active"] for one in foreign.users().values()) == 2


def test_nothing_of_the_practice_copy(clinic, foreign):
    """The practice copy tells nobody anything."""
    settings = dataclasses.replace(clinic.settings, practice=True)
    practice = dataclasses.replace(clinic, settings=settings)
    with pytest.raises(StaysHere):
        request_telling(practice, "directory", 6, None, None)
    with pytest.raises(StaysHere):
        tell(practice, "directory", JOB, None)
    assert foreign.asked == []


def test_a_busy_or_lost_destination_is_told_later(clinic, foreign):
    """A server that wants to be left alone for an hour is; what it says of a token is said."""
    busy = [httpx.Response(429, headers={"Retry-After": "1800"})]

    def be_busy():  # once it has said what it offers
        foreign.answers, busy[:] = list(busy), []

    foreign.after_each = be_busy
    with pytest.raises(Unreachable):
        tell(clinic, "directory", JOB, None)
    row = look_at(clinic, "directory").opened.row
    assert timedelta(minutes=29) < row.next_at - clinic.now() < timedelta(minutes=31)
    keep_token(clinic, "directory", "wrong", None)
    with pytest.raises(Denied):
        tell(clinic, "directory", JOB, None)
    assert "token" in look_at(clinic, "directory").opened.row.problem
    assert places(clinic)["to send"] == 1  # the others were told beside it


def test_what_they_hold_is_compared(clinic, foreign):
    """What somebody there altered, switched off, moved or took away is found, with what; sent
    again, it is as it should be. What is not ours is counted.
    """
    tell(clinic, "directory", JOB, None)
    foreign.put(
        "Users", {"schemas": ["urn:ietf:params:scim:schemas:core:2.0:User"], "userName": "theirs"}
    )
    answer = compare(clinic, "directory", JOB, clinic.now())
    assert answer == {"compared": 6, "otherwise": 0, "gone": 0, "strange": 1}
    users = foreign.users()
    foreign.replace("Users", users["l.ng"]["id"], name={"familyName": "Other"})
    foreign.replace("Users", users["l.ng2"]["id"], active=False)
    (north,) = (
        one for one in foreign.look("/Groups")["Resources"] if one["displayName"] == "North ward"
    )
    foreign.replace("Groups", north["id"], members=[])
    answer = compare(clinic, "directory", JOB, clinic.now())
    assert (answer["otherwise"], answer["gone"]) == (4, 0)
    look = look_at(clinic, "directory")
    rows = choose_rows(clinic, look, "to send", "", start=0, limit=9)[1]
    assert {row.key: row.because for row in rows} == {
        "A-01": "is otherwise there: groups",
        "A-02": "is otherwise there: groups",
        "C-05": "is otherwise there: name.familyName, name.givenName",
        "C-06": "is otherwise there: switched off",
    }
    tell(clinic, "directory", JOB, None)
    assert compare(clinic, "directory", JOB, clinic.now())["otherwise"] == 0
    assert foreign.users()["l.ng2"]["active"]
    assert foreign.users()["a.odegard"]["in"] == ["Key: Poisons", "North ward", "Süd"]
