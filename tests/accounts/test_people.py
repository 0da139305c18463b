"""People who work here: the first one by a link, others invited, let do more or less, closed."""

from __future__ import annotations

from datetime import timedelta

import pytest

from nevefield.accounts import sign_in
from nevefield.accounts.errors import (
    LastAdministrator,
    LinkGone,
    WeakPassword,
    WrongAccount,
)
from nevefield.accounts.people import (
    May,
    alter,
    close,
    first_link,
    invite,
    list_people,
    look_at_link,
    make_link,
    reopen,
    sign_out_everywhere,
    use_link,
)
from nevefield.accounts.signing import WrongSignIn, who
from nevefield.store.accounts import get_account
from nevefield.store.sight import Level
from tests.conftest import ADMINISTERS, APPROVES, PASSWORDS, Browser

GOOD = "herring ladder quartz Tuesday"
LOOKS_ONLY = May(Level.LOOK, {})


@pytest.fixture
def boss(desk):
    with desk.database.transaction() as connection:
        return get_account(connection, ADMINISTERS)


def test_the_first_one_by_a_link(bare):
    """In an empty product a link makes the first administrator, once; there is none after, and an
    earlier one counts no more.
    """
    early, link = first_link(bare), first_link(bare)
    with pytest.raises(LinkGone):
        use_link(bare, early.token, GOOD, sign_in="ines", name="Ines Halloran")
    assert use_link(bare, link.token, GOOD, sign_in="ines", name="Ines Halloran") == "ines"
    assert sign_in(bare, "ines", GOOD, "::1").session.account.level == Level.ADMINISTER
    with pytest.raises(LinkGone):
        use_link(bare, link.token, GOOD, sign_in="eve", name="Eve")
    assert first_link(bare) is None


def test_an_invitation(desk, boss, clock):
    """Somebody invited has no password until the link is used; then the link is gone, and they may
    do what they were invited for and no more.
    """
    link = invite(desk, "sorley", "E. Sorley", May(Level.NONE, {"staff": Level.PREPARE}), boss)
    with pytest.raises(WrongSignIn):
        sign_in(desk, "sorley", "", "10.0.0.9")
    assert look_at_link(desk, link.token)[1].name == "E. Sorley"
    assert use_link(desk, link.token, GOOD) == "sorley"
    with pytest.raises(LinkGone):
        use_link(desk, link.token, GOOD + "!")
    own = Browser(desk)
    own.send("POST", "/api/session", json={"name": "sorley", "password": GOOD})
    assert [one["name"] for one in own.get("/api/rosters")["rosters"]] == ["staff"]
    late = invite(desk, "late", "", LOOKS_ONLY, boss)
    clock.move(days=15)
    with pytest.raises(LinkGone):
        use_link(desk, late.token, GOOD)


@pytest.mark.parametrize("name", ["", "a", "two words", "a/b", "x" * 81, APPROVES])
def test_names_that_cannot_be(desk, boss, name):
    """A sign-in name that is none, or somebody else's, is refused."""
    with pytest.raises(WrongAccount):
        invite(desk, name, "", LOOKS_ONLY, boss)


@pytest.mark.parametrize(
    "password", ["short", "passwordpassword", "qwertyuiop", "e.sorley1234", "1234567890", "x" * 201]
)
def test_passwords_that_are_guessed(desk, boss, password):
    """Short, common and own words are no passwords; the link stays for a better one."""
    link = invite(desk, "e.sorley", "E. Sorley", LOOKS_ONLY, boss)
    with pytest.raises(WeakPassword):
        use_link(desk, link.token, password)
    assert use_link(desk, link.token, GOOD) == "e.sorley"


def test_a_closed_account(desk, boss):
    """Nobody signs in to it, its browsers are signed out at once, its links count no more; what it
    might do is there again when it is opened.
    """
    link = invite(desk, "sorley", "E. Sorley", LOOKS_ONLY, boss)
    use_link(desk, link.token, GOOD)
    token = sign_in(desk, "sorley", GOOD, "10.0.0.9").token
    assert who(desk, token) is not None
    again = make_link(desk, link.account_id, boss)
    close(desk, link.account_id, boss)
    assert who(desk, token) is None
    for attempt in (
        lambda: use_link(desk, again.token, GOOD),
        lambda: look_at_link(desk, again.token),
    ):
        with pytest.raises(LinkGone):
            attempt()
    with pytest.raises(WrongSignIn):
        sign_in(desk, "sorley", GOOD, "10.0.0.9")
    reopen(desk, link.account_id, boss)
    assert sign_in(desk, "sorley", GOOD, "10.0.0.9").session.account.level == Level.LOOK


def test_a_last_day(desk, boss, clock):
    """On its last day an account works; on the next neither its password nor an open browser."""
    today = desk.today()
    link = invite(desk, "sorley", "", May(Level.LOOK, {}, today + timedelta(days=1)), boss)
    use_link(desk, link.token, GOOD)
    clock.move(days=1)
    token = sign_in(desk, "sorley", GOOD, "10.0.0.9").token
    assert who(desk, token) is not None
    clock.move(days=1)
    assert who(desk, token) is None
    with pytest.raises(WrongSignIn):
        sign_in(desk, "sorley", GOOD, "10.0.0.9")


def test_the_last_administrator_stays(desk, boss):
    """Who is the last one to administer is neither closed, lowered nor given a last day that is
    over; an invitation that nobody took up is no second one.
    """
    second = invite(desk, "deputy", "A deputy", May(Level.ADMINISTER, {}), boss)
    for attempt in (
        lambda: close(desk, boss.id, boss),
        lambda: alter(desk, boss.id, "J. Q.", May(Level.APPROVE, {}), boss),
        lambda: alter(
            desk, boss.id, "J. Q.", May(Level.ADMINISTER, {}, desk.today() - timedelta(1)), boss
        ),
    ):
        with pytest.raises(LastAdministrator):
            attempt()
    use_link(desk, second.token, GOOD)
    close(desk, boss.id, boss)
    assert [one.account.name for one in list_people(desk) if one.account.closed_at] == [boss.name]


def test_levels_count_from_the_next_request(desk, boss):
    """What somebody may do is taken away while they are signed in."""
    own = Browser(desk, APPROVES)
    assert own.send("GET", "/api/rosters").json["rosters"]
    with desk.database.transaction() as connection:
        account = get_account(connection, APPROVES)
    alter(desk, account.id, account.name, May(Level.NONE, {}), boss)
    assert own.send("GET", "/api/rosters").json.get("rosters", []) == []
    sign_out_everywhere(desk, account.id, boss)
    assert own.send("GET", "/api/rosters").status_code == 401


def test_own_password(desk):
    """It is changed by who knows the old one, and everywhere else one is signed out."""
    here, there = Browser(desk, APPROVES), Browser(desk, APPROVES)

    def change(old: str, new: str):
        return here.send("PUT", "/api/session/password", json={"old": old, "new": new})

    # 401 would say that the session is over: pages then ask to sign in
    assert change("not the old one", GOOD).status_code == 422
    assert change(PASSWORDS[APPROVES], "aaaaaaaaaa").status_code == 422
    assert there.send("GET", "/api/rosters").status_code == 200
    assert change(PASSWORDS[APPROVES], GOOD).status_code == 204
    assert here.send("GET", "/api/rosters").status_code == 200
    assert there.send("GET", "/api/rosters").status_code == 401
    again = there.send("POST", "/api/session", json={"name": APPROVES, "password": GOOD})
    assert again.status_code == 200


def test_people_through_the_api(desk):
    """Only administrators of everything see people and links; nothing that opens a door is in an
    answer but the new link's token.
    """
    admin, other = Browser(desk, ADMINISTERS), Browser(desk, APPROVES)
    invited = {"sign_in": "sorley", "name": "E. Sorley", "level": 0, "rosters": {"staff": 2}}
    for method, path in (
        ("GET", "/api/accounts"),
        ("POST", "/api/accounts"),
        ("PUT", "/api/accounts/1"),
        ("POST", "/api/accounts/1/link"),
        ("POST", "/api/accounts/1/close"),
        ("POST", "/api/accounts/1/open"),
        ("POST", "/api/accounts/1/sign-out"),
        ("PUT", "/api/institution"),
    ):
        assert other.send(method, path, json=invited).status_code == 403, path
    link = admin.post("/api/accounts", invited)
    people = admin.get("/api/accounts")
    sorley = next(one for one in people["people"] if one["sign_in"] == "sorley")
    assert (sorley["rosters"], sorley["has_password"]) == ({"staff": 2}, False)
    assert link["token"] not in str(people)
    assert "hash" not in str(people)
    assert Browser(desk).send("POST", "/api/links/look", json={"token": link["token"]}).json == {
        "kind": "invite",
        "name": "E. Sorley",
        "sign_in": "sorley",
        "institution": "",
    }
    gone = Browser(desk).send("POST", "/api/links/look", json={"token": "x" * 43})
    assert gone.status_code == 410


def test_who_stands_alone(desk, boss):
    """Where one person alone may approve it is said; with a second one it is not."""
    admin = Browser(desk, ADMINISTERS)
    assert admin.get("/api/accounts")["alone"] == []
    with desk.database.transaction() as connection:
        account = get_account(connection, APPROVES)
    close(desk, account.id, boss)
    alone = admin.get("/api/accounts")["alone"]
    assert {one["roster"] for one in alone} == {"cadets", "staff"}
    assert {one["who"] for one in alone} == {boss.name}
