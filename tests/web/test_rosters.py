"""Rosters, records and code lists through the API."""

from __future__ import annotations

import gzip
import io
import json

import openpyxl
import pytest

from tests.conftest import ADMINISTERS, LOOKS


@pytest.fixture
def own(browser):
    return browser(ADMINISTERS)


@pytest.fixture(scope="module")
def cadets(made) -> list[dict]:
    return json.loads((made / "roster-cadets.json").read_text())["records"]


def test_long_answers_are_packed(own):
    """What is over 1 kB comes packed to who can read it, and is the same; short ones come as they
    are.
    """
    reads = {"Accept-Encoding": "gzip"}
    path = "/api/rosters/cadets/records?limit=50"
    packed = own.send("GET", path, headers=reads)
    assert packed.headers["Content-Encoding"] == "gzip"
    assert json.loads(gzip.decompress(packed.data)) == own.send("GET", path).json
    assert len(packed.data) < 0.5 * len(own.send("GET", path).data)
    short = own.send("GET", "/api/rosters/nowhere", headers=reads)
    assert "Content-Encoding" not in short.headers


def test_pages_hold_everybody_once(own, cadets):
    """Pages of a sorted roster have every record once, in order."""
    numbers = []
    for start in range(0, len(cadets), 500):
        page = own.get("/api/rosters/cadets/records", start=start, limit=500, sort="born", down=1)
        numbers += [(row["values"]["born"], row["values"]["cadet_number"]) for row in page["rows"]]
    assert [born for born, _ in numbers] == sorted((one["born"] for one in cadets), reverse=True)
    assert {number for _, number in numbers} == {one["cadet_number"] for one in cadets}


@pytest.mark.parametrize(
    ("query", "holds"),
    [
        ({"filter": "watch:SKUA"}, lambda one: one["watch"] == "SKUA"),
        (
            {"filter": ["watch:SKUA", "campus:NQ"]},
            lambda one: one["watch"] == "SKUA" and one["campus"] == "NQ",
        ),
        ({"filter": "mariner_number:"}, lambda one: "mariner_number" not in one),
        ({"filter": "bursaries:LANTERN"}, lambda one: "LANTERN" in one.get("bursaries", [])),
        ({"q": "rask"}, lambda one: any("rask" in str(value).casefold() for value in one.values())),
    ],
)
def test_filters(own, cadets, query, holds):
    """A filter gives exactly the records that it describes."""
    found = own.get("/api/rosters/cadets/records", limit=1000, **query)
    assert {row["values"]["cadet_number"] for row in found["rows"]} == {
        one["cadet_number"] for one in cadets if holds(one)
    }
    assert found["total"] > 0


def test_empty_stand_last(own, cadets):
    """Empty values stand last, whichever way one sorts."""
    total = sum("berth" in one for one in cadets)
    for down in (0, 1):
        page = own.get(
            "/api/rosters/cadets/records", sort="berth", down=down, start=total - 1, limit=2
        )
        assert ["berth" in row["values"] for row in page["rows"]] == [True, False]


@pytest.mark.parametrize("kind", ["csv", "xlsx", "json"])
def test_exports_hold_everybody(own, cadets, kind):
    """Every format has all records and the same values, identifiers and phone numbers as text."""
    answer = own.send("GET", "/api/rosters/cadets/export", query_string={"format": kind})
    if kind == "json":
        found = json.loads(answer.data)["records"]
        assert sorted(found, key=lambda one: one["cadet_number"]) == sorted(
            cadets, key=lambda one: one["cadet_number"]
        )
        return
    if kind == "xlsx":
        rows = [
            list(row)
            for row in openpyxl.load_workbook(io.BytesIO(answer.data)).active.iter_rows(
                values_only=True
            )
        ]
    else:
        rows = [line.split(",") for line in answer.data.decode("utf-8-sig").splitlines()]
    assert len(rows) == len(cadets) + 1
    place = rows[0].index("phone")
    assert {row[place] for row in rows[1:]} == {one["phone"] for one in cadets}


def test_record_has_a_life(own, cadets):
    """A record shows all its values and where they came from."""
    row = own.get("/api/rosters/cadets/records", q=cadets[7]["cadet_number"])["rows"][0]
    life = own.get(f"/api/records/{row['id']}")
    assert life["values"] == cadets[7]
    assert life["life"][0]["kind"] == "opening"
    assert life["is_current"]


def test_code_list_is_written(own, browser):
    """Codes can be added and ended by who administers; what is wrong is said with the line."""
    codes = [
        {
            name: one[name]
            for name in ("code", "label", "parent", "aliases", "first_day", "last_day")
        }
        for one in own.get("/api/codes/campus")["codes"]
    ]
    fine = [
        *codes,
        {"code": "EQ", "label": "East Quay", "aliases": ["E. Quay"], "first_day": "2026-10-01"},
    ]
    assert own.send("PUT", "/api/codes/campus", json={"codes": fine}).status_code == 200
    assert [one["code"] for one in browser(LOOKS).get("/api/codes/campus")["codes"]] == [
        one["code"] for one in fine
    ]
    for wrong, said in [
        (codes[1:], "is used by"),
        ([*codes, codes[0]], "twice"),
        (
            [*codes, {"code": "ZZ", "first_day": "2026-10-01", "last_day": "2026-09-01"}],
            "ends before it begins",
        ),
    ]:
        answer = own.send("PUT", "/api/codes/campus", json={"codes": wrong})
        assert answer.status_code == 422
        assert said in answer.json["detail"]
    assert len(own.get("/api/codes/campus")["codes"]) == len(fine)


def test_code_uses_are_counted(own, cadets):
    """Each code says how many records use it, several values in one field included."""
    used = {one["code"]: one["used"] for one in own.get("/api/codes/bursary")["codes"]}
    assert used["LANTERN"] == sum("LANTERN" in one.get("bursaries", []) for one in cadets)


def test_desk_lists_what_is_open(own, joiners, truth):
    """The desk says what is open with its numbers, and where to go."""
    own.drop(joiners)
    items = {one["lead"]: one["place"] for one in own.get("/api/desk")["open"]}
    assert f"{truth['tally']['stopped']} rows stopped" in items
    assert f"{truth['tally']['waiting']} rows need your approval" in items
    assert items[
        f"{truth['tally']['new'] + truth['tally']['changed']} rows ready to apply"
    ].endswith("/apply")
