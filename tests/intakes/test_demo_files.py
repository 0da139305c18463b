"""The sample files through the services and the database: found their rosters, kept without
secrets, corrected.
"""

from __future__ import annotations

import json
import re
from dataclasses import asdict
from pathlib import Path

import numpy as np
import pytest

from nevefield.context import Context
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.intakes.remedies import step_for
from nevefield.intakes.sheets import take_corrections, write_error_sheet
from nevefield.run.demo import load_demo
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from tests.conftest import PREPARES, Clock

FILES = [
    "cadets-full-autumn.csv",
    "hr-staff-extract.csv",
    "fellows-renewals.xls",
    "gate-dump.txt",
    "stations-castle-hill.csv",
]


def truth_of(made: Path, file: str) -> dict:
    return json.loads((made / f"{file.rsplit('.', 1)[0]}.truth.json").read_text())


@pytest.mark.parametrize("file", FILES)
def test_finds_its_roster(college, made, file):
    """Dropped without a word, each file finds its roster by its columns, or by its values where
    it has no header.
    """
    truth = truth_of(made, file)
    opened = open_intake(
        college,
        receive_file(college, file, (made / file).read_bytes(), Claims(coverage=truth["coverage"])),
    )
    assert opened.roster.name == truth["roster"]
    if "tally" in truth:
        assert opened.evaluation.tally.to_json() == truth["tally"]
    else:
        assert len(opened.evaluation.table) == truth["rows"]


def test_corrected_sheet_lands(desk, made, joiners):
    """The corrected sheet of the September file goes onto the same rows: what it put right,
    left, altered beside, and added.
    """
    truth = truth_of(made, "joiners-corrected.xlsx")
    intake = receive_file(desk, "september-joiners.xlsx", joiners)
    found = asdict(
        take_corrections(desk, intake, (made / "joiners-corrected.xlsx").read_bytes(), None)
    )
    assert {
        name: found[name] for name in ("corrected", "altered", "untouched", "beside", "missing")
    } == {
        **{name: truth[name] for name in ("corrected", "altered", "untouched", "beside")},
        "missing": [],
    }
    assert len(found["added"]) == truth["added"]
    evaluation = open_intake(desk, intake).evaluation
    site = evaluation.facts.typed["campus"].stored.at(evaluation.row_of(truth["moved"]))
    assert site == "NQ"


def test_rows_of_one_person_become_one_record(college, made):
    """Fellows with one row per chapter go in once, with all their chapters; every row is told
    its record.
    """
    truth = truth_of(made, "fellows-renewals.xls")
    intake = receive_file(
        college, "fellows-renewals.xls", (made / "fellows-renewals.xls").read_bytes()
    )
    opened = open_intake(college, intake)
    apply_intake(college, intake, len(opened.steps), opened.roster.version, None)
    after = open_intake(college, intake).evaluation.snapshot
    found = {
        key: sorted(after.values(place)["chapters"])
        for place, key in enumerate(after.keys(np.arange(len(after))))
    }
    out = {one["line"] for one in truth["planted"]}
    lines = {key: _lines_of(opened, key) for key in truth["chapters"]}
    going = {key for key, some in lines.items() if some and not out.intersection(some)}
    assert len(going) == truth["people"] - 4 - len(truth["lapsed"])
    assert {key: found[key] for key in going} == {key: truth["chapters"][key] for key in going}


def _lines_of(opened, key: str) -> list[int]:
    column = opened.evaluation.facts.typed["fellow_number"].stored
    return [
        int(line) for row, line in enumerate(opened.evaluation.table.lines) if column.at(row) == key
    ]


def test_stations_reach_those_who_are_listed(college, made):
    """A kind spelt nearly like one there is is asked about; then those listed get their groups,
    and nobody else is touched.
    """
    truth = truth_of(made, "stations-castle-hill.csv")
    intake = receive_file(
        college, "stations-castle-hill.csv", (made / "stations-castle-hill.csv").read_bytes()
    )
    opened = open_intake(college, intake)
    (cause,) = [one for one in opened.evaluation.causes if one.is_open and one.hit.weight != "note"]
    assert opened.evaluation.table.lines[cause.open_rows].tolist() == truth["near"]
    before = opened.evaluation.snapshot
    add_step(
        college,
        intake,
        step_for(opened.evaluation, cause.id, "translate", value="STATION", reason="", lines=None),
        None,
    )
    opened = open_intake(college, intake)
    assert opened.evaluation.tally.to_json() | {"read": 0, "new": 0} == dict.fromkeys(
        opened.evaluation.tally.to_json(), 0
    )
    assert opened.evaluation.tally.new == truth["rows"]
    apply_intake(college, intake, len(opened.steps), opened.roster.version, None)
    after = open_intake(college, intake).evaluation.snapshot
    labels = {
        "CHAPEL": "Chapel Steps",
        "HILLN": "Hill North",
        "HILLS": "Hill South",
        "BOATH": "Boat House",
    }
    had = [before.values(place) for place in range(len(before))]
    now = [after.values(place) for place in range(len(after))]
    fresh = [one for one in now if one not in had]
    assert [one for one in now if one in had] == had
    members: dict[str, list[str]] = {}
    for one in fresh:
        assert (one["kind"], one["from"]) == ("STATION", truth["from"])
        members.setdefault(one["cadet_number"], []).append(labels[one["group"]])
    assert {key: sorted(some) for key, some in members.items()} == truth["members"]


def test_passwords_are_nowhere(made, tmp_path, browser):
    """No password of the staff file is in any byte that the database wrote, in no answer, no log
    and no error sheet.
    """
    passwords = truth_of(made, "hr-staff-extract.csv")["passwords"]
    data = (made / "hr-staff-extract.csv").read_bytes()
    assert all(one.encode() in data for one in passwords)
    server = PrivateServer(tmp_path / "db", durable=False)
    url = server.start()
    try:
        own = Context(Database(url), Settings(database_url=url), Clock())
        migrate(own.database)
        load_demo(own, made)
        intake = receive_file(own, "hr-staff-extract.csv", data)
        opened = open_intake(own, intake)
        sheet = write_error_sheet(
            opened.evaluation, "x", opened.intake.file_hash, "x", "csv"
        ).content
        apply_intake(own, intake, len(opened.steps), opened.roster.version, None)
        own.database.close()
    finally:
        server.stop()
    written = b"".join(
        path.read_bytes() for path in sorted((tmp_path / "db").rglob("*")) if path.is_file()
    )
    assert opened.evaluation.facts.typed["mail"].stored.at(0).encode() in written
    kept = b"".join([written, sheet])
    # Every password has this form; looking for the form takes one pass over all bytes.
    alike = {one.decode() for one in re.findall(rb"[A-Z][a-z]{6}\d\d[!?%+]", kept)}
    alike |= {
        one.decode("utf-16-le")
        for one in re.findall(rb"[A-Z]\0(?:[a-z]\0){6}(?:\d\0){2}[!?%+]\0", kept)
    }
    assert all(re.fullmatch(r"[A-Z][a-z]{6}\d\d[!?%+]", one) for one in passwords)
    assert alike.isdisjoint(passwords)
    page = browser(PREPARES)
    number = page.drop(data, "hr-staff-extract.csv").json["intake"]
    answers = "".join(
        json.dumps(page.get(f"/api/intakes/{number}{part}"), ensure_ascii=False)
        for part in ("", "/lines", "/columns", "/causes", "/rows", "/changes")
    )
    assert [one for one in passwords if one in answers] == []
