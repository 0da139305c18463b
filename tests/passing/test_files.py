"""Files for destinations: read back by others, field by field."""

from __future__ import annotations

import csv
import io
import json

import openpyxl
import pytest
import vobject

from nevefield.core.errors import WrongDestination
from nevefield.passing_on.errors import DestinationKept, NoSuchFile, WrongRemedy
from nevefield.passing_on.filing import fetch_file, give_file, make_fetch_token
from nevefield.passing_on.keeping import begin_destination, keep_destination, list_versions
from nevefield.passing_on.looking import choose_rows, look_at
from nevefield.passing_on.sending import tell
from nevefield.store.passed_files import list_files
from tests.passing.house import PEOPLE, file_of, open_clinic
from tests.passing.ldif import read_ldif
from tests.passing.test_scim import alter

JOB = 1
WARDS = {"N": "North ward", "S": "Süd", "E": "Emergency"}


def made(context) -> tuple[str, bytes]:
    answer = tell(context, "list", JOB, None)
    return give_file(context, look_at(context, "list").opened.row.id, answer["file"])


def rows_wanted(sign: str) -> list[list[str]]:
    return [[one[0], one[1], sign.join(WARDS[ward] for ward in one[4])] for one in PEOPLE]


@pytest.mark.parametrize(
    ("way", "codec"),
    [
        ({}, "utf-8"),
        ({"separator": ";", "several": "|", "encoding": "utf-8-bom"}, "utf-8-sig"),
        ({"separator": "\t", "several": " "}, "utf-8"),
    ],
)
def test_delimited(bare, way, codec):
    open_clinic(bare)
    begin_destination(bare, file_of("csv", **way), None)
    name, data = made(bare)
    assert name.startswith("List 20")
    assert name.endswith(".csv")
    read = csv.reader(io.StringIO(data.decode(codec)), delimiter=way.get("separator", ","))
    head, *rows = list(read)
    assert head == ["Badge", "Surname", "Wards"]
    assert rows == rows_wanted(way.get("several", ";"))
    assert {str(place): n for place, n in look_at(bare, "list").counts.items() if n} == {
        "in step": 7
    }


def test_two_who_keep_at_once(bare):
    """Of two who altered one version, the second is told of the first, and writes over nothing
    unless they say so; both versions stay.
    """
    open_clinic(bare)
    begin_destination(bare, file_of("csv"), None)
    assert keep_destination(bare, "list", {**file_of("csv"), "title": "Lijst"}, 1, None) == 2
    mine = {**file_of("csv"), "title": "Список"}
    with pytest.raises(DestinationKept, match=r"kept version 2 .+ while you changed version 1"):
        keep_destination(bare, "list", mine, 1, None)
    assert look_at(bare, "list").opened.destination.title == "Lijst"
    assert keep_destination(bare, "list", mine, 2, None) == 3
    told = [(one.number, one.document["title"]) for one in list_versions(bare, "list")]
    assert told == [(3, "Список"), (2, "Lijst"), (1, "List")]


def test_a_row_for_each_value(bare):
    """Who is on several wards has a row for each; who is on none has one."""
    open_clinic(bare)
    document = file_of("csv")
    document["shares"][0]["each"] = "wards"
    begin_destination(bare, document, None)
    _, data = made(bare)
    rows = list(csv.reader(io.StringIO(data.decode())))[1:]
    assert rows == [
        [one[0], one[1], WARDS[ward] if ward else ""] for one in PEOPLE for ward in one[4] or [""]
    ]


def test_what_a_spreadsheet_would_run(bare):
    """What would be a formula is none, in a workbook and in CSV."""
    evil = ("=1+1", "@SUM(A1)", "\tx", "x", [], [], "1980-01-01", "")
    open_clinic(bare, [evil, *PEOPLE])
    begin_destination(bare, file_of("xlsx"), None)
    _, data = made(bare)
    sheet = openpyxl.load_workbook(io.BytesIO(data)).active
    assert [cell.data_type for cell in sheet[2]] == ["s", "s", "n"]
    assert sheet["A2"].value == "=1+1"
    assert [[cell.value or "" for cell in row] for row in sheet.iter_rows(min_row=3)] == (
        rows_wanted(";")
    )
    begin_destination(bare, {**file_of("csv"), "name": "cells"}, None)
    answer = tell(bare, "cells", JOB, None)
    _, data = give_file(bare, look_at(bare, "cells").opened.row.id, answer["file"])
    assert data.splitlines()[1].startswith(b"'=1+1,'@SUM")


def test_json(bare):
    open_clinic(bare)
    begin_destination(bare, file_of("json lines"), None)
    _, data = made(bare)
    found = [json.loads(line) for line in data.decode().splitlines()]
    assert found[0] == {"Badge": "A-01", "Surname": "Ødegård", "Wards": ["North ward", "Süd"]}
    assert "Wards" not in found[2]
    begin_destination(bare, {**file_of("json"), "name": "one"}, None)
    answer = tell(bare, "one", JOB, None)
    _, data = give_file(bare, look_at(bare, "one").opened.row.id, answer["file"])
    assert json.loads(data) == found


def test_fixed_width_never_cuts(bare):
    """What is too long, or not among the letters, is a refusal with its field; it is not cut."""
    open_clinic(bare)
    puts = [
        {"to": "BADGE", "from": "badge", "width": 6},
        {"to": "NAME", "from": "surname", "width": 10},
    ]
    begin_destination(bare, file_of("fixed width", puts, encoding="windows-1252"), None)
    _, data = made(bare)
    lines = data.decode("cp1252").splitlines()
    assert lines == ["A-01  Ødegård   ", "C-05  Ng        ", "C-06  Ng        "]
    look = look_at(bare, "list")
    assert {cause.code: len(cause.records) for cause in look.causes} == {
        "too long NAME": 3,
        "letters NAME": 1,
    }
    assert sum(look.counts.values()) == 7


LDIF = [
    {"to": "uid", "from": "badge"},
    {
        "to": "cn",
        "pattern": {
            "pieces": [{"field": "forename"}, {"text": " "}, {"field": "surname"}],
            "case": "as it is",
            "plain": False,
            "unique": False,
        },
    },
    {"to": "sn", "from": "surname"},
    {"to": "mail", "from": "mail"},
    {"to": "ou", "from": "wards", "form": "label"},
]
ENTRIES = {"base": "ou=people,dc=clinic,dc=example", "classes": ["inetOrgPerson"]}


def test_ldif_and_its_changes(bare):
    """Entries are read back as they were; applied to them, the changes give what is there then."""
    open_clinic(bare)
    begin_destination(bare, file_of("ldif", LDIF, **ENTRIES), None)
    changes = {**file_of("ldif", LDIF, **ENTRIES, only_changes=True), "name": "changes"}
    begin_destination(bare, changes, None)
    first = read_ldif(made(bare)[1], {})
    assert first["uid=D-07,ou=people,dc=clinic,dc=example"]["cn"] == ['Bo; <b> Smith, "Jr"']
    assert first["uid=B-03,ou=people,dc=clinic,dc=example"]["sn"] == ["Παπαδοπούλου"]
    assert "mail" not in first["uid=B-04,ou=people,dc=clinic,dc=example"]

    def changed(before):
        answer = tell(bare, "changes", JOB, None, ends=9)
        identity = look_at(bare, "changes").opened.row.id
        return read_ldif(give_file(bare, identity, answer["file"])[1], before)

    assert changed({}) == first
    alter(bare, "A-01", surname=" Ødegård-Łącki: #1 ", mail=None, wards=["E"])
    alter(bare, "B-03", badge="B, #3+")
    second = read_ldif(made(bare)[1], {})
    assert second != first
    assert changed(first) == second
    document = json.loads(json.dumps(changes))
    document["shares"][0]["where"] = {"field": "badge", "is": ["A-01", "C-05"]}
    keep_destination(bare, "changes", document, 1, None)
    assert set(changed(second)) == {f"uid={one},{ENTRIES['base']}" for one in ("A-01", "C-05")}


def test_vcards(bare):
    """An independent reader finds names, mail and wards as they are."""
    open_clinic(bare)
    puts = [
        LDIF[1] | {"to": "FN"},
        {"to": "N.family", "from": "surname"},
        {"to": "N.given", "from": "forename"},
        {"to": "EMAIL", "from": "mail"},
        {"to": "NOTE", "from": "wards", "form": "label"},
    ]
    document = file_of("vcard", puts)
    document["shares"][0]["groups"] = [{"from": "wards"}]
    begin_destination(bare, document, None)
    _, data = made(bare)
    assert all(len(line) <= 75 for line in data.split(b"\r\n"))
    cards = list(vobject.readComponents(data.decode()))
    assert [(card.n.value.family, card.n.value.given) for card in cards] == [
        (one[1], one[2]) for one in PEOPLE
    ]
    assert [card.email.value if hasattr(card, "email") else "" for card in cards] == [
        one[3] for one in PEOPLE
    ]
    assert cards[0].categories.value == ["North ward", "Süd"]


@pytest.mark.parametrize(
    ("document", "says"),
    [
        (file_of("vcard"), "needs FN"),
        (file_of("ldif"), "no name of a field|needs base"),
        (file_of("fixed width"), "width"),
        (file_of("csv", [{"to": "A", "from": "nothing"}]), "no field"),
        (file_of("csv", [{"to": "A", "from": "born"}]), "kept from who may only look"),
        (file_of("csv", [{"to": "A"}]), "one of our fields"),
        (file_of("csv", [{"to": "A", "from": "badge", "fill": "x"}]), "or the same"),
        (file_of("csv", file_name="../x"), "file_name"),
        (file_of("csv", file_name="{week}"), "day"),
        ({**file_of("csv"), "when": {"kind": "at a time", "rule": "at two"}}, "minute, hour"),
        ({**file_of("csv"), "way": {"kind": "pigeon"}}, "file, scim, gates or asked"),
    ],
)
def test_what_cannot_be(bare, document, says):
    open_clinic(bare)
    with pytest.raises(WrongDestination, match=says):
        begin_destination(bare, document, None)


def test_fetched_by_them(bare):
    """Whoever has the address gets the newest file, and it is kept when; another address ends it;
    a wrong one has nothing.
    """
    open_clinic(bare)
    begin_destination(bare, file_of("csv"), None)
    with pytest.raises(WrongRemedy):
        make_fetch_token(bare, "list", None)
    keep_destination(bare, "list", file_of("csv", is_fetched=True), 1, None)
    first = make_fetch_token(bare, "list", None)[0]
    with pytest.raises(NoSuchFile):
        fetch_file(bare, first)
    made(bare)
    alter(bare, "A-01", surname="Newer")
    _, newest = made(bare)
    assert fetch_file(bare, first)[1] == newest
    assert b"Newer" in newest
    with bare.database.transaction() as connection:
        files = list_files(connection, look_at(bare, "list").opened.row.id)
    assert [one.fetched_at is not None for one in files] == [True, False]
    second = make_fetch_token(bare, "list", None)[0]
    for token in (first, "", second[:-1]):
        with pytest.raises(NoSuchFile):
            fetch_file(bare, token)
    assert fetch_file(bare, second)[1] == newest


def test_held_back_it_stays_as_it_was(bare):
    """Who is held back stands in the file as before, and is counted."""
    from nevefield.passing_on.deciding import hold

    open_clinic(bare)
    begin_destination(bare, file_of("csv"), None)
    made(bare)
    alter(bare, "A-01", surname="Otherwise")
    (row,) = choose_rows(bare, look_at(bare, "list"), "to send", "", start=0, limit=9)[1]
    assert (row.key, [(one.what, one.before, one.after) for one in row.moved]) == (
        "A-01",
        [("Surname", ("Ødegård",), ("Otherwise",))],
    )
    hold(bare, "list", [row.record], "she asked for it", None)
    _, data = made(bare)
    assert "Ødegård" in data.decode()
    assert "Otherwise" not in data.decode()
    hold(bare, "list", [row.record], None, None)
    assert "Otherwise" in made(bare)[1].decode()
