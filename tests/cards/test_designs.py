"""Designs of an institution that is not the demo's: what fits, what is told, versions, rights."""

from __future__ import annotations

import copy
import io
import json

import pytest

from nevefield.accounts import Level, add_account
from nevefield.cards.designs import begin_design, keep_design, list_versions, open_design
from nevefield.cards.errors import (
    CardsRefused,
    DesignMoved,
    DesignTaken,
    NoSuchDesign,
    WrongAct,
)
from nevefield.cards.holding import find_cards
from nevefield.cards.looking import lay_card, look_at_needed, try_design
from nevefield.cards.printing import Sheets, print_run
from nevefield.cards.running import Asked, find_scanned, make_run, mark_card, open_run
from nevefield.core.cards.laying import Words
from nevefield.core.cards.needing import Need
from nevefield.core.codes import Code
from nevefield.core.errors import WrongDesign
from nevefield.rosters import snapshots
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.snapshots import load_codes
from nevefield.store.rosters import replace_code_list
from nevefield.store.sight import Part, Sight
from tests.cards.house import CLUB, MEMBERS, design_of, open_club


def stand(context) -> dict[str, str]:
    return {
        person.key: person.need.value
        for person in look_at_needed(context, "club-card").needed.people
    }


def test_a_club_of_three_scripts(bare):
    """Greek, Polish and Cyrillic names get a card, Chinese ones are told by their letters, and who
    has not paid is not among them.
    """
    open_club(bare)
    assert stand(bare) == {
        "0001": "make",
        "0002": "make",
        "0003": "make",
        "0004": "unfit",
        "0006": "make",
    }
    people = {person.key: person for person in look_at_needed(bare, "club-card").needed.people}
    assert people["0004"].why == ("line 1: The typeface has no “小”, “明”, “王”.",)
    run = make_run(bare, "club-card", Asked(), None)
    cards = open_run(bare, "club-card", run).cards
    assert [one.number for one in cards] == ["11", "12", "13", "14"]
    assert cards[2].card.texts["until"] == "until 10/2026"
    assert cards[0].card.texts["grade"] == "Skipper"
    assert find_scanned(bare, "club-card", "00012").key == "0002"


def test_a_card_runs_out(bare, clock):
    """When the day of a card is past its holder needs one anew, and why is said."""
    open_club(bare)
    make_run(bare, "club-card", Asked(), None)
    assert stand(bare)["0003"] == "has"
    clock.move(days=61)  # beyond 31 October
    people = {person.key: person for person in look_at_needed(bare, "club-card").needed.people}
    assert people["0003"].need == Need.ANEW
    assert people["0003"].why == ("card 13 held until 2026-10-31",)


def test_long_names_take_lines(bare):
    """The longest name stands on two lines, whole, and is among those that try the design."""
    open_club(bare)
    tried = try_design(bare, "club-card")
    assert "no “小”" in tried.hardest[0][0].what
    longest = next(card for hard, card in tried.hardest if "longest line 1" in hard.what)
    lines = [
        mark.text
        for mark in longest.sides["front"].marks
        if isinstance(mark, Words) and mark.item == "name"
    ]
    assert len(lines) == 2
    assert "".join(lines).replace(" ", "") == "MałgorzataKatarzynaŻółkiewska-Brzęczyszczykiewicz"
    counted = {one.item: one for one in tried.fits["members"]}
    assert (counted["name"].fails, counted["name"].lines) == (1, 1)
    assert sum((counted["name"].plain, counted["name"].smaller)) == 3


def test_nobody_at_all(bare):
    """A roster without anybody has a design too: nothing to make, nobody to show."""
    open_club(bare, [])
    assert stand(bare) == {}
    assert lay_card(bare, "club-card", None) is None
    assert try_design(bare, "club-card").hardest == []


def test_versions(bare):
    """A changed design is another version; the same again is none; who changed an older one is
    told, and cards know by which they were made.
    """
    open_club(bare)
    document = open_design(bare, "club-card").row.document
    changed = copy.deepcopy(document)
    changed["faces"][0]["front"][1]["letters"]["size"] = 11
    assert keep_design(bare, "club-card", changed, 1, None) == 2
    assert keep_design(bare, "club-card", changed, 2, None) == 2
    with pytest.raises(DesignMoved, match="version 2 of this design while you changed version 1"):
        keep_design(bare, "club-card", document, 1, None)
    assert [one.number for one in list_versions(bare, "club-card")] == [2, 1]
    run = make_run(bare, "club-card", Asked(), None)
    assert open_run(bare, "club-card", run).run.version == 2
    with pytest.raises(DesignTaken):
        begin_design(bare, design_of(), None)


def broken(path: str, value):
    """The club's design with something else at a place."""
    document = design_of()
    at = document
    *parents, last = path.split(".")
    for part in parents:
        at = at[int(part)] if isinstance(at, list) else at[part]
    if value is None:
        del at[last]
    elif isinstance(at, list):
        at[int(last)] = value
    else:
        at[last] = value
    return document


@pytest.mark.parametrize(
    ("path", "value", "place", "words", "says"),
    [
        (
            "register.number",
            "serail",
            "register.number",
            "did you mean serial?",
            "Register, number",
        ),
        ("faces.0.roster", "member", "faces.0.roster", "did you mean members?", "Face 1, roster"),
        (
            "faces.0.front.1.pieces.1.field",
            "name",
            "faces.0.front.1.pieces.1.field",
            "no field",
            "Face 1, front, item 2, piece 2, field",
        ),
        (
            "faces.0.where",
            {"field": "x", "is": "y"},
            "faces.0.where.field",
            "no field “x”",
            "Face 1, where, field",
        ),
        ("size.width", 3, "size.width", "is at least 30", "Size, width"),
        (
            "faces.0.front.0.fill",
            "pink",
            "faces.0.front.0.band.fill",
            "is one of",
            "Face 1, front, item 1, fill",
        ),
        (
            "faces.0.front.0.kind",
            "star",
            "faces.0.front.0",
            "is a line, band",
            "Face 1, front, item 1",
        ),
        (
            "faces.0.front.1.name",
            "band",
            "faces.0.front",
            "two items of the same name",
            "Face 1, front",
        ),
        ("title", None, "title", "is needed", "Title"),
        ("colour", "x", "colour", "is nothing that a design has", "Colour"),
        ("numbering.ranges.0.last", 5, "numbering.ranges.0", "before it begins", "Range 1"),
        (
            "numbering.number_bits",
            5,
            "numbering.ranges.0",
            "5 bits hold numbers up to 31",
            "Range 1",
        ),
        (
            "numbering.ranges",
            [{"first": 1, "last": 9}, {"first": 9, "last": 12}],
            "numbering.ranges.1",
            "shares numbers with 1 to 9",
            "Range 2",
        ),
        (
            "faces.0.front.1.letters.size",
            "big",
            "faces.0.front.1.line.letters.size",
            "number",
            "Face 1, front, item 2, letters, size",
        ),
    ],
)
def test_what_cannot_be(bare, path, value, place, words, says):
    """What in a design cannot be is told with its place and what would be right; none is kept."""
    open_club(bare)
    with pytest.raises(WrongDesign) as error:
        keep_design(bare, "club-card", broken(path, value), 1, None)
    assert error.value.place == place
    assert words in error.value.problem
    assert str(error.value).startswith(f"{says}: ")
    assert len(list_versions(bare, "club-card")) == 1


def test_checks_of_the_register(bare):
    """What the register's own checks stop is told in their words, and nothing is made."""
    open_club(bare)
    strict = {
        "name": "strict",
        "title": "Strict cards",
        "primaryKey": "serial",
        "fields": [
            {"name": "serial", "title": "Serial", "type": "integer"},
            {"name": "whose", "title": "Whose", "type": "string"},
            {"name": "zone", "title": "Zone", "type": "string", "constraints": {"required": True}},
        ],
    }
    open_roster_with(bare, strict, [], None)
    document = design_of()
    document |= {
        "name": "strict-card",
        "register": {"roster": "strict", "number": "serial", "holder": "whose"},
    }
    begin_design(bare, document, None)
    with pytest.raises(CardsRefused) as error:
        make_run(bare, "strict-card", Asked(), None)
    assert "Zone" in str(error.value)
    assert "(4 cards)" in str(error.value)
    assert stand(bare)["0001"] == "make"


def test_only_who_sees_all_of_it(bare):
    """Who has a part of the people, or sees the register alone, finds no design."""
    open_club(bare)
    add_account(bare, "part", "Part", "long-enough-2026", Level.NONE)
    with bare.database.transaction() as connection:
        ids = dict(connection.rows("SELECT name, id FROM roster"))
    whole = dict.fromkeys(ids.values(), Level.PREPARE)
    part = Part(1, {"field": "grade", "is": "F"})
    for sight in (
        Sight(Level.NONE, {ids["club-cards"]: Level.PREPARE}),
        Sight(Level.NONE, {ids["members"]: Level.PREPARE}),
        Sight(Level.NONE, whole, parts={ids["members"]: part}),
        Sight(Level.NONE, whole, parts={ids["club-cards"]: part}),
    ):
        with pytest.raises(NoSuchDesign):
            look_at_needed(bare.seen_by(sight), "club-card")
    assert len(stand(bare.seen_by(Sight(Level.NONE, whole)))) == len(CLUB) - 1


@pytest.mark.parametrize("their_own", [(), (Code("A", "Active"),)])
def test_a_register_is_opened(bare, their_own):
    """Where there is no roster of cards one is opened with the design, with states that are nobody
    else's; from it cards are made, lost and replaced; a name that is taken leaves nothing.
    """
    with bare.database.transaction() as connection:
        replace_code_list(connection, "grade", [Code("F", "Full member")])
        if their_own:
            replace_code_list(connection, "card_state", their_own)
    names = [field["name"] for field in MEMBERS["fields"]]
    person = dict(zip(names, ("7", "Ng", "Li", "F", "2027-12-31"), strict=True))
    open_roster_with(bare, MEMBERS, [person], None)
    document = {**design_of(), "register": {}}
    begin_design(bare, document, None, opens_register=True)
    (person,) = look_at_needed(bare, "club-card").needed.people
    assert person.need == Need.MAKE
    run = make_run(bare, "club-card", Asked(), None)
    (card,) = open_run(bare, "club-card", run).cards
    assert (card.number, card.state) == ("11", "In use")
    mark_card(bare, "club-card", card.card.card_id, "lost", None)
    (person,) = look_at_needed(bare, "club-card").needed.people
    assert person.why == ("card 11 is lost",)
    make_run(bare, "club-card", Asked(), None)
    assert stand(bare) == {"7": "has"}
    with pytest.raises(DesignTaken):
        begin_design(bare, document, None, opens_register=True)
    with bare.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM roster") == (2,)
        if their_own:
            assert load_codes(connection)["card_state"].codes == their_own


def test_what_is_kept_from_somebody(bare):
    """A card that says what is kept from who may only look is not there for them, until it is
    uncovered; who may make cards and not see the people's sensitive fields makes none with them.
    """
    open_club(bare)
    make_run(bare, "club-card", Asked(), None)
    with bare.database.transaction() as connection:
        ids = dict(connection.rows("SELECT name, id FROM roster"))
        hidden = copy.deepcopy(MEMBERS)
        hidden["fields"][1]["nevefield"] = {"sensitive": True}  # the surname
        connection.run(
            "UPDATE definition SET document = %s WHERE roster_id = %s",
            (json.dumps(hidden), ids["members"]),
        )
        connection.run("UPDATE roster SET erased = erased + 1")  # what was loaded does not count
    snapshots._DEFINITIONS._kept.clear()
    looks = Sight(Level.LOOK)
    makes = Sight(Level.NONE, {ids["members"]: Level.LOOK, ids["club-cards"]: Level.PREPARE})
    for sight in (looks, makes):
        with pytest.raises(NoSuchDesign):
            look_at_needed(bare.seen_by(sight), "club-card")
        with pytest.raises(NoSuchDesign):
            make_run(bare.seen_by(sight), "club-card", Asked(anew=True), None)
        assert find_cards(bare.seen_by(sight), "0011") == []
    uncovered = Sight(Level.LOOK, uncovered=frozenset(ids.values()))
    assert len(look_at_needed(bare.seen_by(uncovered), "club-card").needed.people) == 5


def test_sheets_are_for_who_sees_all(bare):
    """Who makes cards and may only look at the people gets no sheets: they have photographs."""
    open_club(bare)
    run = make_run(bare, "club-card", Asked(), None)
    with bare.database.transaction() as connection:
        ids = dict(connection.rows("SELECT name, id FROM roster"))
    makes = Sight(Level.NONE, {ids["members"]: Level.LOOK, ids["club-cards"]: Level.PREPARE})
    out = io.BytesIO()
    with pytest.raises(WrongAct, match="kept from you"):
        print_run(bare.seen_by(makes), "club-card", Sheets(run, "A4"), out, None)
    assert out.getvalue() == b""
    assert print_run(bare, "club-card", Sheets(run, "A4"), out, None) == 4
