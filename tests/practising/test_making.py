"""The practice copy in a database of its own: nothing real in it, whole at any time, no way out."""

from __future__ import annotations

import itertools
import json
import re
from collections import Counter
from dataclasses import replace
from random import Random

import pytest

from nevefield.accounts import Level, add_account
from nevefield.cards.looking import look_at_needed
from nevefield.core.cards.needing import Need
from nevefield.core.codes import read_codes
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.practising import making, ordering
from nevefield.practising.errors import NoPlace, UnderWay
from nevefield.practising.making import make_practice
from nevefield.practising.ordering import (
    break_off_practice,
    look_at_practice,
    made_at,
    order_practice,
    place_of,
    throw_practice_away,
    work_off_practice,
)
from nevefield.rosters.snapshots import load_snapshot
from nevefield.store import practice as store
from nevefield.store import rosters as roster_store
from nevefield.store.accounts import grant
from nevefield.store.connection import Database
from nevefield.store.errors import DatabaseGone
from nevefield.store.parts import ensure_part
from nevefield.store.programs import dump
from nevefield.store.sources import list_sources
from nevefield.submissions.errors import OnlyPractice
from nevefield.submissions.opening import Beginning, begin_submission
from tests.conftest import ADMINISTERS, Browser
from tests.institutions import federation
from tests.institutions.opened import open_institution
from tests.shelf import make_database

PERSONAL = ("family-name", "given-name", "mail", "phone", "birth-date")


@pytest.fixture
def beside(server):
    """The address of an empty database for a practice copy."""
    name = f"nevefield_beside_{next(NUMBERS)}"  # what was worked out is kept by its name
    make_database(server, name)
    yield f"{server.rsplit('/', 1)[0]}/{name}"
    maker = Database(server)
    with maker.transaction() as connection:
        connection.run(f"DROP DATABASE {name}")
    maker.close()


NUMBERS = itertools.count(1)


def with_place(context, beside):
    return replace(context, settings=replace(context.settings, practice_url=beside))


def quiet(*_):
    """Hear of progress."""


def snapshots(context):
    with context.database.transaction() as connection:
        return {
            one.name: load_snapshot(connection, one) for one in roster_store.list_seen(connection)
        }


def values_of_persons(context) -> set[bytes]:
    """All that tells who somebody is, of all rosters, as it stands in a database."""
    texts = set()
    for snapshot in snapshots(context).values():
        keys = {name for key in snapshot.definition.possible_keys for name in key}
        for field in snapshot.definition.fields:
            alone = field.means in PERSONAL or field.identifier or field.name in keys
            if field.code_list or field.type == "date":
                continue
            if alone or field.is_mail or field.kind == "phone":
                texts |= set(snapshot.columns[field.name].texts())
    return {text.encode() for text in texts if len(text) >= 6}


def test_nothing_of_the_college_is_in_it(college, beside):
    """Of all rosters of the college: as many people, every code as often; in the whole database
    none of the names, numbers, addresses or phones of anybody; every check finds what it found.
    """
    context = with_place(college, beside)
    practice = place_of(context)
    contents = make_practice(context, practice, Random(11), quiet)
    real, made = snapshots(context), snapshots(practice)
    assert contents["differs"] == contents["given_on"] == []
    assert {name: len(one) for name, one in made.items()} == {
        name: len(one) for name, one in real.items()
    }
    assert [one["records"] for one in contents["rosters"]] == [len(one) for one in real.values()]
    text = b"".join(dump(beside))
    looked_for = values_of_persons(context)
    assert len(looked_for) > 8_000
    # the names of those who work here are their own, here and there
    accounts = b"Lindqvist Tamm Okell Quernmore"
    found = [value for value in looked_for if value in text and value not in accounts]
    # a number of six digits may well be part of a longer one
    assert [
        one for one in found if re.search(rb"(?<!\w)" + re.escape(one) + rb"(?!\w)", text)
    ] == []
    with practice.database.transaction() as connection:
        lists = roster_store.list_code_lists(connection)
    with context.database.transaction() as connection:
        assert lists == roster_store.list_code_lists(connection)
    practice.database.close()


def test_another_hand_with_parts_and_sources(bare, beside):
    """Of a federation with somebody who has a part, a program, a source and a file of it: rights,
    part and what is known of the source go along; the file, the program and sessions do not.
    """
    institution = federation.make()
    open_institution(bare, institution)
    add_account(bare, "keeper", "Κ. Κλειδή", "a-long-password-1", Level.ADMINISTER)
    helper = add_account(bare, "helper", "Β. Βοηθός", "a-long-password-2", Level.NONE)
    name = institution.document["name"]
    with bare.database.transaction() as connection:
        roster = roster_store.get_roster(connection, name)
        definition = load_snapshot(connection, roster).definition
    coded = next(one for one in definition.fields if one.code_list)
    code = read_codes(institution.codes)[coded.code_list].codes[0].code
    part = {"field": coded.name, "is": code}
    alter_part(bare, helper, roster.id, part)
    receive_file(bare, "members.csv", institution.data, Claims(name, source="Office"))
    practice = place_of(with_place(bare, beside))
    make_practice(with_place(bare, beside), practice, Random(2), quiet)
    with practice.database.transaction() as connection:
        assert [one.name for one in list_sources(connection)] == ["Office"]
        assert connection.row("SELECT COUNT(*) FROM intake_file") == (0,)
        assert connection.row("SELECT COUNT(*) FROM session") == (0,)
        rows = connection.rows(
            "SELECT a.sign_in, r.name, x.level, p.wanted FROM access x"
            " JOIN account a ON a.id = x.account_id JOIN roster r ON r.id = x.roster_id"
            " JOIN roster_part p ON p.id = x.part_id"
        )
    assert [(one, roster, level) for one, roster, level, _ in rows] == [
        ("helper", name, int(Level.PREPARE))
    ]
    client = Browser(practice)
    answer = client.send(
        "POST", "/api/session", json={"name": "helper", "password": "a-long-password-2"}
    )
    assert answer.json["practice"] is True
    client.token = answer.json["token"]
    seen = client.get(f"/api/rosters/{name}/records")["of"]
    column = snapshots(bare)[name].columns[coded.name]
    assert seen == sum(text == code for text in column.rows(range(len(column))))
    practice.database.close()


def alter_part(context, account_id, roster_id, part):
    """Let somebody prepare one part."""
    with context.database.transaction() as connection:
        grant(connection, account_id, roster_id, Level.PREPARE)
        number = ensure_part(connection, roster_id, part)
        connection.run("UPDATE access SET part_id = %s WHERE account_id = %s", (number, account_id))


def test_ordered_made_renewed_thrown_away(desk, beside, monkeypatch):
    """From an order to the copy; a new one that breaks off, or fails, leaves the one before whole;
    thrown away, nothing is left of it.
    """
    context = with_place(desk, beside)
    assert (look_at_practice(context), made_at(context)) == (None, None)
    assert work_off_practice(context) is False
    order_practice(context, None)
    order_practice(context, None)
    with pytest.raises(UnderWay):
        throw_practice_away(context, None)
    assert work_off_practice(context) is True
    first = look_at_practice(context)
    assert (first.state, first.said) == ("ready", "")
    practice = place_of(context)
    before = {name: one.values(0) for name, one in snapshots(practice).items()}
    assert made_at(context) == first.made_at

    order_practice(context, None)
    with context.database.transaction() as connection:
        store.start_practice(connection)
    break_off_practice(context)
    assert look_at_practice(context).state == "failed"
    assert look_at_practice(context).made_at == first.made_at

    def fail(*_):
        raise RuntimeError("out of everything")

    monkeypatch.setattr(making.store, "copy_accounts", fail)
    order_practice(context, None)
    assert work_off_practice(context) is True
    assert "did not foresee" in look_at_practice(context).said
    assert {name: one.values(0) for name, one in snapshots(practice).items()} == before
    monkeypatch.undo()

    order_practice(context, None)
    work_off_practice(context)
    again = look_at_practice(context)
    assert again.made_at > first.made_at
    assert {name: one.values(0) for name, one in snapshots(practice).items()} != before

    throw_practice_away(context, None)
    assert (look_at_practice(context).state, made_at(context)) == ("none", None)
    assert b"INSERT INTO `record" not in b"".join(dump(beside))
    practice.database.close()


def test_a_database_that_went_is_noticed(desk, beside):
    """Whose database is gone is not there, whatever was noted."""
    context = with_place(desk, beside)
    order_practice(context, None)
    work_off_practice(context)
    maker = Database(beside)
    with maker.transaction() as connection:
        connection.run("SET foreign_key_checks = 0")
        connection.run("DROP TABLE roster")
    maker.close()
    assert made_at(context) is None
    assert look_at_practice(context).state == "none"


def test_no_place_and_no_practice_of_a_practice(desk):
    """Without a database for it, and in the practice copy itself, the reason is said."""
    with pytest.raises(NoPlace, match="NEVEFIELD_PRACTICE_URL"):
        order_practice(desk, None)
    itself = replace(desk, settings=replace(desk.settings, practice=True, practice_url="x"))
    with pytest.raises(NoPlace, match="This is the practice copy"):
        order_practice(itself, None)
    assert work_off_practice(itself) is False
    browser = Browser(desk, ADMINISTERS)
    assert browser.send("POST", "/api/practice").status_code == 409
    assert "NEVEFIELD_PRACTICE_URL" in browser.get("/api/practice")["lacks"]


def test_nothing_goes_where_it_would_count(college, made):
    """In the practice copy a submission to the live side cannot be begun, by whatever way."""
    held = json.loads((made / "registry.json").read_text())
    settings = replace(college.settings, practice=True, registry_url="http://127.0.0.1:9")
    practice = replace(college, settings=settings)
    begin = Beginning(
        roster="cadets",
        title="Autumn return",
        side="live",
        day=college.today(),
        layout=held["layout"],
        chosen=held["chosen"],
        published=held["published"],
    )
    with pytest.raises(OnlyPractice):
        begin_submission(practice, begin, None)
    assert begin_submission(practice, replace(begin, side="practice"), None) > 0


def test_a_database_that_is_away_while_it_fails(desk, beside, monkeypatch):
    """Where the database goes away, and is away still when that is to be said, it is said when it
    answers again: nobody waits for it for ever.
    """
    context, fails = with_place(desk, beside), store.fail_practice
    tries = []

    def gone(*_):
        raise DatabaseGone("it went away")

    def away(connection, said):
        tries.append(said)
        if len(tries) < 6:
            raise DatabaseGone("still away")
        fails(connection, said)

    monkeypatch.setattr(ordering, "make_practice", gone)
    monkeypatch.setattr(ordering.store, "fail_practice", away)
    monkeypatch.setattr(ordering, "AWAY", (0.01, 0.01))
    order_practice(context, None)
    assert work_off_practice(context) is True
    assert look_at_practice(context).state == "failed"
    assert len(tries) == 6


def test_cards_go_along(college, beside):
    """The practice copy has the card designs with their pictures, and as many made-up people have a
    card as real ones; no photograph goes along, and no card that was made.
    """
    practice = replace(college, database=Database(beside))
    make_practice(college, practice, Random(5), lambda *_: None)

    def having(context) -> Counter:
        people = look_at_needed(context, "gate-card").needed.people
        return Counter(person.face for person in people if person.need == Need.HAS)

    assert having(practice) == having(college)
    assert min(having(college).values()) > 100
    with practice.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM card_photo") == (0,)
        assert connection.row("SELECT COUNT(*), MIN(kind) FROM card_image") == (1, "png")
    practice.database.close()
