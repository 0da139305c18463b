"""Each mail once, whatever breaks: against a mail server that catches them, with a line that breaks
at every place, a database that is away, and a process that is killed.
"""

from __future__ import annotations

import dataclasses
import itertools
import random
import re
import subprocess
import sys
import time
from collections import Counter
from contextlib import suppress

import pytest
from cryptography.fernet import Fernet
from stand_ins.mail.catching import serve

from nevefield.accounts import Level
from nevefield.accounts.errors import LinkGone
from nevefield.accounts.people import May, find_account, invite, look_at_link
from nevefield.accounts.signing import add_account
from nevefield.context import Contended, DatabaseGone
from nevefield.letters.errors import NobodyThere, OthersNow
from nevefield.letters.writing import look_at_letter, send_letter
from nevefield.mailing import sending
from nevefield.mailing.errors import MailStays, NoServer, WrongServer
from nevefield.mailing.linking import mail_link
from nevefield.mailing.sending import send_due
from nevefield.mailing.serving import (
    decide,
    keep_server,
    list_mails,
    look_at_post,
    queue_test,
    switch_post,
)
from nevefield.posting.errors import ServerAway, Unclear
from nevefield.posting.line import Line
from nevefield.store import mails as store
from tests.mailing.house import caught, document, free_port, letter, send, states
from tests.passing.house import PEOPLE

WRITTEN = {
    mail: (badge, surname, forename) for badge, surname, forename, mail, *_ in PEOPLE if mail
}


def test_written_to_each_of_them_once(office, catcher):
    """What was shown is what is caught: to whoever has an address, filled with what they are."""
    looked = look_at_letter(office, letter(office))
    assert (looked.mails, looked.without) == (6, ["Гончаренко, Ольга"])
    assert looked.lacking == {"wards": 1}
    assert looked.ended == 0  # the clinic says nowhere which day is somebody's last
    assert len(looked.samples) == 3
    assert send_letter(office, letter(office), 6, "press-0001", "", None).mails == 6
    assert (
        send_letter(office, letter(office), 6, "press-0001", "", None).mails == 6
    )  # pressed twice
    send(office)
    mails = {str(mail["To"]): mail for _, mail in catcher.mails()}
    assert caught(catcher) == Counter(dict.fromkeys(WRITTEN, 1))
    for to, (badge, surname, forename) in WRITTEN.items():
        assert mails[to]["Subject"] == f"For {badge}"
        text = mails[to].get_body(("plain",)).get_content()
        assert text.startswith(f"Dear {forename} {surname}, of ")
    assert "of North ward, Süd." in mails["aase@clinic.example"].get_body(("plain",)).get_content()
    assert mails["aase@clinic.example"]["From"] == '"Clinic, Ødegård" <office@clinic.example>'
    ids = [str(mail["Message-ID"]) for _, mail in catcher.mails()]
    assert len(set(ids)) == 6
    assert states(office) == {"sent": 6}
    assert all(one.body is None for one in list_mails(office, "", 0))


def test_others_than_were_looked_at(office):
    with pytest.raises(OthersNow):
        send_letter(office, letter(office), 5, "press-0002", "", None)
    with pytest.raises(NobodyThere):
        send_letter(office, letter(office, [4]), 0, "press-0003", "", None)
    assert states(office) == {}


def test_refused_and_busy(office, catcher, clock):
    """For good: said, and not tried again; for now: after a while, once."""
    for to in ("nobody@x.example", "busy@x.example", "full@x.example", "bo@x.example"):
        queue_test(office, to, None)
    send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1})
    found = {one.recipient: one for one in list_mails(office, "", 0)}
    assert (found["nobody@x.example"].state, found["nobody@x.example"].answer) == (
        "refused",
        "550 5.1.1 There is nobody of that name here",
    )
    assert found["busy@x.example"].state == found["full@x.example"].state == "waiting"
    send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1})
    clock.move(minutes=2)
    send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1, "busy@x.example": 1})
    clock.move(days=4)
    send(office)
    assert states(office) == {"sent": 2, "refused": 2}
    assert decide(office, [found["nobody@x.example"].id], "again", None) == 1
    assert states(office) == {"sent": 2, "refused": 1, "waiting": 1}


def test_a_server_that_is_away(office, post, catcher, clock):
    """Nothing is lost, it is said, and goes when it is back."""
    queue_test(office, "bo@x.example", None)
    post.stop()
    send(office)
    assert "nobody listens there" in look_at_post(office).problem
    assert states(office) == {"waiting": 1}
    again = serve(catcher, post.port)
    try:
        clock.move(minutes=1)
        send(office)
    finally:
        again.stop()
    assert caught(catcher) == Counter({"bo@x.example": 1})
    assert look_at_post(office).problem == ""


def test_a_line_that_is_not_safe(office, post):
    """Over a line that was to be safe nothing is said, no password above all."""
    for security in ("starttls", "tls"):
        keep_server(
            office, document(post.port, security=security, user="office"), "of-the-office", None
        )
        queue_test(office, "bo@x.example", None)
        send(office)
        assert look_at_post(office).problem
        assert states(office)["waiting"] >= 1
    # another host is not told the password that was kept for this one
    keep_server(office, document(post.port, host="127.0.0.2", user="office"), None, None)
    assert not look_at_post(office).has_password


class Broken:
    """A line to the stand-in that breaks by chance, before a mail was handed over or after."""

    def __init__(self, chance: random.Random) -> None:
        self.chance = chance
        self.unclear = 0

    def __call__(self, server):
        outer, line = self, Line(server)
        hand = line.hand

        def handed(sender, to, message, about_to):
            place = outer.chance.choice(["", "", "before", "about", "lost"])
            if place == "before":
                raise ServerAway("cut")

            def begin():
                about_to()
                if place == "about":
                    raise KeyboardInterrupt  # as if the process were gone

            answer = hand(sender, to, message, begin)
            if place == "lost":
                outer.unclear += 1
                raise Unclear
            return answer

        line.hand = handed
        return line


@pytest.mark.parametrize("seed", range(6))
def test_at_whatever_place_it_breaks(office, catcher, clock, seed):
    """Nobody is written to twice, and who may not have been is said: nothing is lost."""
    broken = Broken(random.Random(seed))
    people = [f"p{number}@x.example" for number in range(25)]
    for one in people:
        queue_test(office, one, None)
    for _ in range(300):
        with suppress(KeyboardInterrupt):
            send_due(office, broken)
        clock.move(minutes=70)
        if not states(office).keys() & {"waiting", "handing"}:
            break
    found = caught(catcher)
    assert max(found.values()) == 1
    said = {one.recipient: one.state for one in list_mails(office, "", 0)}
    assert set(said) == set(people)
    assert {one for one in people if said[one] == "sent"} <= set(found)
    assert {one for one in people if one not in found} <= {
        one for one in people if said[one] == "unclear"
    }
    assert set(said.values()) <= {"sent", "unclear"}


KILLED = """
import sys, dataclasses
from nevefield.context import Context
from nevefield.settings import Settings
from nevefield.mailing.sending import send_due
context = Context.of(Settings(database_url=sys.argv[1], step_key=sys.argv[2]))
while send_due(context):
    print("some", flush=True)
"""


def test_killed_while_it_sends(office, catcher, clock, database_url):
    """Three processes at once, killed and begun again: nobody twice."""
    people = [f"p{number}@x.example" for number in range(120)]
    for one in people:
        queue_test(office, one, None)
    command = [sys.executable, "-c", KILLED, database_url, office.settings.step_key]
    chance = random.Random(1)
    for _ in range(4):
        running = [subprocess.Popen(command) for _ in range(3)]
        time.sleep(0.8 + chance.random())
        for one in running:
            one.kill()
            one.wait()
    clock.move(days=200)  # past what the processes, which have their own clock, said
    for _ in range(20):
        send(office)
        clock.move(minutes=10)
    found = caught(catcher)
    assert max(found.values()) == 1
    unclear = {one.recipient for one in list_mails(office, "unclear", 0)}
    assert set(people) - set(found) <= unclear
    assert len(unclear) <= 12


@pytest.mark.parametrize("where", ["begin_handing", "finish"])
def test_a_database_that_is_away(office, catcher, monkeypatch, where):
    """Away before a mail is handed over it goes later; away after that, it is waited for."""
    monkeypatch.setattr("time.sleep", lambda _: None)
    true, times = getattr(store, where), [3]

    def away(*given, **named):
        if times[0]:
            times[0] -= 1
            raise DatabaseGone("away")
        return true(*given, **named)

    monkeypatch.setattr(store, where, away)
    queue_test(office, "bo@x.example", None)
    for _ in range(6):
        with suppress(DatabaseGone):
            send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1})
    assert states(office) == {"sent": 1}


@pytest.mark.parametrize("error", [Contended(), DatabaseGone("away"), RuntimeError("a mistake")])
@pytest.mark.parametrize("at", [1, 2, 4])
def test_those_behind_one_that_fails_go_at_once(office, catcher, clock, monkeypatch, error, at):
    """Whatever happens to one mail, the others do not lie for a whole lease, nor it for long."""
    true, calls = store.begin_handing, itertools.count(1)

    def fails(*given):
        if next(calls) == at:
            raise error
        return true(*given)

    monkeypatch.setattr(store, "begin_handing", fails)
    people = [f"p{number}@x.example" for number in range(5)]
    for one in people:
        queue_test(office, one, None)
    with pytest.raises(type(error)):
        send(office)
    send(office)
    failed = [] if isinstance(error, Contended | DatabaseGone) else [people[at - 1]]
    assert caught(catcher) == Counter(people) - Counter(failed)
    clock.move(minutes=1)
    send(office)
    assert caught(catcher) == Counter(people)
    assert states(office) == {"sent": 5}


def test_a_server_that_is_replaced_while_the_old_one_is_dialled(office, post, catcher):
    """What is wrong with the old one is not said of the new one, which is used at once."""

    def dial(_server):
        keep_server(office, document(post.port), None, None)
        raise ServerAway("nothing in 20 seconds")

    keep_server(office, document(free_port()), None, None)
    queue_test(office, "bo@x.example", None)
    send(office, dial)
    assert look_at_post(office).problem == ""
    send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1})


def test_a_link_under_another_key_holds_nobody_up(office, catcher, clock):
    """It waits and is said, and the others go; it goes when the key is back, within some days."""
    by = find_account(
        office, add_account(office, "head", "H", "a-long-password-1", Level.ADMINISTER)
    )
    made = invite(office, "ann", "Ann", May(Level.LOOK, {}), by)
    mail_link(office, made.account_id, "ann@x.example", "https://roster.example/", by)
    key = Fernet.generate_key().decode()
    other = dataclasses.replace(office, settings=dataclasses.replace(office.settings, step_key=key))
    queue_test(other, "bo@x.example", None)
    send(other)
    assert caught(catcher) == Counter({"bo@x.example": 1})
    assert "another key" in list_mails(office, "waiting", 0)[0].answer
    clock.move(hours=1)
    send(office)
    assert caught(catcher) == Counter({"bo@x.example": 1, "ann@x.example": 1})
    mail_link(office, made.account_id, "ann@x.example", "https://roster.example/", by)
    clock.move(days=4)
    send(other)
    assert "another key" in list_mails(office, "refused", 0)[0].answer


def test_a_mail_that_cannot_be_written_holds_nobody_up(office, catcher, clock, monkeypatch):
    """A mistake of ours in writing one is tried again later, behind the others."""
    true = sending.write_message

    def fails(outbound, *rest):
        if outbound.to == "p0@x.example":
            raise RuntimeError("a mistake")
        return true(outbound, *rest)

    monkeypatch.setattr(sending, "write_message", fails)
    for number in range(3):
        queue_test(office, f"p{number}@x.example", None)
    with pytest.raises(RuntimeError):
        send(office)
    send(office)
    assert caught(catcher) == Counter({"p1@x.example": 1, "p2@x.example": 1})
    monkeypatch.undo()
    clock.move(minutes=1)
    send(office)
    assert states(office) == {"sent": 3}


def test_a_link_goes_and_is_not_kept(office, catcher):
    """It is nowhere in the database as it is said, and works as the one that is shown does."""
    number = add_account(office, "head", "Head", "a-long-password-1", Level.ADMINISTER)
    by = find_account(office, number)
    made = invite(office, "zoe", "Zoë", May(Level.LOOK, {}), by)
    mail_link(office, made.account_id, "zoe@x.example", "https://roster.example/", by)
    (mail,) = list_mails(office, "waiting", 0)
    assert "join" not in (mail.body or "")
    send(office)
    ((_, got),) = catcher.mails()
    text = got.get_body(("plain",)).get_content()
    token = re.search(r"https://roster\.example/join#(\S+)", text)[1]
    assert look_at_link(office, token)[1].sign_in == "zoe"
    with pytest.raises(LinkGone):
        look_at_link(office, made.token)
    assert list_mails(office, "sent", 0)[0].body is None


def test_waits_while_it_is_switched_off(office, catcher):
    queue_test(office, "bo@x.example", None)
    switch_post(office, None, on=False)
    send(office)
    assert caught(catcher) == Counter()
    (mail,) = list_mails(office, "waiting", 0)
    assert decide(office, [mail.id], "drop", None) == 1
    switch_post(office, None, on=True)
    send(office)
    assert caught(catcher) == Counter()
    assert states(office) == {"dropped": 1}


def test_no_more_than_so_many_a_minute(office, post, catcher, clock):
    keep_server(office, document(post.port, per_minute=3), None, None)
    for number in range(8):
        queue_test(office, f"p{number}@x.example", None)
    send(office)
    assert sum(caught(catcher).values()) == 3
    clock.move(minutes=2)
    send(office)
    assert sum(caught(catcher).values()) == 6


def test_the_practice_copy_writes_to_nobody(office, catcher):
    queue_test(office, "bo@x.example", None)
    settings = dataclasses.replace(office.settings, practice=True)
    practice = dataclasses.replace(office, settings=settings)
    send(practice)
    assert caught(catcher) == Counter()
    with pytest.raises(MailStays):
        queue_test(practice, "bo@x.example", None)
    with pytest.raises(MailStays):
        send_letter(practice, letter(practice), 6, "press-0004", "", None)


@pytest.mark.parametrize(
    ("more", "place"),
    [
        ({"host": "a b"}, "host"),
        ({"host": "x\r\ny"}, "host"),
        ({"port": 0}, "port"),
        ({"security": "maybe"}, "security"),
        ({"address": "office"}, "address"),
        ({"address": "a@x.example, b@x.example"}, "address"),
        ({"reply_to": "x"}, "reply_to"),
        ({"name": "a\nBcc: b@x.example"}, "name"),
        ({"more": 1}, "more"),
    ],
)
def test_servers_that_cannot_be(bare, more, place):
    with pytest.raises(WrongServer) as raised:
        keep_server(bare, document(25) | more, None, None)
    assert raised.value.place == place
    with pytest.raises(NoServer):
        queue_test(bare, "bo@x.example", None)
