"""What a new roster has from the start: checks that its fields suggest, in other languages too,
and none that were declared.
"""

from __future__ import annotations

import copy

import pytest

from nevefield.core.checking.standins import (
    MOST_ALONE,
    SHARED_BY,
    is_stand_in_mail,
    is_stand_in_phone,
)
from nevefield.core.checking.starting import starting_checks, with_starting_checks
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from tests.core.world import TODAY, findings
from tests.institutions import federation, hospital, school

CLUB = {
    "name": "klub",
    "primaryKey": "nr",
    "fields": [
        {"name": "nr"},
        {"name": "name"},
        {"name": "geburtsdatum", "title": "Geboren", "type": "date"},
        {"name": "epost", "title": "E-Mail", "format": "email"},
        {"name": "telefon", "nevefield": {"kind": "phone", "region": "GB"}},
        {"name": "ausweis", "title": "Ausweis gültig", "type": "date"},
        {"name": "von", "type": "date"},
        {"name": "bis", "title": "Mitglied bis", "type": "date"},
    ],
}


def look(rows: str, roster=()):
    definition = read_definition(CLUB)
    started = read_definition(with_starting_checks(CLUB, definition))
    snapshot = Snapshot.of_values(started, list(range(1, len(roster) + 1)), list(roster), 1)
    return findings(
        evaluate(
            Inputs(
                ("nr;geburtsdatum;epost;telefon;ausweis;bis\n" + rows).encode(),
                [],
                started,
                {},
                snapshot,
                TODAY,
            )
        )
    )


def test_found_by_what_fields_are_about():
    """Ages of the day of birth, stand-ins of mail and phone, a document that runs out, a last
    day that is over.
    """
    said = {(one["check"], *one["fields"]) for one in starting_checks(read_definition(CLUB))}
    assert said == {
        ("age", "geburtsdatum"),
        ("stand-in", "epost", "telefon"),
        ("runs-out", "ausweis"),
        ("ended", "bis"),
    }
    assert {
        check.weight
        for check in read_definition(with_starting_checks(CLUB, read_definition(CLUB))).checks
    } == {"ask"}


@pytest.mark.parametrize(
    ("institution", "expected"),
    [
        (hospital, {("age", "urodzony"), ("stand-in", "poczta")}),  # `ended` it has declared itself
        (federation, {("age", "roden")}),
        (school, {("stand-in", "telephone")}),  # its own age stands
    ],
)
def test_of_institutions(institution, expected):
    """What an institution has declared is not said again."""
    found = starting_checks(read_definition(institution.DOCUMENT))
    assert {(one["check"], *one["fields"]) for one in found} == expected


def test_who_names_checks_has_those():
    """A definition with checks, though they be none, is taken as it is; reading it again alters
    nothing.
    """
    bare = {**copy.deepcopy(CLUB), "nevefield": {"checks": []}}
    assert with_starting_checks(bare, read_definition(bare)) == bare
    started = with_starting_checks(CLUB, read_definition(CLUB))
    assert with_starting_checks(started, read_definition(started)) == started


def test_each_asks():
    """One of each, and a row with which nothing is wrong."""
    rows = (
        "1;1980-02-03;ines@q.example;+44 1632 960123;2027-05-05;2027-06-30\n"
        "2;1880-02-03;;;;\n"
        "3;2027-02-03;;;;\n"
        "4;;keine@q.example;;;\n"
        "5;;;0000 000 0000;;\n"
        "6;;;;2026-08-01;\n"
        "7;;;;2026-09-20;\n"
        "8;;;;;2025-12-31\n"
    )
    assert look(rows) == {
        (3, "geburtsdatum", "age"),
        (4, "geburtsdatum", "age"),
        (5, "epost", "stand-in"),
        (6, "telefon", "stand-in"),
        (7, "ausweis", "runs-out"),
        (8, "ausweis", "runs-out"),
        (9, "bis", "ended"),
    }


def test_one_address_for_many():
    """More people than may share an address are asked about, those of the roster counted in; a
    family is not.
    """
    family = "".join(f"{place};;haus@q.example;;;\n" for place in range(SHARED_BY))
    assert look(family) == set()
    roster = [{"nr": "90", "epost": "haus@q.example"}, {"nr": "0", "epost": "HAUS@q.example"}]
    # nr 0 is in both, and counts once
    assert "stand-in" in {check for _, _, check in look(family, roster)}
    assert "stand-in" not in {check for _, _, check in look(family, roster[1:])}
    again = family + family.replace(";haus", ";Haus")  # each of them twice: no more people
    assert {check for _, _, check in look(again)} <= {"duplicate"}


def test_many_addresses_of_many():
    """Households that share are no thousand causes: the largest are one each, the rest one
    together; every row is asked about.
    """
    definition = read_definition(with_starting_checks(CLUB, read_definition(CLUB)))
    sizes = [SHARED_BY + 1 + place % 7 for place in range(60)]
    lines = [f"haus{place}@q.example" for place, size in enumerate(sizes) for _ in range(size)] + [
        "allein@q.example"
    ]
    data = "nr;epost\n" + "".join(f"{number};{address}\n" for number, address in enumerate(lines))
    evaluation = evaluate(
        Inputs(data.encode(), [], definition, {}, Snapshot.empty(definition), TODAY)
    )
    causes = [cause.hit for cause in evaluation.causes if cause.hit.check == "stand-in"]
    assert len(causes) == MOST_ALONE + 1
    by_title = sorted(
        (hit for hit in causes if "more that are" not in hit.title), key=lambda hit: -len(hit.rows)
    )
    assert [len(hit.rows) for hit in by_title] == sorted(sizes, reverse=True)[:MOST_ALONE]
    (rest,) = [hit for hit in causes if "more that are" in hit.title]
    assert rest.title == f"E-Mail: {60 - MOST_ALONE} more that are each of more than 3 people"
    assert sorted(row for hit in causes for row in hit.rows.tolist()) == list(range(sum(sizes)))
    assert f"{sizes[7]} people have “haus7@q.example”" in rest.message(sum(sizes[:7]))


@pytest.mark.parametrize(
    "address",
    ["none3@q.example", "NoMail@q.example", "n.a.@x.example", "sin-correo12@x.example", "aucun@x.example", "няма@x.example",  # noqa: E501
     "keine@keine.example", "a@nomail.example", "test_01@x.example", "xxx@x.example"],
)  # fmt: skip
def test_stand_in_addresses(address):
    """In several languages, numbered, with marks, as the name or as the domain."""
    assert is_stand_in_mail(address)


@pytest.mark.parametrize(
    "address",
    ["naomi@q.example", "nathan.none@q.example", "testa@q.example", "geena@q.example", "info@q.example", "ines@abc.example",  # noqa: E501
     "tove@test.example", "una@na.example", "ada@x.example"],
)  # fmt: skip
def test_addresses_of_people(address):
    """Names that only begin alike are names."""
    assert not is_stand_in_mail(address)


def test_numbers_of_nobody():
    """One digit over and over, a run up or down; an emergency number and an ordinary one are
    none.
    """
    assert all(map(is_stand_in_phone, ["0000000", "+44 1111 111111", "012345678", "9876543210"]))
    assert not any(map(is_stand_in_phone, ["112", "+44 7700 900417", "01632 960123", ""]))
