"""Whom a request sheet was made for, read again from whatever form it comes back in."""

from __future__ import annotations

import csv
import io
from datetime import date

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.reading import read_file
from nevefield.core.reading.layout import ABOUT, LONGEST_NAME, MADE_FOR, find_made_for
from nevefield.rosters.errors import UnknownFields
from nevefield.rosters.requesting import write_request_sheet
from tests.institutions import hospital

DEFINITION = read_definition(hospital.DOCUMENT)
CODES = read_codes(hospital.CODES)
DAY = date(2026, 9, 1)
KNOWN = known_headings(DEFINITION)
ROW = [hospital.number(3), "Świątek", "Łucja"]


def made(kind: str, office: str, chosen=("nazwisko", "imie")) -> bytes:
    return write_request_sheet(
        DEFINITION, CODES, DAY, chosen=chosen, made_for=office, kind=kind
    ).content


@pytest.mark.parametrize(
    "office", ["Kadry", "Ośrodek „Północ”, ul. 3 Maja", "=1+1", "学生课", "O'Brien & Søn; dział 2"]
)
@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_comes_back(kind, office):
    """Any name of an office comes back as it was given, with the columns below it, and no row of
    the sheet is a person.
    """
    table, reading = read_file(made(kind, office), known=KNOWN)
    assert (reading.made_for, len(table)) == (office, 0)
    assert [heading.rstrip(" *") for heading in table.headings] == [
        "Numer pracownika",
        "Nazwisko",
        "Imię",
    ]


def test_filled_in_and_saved_as_text():
    """The text form, filled in and written again by another program with semicolons, still says
    it.
    """
    rows = list(csv.reader(io.StringIO(made("csv", "Kadry, zmiana 2").decode("utf-8-sig"))))
    out = io.StringIO()
    csv.writer(out, delimiter=";").writerows([*rows, ROW])
    table, reading = read_file(out.getvalue().encode(), known=KNOWN)
    assert (reading.made_for, [table.row(row) for row in range(len(table))]) == (
        "Kadry, zmiana 2",
        [ROW],
    )


def test_without_a_name_there_is_none():
    """A sheet for nobody in particular says nothing, in either form."""
    for kind in ("xlsx", "csv"):
        assert read_file(made(kind, ""), known=KNOWN)[1].made_for == ""
    assert ABOUT not in openpyxl.load_workbook(io.BytesIO(made("xlsx", ""))).sheetnames


def test_the_sheet_that_says_so_is_no_data():
    """Said in a sheet of its own, it is never taken for the sheet with people, though that one
    is empty.
    """
    book = openpyxl.load_workbook(io.BytesIO(made("xlsx", "Kadry")))
    assert book.sheetnames == ["Data", "Codes", ABOUT]
    assert book[ABOUT]["A1"].value == MADE_FOR + "Kadry"
    assert read_file(made("xlsx", "Kadry"), known=KNOWN)[1].sheet == "Data"


def test_fields_that_are_none_are_refused():
    """An unknown field is named, with near ones; nothing is written."""
    with pytest.raises(
        UnknownFields, match="There is no field “imiee” in Pracownicy; did you mean imie"
    ):
        made("csv", "", chosen=["imiee"])


@given(st.text(alphabet=st.characters(exclude_categories=("Cs", "Cc", "Zl", "Zp")), max_size=200))
def test_any_text_is_read_without_harm(text):
    """Whatever stands behind the mark, at most a name of the usual length is taken from it."""
    found = find_made_for(["", "something", MADE_FOR + text])
    assert len(found) <= LONGEST_NAME
    if text.isalnum():
        assert found == text[:LONGEST_NAME]
