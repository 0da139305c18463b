"""The request sheet: what an office gets, and that its example never comes back as a person."""

from __future__ import annotations

import io
import json
from datetime import date

import openpyxl
import pytest

from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings, pair_columns
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.reading import read_file
from nevefield.core.snapshot import Snapshot
from nevefield.rosters.requesting import write_request_sheet

TODAY = date(2026, 9, 1)


@pytest.fixture(scope="module", params=["cadets", "staff"])
def world(request, made):
    definition = read_definition(
        json.loads((made / f"roster-{request.param}.json").read_text())["definition"]
    )
    return definition, read_codes((made / "codes.csv").read_text())


def test_every_field_is_asked_for(world):
    """Every field has a column that is paired back with certainty, required ones are marked,
    each has a note.
    """
    definition, codes = world
    sheet = openpyxl.load_workbook(
        io.BytesIO(write_request_sheet(definition, codes, TODAY).content)
    )["Data"]
    headings = [cell.value for cell in sheet[1]]
    pairs = pair_columns(headings, definition)
    assert [(pair.field, pair.certain) for pair in pairs] == [
        (one.name, True) for one in definition.fields
    ]
    assert [heading.endswith(" *") for heading in headings] == [
        one.required for one in definition.fields
    ]
    assert all(cell.comment and cell.comment.text for cell in sheet[1])


def test_codes_are_choices(world):
    """Coded fields offer exactly the codes that are in use, from the look-up sheet."""
    definition, codes = world
    book = openpyxl.load_workbook(io.BytesIO(write_request_sheet(definition, codes, TODAY).content))
    offered = {}
    for choice in book["Data"].data_validations.dataValidation:
        cells = book["Codes"][choice.formula1.removeprefix("Codes!").replace("$", "")]
        offered[str(choice.sqref).split(":")[0].rstrip("0123456789")] = [
            cell[0].value for cell in cells
        ]
    expected = {
        openpyxl.utils.get_column_letter(place): [
            code.code for code in codes[one.code_list].codes if code.is_used(TODAY)
        ]
        for place, one in enumerate(definition.fields, 1)
        if one.code_list and not one.several
    }
    assert offered == expected


@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_example_is_no_person(world, kind):
    """Sent back as it is, the sheet has no row; with rows below, or sorted among them, the
    example is still ignored.
    """
    definition, codes = world
    content = write_request_sheet(definition, codes, TODAY, kind=kind).content
    table, reading = read_file(content, known=known_headings(definition))
    assert len(table) == 0
    assert [one.kind for one in reading.not_data] == ["header", "example"]
    if kind == "csv":
        key = definition.primary_key[0]
        lines = content.decode("utf-8-sig").splitlines()
        rows = [
            ",".join("TQ2044104" if one.name == key else "x" for one in definition.fields)
            for _ in range(300)
        ]
        text = "\r\n".join([lines[0], *rows[:150], lines[1], *rows[150:]]) + "\r\n"
        evaluation = evaluate(
            Inputs(text.encode(), [], definition, codes, Snapshot.empty(definition), TODAY)
        )
        assert evaluation.tally.read == 300
        assert [(one.line, one.kind) for one in evaluation.reading.not_data] == [
            (1, "header"),
            (152, "example"),
        ]


def test_example_would_be_right(world):
    """Without its mark, the example row is one that nothing stops: it shows how values are to be
    written.
    """
    definition, codes = world
    content = (
        write_request_sheet(definition, codes, TODAY, kind="csv")
        .content.decode("utf-8-sig")
        .replace("e.g. ", "")
    )
    evaluation = evaluate(
        Inputs(content.encode(), [], definition, codes, Snapshot.empty(definition), TODAY)
    )
    problems = {
        (cause.hit.check, cause.hit.field)
        for cause in evaluation.causes
        if cause.hit.weight == "stop"
    }
    assert problems <= {
        ("parent", "programme"),
        ("pattern", "berth"),
        ("order", "enrolled_to"),
        ("reference", "manager"),
    }


def test_only_what_an_office_owns(made):
    """For an office the sheet has the fields that it owns, and the key."""
    document = json.loads((made / "roster-staff.json").read_text())["definition"]
    document["fields"][6].setdefault("nevefield", {})["owner"] = "HR"
    definition = read_definition(document)
    codes = read_codes((made / "codes.csv").read_text())
    text = write_request_sheet(definition, codes, TODAY, owner="HR", kind="csv").content.decode(
        "utf-8-sig"
    )
    assert text.splitlines()[0] == "Staff number,Position"
