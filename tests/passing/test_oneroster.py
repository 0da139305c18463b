"""OneRoster: the archive holds to the standard, by a checker that is written from it; whole, and
what changed.
"""

from __future__ import annotations

import csv
import io
import zipfile
from datetime import date, datetime
from typing import Any

import pytest

from nevefield.core.errors import WrongDestination
from nevefield.core.passing.destination import FileWay
from nevefield.core.passing.entries import Entry
from nevefield.core.passing.oneroster import write_oneroster
from nevefield.core.passing.outgoing import Content
from nevefield.passing_on.filing import give_file
from nevefield.passing_on.keeping import begin_destination, open_destination
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import tell
from nevefield.proposals.editing import Edit, edit_record
from tests.passing.house import PEOPLE, WORKING, open_clinic

# of the CSV binding: required columns, references, enumerations and days of each file
RULES: dict[str, dict[str, Any]] = {
    "academicSessions": {
        "required": ("title", "type", "startDate", "endDate", "schoolYear"),
        "refers": {"parentSourcedId": "academicSessions"},
        "words": {"type": {"gradingPeriod", "semester", "schoolYear", "term"}},
        "days": ("startDate", "endDate"),
    },
    "orgs": {
        "required": ("name", "type"),
        "refers": {"parentSourcedId": "orgs"},
        "words": {"type": {"department", "school", "district", "local", "state", "national"}},
    },
    "courses": {
        "required": ("title", "orgSourcedId"),
        "refers": {"orgSourcedId": "orgs", "schoolYearSourcedId": "academicSessions"},
    },
    "classes": {
        "required": (
            "title",
            "courseSourcedId",
            "classType",
            "schoolSourcedId",
            "termSourcedIds",
        ),
        "refers": {
            "courseSourcedId": "courses",
            "schoolSourcedId": "orgs",
            "termSourcedIds": "academicSessions",
        },
        "words": {"classType": {"homeroom", "scheduled"}},
    },
    "users": {
        "required": ("enabledUser", "username", "givenName", "familyName"),
        "refers": {"primaryOrgSourcedId": "orgs"},
        "words": {"enabledUser": {"true", "false"}},
    },
    "roles": {
        "required": ("userSourcedId", "roleType", "role", "orgSourcedId"),
        "refers": {"userSourcedId": "users", "orgSourcedId": "orgs"},
        "words": {
            "roleType": {"primary", "secondary"},
            "role": {
                "administrator",
                "aide",
                "counselor",
                "districtAdministrator",
                "guardian",
                "parent",
                "principal",
                "proctor",
                "relative",
                "siteAdministrator",
                "student",
                "systemAdministrator",
                "teacher",
            },
        },
        "days": ("beginDate", "endDate"),
    },
    "enrollments": {
        "required": ("classSourcedId", "schoolSourcedId", "userSourcedId", "role"),
        "refers": {
            "classSourcedId": "classes",
            "schoolSourcedId": "orgs",
            "userSourcedId": "users",
        },
        "words": {
            "role": {"administrator", "proctor", "student", "teacher"},
            "primary": {"true", "false"},
        },
        "days": ("beginDate", "endDate"),
    },
    "demographics": {
        "required": (),
        "refers": {"sourcedId": "users"},
        "words": {"sex": {"male", "female", "unspecified", "other"}},
        "days": ("birthDate",),
    },
}


def read(data: bytes) -> dict[str, list[dict[str, str]]]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {
            name.removesuffix(".csv"): list(
                csv.DictReader(io.StringIO(archive.read(name).decode("utf-8"), newline=""))
            )
            for name in archive.namelist()
        }


def check(files: dict[str, list[dict[str, str]]], *, delta: bool) -> None:
    """Hold files to the standard."""
    said = {row["propertyName"]: row["value"] for row in files["manifest"]}
    assert (said["manifest.version"], said["oneroster.version"]) == ("1.0", "1.2")
    for name, kind in said.items():
        if name.startswith("file."):
            there = name.removeprefix("file.") in files
            assert kind == (("delta" if delta else "bulk") if there else "absent"), name
    numbers = {
        name: {row["sourcedId"] for row in rows}
        for name, rows in files.items()
        if name != "manifest"
    }
    for name, rows in files.items():
        if name == "manifest":
            continue
        rules = RULES[name]
        assert len(numbers[name]) == len(rows), f"{name}: numbers stand twice"
        for row in rows:
            assert None not in row, f"{name}: more cells than columns"
            if delta:
                assert row["status"] in ("active", "tobedeleted")
                datetime.fromisoformat(row["dateLastModified"])
                assert row["dateLastModified"].endswith("Z")
            else:
                assert row["status"] == row["dateLastModified"] == ""
            for column in rules["required"]:
                assert row[column], f"{name}.{column} is needed"
            for column, words in rules.get("words", {}).items():
                assert row[column] in words | {""}, (name, column, row[column])
            for column in rules.get("days", ()):
                assert not row[column] or date.fromisoformat(row[column])
            for column, other in rules.get("refers", {}).items():
                for one in filter(None, row[column].split(",")):
                    assert one in numbers[other], (name, column)


def school(**more: Any) -> dict[str, Any]:
    way = {
        "kind": "file",
        "format": "oneroster",
        "school": "Clinic, training",
        "term": "Autumn",
        "first_day": "2026-09-01",
        "last_day": "2027-01-31",
    }
    return {
        "name": "lessons",
        "title": "Lessons",
        "way": way | more,
        "shares": [
            {
                "roster": "clinic",
                "puts": [
                    {"to": "username", "from": "badge", "is_needed": True},
                    {"to": "givenName", "from": "forename", "is_needed": True},
                    {"to": "familyName", "from": "surname", "is_needed": True},
                    {"to": "email", "from": "mail"},
                    {"to": "role", "fill": "student"},
                    {"to": "birthDate", "from": "born", "because": "it is asked for by law"},
                ],
                "groups": [{"from": "wards", "before": "Ward "}],
            }
        ],
    }


@pytest.fixture
def clinic(bare):
    open_clinic(bare)
    return bare


def made(context) -> dict[str, list[dict[str, str]]]:
    answer = tell(context, "lessons", 1, None)
    number = open_destination(context, "lessons").row.id
    name, data = give_file(context, number, answer["file"])
    assert name.endswith(".zip")
    return read(data)


def alter(context, badge: str, /, **values) -> None:
    with context.database.transaction() as connection:
        row = connection.row(
            "SELECT record_id FROM record_key WHERE content LIKE %s LIMIT 1", (f"%{badge}%",)
        )
    edit_record(context, Edit(int(row[0]), values), None)


def test_everybody(clinic):
    """Against the people as they were made."""
    begin_destination(clinic, school(), None)
    files = made(clinic)
    check(files, delta=False)
    users = {row["username"]: row for row in files["users"]}
    assert set(users) == {one[0] for one in PEOPLE}
    names = {one[0]: (one[2], one[1], one[3]) for one in PEOPLE}
    for badge, row in users.items():
        assert (row["givenName"], row["familyName"], row["email"]) == names[badge]
    titles = {row["sourcedId"]: row["title"] for row in files["classes"]}
    number = {row["sourcedId"]: row["username"] for row in files["users"]}
    enrolled = {
        (number[r["userSourcedId"]], titles[r["classSourcedId"]]) for r in files["enrollments"]
    }
    words = {"N": "Ward North ward", "S": "Ward Süd", "E": "Ward Emergency"}
    assert enrolled == {(one[0], words[ward]) for one in PEOPLE for ward in one[4]}
    born = {number[row["sourcedId"]]: row["birthDate"] for row in files["demographics"]}
    assert born == {one[0]: one[6] for one in PEOPLE}
    assert files == made(clinic), "made again it is the same"


def test_what_changed(clinic):
    """Who moves, who comes and goes: their numbers stay, and the class that is left is said."""
    begin_destination(clinic, school(only_changes=True), None)
    first = made(clinic)
    check(first, delta=True)
    again = made(clinic)
    check(again, delta=True)
    assert again["users"] == again["enrollments"] == []
    alter(clinic, "A-02", wards="S")
    moved = made(clinic)
    check(moved, delta=True)
    assert [row["username"] for row in moved["users"]] == ["A-02"]
    titles = {row["sourcedId"]: row["title"] for row in moved["classes"]}
    assert {(titles[r["classSourcedId"]], r["status"]) for r in moved["enrollments"]} == {
        ("Ward North ward", "tobedeleted"),
        ("Ward Süd", "active"),
    }
    before = {row["username"]: row["sourcedId"] for row in first["users"]}
    assert moved["users"][0]["sourcedId"] == before["A-02"]


def test_who_ends(clinic):
    """Whoever leaves is said to be deleted, with every class that they were in."""
    document = school(only_changes=True)
    document["shares"][0]["where"] = WORKING
    begin_destination(clinic, document, None)
    made(clinic)
    alter(clinic, "C-05", until="2026-08-30")
    gone = made(clinic)
    check(gone, delta=True)
    assert [(r["username"], r["status"], r["enabledUser"]) for r in gone["users"]] == [
        ("C-05", "tobedeleted", "false")
    ]
    assert [row["status"] for row in gone["roles"]] == ["tobedeleted"]
    titles = {row["sourcedId"]: row["title"] for row in gone["classes"]}
    assert {(titles[r["classSourcedId"]], r["status"]) for r in gone["enrollments"]} == {
        ("Ward Süd", "tobedeleted"),
        ("Ward Emergency", "tobedeleted"),
    }


@pytest.mark.parametrize(
    ("change", "place", "says"),
    [
        (lambda one: one["way"].pop("school"), "way", "school"),
        (lambda one: one["way"].update(first_day="2026-02-30"), "way", "first and the last day"),
        (lambda one: one["way"].update(last_day="2026-08-31"), "way.last_day", "before"),
        (lambda one: one["shares"][0]["puts"][3].update(to="mail"), "shares.0.puts.3.to", "email"),
        (lambda one: one["shares"][0]["puts"].pop(4), "shares.0.puts", "role"),
        (lambda one: one["shares"][0]["puts"][1].pop("is_needed"), "shares.0.puts", "givenName"),
    ],
)
def test_what_cannot_be(clinic, change, place, says):
    document = school()
    change(document)
    with pytest.raises(WrongDestination, match=says) as raised:
        begin_destination(clinic, document, None)
    assert raised.value.place == place


def test_values_that_the_standard_has_not(clinic):
    """They are refused with a cause, and nobody else waits for them."""
    document = school()
    document["shares"][0]["puts"][4] = {"to": "role", "from": "badge", "is_needed": True}
    begin_destination(clinic, document, None)
    look = look_at(clinic, "lessons")
    assert {cause.code for cause in look.causes} == {"word role"}
    alter(clinic, "D-07", surname="=1+1")
    document = school() | {"name": "other"}
    begin_destination(clinic, document, None)
    assert [cause.code for cause in look_at(clinic, "other").causes] == ["formula familyName"]


def test_twenty_thousand():
    """As large as a town's schools: everybody stands in it once, in their classes."""
    way = FileWay(
        format="oneroster", school="S", term="T", first_day="2026-09-01", last_day="2027-06-30"
    )
    share: Any = None
    entries = [
        Entry(
            n,
            share,
            Content(
                {"username": f"u{n}", "givenName": "Ж", "familyName": "Ł", "role": "student"},
                (f"G{n % 400}", f"H{n % 90}"),
            ),
        )
        for n in range(20_000)
    ]
    files = read(write_oneroster(way, "d", "D", entries, datetime(2026, 9, 1)))
    check(files, delta=False)
    counts = {name: len(rows) for name, rows in files.items()}
    assert (counts["users"], counts["enrollments"], counts["classes"]) == (20_000, 40_000, 490)
