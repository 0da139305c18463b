"""Somebody sets their own password at a connected system by the link of a letter: at a server that
we did not write too, once, with nothing of it left here.
"""

from __future__ import annotations

import dataclasses
from datetime import date
from threading import Thread

import httpx
import pytest
from stand_ins.directory.app import make_app

from nevefield.accounts import Level, add_account
from nevefield.accounts.people import May, invite
from nevefield.accounts.signing import sight_of
from nevefield.core.errors import WrongTemplate
from nevefield.core.mailing.asking import Asks
from nevefield.core.mailing.template import Template
from nevefield.letters.answering import give_answer, look_at_own
from nevefield.letters.errors import (
    BeingSent,
    LinkOver,
    NoAccountYet,
    NoPasswords,
    NotThem,
    PasswordRefused,
    PasswordWaits,
    WrongAnswers,
)
from nevefield.letters.passwords import list_places
from nevefield.letters.writing import Letter, look_at_letter, send_letter
from nevefield.passing_on.keeping import begin_destination, keep_destination, keep_token
from nevefield.passing_on.sending import tell
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.opening import open_roster_with
from nevefield.store.accounts import get_account
from tests.mailing.house import send
from tests.mailing.test_letters import HERE, counts, links, roster
from tests.passing.house import TOKEN, Line, directory_of

GOOD = "vier Kähne, grüner Tee"
ONLY = Asks(password_at="directory", last_day=date(2026, 10, 1))
SERVERS = {
    "foreign": lambda: Line(),
    "without patch": lambda: Line(patches=False),
    "stand-in": lambda: Line(make_app(TOKEN)),
}


@pytest.fixture
def line(request):
    """A server that we did not write, unless another is asked for."""
    return SERVERS[getattr(request, "param", "foreign")]()


@pytest.fixture
def clinic(office, line, monkeypatch):
    """The clinic, whose directory takes passwords of twelve letters, and knows everybody there."""
    monkeypatch.setattr("time.sleep", lambda _: None)
    context = dataclasses.replace(office, transport=line)
    begin_destination(context, directory_of(way={"least_password": 12}), None)
    keep_token(context, "directory", TOKEN, None)
    tell(context, "directory", 1, None)
    return context


def asking(asks=ONLY) -> Letter:
    template = Template("Your password", "Dear {forename}: {their link}", "{forename}")
    return Letter("clinic", range(1, 100), "mail", template, asks, "nobody")


@pytest.fixture
def letter(clinic):
    """A letter by which all six who have an address set their password."""
    sent = send_letter(clinic, asking(), 6, "press-1", HERE, None).letter
    send(clinic)
    return sent


@pytest.mark.parametrize("line", SERVERS, indirect=True)
def test_set_once_and_kept_nowhere(clinic, line, catcher, letter):
    """The password is theirs there, nobody else's; everything else there stays; it is in no row of
    the database, and the link works no more.
    """
    before = line.users()
    (token,) = links(catcher)["aase@clinic.example"]
    own = look_at_own(clinic, token)
    assert (own.account.login, own.account.at.title, own.account.at.least) == (
        "a.odegard",
        "Directory",
        12,
    )
    assert own.fields == []
    answered = give_answer(clinic, token, "", {}, GOOD)
    assert (answered.corrected, answered.password_at) == ([], "Directory")
    assert line.whose({"a.odegard", "l.ng"}, GOOD) == {"a.odegard"}
    after = line.users()
    for users in (before, after):
        for one in users.values():
            del one["meta"]
    assert after == before
    for again in (look_at_own, lambda c, t: give_answer(c, t, "", {}, GOOD + "!")):
        with pytest.raises(LinkOver, match="set your password"):
            again(clinic, token)
    assert counts(clinic, letter) == {"set": 1, "silent": 5}
    assert GOOD not in everything(clinic)


def everything(context) -> str:
    """Every row of the database, written out."""
    with context.database.transaction() as connection:
        tables = [one for (one,) in connection.rows("SHOW TABLES")]
        return "".join(str(connection.rows(f"SELECT * FROM {table}")) for table in tables)


WEAK = {
    "": "too short",
    "elf Zeichen": "too short",
    "x" * 201: "too long",
    "passwordpassword": "guessed soon",
    "ceyda@clinic.example": "guessed soon",
}


def test_what_is_guessed_soon_is_not_sent(clinic, line, catcher, letter):
    (token,) = links(catcher)["ceyda@clinic.example"]
    asked = len(line.asked)
    for password, why in WEAK.items():
        with pytest.raises(PasswordRefused, match=why):
            give_answer(clinic, token, "", {}, password)
    assert len(line.asked) == asked
    assert give_answer(clinic, token, "", {}, GOOD).password_at  # the link works still
    assert line.whose({"c.obrienyilmaz"}, GOOD)


REFUSED = {"detail": "It was used before: " + GOOD, "scimType": "invalidValue"}
TROUBLES = {
    "refused, with the password in its words": (httpx.Response(400, json=REFUSED), PasswordRefused),
    "busy": (httpx.Response(429, headers={"Retry-After": "600"}), PasswordWaits),
    "broken": (httpx.Response(500), PasswordWaits),
    "our token is none": (httpx.Response(401), PasswordWaits),
    "no JSON": (httpx.Response(200, text="<html>"), PasswordWaits),
    "elsewhere": (httpx.Response(302, headers={"Location": "http://a.example"}), PasswordWaits),
    "takes none": (
        httpx.Response(200, json={"changePassword": {"supported": False}}),
        PasswordRefused,
    ),
}


def test_when_it_is_not_taken(clinic, line, catcher, letter):
    """Whatever the system says: told in a sentence without the password, nothing counts as
    answered, and the same link sets it once the system is well.
    """
    (token,) = links(catcher)["eleni@clinic.example"]
    for trouble, (answer, error) in TROUBLES.items():
        config = httpx.Response(200, json={"patch": {"supported": True}})
        line.answers = [answer] if trouble == "takes none" else [config, answer]
        with pytest.raises(error) as caught:
            give_answer(clinic, token, "", {}, GOOD)
        assert GOOD not in str(caught.value), trouble
        assert "Directory" in str(caught.value), trouble
    assert counts(clinic, letter) == {"looked": 1, "silent": 5}
    give_answer(clinic, token, "", {}, GOOD)
    assert line.whose({"ε.παπαδοπουλου"}, GOOD)


@pytest.mark.parametrize("line", ["without patch", "stand-in"], indirect=True)
def test_answer_lost(clinic, line, catcher, letter):
    """Where it was set and the answer lost, saying it again comes to the same."""
    (token,) = links(catcher)["eleni@clinic.example"]
    tried = []

    def lose() -> None:
        if line.asked[-1][0] in ("PATCH", "PUT") and not tried:
            tried.append(1)
            raise httpx.ReadError("lost")

    line.after_each = lose
    with pytest.raises(PasswordWaits):
        give_answer(clinic, token, "", {}, GOOD)
    assert tried
    give_answer(clinic, token, "", {}, GOOD)
    assert line.whose({"ε.παπαδοπουλου"}, GOOD)


def test_two_windows(clinic, line, catcher, letter):
    """Two who send by one link at the same moment: one password is set, and the other is told."""
    (token,) = links(catcher)["li.ng@clinic.example"]
    said: dict[str, object] = {}

    def answer(password: str) -> None:
        try:
            said[password] = give_answer(clinic, token, "", {}, password)
        except (BeingSent, LinkOver) as error:
            said[password] = error

    threads = [Thread(target=answer, args=(f"{GOOD}, {number}",)) for number in range(6)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    (won,) = [one for one, what in said.items() if not isinstance(what, Exception)]
    assert line.whose({"l.ng"}, won)


def test_broken_off(clinic, line, catcher, letter):
    """Killed while it is sent, the link works again three minutes later, and not before."""
    (token,) = links(catcher)["li.ng@clinic.example"]

    def kill() -> None:
        line.after_each = lambda: None
        raise KeyboardInterrupt

    line.after_each = kill
    with pytest.raises(KeyboardInterrupt):
        give_answer(clinic, token, "", {}, GOOD)
    with pytest.raises(BeingSent):
        give_answer(clinic, token, "", {}, GOOD)
    clinic.now.move(seconds=170)
    with pytest.raises(BeingSent):
        give_answer(clinic, token, "", {}, GOOD)
    clinic.now.move(seconds=11)
    give_answer(clinic, token, "", {}, GOOD)
    assert line.whose({"l.ng"}, GOOD)


def test_with_corrections(clinic, line, catcher):
    """Asked both: what cannot be is said before anything is set; then both count, the correction as
    a proposal; what only they know comes first.
    """
    asks = Asks(
        fields=("surname", "until"),
        password_at="directory",
        last_day=date(2026, 10, 1),
        proof="born",
    )
    number = send_letter(clinic, asking(asks), 6, "press-2", HERE, None).letter
    send(clinic)
    (token,) = links(catcher)["li.ng@clinic.example"]
    first = look_at_own(clinic, token)
    assert (first.name, first.account) == ("", None)
    with pytest.raises(NotThem):
        give_answer(clinic, token, "", {}, GOOD)
    with pytest.raises(WrongAnswers):
        give_answer(clinic, token, "2001-05-05", {"until": "31 Feb 2027"}, GOOD)
    assert not line.whose({"l.ng"}, GOOD)
    assert look_at_own(clinic, token, "2001-05-05").account.login == "l.ng"
    answered = give_answer(clinic, token, "2001-05-05", {"surname": "Nguyễn"}, GOOD)
    assert (answered.corrected, answered.password_at) == (["Surname"], "Directory")
    assert line.whose({"l.ng"}, GOOD)
    assert roster(clinic)["C-05"]["surname"] == "Ng"  # nobody has looked at it yet
    assert counts(clinic, number) == {"corrected": 1, "silent": 5}


def olga(line) -> str:
    """By what the directory knows the one who has no mail address."""
    return line.users()["о.гончаренко"]["id"]


def test_the_practice_copy_sets_nothing(clinic, line, catcher, letter):
    """A link that came into the practice copy with everything else does not reach the directory."""
    (token,) = links(catcher)["li.ng@clinic.example"]
    asked = len(line.asked)
    practice = dataclasses.replace(
        clinic, settings=dataclasses.replace(clinic.settings, practice=True)
    )
    with pytest.raises(NoPasswords):
        give_answer(practice, token, "", {}, GOOD)
    assert len(line.asked) == asked


def test_no_name_of_a_destination_that_is_not_seen(clinic):
    """A place that may not be seen and one that is not there are refused in the same words."""
    said = []
    somebody = blind(clinic)
    for name in ("directory", "directorx"):
        asks = ONLY.model_copy(update={"password_at": name})
        with pytest.raises(WrongTemplate) as caught:
            look_at_letter(somebody, asking(asks))
        said.append(str(caught.value).replace(name, "@"))
    assert said[0] == said[1]
    assert "directory" not in said[1]


def blind(context):
    """The same as seen by somebody who has the clinic, and not the directory's other roster."""
    other = {"name": "canteen", "primaryKey": "no", "fields": [{"name": "no"}]}
    open_roster_with(context, other, [{"no": "1"}])
    document = directory_of(way={"least_password": 12})
    document["shares"].append({"roster": "canteen", "puts": [{"to": "userName", "from": "no"}]})
    keep_destination(context, "directory", document, 1, None)
    add_account(context, "keeper", "Keeper", "a long password", Level.ADMINISTER)
    with context.database.transaction() as connection:
        keeper = get_account(connection, "keeper")
    invite(context, "one", "One", May(Level.NONE, {"clinic": Level.APPROVE}), keeper)
    with context.database.transaction() as connection:
        one = get_account(connection, "one")
    return context.seen_by(sight_of(context, one))


def test_no_account(clinic, line, catcher, letter):
    """Who has none there yet, or is switched off, is told; and counted before the letter goes."""
    with clinic.database.transaction() as connection:
        (bo,) = (
            row[0]
            for row in connection.rows(
                "SELECT record_id FROM record_version WHERE valid_to IS NULL"
                " AND JSON_VALUE(content, '$.badge') = 'D-07'"
            )
        )
    look = look_at_letter(clinic, asking())
    assert (look.mails, look.no_account) == (6, 1)  # Bo works there no more
    with clinic.database.transaction() as connection:
        connection.run("UPDATE passed SET is_there = FALSE WHERE ref = %s", (olga(line),))
    assert look_at_letter(clinic, asking()).no_account == 1  # who gets no letter is not counted
    (token,) = links(catcher)["bo@clinic.example"]
    for ask in (look_at_own, lambda c, t: give_answer(c, t, "", {}, GOOD)):
        with pytest.raises(NoAccountYet, match="Directory"):
            ask(clinic, token)
    edit_record(clinic, Edit(bo, {"until": "2027-01-01"}, reason="stays"), None)
    tell(clinic, "directory", 1, None)
    give_answer(clinic, token, "", {}, GOOD)
    assert line.whose({"b.smithjr"}, GOOD)


def test_no_place(clinic, line, catcher, letter):
    """Where nobody sets one any more the link says so; no letter asks for one where none is set, or
    the system says that it takes none; another destination is none.
    """
    (token,) = links(catcher)["li.ng@clinic.example"]
    closed = httpx.Response(200, json={"changePassword": {"supported": False}})
    line.answers = [closed]
    with pytest.raises(WrongTemplate, match="takes none"):
        send_letter(clinic, asking(), 6, "press-3", HERE, None)
    assert [one.name for one in list_places(clinic, "clinic")] == ["directory"]
    keep_destination(clinic, "directory", directory_of(), 1, None)
    assert list_places(clinic, "clinic") == []
    for ask in (look_at_own, lambda c, t: give_answer(c, t, "", {}, GOOD)):
        with pytest.raises(NoPasswords):
            ask(clinic, token)
    for name, why in (("directory", "allow it there first"), ("elsewhere", "no destination")):
        asks = ONLY.model_copy(update={"password_at": name})
        with pytest.raises(WrongTemplate, match=why):
            look_at_letter(clinic, asking(asks))


def test_over(clinic, line, catcher, letter):
    """After its last day nothing is set by a link."""
    (token,) = links(catcher)["li.ng@clinic.example"]
    clinic.now.move(days=40)
    with pytest.raises(LinkOver, match="1 Oct 2026"):
        give_answer(clinic, token, "", {}, GOOD)
    assert not line.whose({"l.ng"}, GOOD)
