"""Letters of another institution: who has answered adds up, a link shows nobody else's and works
once, what is said becomes an intake, paper shows what mails do.
"""

from __future__ import annotations

import dataclasses
import io
import re
from collections import Counter
from datetime import date, timedelta
from threading import Thread

import pypdfium2
import pytest
import zxingcpp
from hypothesis import given
from hypothesis import strategies as st

from nevefield.accounts import Level, add_account
from nevefield.accounts.people import May, invite
from nevefield.accounts.signing import sight_of
from nevefield.core.definition import Field
from nevefield.core.errors import WrongTemplate
from nevefield.core.mailing.asking import Asks, read_answer
from nevefield.core.mailing.template import Template
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.throwing import throw_away
from nevefield.keeping.erasing import erase
from nevefield.keeping.lapsing import lapse, look_at_term, set_term
from nevefield.letters.answering import give_answer, look_at_own
from nevefield.letters.errors import LinkOver, NobodyThere, NoLinks, NotThem, WrongAnswers
from nevefield.letters.following import end_letter, list_letters, open_letter, reminder
from nevefield.letters.printing import Printing, look_at_printing, print_letters
from nevefield.letters.taking import PAUSE, take_in, take_in_due
from nevefield.letters.writing import Letter, look_at_letter, send_letter
from nevefield.mailing.serving import queue_test
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.snapshots import load_snapshot, require_roster
from nevefield.store.accounts import get_account
from tests.mailing.house import send, states
from tests.passing.house import PEOPLE

HERE = "https://here.example"
LINK = re.compile(rf"{HERE}/yours#(\S+)")
TODAY = date(2026, 9, 1)
ASKS = Asks(fields=("surname", "forename", "wards", "mail", "until"), last_day=date(2026, 10, 1))
TEXT = "Dear {forename},\n\nis it right? {their link}\n\nUntil {the last day}."


def asking(asks=ASKS, paper="nobody", **more) -> Letter:
    template = Template("Your data, {badge}", TEXT, "{forename} {surname}\n{wards}")
    return Letter("clinic", range(1, 100), "mail", template, asks, paper, **more)


@pytest.fixture
def letter(office) -> int:
    """A letter that asks all six who have an address, and one on paper."""
    return send_letter(office, asking(paper="the rest"), 7, "press-1", HERE, None).letter


def links(catcher) -> dict[str, list[str]]:
    """The tokens that somebody got by mail, by address."""
    found: dict[str, list[str]] = {}
    for _, mail in catcher.mails():
        text = mail.get_body(("plain",)).get_content()
        found.setdefault(str(mail["To"]), []).append(LINK.search(text)[1])
    return found


def counts(context, letter) -> dict[str, int]:
    """Who stands where; it adds up, and the list says the same."""
    opened = open_letter(context, letter)
    (listed,) = [one for one in list_letters(context, "clinic") if one.row.id == letter]
    found = Counter(one.part for one in opened.people)
    assert listed == opened.counted
    assert {part: count for part, count in listed.counts.items() if count} == found
    return dict(found)


def roster(context) -> dict[str, dict[str, str]]:
    with context.database.transaction() as connection:
        snapshot = load_snapshot(connection, require_roster(connection, "clinic"))
    rows = [snapshot.values(place) for place in range(len(snapshot))]
    return {
        str(row["badge"]): {k: ";".join(v) if isinstance(v, list) else v for k, v in row.items()}
        for row in rows
    }


def later(context, by: timedelta):
    now = context.now()
    return dataclasses.replace(context, now=lambda: now + by)


def test_everybody_stands_somewhere(office, catcher, letter):
    """From queued to answered: the parts add up to those written to, and say what is so."""
    assert counts(office, letter) == {"waiting": 6, "to print": 1}
    send(office)
    assert counts(office, letter) == {"silent": 6, "to print": 1}
    by = links(catcher)
    assert set(by) == {one[3] for one in PEOPLE if one[3]}
    look_at_own(office, by["eleni@clinic.example"][0])
    give_answer(office, by["ceyda@clinic.example"][0], "", {})
    give_answer(office, by["aase@clinic.example"][0], "", {"forename": "Åsa"})
    print_letters(office, Printing(letter), io.BytesIO(), HERE, None)
    assert counts(office, letter) == {"corrected": 1, "confirmed": 1, "looked": 1, "silent": 4}
    assert len(open_letter(office, letter).people) == len(PEOPLE)


def test_a_link_shows_its_own_and_works_once(office, catcher, letter):
    """Each link shows one person what is kept of them, of what was asked, and nothing else; after
    an answer it says what was answered.
    """
    send(office)
    for badge, surname, forename, mail, wards, *_ in PEOPLE:
        if not mail:
            continue
        (token,) = links(catcher)[mail]
        own = look_at_own(office, token)
        assert (own.values["surname"], own.values["forename"]) == (surname, forename)
        assert own.values["mail"] == mail
        assert [one for one in own.values["wards"].split("\x1f") if one] == wards, badge
        assert set(own.values) == set(ASKS.fields)
        assert give_answer(office, token, "", {"until": own.values["until"]}).corrected == []
        for again in (look_at_own, lambda c, t: give_answer(c, t, "", {"surname": "X"})):
            with pytest.raises(LinkOver, match="said that all is right"):
                again(office, token)
    assert counts(office, letter) == {"confirmed": 6, "to print": 1}


def test_corrections_become_one_intake(office, catcher, letter):
    """What several say is looked at together, each as they said it; what they did not say stays as
    it is by then, also where somebody altered it meanwhile; what is said later waits its turn.
    """
    send(office)
    by = links(catcher)
    give_answer(office, by["aase@clinic.example"][0], "", {"wards": "S"})
    give_answer(office, by["li.ng@clinic.example"][0], "", {"until": "31 Dec 2027", "wards": ""})
    assert take_in_due(office) == []  # they are still answering
    (number,) = take_in_due(later(office, PAUSE * 2))
    aase = next(
        one.row.record_id for one in open_letter(office, letter).people if one.key == "A-01"
    )
    edit_record(office, Edit(aase, {"forename": "Aase"}), None)  # meanwhile
    before = roster(office)
    opened = open_intake(office, number)
    assert (opened.intake.kind, opened.evaluation.tally.changed) == ("answered", 2)
    give_answer(office, by["bo@clinic.example"][0], "", {"forename": "Bob"})
    assert take_in_due(later(office, timedelta(hours=1))) == []  # the first is not decided
    apply_intake(office, number, len(opened.steps), opened.roster.version, None)
    after = roster(office)
    assert after["A-01"] == before["A-01"] | {"wards": "S"}
    changed = before["C-05"] | {"until": "2027-12-31"}
    del changed["wards"]  # they said that there are none, and somebody looked at it
    assert after["C-05"] == changed
    assert {key: row for key, row in after.items() if key not in ("A-01", "C-05")} == {
        key: row for key, row in before.items() if key not in ("A-01", "C-05")
    }
    (second,) = take_in_due(later(office, timedelta(hours=1)))
    throw_away(office, second, None)
    assert roster(office) == after
    states_of = {one.key: one.row.intake for one in open_letter(office, letter).people}
    assert (states_of["A-01"], states_of["D-07"], states_of["A-02"]) == ("applied", "thrown", "")


def test_two_at_once(office, catcher, letter):
    """Two who answer by one link at the same moment: one counts, the other is told."""
    send(office)
    (token,) = links(catcher)["bo@clinic.example"]
    said: list[object] = []

    def answer(name: str) -> None:
        try:
            said.append(give_answer(office, token, "", {"forename": name}).corrected)
        except LinkOver as error:
            said.append(error)

    threads = [Thread(target=answer, args=(f"Bo {number}",)) for number in range(8)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert sum(one == ["Forename"] for one in said) == 1
    assert sum(isinstance(one, LinkOver) for one in said) == 7
    assert take_in(office, letter, None) is not None
    assert take_in(office, letter, None) is None


@pytest.mark.parametrize(
    ("said", "wrong"),
    [
        ({"until": "31 Feb 2027"}, "until"),
        ({"wards": "N;Attic"}, "wards"),
        ({"mail": "no address"}, "mail"),
        ({"forename": "x" * 501}, "forename"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_kept(office, catcher, letter, said, wrong):
    send(office)
    (token,) = links(catcher)["li.ng@clinic.example"]
    with pytest.raises(WrongAnswers) as caught:
        give_answer(office, token, "", {"surname": "Nguyễn"} | said)
    assert set(caught.value.problems) == {wrong}
    assert counts(office, letter)["looked"] == 1
    # what is no field of the letter is not taken, whatever is sent
    assert not give_answer(office, token, "", {"born": "1900-01-01", "badge": "Z"}).corrected


def test_what_only_they_know(office, catcher):
    """Nothing is shown, and no answer taken, before it is said; guesses run out, one by one."""
    asks = Asks(fields=("surname",), last_day=date(2026, 10, 1), proof="born")
    send_letter(office, asking(asks), 6, "press-1", HERE, None)
    send(office)
    by = links(catcher)
    (token,) = by["li.ng@clinic.example"]
    asked = look_at_own(office, token)
    assert (asked.name, asked.fields, asked.values) == ("", [], {})
    assert asked.proof.name == "born"
    with pytest.raises(NotThem, match="4 times more"):
        give_answer(office, token, "2001-05-06", {"surname": "X"})
    for way in ("5 May 2001", "2001-05-05"):
        assert look_at_own(office, token, way).values == {"surname": "Ng"}
    for _ in range(4):
        with pytest.raises(NotThem):
            look_at_own(office, token, "1 Jan 1999")
    with pytest.raises(LinkOver):
        look_at_own(office, token, "2001-05-05")
    # an answer without it is none
    (other,) = by["bo@clinic.example"]
    with pytest.raises(NotThem):
        give_answer(office, other, "", {"surname": "X"})


def test_reminded(office, catcher, letter):
    """Only who has not answered is reminded; old and new link work until one is used."""
    send(office)
    by = links(catcher)
    give_answer(office, by["aase@clinic.example"][0], "", {})
    again = reminder(office, letter, Template("Again, {badge}", TEXT), "nobody")
    assert look_at_letter(office, again).mails == 5
    for _ in range(2):  # pressed twice
        sent = send_letter(office, again, 5, "press-2", HERE, None)
        assert (sent.letter, sent.mails) == (letter, 5)
    send(office)
    by = links(catcher)
    assert [len(by[mail]) for mail in sorted(by)] == [1, 2, 2, 2, 2, 2]
    assert counts(office, letter) == {"confirmed": 1, "silent": 5, "to print": 1}
    old, new = by["bo@clinic.example"]
    look_at_own(office, old)
    give_answer(office, new, "", {})
    with pytest.raises(LinkOver):
        look_at_own(office, old)


def test_links_end(office, catcher, letter):
    """Withdrawn, over, erased, gone from the roster: a link says so, and mails that wait stay."""
    send(office)
    (token,) = links(catcher)["bo@clinic.example"]
    with pytest.raises(LinkOver, match="1 Oct 2026"):
        look_at_own(later(office, timedelta(days=60)), token)
    again = reminder(office, letter, Template("Again", TEXT), "nobody")
    send_letter(office, again, 6, "press-2", HERE, None)
    end_letter(office, letter, None)
    assert states(office) == {"sent": 6, "dropped": 6}
    with pytest.raises(LinkOver, match="withdrawn"):
        give_answer(office, token, "", {})
    with pytest.raises(NoLinks):
        reminder(office, letter, Template("Again", TEXT), "nobody")
    with pytest.raises(LinkOver, match="not known"):
        look_at_own(office, token + "x")


def test_erased(office, catcher, letter):
    """Of whoever is erased no letter, link or answer is left."""
    send(office)
    (token,) = links(catcher)["bo@clinic.example"]
    give_answer(office, token, "", {"forename": "Bob"})
    record = next(
        one.row.record_id for one in open_letter(office, letter).people if one.key == "D-07"
    )
    erase(office, record, "Bo Smith", "asked to be forgotten", None)
    with pytest.raises(LinkOver, match="not known"):
        look_at_own(office, token)
    assert len(open_letter(office, letter).people) == 6
    assert take_in(office, letter, None) is None


def test_what_is_over_goes_at_night(office, catcher, clock):
    """Letters that nobody can answer any more go with their texts, links and mails, once they are
    old enough; one that can be answered, one with a correction that nobody looked at, and one with
    a mail that waits stay; so does what was not sent by then.
    """
    asked = send_letter(office, asking(), 6, "press-1", HERE, None).letter
    send(office)
    said = links(catcher)["bo@clinic.example"][0]
    plain = Letter("clinic", range(1, 100), "mail", Template("News", "Dear {forename}."))
    told = send_letter(office, plain, 6, "press-2", HERE, None).letter
    open_long = asking(ASKS.model_copy(update={"last_day": date(2027, 9, 1)}))
    kept = send_letter(office, open_long, 6, "press-3", HERE, None).letter
    send(office)
    queue_test(office, "head@clinic.example", None)
    send(office)
    give_answer(office, said, "", {"forename": "Bob"})
    keeper = add_account(office, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    clock.move(days=20)
    late = send_letter(office, plain, 6, "press-4", HERE, None).letter  # and it waits
    set_term(office, "letters", 30, keeper)
    clock.move(days=40)  # until 31 October: the links of the first worked 30 days ago
    assert look_at_term(office, "letters", 30)[0] == 6 + 1
    assert lapse(office, office.database) == {"letters": 7}
    left = [one.row.id for one in list_letters(office, "clinic")]
    assert left == [late, kept, asked]
    (number,) = take_in_due(office)
    throw_away(office, number, None)
    send(office)
    clock.move(days=29)
    assert lapse(office, office.database) == {"letters": 6}
    assert [one.row.id for one in list_letters(office, "clinic")] == [late, kept]
    with pytest.raises(LinkOver, match="not known"):
        look_at_own(office, said)
    assert told not in left
    clock.move(days=2)
    assert lapse(office, office.database) == {"letters": 6}
    assert [one.row.id for one in list_letters(office, "clinic")] == [kept]
    with office.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM mail") == (6,)
        assert connection.row("SELECT COUNT(*) FROM letter_link") == (6,)


def pages(pdf: bytes) -> list[tuple[str, str]]:
    """The text of each page, and what its square code says."""
    found = []
    for page in pypdfium2.PdfDocument(pdf):
        (code,) = zxingcpp.read_barcodes(page.render(scale=2).to_pil())
        found.append((page.get_textpage().get_text_bounded(), code.text))
    return found


def test_on_paper(office):
    """What is printed is read back: each text, the address in its window, and a square code that
    leads to their own data.
    """
    sent = send_letter(office, asking(paper="all"), 7, "press-1", HERE, None)
    assert (sent.mails, sent.papers) == (0, 7)
    out = io.BytesIO()
    assert print_letters(office, Printing(sent.letter), out, HERE, None) == 7
    for one, (text, code) in zip(PEOPLE, pages(out.getvalue()), strict=True):
        assert f"Your data, {one[0]}" in text
        assert f"{one[2]} {one[1]}" in text
        token = LINK.fullmatch(code)[1]
        assert look_at_own(office, token).values["surname"] == one[1]
    assert counts(office, sent.letter) == {"looked": 7}
    again = io.BytesIO()
    assert print_letters(office, Printing(sent.letter, "silent"), again, HERE, None) == 7
    assert look_at_own(office, token).values["forename"] == "Bo; <b>"  # both papers work
    # who was written to on paper can be reminded by mail
    mail = reminder(office, sent.letter, Template("Again", TEXT), "nobody")
    assert look_at_letter(office, mail).mails == 6


def test_letters_that_cannot_be_set_are_said(office):
    template = Template("あ {badge}", "Dear {forename}", "")
    letter = Letter("clinic", [1, 2], "", template, None, "all")
    sent = send_letter(office, letter, 2, "press-1", HERE, None)
    found = look_at_printing(office, Printing(sent.letter))
    assert found[0] == 2
    assert all(one.endswith(": あ") for one in found[1])
    assert len(found[1]) == 2
    with pytest.raises(NobodyThere):
        send_letter(office, dataclasses.replace(letter, records=[99]), 0, "press-2", HERE, None)


@pytest.mark.parametrize(
    ("asks", "place"),
    [
        (Asks(fields=(), last_day=date(2026, 10, 1)), "fields"),
        (Asks(fields=("born",), last_day=date(2026, 10, 1)), "fields"),  # kept
        (Asks(fields=("badge",), last_day=date(2026, 10, 1)), "fields"),  # known by it
        (Asks(fields=("nobody",), last_day=date(2026, 10, 1)), "fields"),
        (Asks(fields=("mail",), last_day=date(2026, 8, 1)), "last day"),
        (Asks(fields=("mail",), last_day=date(2028, 8, 1)), "last day"),
        (Asks(fields=("mail",), last_day=date(2026, 10, 1), proof="mail"), "proof"),
        (Asks(fields=("mail",), last_day=date(2026, 10, 1), proof="pin"), "proof"),
    ],
)
def test_what_cannot_be_asked(office, asks, place):
    with pytest.raises(WrongTemplate) as caught:
        look_at_letter(office, asking(asks))
    assert caught.value.place == place


def test_within_a_part(office):
    """Whoever has a part writes to its people by mail, and follows and prints no letters."""
    add_account(office, "keeper", "Keeper", "a long password", Level.ADMINISTER)
    may = May(
        Level.NONE, {"clinic": Level.APPROVE}, parts={"clinic": {"field": "wards", "is": "N"}}
    )
    with office.database.transaction() as connection:
        keeper = get_account(connection, "keeper")
    invite(office, "part", "Part", may, keeper)
    with office.database.transaction() as connection:
        part = get_account(connection, "part")
    mine = office.seen_by(sight_of(office, part))
    plain = Letter("clinic", range(1, 100), "mail", Template("For you", "Dear {forename}"))
    for letter in (asking(), dataclasses.replace(plain, paper="the rest")):
        with pytest.raises(NoLinks, match="a part of this roster"):
            send_letter(mine, letter, 3, "press-1", HERE, None)
    assert look_at_letter(mine, plain).mails == 3
    assert send_letter(mine, plain, 3, "press-2", HERE, None).mails == 3


@given(st.text(st.characters(exclude_categories=["Cs"]), max_size=60))
def test_a_value_that_is_right_is_no_correction(text):
    """Whatever is kept, saying it again corrects nothing; saying it makes it so."""
    field = Field("note", "Note")
    said, wrong = read_answer([field], {"note": text}, {"note": ""}, {}, TODAY)
    assert not wrong
    kept = said.get("note", "")
    assert read_answer([field], {"note": kept}, {"note": kept}, {}, TODAY) == ({}, {})
