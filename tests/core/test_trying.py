"""A definition tried before it is in force: what it would break in the records, and nothing that
they broke already.
"""

from __future__ import annotations

import copy
from datetime import date

import pytest

from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.snapshot import Snapshot
from nevefield.core.trying import SHOWN, try_definition
from tests.institutions import hospital

TODAY = date(2026, 9, 1)
CODES = read_codes(hospital.CODES)
STAFF = [hospital.person(place) for place in range(30)]
for one in STAFF[20:]:
    one["poczta"] = ""
STAFF[3]["etat"] = "2.5"  # more than may be, before anybody tries anything
SNAPSHOT = Snapshot.of_values(
    read_definition(hospital.DOCUMENT),
    list(range(30)),
    [{name: value for name, value in one.items() if value} for one in STAFF],
    1,
)


def changed(*path, value):
    """The hospital's document with one thing put otherwise: the field's name first, or a member
    of the document.
    """
    document = copy.deepcopy(hospital.DOCUMENT)
    place = next((one for one in document["fields"] if one["name"] == path[0]), document)
    for name in path[1:-1]:
        place = place.setdefault(name, {})
    place[path[-1]] = value
    return document


def tried(document):
    """Check, field, number of records and their numbers, of everything that it would break."""
    found = try_definition(read_definition(document), SNAPSHOT, CODES, TODAY)
    return [(one.check, one.field, one.records, one.keys) for one in found]


def numbers(*places):
    return tuple(hospital.number(place) for place in places)


def test_nothing_new():
    """The same definition breaks nothing, though a record of it is wrong already."""
    assert tried(hospital.DOCUMENT) == []
    assert tried(changed("poczta", "title", value="Poczta służbowa")) == []


def test_required():
    """Whoever lacks what is now required, counted whole and named for the first few."""
    ((check, field, records, keys),) = tried(
        changed("poczta", "constraints", value={"required": True})
    )
    assert (check, field, records) == ("required", "poczta", 10)
    assert keys == numbers(*range(20, 20 + SHOWN))


def test_narrower():
    """A lower maximum adds those between the two; the one above both was wrong before."""
    document = changed("etat", "constraints", value={"minimum": "0.1", "maximum": "0.8"})
    whole = [place for place in range(30) if STAFF[place]["etat"] == "1"]
    assert tried(document) == [("maximum", "etat", len(whole), numbers(*whole[:SHOWN]))]


def test_another_list():
    """Codes of another list are nobody's: a cause for each, thirty people in all."""
    found = tried(changed("oddzial", "nevefield", value={"codeList": "klinika"}))
    assert {(check, field) for check, field, _, _ in found} == {("code", "oddzial")}
    assert sum(records for _, _, records, _ in found) == 30


def test_gone():
    """A field that goes is said with how many values go with it; one without values goes in
    silence.
    """
    document = copy.deepcopy(hospital.DOCUMENT)
    document["fields"] = [one for one in document["fields"] if one["name"] != "poczta"]
    document["nevefield"]["keys"] = ["numer"]
    assert tried(document) == [("field-gone", "poczta", 20, numbers(*range(SHOWN)))]
    document = copy.deepcopy(hospital.DOCUMENT)
    document["fields"] = [one for one in document["fields"] if one["name"] != "do"]
    document["nevefield"]["checks"] = []
    assert tried(document) == []


def test_most_first():
    """Of several, what breaks the most stands first."""
    document = changed("poczta", "constraints", value={"required": True})
    # the first ten have nobody above them
    document["fields"][-1]["constraints"] = {"required": True}
    document["fields"][2]["constraints"] = {"required": True, "maxLength": 3}
    found = tried(document)
    short = [place for place in range(30) if len(STAFF[place]["imie"]) > 3]
    assert [one[2] for one in found] == sorted((one[2] for one in found), reverse=True)
    assert {one[1]: one[2] for one in found} == {"imie": len(short), "poczta": 10, "przelozony": 10}


@pytest.mark.parametrize("several", [";", "|", " / "])
def test_several_values(several):
    """Records with several values in a field are tried value by value, whatever stands between
    those in files.
    """
    document = {
        "name": "kurs",
        "primaryKey": "n",
        "fields": [{"name": "n"}, {"name": "jezyki", "nevefield": {"several": several}}],
    }
    values = [
        {"n": "1", "jezyki": ["pl", "uk"]},
        {"n": "2", "jezyki": ["pl", "niemiecki"]},
        {"n": "3"},
    ]
    snapshot = Snapshot.of_values(read_definition(document), [1, 2, 3], values, 1)
    narrower = copy.deepcopy(document)
    narrower["fields"][1]["constraints"] = {"maxLength": 2}
    found = try_definition(read_definition(narrower), snapshot, {}, TODAY)
    assert [(one.field, one.records, one.keys) for one in found] == [("jezyki", 1, ("2",))]


def test_keys_that_do_not_tell_people_apart():
    """A key that several share is said with how many they are, each counted once; who lacks it, or
    a part of it, is not among them; one that tells everybody apart is said nothing of.
    """
    document = copy.deepcopy(hospital.DOCUMENT)
    document["nevefield"]["keys"] = ["numer", "poczta", "klinika", ["nazwisko", "urodzony"]]
    clinics = [one["klinika"] for one in STAFF]
    shared = [place for place in range(30) if clinics.count(clinics[place]) > 1]
    pairs = [(one["nazwisko"], one["urodzony"]) for one in STAFF]
    twins = [place for place in range(30) if pairs.count(pairs[place]) > 1]
    expected = [("key", "klinika", len(shared), numbers(*shared[:SHOWN]))]
    if twins:
        expected.append(("key", "urodzony", len(twins), numbers(*twins[:SHOWN])))
    assert shared
    assert tried(document) == sorted(expected, key=lambda one: -one[2])


def test_a_roster_that_there_is_not():
    """Who refers to a roster that nobody has is counted: nothing is checked there."""
    document = copy.deepcopy(hospital.DOCUMENT)
    reference = {"fields": "przelozony", "reference": {"resource": "zarzad", "fields": "id"}}
    document["foreignKeys"] = [reference]
    filled = [place for place in range(30) if STAFF[place].get("przelozony")]
    assert ("reference", "przelozony", len(filled), numbers(*filled[:SHOWN])) in tried(document)
