"""What spreadsheets do to values: found as such, repaired where the evidence allows."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.damage import (
    days_of_serial,
    lost_digits,
    mend_letters,
    whole_of_scientific,
)
from nevefield.core.columns.identifiers import add_check, mend_identifier
from nevefield.core.definition import Field, Identifier
from tests.core.columns.test_values import field, read

WORDS = st.text(
    st.characters(min_codepoint=32, max_codepoint=0x17F, blacklist_categories=("Cc",)),
    min_size=1,
    max_size=12,
)
CADET = Identifier(9, "TQ", "0123456789", "iso7064-mod11-2")


def spoil(text: str) -> str:
    """Read UTF-8 as Windows-1252, undefined bytes and all."""
    return "".join(bytes([byte]).decode("cp1252", "ignore") or chr(byte) for byte in text.encode())


@given(WORDS)
def test_letters_come_back(text):
    """Text that was read in the wrong encoding is given back whole; text in ASCII is left alone."""
    assert mend_letters(spoil(text)) == (text if not text.isascii() else "")


@pytest.mark.parametrize(
    "text",
    ["Siân", "Ångström", "Zoë", "Müller–Lunde", "“Kit”", "Ã", "Ilkesund", "naïve café", "5 € each"],
)
def test_right_letters_stay(text):
    """Text with accents that is right is not touched."""
    assert mend_letters(text) == ""


@given(st.dates(date(1930, 1, 1), date(2040, 12, 31)))
def test_serials_are_days(day):
    """A day's number since 1900, and since 1904, gives the day back; the commoner epoch stands
    first.
    """
    since_1900, since_1904 = (day - date(1899, 12, 30)).days, (day - date(1904, 1, 1)).days
    assert days_of_serial(str(since_1900))[0] == day
    if since_1904 >= 10_000:
        assert days_of_serial(f"{since_1904}.0")[1] == day


@pytest.mark.parametrize("text", ["417", "204417", "20080314", "39521.5", "-39521", "1e4"])
def test_other_numbers_are_no_days(text):
    """Numbers that are no serial of a day in living memory are none."""
    assert days_of_serial(text) == ()


@pytest.mark.parametrize(
    ("text", "whole", "lost"),
    [
        ("1.2045E+04", "12045", False),
        ("1,5e1", "15", False),
        ("1.23457E+11", "", True),
        ("2E+05", "", True),
        ("TQ2", "", False),
        ("12", "", False),
    ],
)
def test_scientific_notation(text, whole, lost):
    """What lost no digit is written out; what did is said to be beyond repair."""
    assert (whole_of_scientific(text), lost_digits(text)) == (whole, lost)


BORN = field(type="date", minimum="1940-01-01", maximum="2012-12-31")
SERIAL = str((date(2008, 3, 14) - date(1899, 12, 30)).days)


@pytest.mark.parametrize(
    ("one", "text", "outcome"),
    [
        (field(), "#REF!", ("#REF!", "damage", "")),
        (field(type="date"), "#VALUE!", ("#VALUE!", "damage", "")),
        (field(), "SiÃ¢n", ("Siân", "", "letters")),
        (field(code_list="port"), "SkarvholmÂ", ("SkarvholmÂ", "code", "")),
        (BORN, SERIAL, (SERIAL, "damage", "")),
        (field(type="integer"), "39521", ("39521", "", "")),
    ],
)
def test_damage_in_values(one, text, outcome):
    """Errors and serial days are stops, wrong letters are put right and noted."""
    assert read(one, text) == [outcome]
    assert read(one, text, *[f"text {number}" for number in range(90)])[0] == outcome


def test_serial_day_is_offered():
    """The day that a number stands for is offered, where the field allows it."""
    from nevefield.core.columns.values import convert
    from nevefield.core.table import Column
    from tests.core.columns.test_values import CONTEXT

    def offered(one: Field, text: str) -> tuple[str, ...]:
        return convert(one, Column.of([text]), CONTEXT).problems[0].suggestions

    assert offered(BORN, SERIAL) == ("2008-03-14",)
    later = str((date(2008, 3, 14) - timedelta(days=1462) - date(1899, 12, 30)).days)
    assert offered(field(type="date", minimum="2008-01-01"), later) == (
        "2008-03-14",
    )  # only as counted from 1904


def test_letters_that_look_like_digits():
    """O for 0, l for 1, Cyrillic for Latin: mended when the check character agrees, else only
    offered.
    """
    number = next(
        found
        for serial in range(1000, 2000)
        if "0" in (found := add_check(CADET, f"20{serial}"))[2:] and not found.endswith("X")
    )
    mistyped = number[:2] + number[2:].replace("0", "O")
    mended = mend_identifier(CADET, mistyped)
    assert (mended.value, mended.repair) == (number, "letters")
    cyrillic = Identifier(5, "", "ABCEHKMOPTXY0123456789")
    found = mend_identifier(cyrillic, "АВС12")
    assert found.problem
    assert found.suggestions == ("ABC12",)


def test_scientific_identifier():
    """A number in scientific notation is given back when nothing was lost and the check
    character agrees.
    """
    scheme = Identifier(6, "", "0123456789", "luhn")
    number = next(
        found
        for serial in range(10_000, 20_000)
        if not (found := add_check(scheme, str(serial))).endswith("0")
    )
    written = f"{number[0]}.{number[1:]}E+5"
    assert mend_identifier(scheme, written).value == number
    assert "cannot be given back" in mend_identifier(scheme, "1.2E+05").problem
