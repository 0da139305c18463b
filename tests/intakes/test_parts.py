"""A file of somebody who has a part of a roster: a federation with branches, and the keeper of one
of them.
"""

from __future__ import annotations

import json

import pytest

from nevefield.accounts import Level, add_account
from nevefield.accounts.signing import sight_of
from nevefield.context import Context
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import NoSuchIntake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.proposals.editing import Edit, WrongEdit, edit_record
from nevefield.rosters.errors import BeyondPart
from nevefield.rosters.looking import choose_records, open_roster
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.uniting import merge_records
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import accounts, records
from nevefield.store import rosters as roster_store
from nevefield.store.parts import ensure_part
from nevefield.store.records import NewChangeSet
from tests.conftest import PASSWORDS

DOCUMENT = {
    "name": "meli",
    "title": "Μέλη",
    "primaryKey": "ar",
    "foreignKeys": [{"fields": "anadochos", "reference": {"resource": "", "fields": "ar"}}],
    "fields": [
        {
            "name": "ar",
            "title": "Αριθμός μητρώου",
            "constraints": {"required": True, "unique": True},
        },
        {"name": "eponymo", "title": "Επώνυμο", "nevefield": {"means": "family-name"}},
        {"name": "onoma", "title": "Όνομα", "nevefield": {"means": "given-name"}},
        {
            "name": "gen",
            "title": "Ημ. γέννησης",
            "type": "date",
            "nevefield": {"means": "birth-date"},
        },
        {"name": "mail", "format": "email", "constraints": {"unique": True}},
        {"name": "anadochos", "title": "Ανάδοχος"},
        {"name": "topos", "title": "Παράρτημα"},
    ],
    "nevefield": {"keys": ["ar", "mail"]},
}
HEAD = "Αριθμός μητρώου;Επώνυμο;Όνομα;Ημ. γέννησης;mail;Ανάδοχος;Παράρτημα\n"
BORN = ("1961-03-04", "1972-11-30", "1984-07-19", "1955-01-02", "1990-10-10", "1979-05-05")
NAMES = ("Παπαδάκης Μανόλης", "Ξένου Ειρήνη", "Ψαρράς Θωμάς", "Ωραίου Ζωή", "Ήβη Αλίκη", "Ρήγα Ύβα")


def member(place: int, **more: str) -> dict[str, str]:
    family, given = NAMES[place].split()
    return {
        "ar": f"Μ-{100 + place}",
        "eponymo": family,
        "onoma": given,
        "gen": BORN[place],
        "mail": f"m{place}@meli.example",
        "anadochos": "",
        "topos": "Χανιά" if place % 2 else "Βόλος",
    } | more


def sheet(*rows: dict[str, str]) -> bytes:
    return (HEAD + "\n".join(";".join(row.values()) for row in rows) + "\n").encode()


@pytest.fixture
def federation(bare) -> tuple[Context, Context]:
    """Everything, and what the keeper of Volos sees of it."""
    roster = open_roster_with(bare, DOCUMENT, [member(place) for place in range(6)])
    with bare.database.transaction() as connection:
        part = ensure_part(connection, roster, {"field": "topos", "is": "Βόλος"})
    number = add_account(
        bare,
        "volos",
        "Volos",
        PASSWORDS["okell"],
        Level.NONE,
        {roster: Level.APPROVE},
        {roster: part},
    )
    with bare.database.transaction() as connection:
        account = accounts.get_account_by_id(connection, number)
    return bare, bare.seen_by(sight_of(bare, account))


def take(context: Context, *rows: dict[str, str], coverage: str = "") -> int:
    return receive_file(context, "meli.csv", sheet(*rows), Claims("meli", coverage))


def causes_of(context: Context, intake: int) -> dict[str, list[int]]:
    evaluation = open_intake(context, intake).evaluation
    lines = evaluation.table.lines
    return {
        f"{cause.hit.check} {cause.hit.field or ''}".strip(): lines[cause.hit.rows].tolist()
        for cause in evaluation.causes
        if cause.is_open and not cause.follows
    }


def test_sees_own_people_and_nobody_else(federation):
    """The roster is the branch's: its records, and what can be searched and chosen."""
    whole, volos = federation
    _, snapshot = open_roster(volos, "meli")
    assert sorted(snapshot.columns["ar"].texts()) == ["Μ-100", "Μ-102", "Μ-104"]
    assert snapshot.columns["topos"].texts() == ["Βόλος"]
    assert len(choose_records(snapshot, text="Ξένου")) == 0
    assert len(open_roster(whole, "meli")[1]) == 6


def test_rows_of_others_are_stopped(federation):
    """Somebody of another branch, by number or by mail, is stopped as one cause, and not named;
    who would leave the branch is stopped; who has no branch written is asked which.
    """
    _, volos = federation
    intake = take(
        volos,
        member(1),  # of Chania, as the roster has them
        member(0, topos="Χανιά"),  # would go there
        member(2, mail=member(3)["mail"]),  # with the mail of somebody there
        member(4, ar="Μ-200", mail="new@meli.example", onoma="Νέα", gen="2001-01-01", topos=""),
        member(5, topos="Βόλος", mail=""),  # a number of Chania, said to be of Volos
    )
    causes = causes_of(volos, intake)
    assert causes == {
        "outside-part": [2, 3],
        "taken-outside mail": [4],
        "outside-part topos": [5],
        "taken-outside ar": [6],
    }
    evaluation = open_intake(volos, intake).evaluation
    said = json.dumps(
        [cause.hit.say(int(row)) for cause in evaluation.causes for row in cause.hit.rows],
        ensure_ascii=False,
    )
    # of the file's own words, nothing more: who holds the mail is not told
    assert "Μ-103" not in said
    assert "Ωραίου" not in said
    assert evaluation.tally.stopped == 5


def test_nobody_outside_is_like_a_row(federation):
    """A row like somebody of another branch is like nobody; of one's own branch as ever."""
    _, volos = federation
    new = {"ar": "Μ-300", "mail": "x@meli.example", "topos": "Βόλος"}
    intake = take(
        volos, member(1, **new), member(2, **{**new, "ar": "Μ-301", "mail": "y@m.example"})
    )
    evaluation = open_intake(volos, intake).evaluation
    people = evaluation.facts.people
    assert [len(people.candidates(row)) for row in range(2)] == [0, 1]


def test_absent_are_of_the_branch(federation):
    """A file that claims everybody makes nobody absent who is not of the branch; applied and taken
    back, the others stand as they were.
    """
    whole, volos = federation
    before = open_roster(whole, "meli")[1]
    intake = take(volos, member(0, onoma="Μάνος"), member(2), coverage="everybody")
    opened = open_intake(volos, intake)
    assert opened.evaluation.tally.absent == 1
    add_step(volos, intake, {"kind": "absent", "act": "leave"}, None)
    opened = open_intake(volos, intake)
    change_set = apply_intake(whole, intake, len(opened.steps), opened.roster.version, None)
    after = open_roster(whole, "meli")[1]
    assert after.columns["onoma"].at(after.places()[int(before.ids[0])]) == "Μάνος"
    assert sorted(after.columns["ar"].used().texts()) == [f"Μ-{100 + at}" for at in (0, 1, 2, 3, 5)]
    take_back(volos, change_set, None)
    last = open_roster(whole, "meli")[1]
    assert [last.values(place) for place in range(6)] == [
        before.values(place) for place in range(6)
    ]


def test_a_reference_leads_out_of_the_branch(federation):
    """Who is vouched for by somebody of another branch may be; by nobody at all not."""
    _, volos = federation
    intake = take(volos, member(0, anadochos="Μ-101"), member(2, anadochos="Μ-999"))
    assert causes_of(volos, intake) == {"reference anadochos": [3]}


def test_what_is_of_all_is_not_there(federation):
    """A file of the whole roster is not there for the branch; the branch's is for all, and comes
    to the same.
    """
    whole, volos = federation
    theirs, own = take(whole, member(1)), take(volos, member(1), member(0))
    with pytest.raises(NoSuchIntake):
        open_intake(volos, theirs)
    first, second = (open_intake(context, own).evaluation for context in (whole, volos))
    assert first.tally == second.tally
    assert first.tally.stopped == 1
    assert open_intake(whole, theirs).evaluation.tally.stopped == 0


def test_by_hand(federation):
    """Nobody is edited out of the branch, none of another is edited or made one with one's own,
    and what writes refuses it whoever asks.
    """
    whole, volos = federation
    ids = {text: number for number, text in zip(*_numbers(whole), strict=True)}
    with pytest.raises(WrongEdit):
        edit_record(volos, Edit(ids["Μ-100"], {"topos": "Χανιά"}), None)
    with pytest.raises(WrongEdit):
        edit_record(volos, Edit(ids["Μ-100"], {"mail": "m1@meli.example"}), None)
    for act in (
        lambda: edit_record(volos, Edit(ids["Μ-101"], {"onoma": "x"}), None),
        lambda: merge_records(volos, "meli", ids["Μ-100"], ids["Μ-101"], None),
    ):
        with pytest.raises(Exception, match=f"no record {ids['Μ-101']}"):
            act()
    for number, content in ((ids["Μ-101"], member(1)), (ids["Μ-100"], member(0, topos="Χανιά"))):
        with (
            pytest.raises(BeyondPart) as caught,
            volos.database.transaction() as connection,
        ):
            roster = roster_store.get_roster(connection, "meli")
            writes = make_writes(
                open_roster(whole, "meli")[1].definition,
                [(number, json.dumps(content), None, False)],
            )
            new = NewChangeSet("hand", "x", None, whole.now())
            alter_roster(connection, roster, writes, new, seen=roster.version)
        assert caught.value.count >= 1


def _numbers(context: Context) -> tuple[list[int], list[str]]:
    with context.database.transaction() as connection:
        roster = roster_store.get_roster(connection, "meli")
        current = records.list_current(connection, roster.id)
    return [one[0] for one in current], [json.loads(one[1])["ar"] for one in current]
