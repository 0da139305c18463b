"""Code lists as files, merged and retired codes: every record follows, as change sets that can
be taken back.
"""

from __future__ import annotations

import io

import openpyxl
import pytest

from tests.conftest import ADMINISTERS, APPROVES


@pytest.fixture
def admin(browser):
    return browser(ADMINISTERS)


def bring(admin, name: str, data: bytes, file_name: str = "codes.csv") -> dict:
    """What a file comes to beside a list."""
    answer = admin.send(
        "POST", f"/api/codes/{name}/compare", data={"file": (io.BytesIO(data), file_name)}
    )
    assert answer.status_code == 200, answer.json
    return answer.json


def watches(admin) -> dict[str, int]:
    """How many cadets are in each watch."""
    counted: dict[str, int] = {}
    rows = admin.get("/api/rosters/cadets/records", limit=1000)["rows"]
    rows += admin.get("/api/rosters/cadets/records", limit=1000, start=1000)["rows"]
    for row in rows:
        watch = row["values"].get("watch")
        counted[watch] = counted.get(watch, 0) + 1
    return counted


def test_merged_code_takes_its_records(admin):
    """Looked at, merging counts the records; done, they have the other code; files may say the
    old one; it can be undone.
    """
    before = watches(admin)
    looked = admin.post("/api/codes/watch/merge", {"code": "SKUA", "into": "TERN", "look": True})[
        "rosters"
    ]
    assert looked == [
        {"roster": "cadets", "title": "Cadets", "records": before["SKUA"], "change_set": None}
    ]
    assert watches(admin) == before
    (done,) = admin.post("/api/codes/watch/merge", {"code": "SKUA", "into": "TERN"})["rosters"]
    after = watches(admin)
    assert after["TERN"] == before["TERN"] + before["SKUA"]
    assert "SKUA" not in after
    tern = next(one for one in admin.get("/api/codes/watch")["codes"] if one["code"] == "TERN")
    assert {"SKUA", "Skua"} <= set(tern["aliases"])
    admin.post(f"/api/change-sets/{done['change_set']}/take-back")
    assert watches(admin) == before


def test_retired_code_stays_for_the_past(admin):
    """A code that is retired keeps its place with a last day, and its records get the
    replacement.
    """
    before = watches(admin)
    admin.post("/api/codes/watch/merge", {"code": "AUK", "into": "TERN", "retire": True})
    auk = next(one for one in admin.get("/api/codes/watch")["codes"] if one["code"] == "AUK")
    assert (auk["last_day"], auk["used"]) == ("2026-08-31", 0)
    assert watches(admin)["TERN"] == before["TERN"] + before["AUK"]


def test_several_values_follow(admin):
    """In fields of several values the code is replaced, and never stands twice."""
    rows = admin.get("/api/rosters/cadets/records", limit=1000)["rows"]
    both = [row for row in rows if {"KEEL", "LANTERN"} <= set(row["values"].get("bursaries") or [])]
    assert both
    admin.post("/api/codes/bursary/merge", {"code": "KEEL", "into": "LANTERN"})
    after = {
        row["id"]: row["values"]
        for row in admin.get("/api/rosters/cadets/records", limit=1000)["rows"]
    }
    assert all(after[row["id"]]["bursaries"].count("LANTERN") == 1 for row in both)
    assert not any("KEEL" in (values.get("bursaries") or []) for values in after.values())


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({"code": "MOON", "into": "TERN"}, "no code “MOON”"),
        ({"code": "TERN", "into": "TERN"}, "into itself"),
    ],
)
def test_what_cannot_be_merged(admin, body, said):
    """What is not there, or is the same, is refused in a sentence."""
    answer = admin.send("POST", "/api/codes/watch/merge", json=body)
    assert answer.status_code == 422
    assert said in answer.json["detail"]


def test_file_is_compared_first(admin, browser):
    """A list goes out as CSV and comes back compared: what is new, gone and altered, and who has
    what would be gone.
    """
    text = admin.send("GET", "/api/codes/campus/file").data.decode()
    same = bring(admin, "campus", text.encode())
    assert (same["added"], same["gone"], same["altered"]) == ([], [], [])
    lines = [line for line in text.splitlines() if ",NQ," not in line]
    changed = (
        "\n".join([*lines, "campus,EQ,East Quay,,,,"]).replace("Castle Hill", "Castle Mount") + "\n"
    )
    found = bring(admin, "campus", changed.encode())
    assert (found["added"], found["gone"], found["altered"]) == (["EQ"], ["NQ"], ["CH"])
    total = sum(
        row["values"].get("campus") == "NQ"
        for row in admin.get("/api/rosters/cadets/records", limit=1000)["rows"]
    )
    assert found["used"]["NQ"] >= total > 0
    assert admin.send("PUT", "/api/codes/campus", json={"codes": found["codes"]}).status_code == 422
    assert (
        browser(APPROVES)
        .send("POST", "/api/codes/campus/merge", json={"code": "NQ", "into": "CH"})
        .status_code
        == 403
    )


def test_parents_in_a_circle_are_refused(admin):
    """Codes of one list whose parents go in a circle are refused, with the circle."""
    codes = [{"code": "A", "parent": "B"}, {"code": "B", "parent": "A"}]
    answer = admin.send("PUT", "/api/codes/campus", json={"codes": codes})
    assert answer.status_code == 422
    assert "A → B → A" in answer.json["detail"]


def test_list_from_a_workbook(admin):
    """A list comes from any file, in its office's own words; what is not right stops it, with
    the lines; the rest stays.
    """
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Sites of the college"])
    for row in (
        [],
        ["Key", "Name", "Valid until"],
        ["NQ", "North Quay", None],
        ["CH", "Castle Hill", "30/06/2027"],
    ):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    found = bring(admin, "campus", out.getvalue(), "sites.xlsx")
    before = {one["code"]: one for one in admin.get("/api/codes/campus")["codes"]}
    kept = {one["code"]: one for one in found["codes"]}
    assert (found["problems"], found["gone"], "line 3" in found["sentence"]) == (
        [],
        sorted({*before} - {"NQ", "CH"}),
        True,
    )
    assert kept["CH"]["last_day"] == "2027-06-30"
    assert kept["NQ"]["aliases"] == before["NQ"]["aliases"]  # the file has no column for them
    wrong = bring(admin, "campus", b"code,label\nNQ,North Quay\n,Nowhere\nNQ,Again\n")
    assert wrong["codes"] == []
    assert any(one.startswith("Line 3: Code is required") for one in wrong["problems"])
    assert any("Lines 2 and 4" in one for one in wrong["problems"])
    other = bring(admin, "campus", b"list,code\nwatch,SKUA\n")
    assert other["problems"] == ["There is no code of the list “campus” in the file."]


def test_a_code_is_added_on_the_spot(admin, browser):
    """One code more, beside whatever others do to the list; rows that have it are stopped no
    longer. Only who administers may.
    """
    cadet = admin.get("/api/rosters/cadets/records", limit=1)["rows"][0]["values"]
    text = f"cadet_number,home_port\n{cadet['cadet_number']},Ørsund\n"
    dropped = admin.drop(text.encode(), "ports.csv", roster="cadets")
    intake = f"/api/intakes/{dropped.json['intake']}"
    assert admin.get(intake)["tally"]["stopped"] == 1
    before = admin.get("/api/codes/home_port")["codes"]
    new = {
        "code": "ØRS",
        "label": "Ørsund",
        "parent": "",
        "aliases": [],
        "first_day": None,
        "last_day": None,
    }
    assert browser(APPROVES).send("POST", "/api/codes/home_port/codes", json=new).status_code == 403
    assert admin.post("/api/codes/home_port/codes", new)["code"] == "ØRS"
    after = admin.get("/api/codes/home_port")["codes"]
    assert [one["code"] for one in after] == [*(one["code"] for one in before), "ØRS"]
    assert admin.get(intake)["tally"]["stopped"] == 0
    again = admin.send("POST", "/api/codes/home_port/codes", json=new)
    assert (again.status_code, "in the list already (Ørsund)" in again.json["detail"]) == (
        422,
        True,
    )
    assert admin.send("POST", "/api/codes/nowhere/codes", json=new).status_code == 404
    circle = admin.send(
        "POST", "/api/codes/home_port/codes", json=new | {"code": "A", "parent": "A"}
    )
    assert (circle.status_code, "circle" in circle.json["detail"]) == (422, True)


def test_what_others_wrote_is_not_written_over(admin):
    """A list that was looked at before somebody added a code is not written over it; looked at
    again, it is.
    """
    before = admin.get("/api/codes/watch")
    new = {
        "code": "GULL",
        "label": "Gull",
        "parent": "",
        "aliases": [],
        "first_day": None,
        "last_day": None,
    }
    admin.post("/api/codes/watch/codes", new)
    mine = [
        {name: value for name, value in one.items() if name != "used"} | {"label": "x"}
        for one in before["codes"]
    ]
    answer = admin.send("PUT", "/api/codes/watch", json={"codes": mine, "seen": before["version"]})
    assert (answer.status_code, "changed meanwhile" in answer.json["detail"]) == (409, True)
    after = admin.get("/api/codes/watch")
    assert [one["code"] for one in after["codes"]][-1] == "GULL"
    assert (
        admin.send(
            "PUT", "/api/codes/watch", json={"codes": [*mine, new], "seen": after["version"]}
        ).status_code
        == 200
    )


def test_a_list_is_begun(browser):
    """A list without codes is begun by its name; a name that is taken or none is refused, and so
    is everybody who does not administer all.
    """
    admin = browser(ADMINISTERS)
    begun = admin.send("POST", "/api/codes", json={"title": "  Boats & oars "})
    assert (begun.status_code, begun.json) == (201, {"name": "boats_oars"})
    assert admin.get("/api/codes/boats_oars")["codes"] == []
    for title in ("Boats, oars", "", " - ", "x" * 61):
        assert admin.send("POST", "/api/codes", json={"title": title}).status_code == 422, title
    assert browser(APPROVES).send("POST", "/api/codes", json={"title": "Oars"}).status_code == 403
